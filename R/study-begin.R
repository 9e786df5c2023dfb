# From a file of answers to a study to begin with: what its columns seem to be.

#' Begin a study from a file of answers
#'
#' Looks at a file and proposes what its columns are: which names people, which are items, which
#' group people or weight them, which answers are codes for "no answer", where the scale ends, and
#' which items seem to be worded in reverse. Writes that as a commented study file and a codebook,
#' to
#' be looked at and changed by whoever knows the questionnaire.
#'
#' @details Columns whose values are whole numbers, few, and within the range that most such columns
#'   have are items; words too, where they are a known ladder of answers (never to always, disagree
#'   to agree, in English or German). An item counts as reversed when it correlates mostly
#' negatively
#'   with the others: signs are chosen so that the sum of \eqn{s_i s_j r_{ij} |r_{ij}|} is largest,
#'   one item at a time, among items with a correlation of .15 and of three standard errors.
#' @param file The answers, as [read_responses()] takes them: a path, or a [database_table()] with
#'   an address.
#' @param folder Where `NAME_study.yml` and `NAME_codebook.csv` are written; files that are there
#'   are never replaced.
#' @return A list, invisibly: `files` (the two paths), `codebook` (what [read_codebook()] returns),
#'   `columns` (tibble: `column`, `role` (`"id"`, `"item"`, `"group"`, `"weight"`, `"left out"`),
#'   `why`) and `said` (lines that tell it).
#' @section Errors: Those of [read_responses()]; `softsieve_error_begin` (fewer than three columns
#'   look like items), `softsieve_error_unwritable` (also when a file of that name is there).
#' @family studies
#' @examples
#' folder <- tempfile()
#' dir.create(folder)
#' file <- system.file("extdata", "repair_cafe_answers.csv", package = "softsieve")
#' begun <- begin_study(file, folder)
#' begun$columns
#' writeLines(readLines(begun$files[1]))
#' @export
begin_study <- function(file, folder = ".") {
  call <- environment()
  check_text(folder, "folder")
  data <- in_name_of(call, read_responses(file))
  check_writable(folder, call)
  of_table <- is_database_table(file)
  name <- if (of_table) utils::tail(file$table, 1L) else tools::file_path_sans_ext(basename(file))
  # (a table may be called as no file can be)
  if (of_table) name <- gsub("[^[:alnum:] _.-]", "_", name)
  files <- file.path(folder, paste0(name, c("_study.yml", "_codebook.csv")))
  check_not_there(files, call)
  columns <- propose_columns(data)
  items <- columns$column[columns$role == "item"]
  if (length(items) < 3L) {
    stop_input(
      "begin",
      "At least three columns must look like items.",
      got = sprintf("%s did.", count_of(length(items), "column")),
      todo = paste(
        "Items are columns of few whole numbers with one range. Write a codebook by hand:",
        "?read_codebook."
      ),
      call = call
    )
  }
  book <- propose_codebook(data[items])
  said <- begin_said(columns, book, if (of_table) name else basename(file))
  there <- place_entries(file, normalizePath(folder), call)
  lines <- begin_lines(columns, book, there, basename(files[2L]))
  # plain: names of columns must come back as they are
  table <- readr::format_csv(book$table, na = "")
  write_whole(files[2L], function(path) write_text(table, path), call = call)
  write_whole(files[1L], function(path) write_text(lines, path), call = call)
  invisible(list(
    files = files,
    codebook = tidy_codebook(book$table),
    columns = columns,
    said = said
  ))
}

check_not_there <- function(files, call) {
  there <- files[file.exists(files)]
  if (!length(there)) return(invisible())
  stop_input(
    "unwritable",
    "Files that are there are never replaced.",
    got = sprintf("There: %s.", name_culprits(basename(there))),
    todo = "Move them, or name another folder.",
    call = call
  )
}

# Answers in words, from the least to the most, as questionnaires have them.
LADDERS <- list(
  c("never", "rarely", "sometimes", "often", "very often", "always"),
  c("never", "seldom", "sometimes", "often", "always"),
  c("strongly disagree", "disagree", "neither agree nor disagree", "agree", "strongly agree"),
  c("strongly disagree", "disagree", "neutral", "agree", "strongly agree"),
  c("not at all", "a little", "partly", "mostly", "fully"),
  c("not at all", "a little", "somewhat", "quite a bit", "very much"),
  c("no", "rather no", "rather yes", "yes"),
  c("no", "yes"),
  c("nie", "selten", "manchmal", "oft", "immer"),
  c("stimme gar nicht zu", "stimme eher nicht zu", "teils teils", "stimme eher zu",
    "stimme voll zu"),
  c("trifft nicht zu", "trifft eher nicht zu", "teils teils", "trifft eher zu", "trifft zu"),
  c("nein", "eher nein", "eher ja", "ja")
)

spelt_in <- function(x) unique(tolower(trimws(stats::na.omit(x))))

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
  why[nearly] <- "numbers, but for some cells: mend these"
  role[groups] <- "group"
  why[groups] <- sprintf("%d groups", field("distinct")[groups])
  named_weight <- grepl("weight|gewicht|^wt$", names(data), ignore.case = TRUE)
  weight <- which(named_weight & field("numeric") & field("positive"))
  role[weight] <- "left out"
  role[utils::head(weight, 1L)] <- "weight"
  why[utils::head(weight, 1L)] <- "its name, and numbers above 0"
  id <- which(field("unique") & role == "left out")
  role[utils::head(id, 1L)] <- "id"
  why[utils::head(id, 1L)] <- "another value for each person"
  tibble::tibble(column = names(data), role = role, why = unname(why))
}

look_at_column <- function(x) {
  given <- x[!is.na(x)]
  numeric <- is.numeric(x) && length(given) > 0L
  whole <- numeric && all(given == round(given))
  codes <- if (whole) likely_codes_in(x)$code else numeric()
  answers <- if (numeric) given[!given %in% codes] else given
  distinct <- length(unique(answers))
  ends <- if (numeric && length(answers)) range(answers) else c(NA_real_, NA_real_)
  list(
    numeric = numeric,
    distinct = distinct,
    few = whole && distinct %in% 2:11,
    lowest = ends[1L],
    highest = ends[2L],
    positive = numeric && all(given > 0),
    unique = !anyDuplicated(x) && !anyNA(x) && whole == numeric,
    ladder = if (is.character(x)) ladder_of(x)
  )
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
    if (is.character(x)) return(as.numeric(match(tolower(trimws(x)), ladders[[name]])))
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
  list(
    table = tibble::tibble(
      item = names(data),
      wording = unname(wording),
      lowest = ifelse(worded, 1, ends[1L]),
      highest = unname(ifelse(worded, lengths(ladders), ends[2L])),
      reversed = ifelse(names(data) %in% names(turned$against), "yes", ""),
      scale = "",
      facet = "",
      missing_codes = unname(vapply(codes, paste, "", collapse = " ")),
      labels = unname(vapply(ladders, function(ladder) {
        if (is.null(ladder)) return("")
        paste(seq_along(ladder), "=", ladder, collapse = " | ")
      }, ""))
    ),
    codes = sort(unique(unlist(codes))),
    turned = turned
  )
}

# Items that load on their factor against most of its items: `against`, their loadings, by name. As
# many factors are looked at as stand above chance; where as many load one way as the other, which
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
    softsieve_error = function(e) 1L
  )
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
  list(
    against = stats::setNames(-abs(own[against]), colnames(answers)[against]),
    open = vapply(sides[even], function(two) {
      sprintf("%s, or else %s", named(two[[1L]]), named(two[[2L]]))
    }, "")
  )
}

begin_said <- function(columns, book, name) {
  of <- function(role) columns$column[columns$role == role]
  against <- book$turned$against
  against <- sprintf("%s (%s)", names(against), format_unit(against))
  one <- function(label, x) {
    said <- if (length(x)) name_culprits(x, 26L) else "none"
    wrap_lines(said, sprintf("  %-20s", label), strrep(" ", 22L))
  }
  c(
    sprintf("%s: what its columns seem to be.", name),
    one("names people:", of("id")),
    one("groups people:", of("group")),
    one("weights people:", of("weight")),
    one(sprintf("items (%d):", nrow(book$table)), of("item")),
    one("seem reversed:", against),
    if (length(against)) {
      wrap_lines(
        "(how they load on their factor, when most of its items load the other way)",
        strrep(" ", 22L)
      )
    },
    unlist(lapply(book$turned$open, function(open) one("either reversed:", open))),
    one("seem no answer:", book$codes),
    one("left out:", of("left out"))
  )
}

# The study file, with what may be changed in comments.
begin_lines <- function(columns, book, there, codebook) {
  of <- function(role) columns$column[columns$role == role]
  entry <- function(key, value, indent = 2L) if (length(value)) entry_lines(key, value, indent)
  groups <- of("group")
  reversed <- sum(book$table$reversed == "yes")
  c(
    "# A study to begin with, made by looking at the answers. Look at each line; what stands after",
    "# a # is not read. Every entry, with its default: `softsieve run --help` and ?read_study.",
    "title: A questionnaire",
    "# author: who made it",
    "# language: de                # methods and results in German",
    "",
    "answers:",
    unlist(Map(entry, names(there), there), use.names = FALSE),
    entry("id", utils::head(of("id"), 1L)),
    entry("weight", utils::head(of("weight"), 1L)),
    entry("group", as.list(groups)),
    "  # filters: [age >= 18]      # only people for whom this holds",
    sprintf(
      "# %d items, %d of them seem reversed, codes for \"no answer\": %s; check them there:",
      nrow(book$table),
      reversed,
      if (length(book$codes)) paste(book$codes, collapse = ", ") else "none seen"
    ),
    entry("codebook", codebook, 0L),
    "",
    "correlations:",
    "  kind: pearson              # or polychoric, for few ordered categories",
    "factors:",
    "  number: probable           # the most probable number; or parallel, or a whole number",
    "  method: minres",
    "  rotation: oblimin          # factors may correlate; varimax: they may not",
    "  # names: {F1: thrift}",
    "sift:",
    "  run: false                 # true: weak items go, one at a time, with a trail",
    "pattern:",
    "  hide_below: 0.3            # smaller loadings are not shown",
    "",
    "# What people decide, each with a reason:",
    "# decisions:",
    "#   - drop: x7",
    "#     why: nobody understood it",
    "#     who: the team",
    "",
    "seed: 1"
  )
}
