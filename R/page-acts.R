# What a click does. Each act is one message of the browser, by its word; what it may hold is
# checked here, and by decide() and change_study().

act_on_page <- function(page, act) {
  act <- as.list(act)
  word <- act$word
  if (!is.character(word) || length(word) != 1L || !word %in% names(PAGE_ACTS)) return(invisible())
  if (is.null(page$study) && word != "begin" && word != "end") return(invisible())
  # (whatever comes, the page stays)
  tryCatch(PAGE_ACTS[[word]](page, act), error = function(e) {
    tell_page(page, "said", list(problem = said_shortly(e)))
  })
}

one_text <- function(x) {
  if (is.character(x) && length(x) == 1L && validUTF8(x) && nzchar(trimws(x))) trimws(x)
}

# The decision that an act holds: a word of DECISIONS with what belongs to it.
decision_of_act <- function(act) {
  word <- intersect(names(act), names(DECISIONS))[1L]
  value <- if (word %in% "number") suppressWarnings(as.integer(act$number)) else act[[word]]
  decision <- list(value, as = one_text(act$as), to = one_text(act$to), why = one_text(act$why),
    who = one_text(act$who))
  names(decision)[1L] <- word
  decision[!vapply(decision, is.null, NA)]
}

PAGE_ACTS <- list(
  begin = function(page, act) {
    if (is.null(page$answers) || !is.null(page$study)) return(invisible())
    roles <- unlist(act$roles)
    begun <- begin_study(page$answers, dirname(page$answers), roles = if (length(roles)) roles)
    begin_page(page, begun$files[1L])
    page$told <- list()
    tell_page(page, "words", page$words)
    begin_work(page)
  },
  decide = function(page, act) {
    decision <- c(decision_of_act(act), list(when = format(Sys.Date())))
    study <- page$study
    study$values <- page$slim
    put_decided(page, do.call(decide, c(list(study), decision)), list(), decided = TRUE)
  },
  undo = function(page, act) {
    held <- page$study$settings$decisions
    if (!length(held)) return(invisible())
    last <- held[length(held)]
    put_decided(page, with_decisions(page$study, held[-length(held)]), c(last, page$undone))
  },
  redo = function(page, act) {
    if (!length(page$undone)) return(invisible())
    held <- c(page$study$settings$decisions, page$undone[1L])
    put_decided(page, with_decisions(page$study, held), page$undone[-1L])
  },
  # what a decision would do, before it is made
  weigh = function(page, act) {
    decision <- decision_of_act(act)
    study <- page$study
    study <- do.call(decide, c(list(study), decision, list(numbers = "")))
    settings <- study$settings
    given <- is.numeric(settings_in_force(settings)$factors$number)
    ask_page(page, page$quick, "state", settings, list(k = page$k, now = FALSE), "weighed",
      list(of = act$key), after = function() {
        if (given) return(invisible())
        ask_page(page, page$slow, "count", settings, list(), "recounted", list(of = act$key),
          first = TRUE)
      })
  },
  # an earlier state, to look at: the first `act$upto` decisions
  until = function(page, act) {
    held <- page$study$settings$decisions
    upto <- as.integer(act$upto)
    if (is.na(upto) || upto < 0L || upto > length(held)) return(invisible())
    settings <- with_decisions(page$study, utils::head(held, upto))$settings
    look_back <- function(k) {
      ask_page(page, page$quick, "state", settings, list(k = k, now = FALSE), "until",
        list(upto = upto))
    }
    given <- settings_in_force(settings)$factors$number
    seen <- page$seen[[seen_key(page, "count", settings)]]
    if (is.numeric(given)) return(look_back(as.integer(given)))
    if (!is.null(seen)) return(look_back(seen$value$k))
    ask_worker(page$slow, "until", list("count", settings), function(result) {
      look_back(if (is.null(result$problem)) result$value$k else page$k)
    }, first = TRUE)
  },
  number = function(page, act) {
    other <- check_whole(act$other, "other", 1L, 1000L)
    ask_page(page, page$quick, "number", page$study$settings, list(k = page$k, other = other),
      "number", list())
  },
  proposal = function(page, act) {
    settings <- page$study$settings
    settings$sift$keep <- union(unlist(settings$sift$keep), unlist(act$spared))
    ask_page(page, page$quick, "proposal", settings, list(k = page$k), "proposal", list())
  },
  reload = function(page, act) {
    page$mine <- NULL
    take_up_file(page)
    begin_work(page)
  },
  mine = function(page, act) {
    if (is.null(page$mine)) return(invisible())
    if (put_study(page, page$mine, anyway = TRUE)) begin_work(page)
  },
  write = function(page, act) {
    if (refuse_readers(page)) return(invisible())
    # a seed that was drawn belongs in the file before there are results of it
    drawn <- is.null(read_study(page$file)$settings$seed)
    if (drawn && !put_study(page, page$study)) return(invisible())
    ask_page(page, page$slow, "write", page$study$settings, list(folder = page$results), "written",
      list(), first = TRUE)
  },
  end = function(page, act) shiny::stopApp())

with_decisions <- function(study, decisions) {
  settings <- study$settings
  settings$decisions <- decisions
  # (a section that holds nothing is not written)
  settings$written <- setdiff(settings$written, "decisions")
  if (length(decisions)) settings$written <- c(settings$written, "decisions")
  new_study(list(), settings, no_findings(), NULL, NULL)
}

put_decided <- function(page, study, undone, decided = FALSE) {
  if (refuse_readers(page)) return(invisible())
  if (put_study(page, study)) {
    page$undone <- undone
    page$decided <- decided
    begin_work(page)
  }
}

# A page that reads only writes nothing.
refuse_readers <- function(page) {
  reads <- !identical(page$holder, 0L)
  said <- sub("{who}", page$holder, page$words$read_only, fixed = TRUE)
  if (reads) tell_page(page, "said", list(problem = said))
  reads
}

# ---- Work that an act asks for.

# `after`: what is asked once that is there (the processors are few).
ask_page <- function(page, worker, name, settings, arguments, kind, beside, after = NULL,
    first = FALSE) {
  tell_page(page, "under_way", list(what = kind))
  ask_worker(worker, kind, c(list(name, settings), arguments), function(result) {
    if (!is.null(result$problem)) {
      tell_page(page, "said", list(problem = result$problem, what = kind))
      return(invisible())
    }
    if (kind == "written") page$written <- result$value$folder
    remember_seen(page, name, settings, result, arguments$k)
    # it was decided while it was being weighed
    same <- name == "state" && seen_key(page, name, settings, arguments$k) == now_key(page)
    if (same) tell_sheet(page, result$value)
    tell_page(page, kind, c(beside, list(value = result$value)), kept = kind %in% KEPT)
    if (!is.null(after)) after()
  }, first)
}

# What was worked out of the study as it would be, or was before an undo, is shown at once when it
# comes to that. Reasons change no number.
MOST_SEEN <- 40L

seen_key <- function(page, name, settings, k = page$k) {
  decided <- lapply(settings$decisions, function(one) {
    one[setdiff(names(one), c("why", "who", "when", "numbers"))]
  })
  asked <- settings[setdiff(names(settings), c("decisions", "written"))]
  paste(name, rlang::hash(list(asked, decided, stamps_of(settings), if (name == "state") k)))
}

now_key <- function(page) seen_key(page, "state", page$study$settings)

remember_seen <- function(page, name, settings, result, k = page$k) {
  if (!name %in% c("state", "count") || !is.null(result$problem)) return(invisible())
  page$seen[[seen_key(page, name, settings, k)]] <- result
  page$seen <- utils::tail(page$seen, MOST_SEEN)
}

# What who opens the page a second time is told at once.
KEPT <- c("sheet", "count", "trust", "limits", "paths", "names", "columns")

# A new state of the study: what shows it now, and what follows.
begin_work <- function(page) {
  page$state <- page$state + 1L
  page$told <- list()
  # (results that were asked for are written)
  overtake_all(page$slow, spared = identical(page$slow$busy$kind, "written"))
  # (what is being weighed and has just been decided is soon there)
  busy <- page$quick$busy$arguments
  weighed <- !is.null(page$study) && identical(busy[[1L]], "state") &&
    seen_key(page, "state", busy[[2L]]) == now_key(page)
  overtake_all(page$quick, spared = weighed)
  if (is.null(page$study)) {
    settings <- list(begin = page$answers)
    return(ask_page(page, page$quick, "look", settings, list(), "columns",
      list(answers = basename(page$answers))))
  }
  tell_page(page, "study", study_for_page(page), kept = TRUE)
  given <- settings_in_force(page$study$settings)$factors$number
  counted <- page$seen[[seen_key(page, "count", page$study$settings)]]$value$k
  if (is.numeric(given)) counted <- as.integer(given)
  if (!is.null(counted)) page$k <- counted
  if (is.null(page$k)) count_now(page) else show_now(page)
}

# What the file says, without any numbers.
study_for_page <- function(page) {
  s <- page$study$settings
  list(title = text_or(s$title, basename(page$file)), file = basename(page$file),
    read_only = !identical(page$holder, 0L), holder = page$holder,
    hide_below = s$pattern$hide_below, asked = format(s$factors$number), sifts = s$sift$run,
    pinned = as.list(unlist(settings_in_force(s)$sift$keep)),
    undone = length(page$undone), results = page$results,
    decisions = lapply(s$decisions, function(one) {
      row <- trail_of_decision(one)
      as.list(row[c("decision", "choice", "who", "when", "numbers", "why")])
    }))
}

# The numbers with the number of factors held; what takes longer follows.
show_now <- function(page) {
  settings <- page$study$settings
  seen <- page$seen[[seen_key(page, "state", settings)]]
  if (!is.null(seen)) tell_sheet(page, seen$value)
  tell_page(page, "under_way", list(what = if (is.null(seen)) "sheet" else "confirmed"))
  ask_worker(page$quick, "sheet", list("state", settings, k = page$k), function(result) {
    if (!is.null(result$problem)) {
      return(tell_page(page, "sheet", list(problem = result$problem), kept = TRUE))
    }
    page$k <- result$value$k
    remember_seen(page, "state", settings, result)
    tell_sheet(page, result$value)
    decided <- isTRUE(page$decided)
    page$decided <- FALSE
    if (decided && names_follow(page, result$value$shown$places)) return(invisible())
    state <- page$state
    later::later(function() if (!isTRUE(page$closed) && page$state == state) follow(page), PAUSE)
  })
}

# What takes longer begins once people pause.
PAUSE <- 0.3

follow <- function(page) {
  settings <- page$study$settings
  if (is.null(page$told$count)) count_now(page)
  names <- c("trust", "names", if (has_people(settings)) c("limits", "paths"))
  for (name in names) ask_page(page, page$slow, name, settings, list(k = page$k), name, list())
}

# Names are of places (F1, F2, ...): where a decision has moved the factors, names go with them,
# each by a line of its own. TRUE where that changed anything.
names_follow <- function(page, places) {
  own <- unlist(settings_in_force(page$study$settings)$factors$names)
  if (!length(own) || !length(places)) return(FALSE)
  from <- vapply(places, `[[`, "", "from")
  to <- vapply(places, `[[`, "", "to")
  named <- ifelse(from %in% names(own), own[from], to)
  before <- ifelse(to %in% names(own), own[to], to)
  study <- page$study
  for (i in which(named != before)) {
    study <- decide(study, name = to[i], as = unname(named[i]),
      why = sub("{from}", from[i], page$words$follows, fixed = TRUE), when = format(Sys.Date()))
  }
  changed <- any(named != before)
  if (changed) put_decided(page, study, list())
  changed
}

tell_sheet <- function(page, value) {
  page$slim$solution <- value$slim$solution
  if (!is.null(value$source$called) && is.null(page$called)) {
    page$called <- value$source$called
    page$words[] <- lapply(page$words, in_called, value$source, page$words$language)
    tell_page(page, "words", page$words)
  }
  tell_page(page, "sheet", list(value = value$shown), kept = TRUE)
}

# The number of factors of these items, counted anew. Where it is another than the one held, and the
# study leaves it to a rule, the sheet is shown with it.
count_now <- function(page) {
  settings <- page$study$settings
  seen <- page$seen[[seen_key(page, "count", settings)]]
  if (!is.null(seen)) return(take_count(page, seen$value))
  tell_page(page, "under_way", list(what = "count"))
  ask_worker(page$slow, "count", list("count", settings), function(result) {
    if (!is.null(result$problem)) {
      tell_page(page, "said", list(problem = result$problem, what = "count"))
      if (is.null(page$k)) tell_page(page, "sheet", list(problem = result$problem), kept = TRUE)
      return(invisible())
    }
    remember_seen(page, "count", settings, result)
    take_count(page, result$value)
  })
}

take_count <- function(page, value) {
  page$slim$count <- list(values = value$slim)
  held <- page$k
  other <- !identical(held, value$k)
  if (other) page$k <- value$k
  tell_page(page, "count", list(value = value$shown, held = if (is.null(held)) value$k else held,
    now = page$k), kept = TRUE)
  if (other) show_now(page)
}
