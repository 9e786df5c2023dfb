# What a page has worked out in processes of its own, so that it can be typed and clicked on
# meanwhile: the stages of the study, each asked as run_study() asks it. Tasks are called there by
# their names; what they give goes back as plain lists (page-shown.R).

page_task <- function(name, settings, ...) {
  options(cli.progress_show_after = 1e6)
  tryCatch(
    list(value = suppressMessages(suppressWarnings(PAGE_TASKS[[name]](settings, ...)))),
    softsieve_error = function(e) list(problem = said_shortly(e)),
    interrupt = function(e) list(overtaken = TRUE))
}

# By which a change of the files of a study is known.
stamps_of <- function(s) {
  files <- unlist(c(s$answers[c("file", "matrix")], s["codebook"]))
  files <- vapply(files, function(file) study_path(s, file), "")
  unname(file.info(files)[c("size", "mtime")])
}

# Files are read again when they, or what is asked of them, have changed.
answers_for_page <- function(s) {
  if (!has_people(s)) return(NULL)
  key <- rlang::hash(list(s$answers, s$folder, stamps_of(s)))
  if (!identical(PAGE_HAD$key, key)) {
    PAGE_HAD$answers <- questionnaire_as_read(s)
    PAGE_HAD$key <- key
  }
  drop_as_decided(PAGE_HAD$answers, s)
}

# The results `wanted` of a study with its number of factors held at `k`; a study that sifts by
# itself finds its own in every pass. (One thread each: two processes work.)
values_for_page <- function(settings, k, wanted, draws = FALSE, had = list()) {
  s <- settings_in_force(settings)
  held <- settings
  if (!s$sift$run && !is.null(k)) held <- with_number(held, k)
  if (!draws) held$scales$replicates <- 0L
  answers <- answers_for_page(s)
  if (!is.null(answers)) had$questionnaire <- answers
  study <- new_study(list(), held, no_findings(), NULL, NULL)
  done <- run_stages(study, intersect(wanted, names(STAGES)), 1L, function(line) NULL, had = had)
  done$settings <- settings
  if (is.null(done$values$solution) && "solution" %in% wanted) {
    said <- done$findings$text[done$findings$code == "study_stopped"]
    stop_input("study", if (length(said)) said[1L] else "There is no solution.")
  }
  done
}

with_number <- function(settings, k) {
  settings$factors$number <- k
  settings$decisions <- Filter(function(one) word_of(one) != "number", settings$decisions)
  settings
}

# Another number of factors is looked at by plain names: those given are of the factors there are.
without_names <- function(settings) {
  settings$factors["names"] <- list(NULL)
  settings$decisions <- Filter(function(one) word_of(one) != "name", settings$decisions)
  settings
}

# A sifting of the items there are. What people took out is out already, and what they put back no
# rule takes out again.
sifted_for_page <- function(settings, k, ...) {
  r <- values_for_page(settings, k, "correlations")$values$correlations
  s <- settings_in_force(settings)
  s$sift$keep <- union(unlist(s$sift$keep), s$by_hand$restore)
  s$sift[names(list(...))] <- list(...)
  if (!s$sift$run) {
    s$by_hand$drop <- character()
    s$factors$number <- k
  }
  s$by_hand$restore <- character()
  s$sift$keep <- intersect(s$sift$keep, colnames(r$values$correlations))
  sift_as_asked(r, k, s, 1L)
}

QUICK <- c("items", "correlations", "factorability", "solution", "pattern", "scales", "reliability")

PAGE_TASKS <- list(
  # everything that a click shows at once
  state = function(settings, k, now = TRUE) {
    done <- without_tests(values_for_page(settings, k, QUICK))
    before <- PAGE_HAD$solution
    shown <- page_state(done, before)
    if (now) PAGE_HAD$solution <- done$values$solution
    v <- done$values
    list(shown = shown, k = ncol(v$solution$values$loadings), source = v$correlations$source,
      # what a decision notes of it
      slim = list(solution = list(
        values = list(loadings = v$solution$values$loadings, items = v$solution$values$items),
        settings = v$solution$settings["factor_names"])))
  },
  count = function(settings) {
    done <- values_for_page(settings, NULL, "count")
    count <- done$values$count
    if (is.null(count)) stop_input("study", done$findings$text[1L])
    asked <- settings_in_force(settings)$factors$number
    number <- number_of_study(asked, count)
    list(shown = page_count(count), k = if (is.list(number)) number$k else as.integer(number),
      slim = count$values[c("suggested", "probable", "taken")])
  },
  trust = function(settings, k) {
    wanted <- c(QUICK, "scores")
    page_trust(values_for_page(settings, k, wanted, draws = TRUE))
  },
  limits = function(settings, k) {
    done <- values_for_page(settings, k, "solution")
    page_limits(loading_stability(done$values$solution, halves = 0L, replicates = 200L,
      seed = seed_of(settings, "reliability"), threads = 1L))
  },
  paths = function(settings, k) {
    sifted <- sifted_for_page(settings, k)
    page_paths(sift_paths(sifted, replicates = 40L, seed = seed_of(settings, "sift"), threads = 1L))
  },
  # what the rules would take out next, one pass
  proposal = function(settings, k) page_proposal(sifted_for_page(settings, k, passes = 1L)),
  # the number of factors asked for instead, beside the one there is
  number = function(settings, k, other) {
    now <- values_for_page(settings, k, "solution")$values$solution
    then <- values_for_page(without_names(settings), other, "solution")$values$solution
    page_other_number(now, then)
  },
  names = function(settings, k) {
    page_naming(name_factors(values_for_page(settings, k, "solution")$values$solution))
  },
  write = function(settings, folder) {
    study <- new_study(list(), settings, no_findings(), NULL, NULL)
    done <- run_stages(study, names(STAGES), NULL, function(line) NULL, folder)
    files <- write_results(done, folder)
    list(folder = normalizePath(folder), files = length(files), stopped = done$settings$stopped$why)
  },
  look = function(settings) page_columns(propose_roles(read_responses(settings$begin))))
