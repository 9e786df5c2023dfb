# What the columns of a file of answers seem to be, and a codebook for those that are items.

# Answers in words, from the least to the most, as questionnaires have them.
LADDERS <- list(c("never", "rarely", "sometimes", "often", "very often", "always"),
  c("never", "seldom", "sometimes", "often", "always"),
  c("strongly disagree", "disagree", "neither agree nor disagree", "agree", "strongly agree"),
  c("strongly disagree", "disagree", "neutral", "agree", "strongly agree"),
  c("not at all", "a little", "partly", "mostly", "fully"),
  c("not at all", "a little", "somewhat", "quite a bit", "very much"),
  c("no", "rather no", "rather yes", "yes"), c("no", "yes"),
  c("nie", "selten", "manchmal", "oft", "immer"),
  c("stimme gar nicht zu", "stimme eher nicht zu", "teils teils", "stimme eher zu",
    "stimme voll zu"),
  c("trifft nicht zu", "trifft eher nicht zu", "teils teils", "trifft eher zu", "trifft zu"),
  c("nein", "eher nein", "eher ja", "ja"))

spelt_in <- function(x) unique(lower(trimws(stats::na.omit(x))))

# The shortest ladder that holds all words of a column, or NULL.
ladder_of <- function(x) {
  words <- spelt_in(x)
  if (length(words) < 2L) return(NULL)
  Find(function(ladder) all(words %in% ladder), LADDERS[order(lengths(LADDERS))])
}

# Each column's ladder: a longer one that another column climbs, where it holds these words, too
# (nobody answered "rather yes" here).
ladders_of <- function(data) {
  own <- lapply(data, function(x) if (is.character(x)) ladder_of(x))
  there <- unique(own[!vapply(own, is.null, NA)])
  there <- there[order(-lengths(there))]
  Map(function(x, ladder) {
    if (is.null(ladder)) return(NULL)
    words <- spelt_in(x)
    Find(function(other) all(words %in% other), there)
  }, data, own)
}

# What each column seems to be, and why.
propose_columns <- function(data) {
  looks <- lapply(data, look_at_column)
  field <- function(name) vapply(looks, `[[`, looks[[1L]][[name]], name)
  few <- field("few")
  ends <- most_common_ends(looks[few & field("numeric")])
  inside <- function(one) {
    one$few && one$numeric && one$lowest >= ends[1L] && one$highest <= ends[2L] &&
      (one$distinct > 2L || diff(ends) < 3)
  }
  role <- rep("left out", length(looks))
  why <- sprintf("%d different values", field("distinct"))
  items <- vapply(looks, inside, NA)
  role[items] <- "item"
  own <- sprintf("whole numbers from %g to %g", field("lowest"), field("highest"))
  why[items] <- own[items]
  ladder <- vapply(looks, function(one) !is.null(one$ladder), NA)
  role[ladder] <- "item"
  why[ladder] <- "answers in words, in a known order"
  groups <- role == "left out" & field("distinct") >= 2L & field("distinct") <= 20L &
    field("distinct") <= nrow(data) / 5 & field("numeric") == (field("distinct") <= 2L)
  groups <- groups | (role == "left out" & !field("numeric") & field("distinct") >= 2L &
    field("distinct") <= 20L & field("distinct") <= nrow(data) / 5)
  # text that is nearly all numbers is a column to mend, not one of groups
  nearly <- attr(data, "reading")
  nearly <- names(data) %in% nearly$item[nearly$code == "nearly_numeric"]
  groups <- groups & !nearly
  cells <- attr(data, "reading")$text[match(names(data), attr(data, "reading")$item)]
  cells <- sub("[.]$", "", sub(".* because of ", "", cells))
  why[nearly] <- sprintf("numbers, but for cells to mend: %s", cells[nearly])
  role[groups] <- "group"
  why[groups] <- sprintf("%d groups", field("distinct")[groups])
  asked <- vapply(data, answer_of_most, "")
  asked[!seem_checks(data)] <- ""
  checks <- nzchar(asked)
  role[checks] <- "check"
  why[checks] <- sprintf("asks for attention: most people gave %s", asked[checks])
  named_weight <- grepl("weight|gewicht|^wt$", names(data), ignore.case = TRUE)
  weight <- which(named_weight & field("numeric") & field("positive"))
  role[weight] <- "left out"
  role[utils::head(weight, 1L)] <- "weight"
  why[utils::head(weight, 1L)] <- "its name, and numbers above 0"
  id <- which(field("unique") & role == "left out")
  role[utils::head(id, 1L)] <- "id"
  why[utils::head(id, 1L)] <- "another value for each person"
  tibble_of(column = names(data), role = role, why = unname(why))
}

# Is this a table of measurements? More columns of numbers have many different values than look like
# items, and none of them has labels.
seem_measured <- function(data) {
  numeric <- vapply(data, is.numeric, NA)
  many <- vapply(data, function(x) length(unique(x[!is.na(x)])) > MANY_VALUES, NA)
  plain <- !vapply(data, odd_kind_of, "") %in% c("id", "running")
  labelled <- vapply(data, function(x) !is.null(attr(x, "labels", exact = TRUE)), NA)
  items <- propose_columns(data)$role == "item"
  wide <- numeric & many & plain & !labelled
  sum(wide) >= 3L && sum(wide) > sum(items & !wide)
}

odd_kind_of <- function(x) if (is.numeric(x)) odd_kind(x) else "text"

# What each column of a table of measurements seems to be, and why.
propose_measured <- function(data) {
  kinds <- vapply(data, odd_kind_of, "")
  distinct <- vapply(data, function(x) length(unique(x[!is.na(x)])), 0L)
  role <- rep("left out", length(data))
  why <- sprintf("%d different values", distinct)
  role[kinds == "plain"] <- "item"
  said <- c(constant = "one value everywhere", running = "a running number", date = "dates",
    id = "a whole number of its own for each row")
  odd <- kinds %in% names(said)
  why[odd] <- said[kinds[odd]]
  text <- kinds == "text"
  groups <- text & distinct >= 2L & distinct <= min(20, nrow(data) / 5)
  role[groups] <- "group"
  why[groups] <- sprintf("%d groups", distinct[groups])
  id <- which((text | kinds %in% c("id", "running")) & distinct == nrow(data))
  role[utils::head(id, 1L)] <- "id"
  why[utils::head(id, 1L)] <- "another value for each row"
  tibble_of(column = names(data), role = role, why = unname(why))
}

# Which columns seem to ask whether people read on ("please choose 4 here"), by their names and
# wording; where many are worded so, it is how the questions are put.
CHECK_NAMES <- "attention|attn|instructed|trap|aufmerksam"
CHECK_WORDS <- paste(
  "(please|to show|bitte)\\b.*\\b(select|choose|tick|mark|click|answer|w.hlen|kreuzen|klicken)",
  "\\b(this|diese)\\b.*\\b(attention|aufmerksamkeit)", sep = "|")
MOST_CHECKS <- 0.2

seem_checks <- function(data) {
  labels <- vapply(data, function(x) paste(attr(x, "label", exact = TRUE), collapse = " "), "")
  worded <- grepl(CHECK_WORDS, labels, ignore.case = TRUE, perl = TRUE)
  if (sum(worded) > max(1, MOST_CHECKS * sum(nzchar(labels)))) worded[] <- FALSE
  grepl(CHECK_NAMES, names(data), ignore.case = TRUE) | worded
}

# The answer that more than half gave, as text, or "".
answer_of_most <- function(x) {
  given <- x[!is.na(x)]
  values <- unique(given)
  if (!length(values) || length(values) > 50L) return("")
  counts <- tabulate(match(given, values))
  if (max(counts) > length(given) / 2) as.character(values[which.max(counts)]) else ""
}

look_at_column <- function(x) {
  given <- x[!is.na(x)]
  numeric <- is.numeric(x) && length(given) > 0L
  whole <- numeric && all(given == round(given))
  codes <- if (whole) likely_codes_in(x)$code else numeric()
  answers <- if (numeric) given[!given %in% codes] else given
  distinct <- length(unique(answers))
  ends <- if (numeric && length(answers)) range(answers) else c(NA_real_, NA_real_)
  list(numeric = numeric, distinct = distinct, few = whole && distinct %in% 2:11, lowest = ends[1L],
    highest = ends[2L], positive = numeric && all(given > 0),
    unique = !anyDuplicated(x) && !anyNA(x) && whole == numeric,
    ladder = if (is.character(x)) ladder_of(x))
}

# The range that most columns of few whole numbers have.
most_common_ends <- function(looks) {
  if (!length(looks)) return(c(Inf, -Inf))
  ends <- vapply(looks, function(one) paste(one$lowest, one$highest), "")
  # a column in which nobody took an end does not decide; of ranges as frequent, the wider
  count <- table(ends)
  wide <- vapply(strsplit(names(count), " "), function(e) diff(as.numeric(e)), 0)
  best <- names(count)[order(-as.integer(count), -wide)[1L]]
  as.numeric(strsplit(best, " ")[[1L]])
}

# A codebook for the items, and their keyed answers for what is said of them.
propose_codebook <- function(data) {
  codes <- lapply(data, function(x) if (is.numeric(x)) likely_codes_in(x)$code else numeric())
  ladders <- ladders_of(data)
  answers <- vapply(names(data), function(name) {
    x <- data[[name]]
    if (is.character(x)) return(as.numeric(match(lower(trimws(x)), ladders[[name]])))
    ifelse(x %in% codes[[name]], NA_real_, as.numeric(x))
  }, numeric(nrow(data)))
  answers <- matrix(answers, nrow(data), dimnames = list(NULL, names(data)))
  worded <- !vapply(ladders, is.null, NA)
  numbers <- answers[, !worded, drop = FALSE]
  ends <- if (ncol(numbers)) range(numbers, na.rm = TRUE) else c(NA_real_, NA_real_)
  turned <- seem_reversed(answers)
  wording <- vapply(data, function(x) {
    label <- attr(x, "label")
    if (is.null(label)) "" else as.character(label)[1L]
  }, "")
  stem <- shared_stem(wording)
  list(stem = stem$stem,
    table = tibble_of(item = names(data), wording = unname(stem$rest),
      lowest = ifelse(worded, 1, ends[1L]),
      highest = unname(ifelse(worded, lengths(ladders), ends[2L])),
      reversed = ifelse(names(data) %in% names(turned$against), "yes", ""),
      scale = "", facet = "",
      missing_codes = unname(vapply(lapply(codes, plain_numbers), paste, "", collapse = " ")),
      labels = unname(vapply(ladders, function(ladder) {
        if (is.null(ladder)) return("")
        paste(seq_along(ladder), "=", ladder, collapse = " | ")
      }, ""))),
    codes = sort(unique(unlist(codes))), turned = turned)
}

# What all wordings begin with (a question that stands before each item) up to a mark that ends it,
# and what is left of each.
FEWEST_FOR_STEM <- 3L
shared_stem <- function(wording) {
  none <- list(stem = "", rest = wording)
  said <- unique(wording[nzchar(wording)])
  if (length(said) < FEWEST_FOR_STEM) return(none)
  letters <- lapply(strsplit(said, ""), `length<-`, min(nchar(said)))
  same <- vapply(do.call(Map, c(c, letters)), function(x) length(unique(x)) == 1L, NA)
  shared <- substr(said[1L], 1L, sum(cumprod(same)))
  # (up to its last colon, dash, question mark, dots or bracket that blanks or items follow)
  ends <- gregexpr("([:?\u2026]|[.]{3}|\\[|\\s[-\u2013\u2014])\\s*", shared, perl = TRUE)[[1L]]
  if (ends[1L] < 0L) return(none)
  stem <- substr(shared, 1L, max(ends + attr(ends, "match.length") - 1L))
  rest <- ifelse(nzchar(wording), substr(wording, nchar(stem) + 1L, nchar(wording)), "")
  if (grepl("\\[\\s*$", stem) && all(grepl("\\]\\s*$", rest[nzchar(rest)]))) {
    rest <- sub("\\]\\s*$", "", rest)
  }
  if (any(!nzchar(trimws(rest)) & nzchar(wording))) return(none)
  list(stem = trimws(sub("[-\u2013\u2014\\[]\\s*$", "", stem)), rest = trimws(rest))
}

# Items that load on their factor against most of its items: `against`, their loadings, by name. As
# many factors are looked at as exceed chance; where as many load one way as the other, which
# are reversed cannot be told (`open`, a sentence for each such factor).
seem_reversed <- function(answers) {
  if (core_most_factors(ncol(answers)) < 1L) {
    return(list(against = numeric(), open = character()))
  }
  n <- nrow(answers)
  r <- suppressWarnings(stats::cor(answers, use = "pairwise.complete.obs"))
  r[is.na(r)] <- 0
  diag(r) <- 1
  k <- tryCatch(
    parallel_analysis(r, n = n, replicates = 100L, seed = 1L, threads = 1L)$values$suggested,
    softsieve_error = function(e) 1L)
  k <- max(1L, min(k, core_most_factors(ncol(r))))
  loadings <- turned_for_make(r, k, list(seed = 1L, threads = 1L))$loadings
  home <- home_factor(loadings, max(0.3, 3 / sqrt(n)))
  own <- loadings[cbind(seq_len(nrow(loadings)), home)]
  sides <- lapply(seq_len(k), function(j) {
    here <- which(home == j)
    sides <- split(here, own[here] < 0)
    sides[order(lengths(sides))]
  })
  sides <- sides[lengths(sides) == 2L]
  even <- vapply(sides, function(two) length(two[[1L]]) == length(two[[2L]]), NA)
  against <- sort(unlist(lapply(sides[!even], `[[`, 1L)))
  named <- function(at) join_words(colnames(answers)[at])
  list(against = stats::setNames(-abs(own[against]), colnames(answers)[against]),
    open = vapply(sides[even], function(two) {
      sprintf("%s, or else %s", named(two[[1L]]), named(two[[2L]]))
    }, ""))
}
