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
#'   Of a table of measurements (numeric columns with many different values, without labels) the
#'   study says `measured: all`, and there is no codebook.
#' @param file The answers, as [read_responses()] takes them: a path, or a [database_table()] with
#'   an address.
#' @param folder Where `NAME_study.yml` and `NAME_codebook.csv` are written; files that are there
#'   are never replaced.
#' @param full `TRUE` writes every entry that a study file may hold, with its default, as a comment
#'   where nothing speaks for another value.
#' @param roles What people say of columns instead of what is proposed, by column: a role as
#'   `columns` below has it, or `"reversed"` (an item that is worded in reverse; `"item"` is one
#'   that is not): `c(o2 = "left out", t3 = "reversed")`.
#' @return A list, invisibly: `files` (the two paths), `codebook` (what [read_codebook()] returns),
#'   `columns` (tibble: `column`, `role` (`"id"`, `"item"`, `"check"` (an attention check),
#'   `"group"`, `"weight"`, `"left out"`), `why`), `checks` (tibble of those who fail a check:
#'   `column`, `asked`, `failed`, `who`: up to 10 of them) and `said` (lines that say it).
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
begin_study <- function(file, folder = ".", full = FALSE, roles = NULL) {
  check_text(folder, "folder")
  check_flag(full, "full")
  data <- read_responses(file)
  check_writable(folder)
  of_table <- is_database_table(file)
  name <- if (of_table) utils::tail(file$table, 1L) else tools::file_path_sans_ext(basename(file))
  # (a table may be called as no file can be)
  if (of_table) name <- gsub("[^[:alnum:] _.-]", "_", name)
  files <- file.path(folder, paste0(name, c("_study.yml", "_codebook.csv")))
  check_not_there(files)
  check_roles(roles, names(data))
  if (seem_measured(data)) return(begin_measured(data, file, files[1L], full, roles))
  columns <- with_roles(propose_columns(data), roles)
  items <- columns$column[columns$role == "item"]
  if (length(items) < 3L) {
    stop_input("begin",
      "At least three columns must look like items.",
      got = sprintf("%s did.", count_of(length(items), "column")),
      todo = paste(
        "Items are columns of few whole numbers with one range. Write a codebook by hand:",
        "?read_codebook."))
  }
  book <- with_reversed(propose_codebook(data[items]), roles)
  checks <- failed_checks(data, columns)
  said <- begin_said(columns, book, checks, if (of_table) name else basename(file))
  there <- place_entries(file, normalizePath(folder))
  lines <- begin_lines(columns, book, checks, there, basename(files[2L]))
  if (full) lines <- with_every_entry(lines)
  # plain: names of columns must come back as they are
  table <- delimited_text(book$table)
  write_whole(files[2L], function(path) write_text(table, path))
  write_whole(files[1L], function(path) write_text(lines, path))
  invisible(list(files = files, codebook = tidy_codebook(book$table), columns = columns,
    checks = checks, said = said))
}

COLUMN_ROLES <- c("id", "item", "reversed", "check", "group", "weight", "left out")

check_roles <- function(roles, columns) {
  if (is.null(roles)) return(invisible())
  good <- checkmate::test_character(roles, any.missing = FALSE, names = "unique") &&
    all(roles %in% COLUMN_ROLES) && all(names(roles) %in% columns)
  if (good) return(invisible())
  strange <- c(setdiff(names(roles), columns), setdiff(roles, COLUMN_ROLES))
  stop_input("argument", "`roles` must be words for columns that there are.",
    got = if (length(strange)) {
      sprintf("Not known: %s.", name_culprits(strange))
    } else {
      describe_value(roles)
    },
    todo = sprintf("Words are %s.", name_culprits(COLUMN_ROLES)))
}

# What people said of columns, in the place of what was proposed.
with_roles <- function(columns, roles) {
  at <- match(names(roles), columns$column)
  columns$role[at] <- sub("reversed", "item", roles, fixed = TRUE)
  columns$why[at] <- "as you said"
  columns
}

with_reversed <- function(book, roles) {
  said <- roles[roles %in% c("item", "reversed") & names(roles) %in% book$table$item]
  at <- match(names(said), book$table$item)
  book$table$reversed[at] <- ifelse(said == "reversed", "yes", "")
  against <- book$turned$against
  book$turned$against <- against[!names(against) %in% names(said)]
  book
}

# What each column is taken for, before anybody has said anything.
propose_roles <- function(data) {
  if (seem_measured(data)) return(propose_measured(data))
  columns <- propose_columns(data)
  items <- columns$column[columns$role == "item"]
  if (length(items) < 3L) return(columns)
  against <- propose_codebook(data[items])$turned$against
  at <- match(names(against), columns$column)
  columns$role[at] <- "reversed"
  columns$why[at] <- sprintf("%s; loads %s against most of its factor", columns$why[at],
    format_unit(against))
  columns
}

holds_days <- function(data, name) {
  if (!length(name) || is.numeric(data[[name]])) return(FALSE)
  time <- tryCatch(times_of(data[[name]], name), softsieve_error = function(e) NA)
  !anyNA(time)
}

# A study of measurements, which have no codebook.
begin_measured <- function(data, file, path, full, roles) {
  columns <- with_roles(propose_measured(data), roles)
  of <- function(role) columns$column[columns$role == role]
  left <- columns[columns$role == "left out", ]
  entry <- function(key, value) if (length(value)) entry_lines(key, value, 2L)
  there <- place_entries(file, normalizePath(dirname(path)))
  lines <- c(
    "# A study of measurements to begin with, made by looking at them. Look at each line; what",
    "# stands after a # is not read. Every entry: `softsieve run --help` and ?read_study.",
    "title: Measurements", "", "answers:",
    unlist(Map(entry, names(there), there), use.names = FALSE), entry("id", of("id")),
    if (holds_days(data, of("id"))) {
      c("  # rows follow each other by these days: errors and chance levels allow for that",
        entry("order", as.list(of("id"))))
    },
    entry("group", as.list(of("group"))), entry("items", as.list(of("item"))),
    "  measured: all              # numbers with units, not answers",
    "  rows: row                  # what a row is, in a word: day, sample (or ox/oxen)",
    "  columns: column            # what a column is: gauge, quantity", "", "correlations:",
    "  kind: pearson", "factors:", "  number: parallel           # or a whole number",
    "  method: components         # or minres, for factors",
    "  rotation: none             # varimax or oblimin, where columns are to be told apart",
    "", "# What people decide, each with a reason:", "# decisions:", "#   - drop: humidity",
    "#     why: the gauge was broken", "#     who: the team", "", "seed: 1")
  if (full) lines <- with_every_entry(lines)
  write_whole(path, function(path) write_text(lines, path))
  one <- function(label, x) {
    wrap_lines(if (length(x)) name_culprits(x, 26L) else "none", sprintf("  %-20s", label),
      strrep(" ", 22L))
  }
  said <- c(
    sprintf("%s: numbers with many different values, taken for measurements.", basename(path)),
    one("names rows:", of("id")), one("groups rows:", of("group")),
    one(sprintf("measured (%d):", length(of("item"))), of("item")),
    unlist(Map(function(name, why) one("left out:", sprintf("%s (%s)", name, why)), left$column,
      left$why), use.names = FALSE))
  invisible(list(files = path, codebook = NULL, columns = columns,
    checks = failed_checks(data, columns), said = said))
}

# Who did not give what a check asks for.
failed_checks <- function(data, columns) {
  id <- columns$column[columns$role == "id"]
  who <- if (length(id)) as.character(data[[id]]) else sprintf("row %d", seq_len(nrow(data)))
  parts <- lapply(columns$column[columns$role == "check"], function(name) {
    asked <- answer_of_most(data[[name]])
    at <- which(!data[[name]] %in% asked)
    tibble_of(column = name, asked = asked, failed = length(at), who = name_culprits(who[at]))
  })
  none <- tibble_of(column = character(), asked = character(), failed = integer(),
    who = character())
  do.call(rbind, c(list(none), parts))
}

check_not_there <- function(files) {
  there <- files[file.exists(files)]
  if (!length(there)) return(invisible())
  stop_input("unwritable", "Files that are there are never replaced.",
    got = sprintf("There: %s.", name_culprits(basename(there))),
    todo = "Move them, or name another folder.")
}

begin_said <- function(columns, book, checks, name) {
  of <- function(role) columns$column[columns$role == role]
  against <- book$turned$against
  against <- sprintf("%s (%s)", names(against), format_unit(against))
  one <- function(label, x) {
    said <- if (length(x)) name_culprits(x, 26L) else "none"
    wrap_lines(said, sprintf("  %-20s", label), strrep(" ", 22L))
  }
  left <- columns[columns$role == "left out", ]
  reasons <- grepl("mend", left$why)
  c(sprintf("%s: what its columns seem to be.", name), one("names people:", of("id")),
    one("groups people:", of("group")), one("weights people:", of("weight")),
    one(sprintf("items (%d):", nrow(book$table)), of("item")),
    if (nzchar(book$stem)) one("all begin with:", sprintf("\"%s\"", book$stem)),
    one("seem reversed:", against),
    if (length(against)) {
      wrap_lines("(how they load on their factor, when most of its items load the other way)",
        strrep(" ", 22L))
    },
    unlist(lapply(book$turned$open, function(open) one("either reversed:", open))),
    one("seem no answer:", book$codes),
    unlist(lapply(seq_len(nrow(checks)), function(i) {
      one("attention check:", one_check(checks[i, ]))
    })),
    if (!all(reasons) || !nrow(left)) one("left out:", left$column[!reasons]),
    unlist(lapply(which(reasons), function(i) {
      one("left out:", sprintf("%s (%s)", left$column[i], left$why[i]))
    })))
}

one_check <- function(check) {
  failed <- if (check$failed) {
    sprintf("%s: %s", count_of(check$failed, "person fails", "people fail"), check$who)
  } else {
    "nobody fails"
  }
  sprintf("%s (asks for %s): %s", check$column, check$asked, failed)
}

# The study file, with what may be changed in comments.
begin_lines <- function(columns, book, checks, there, codebook) {
  of <- function(role) columns$column[columns$role == role]
  entry <- function(key, value, indent = 2L) if (length(value)) entry_lines(key, value, indent)
  groups <- of("group")
  reversed <- sum(book$table$reversed == "yes")
  c("# A study to begin with, made by looking at the answers. Look at each line; what stands after",
    "# a # is not read. Every entry, with its default: `softsieve run --help` and ?read_study.",
    "title: A questionnaire", "# author: who made it", "# date: the day that the report shows",
    "# language: de                # methods and results in German",
    "", "answers:",
    unlist(Map(entry, names(there), there), use.names = FALSE),
    entry("id", utils::head(of("id"), 1L)),
    entry("weight", utils::head(of("weight"), 1L)),
    entry("group", as.list(groups)), filter_lines(checks),
    sprintf("# %d items, %d of them seem reversed, codes for \"no answer\": %s; check them there:",
      nrow(book$table), reversed,
      if (length(book$codes)) paste(plain_numbers(book$codes), collapse = ", ") else "none seen"),
    if (nzchar(book$stem)) sprintf("# The wording of all of them began with: %s", book$stem),
    entry("codebook", codebook, 0L), "", "correlations:",
    "  kind: pearson              # or polychoric, for few ordered categories",
    "factors:",
    "  number: probable           # the most probable number; or parallel, or a whole number",
    "  method: minres",
    "  rotation: oblimin          # factors may correlate; varimax: they may not",
    "  # names: {F1: thrift}", "sift:",
    "  run: false                 # true: weak items go, one at a time, with a trail",
    "pattern:",
    "  hide_below: 0.3            # smaller loadings are not shown",
    "", "# What people decide, each with a reason:", "# decisions:", "#   - drop: x7",
    "#     why: nobody understood it", "#     who: the team", "", "seed: 1")
}

# Who is left out by filters: those who fail a check, once a # is taken away.
filter_lines <- function(checks) {
  if (!nrow(checks)) return("  # filters: [age >= 18]      # only people for whom this holds")
  name <- vapply(lapply(checks$column, as.name), where_name, "")
  lines <- sprintf("%s = %s", name, checks$asked)
  c(
    sprintf("  # leaves out who fails attention checks (%s):",
      paste(checks$failed, "by", checks$column, collapse = ", ")),
    sprintf("  # filters: %s", entry_text(as.list(lines))))
}

entry_text <- function(values) {
  shown <- gsub("'", "''", unlist(values), fixed = TRUE)
  sprintf("[%s]", paste0("'", shown, "'", collapse = ", "))
}

# Every entry that the lines do not hold, with its default, as a comment at the end of its section.
with_every_entry <- function(lines) {
  written <- names(flat_entries(load_yaml(lines)))
  for (section in names(STUDY_SECTIONS)) {
    at <- match(paste0(section, ":"), lines)
    here <- if (is.na(at)) integer() else section_rows(lines, at)
    comments <- unlist(lapply(study_entries(), function(one) {
      key <- sub(".*[.]", "", one$name)
      told <- one$name %in% written || any(startsWith(lines[here], sprintf("  # %s:", key)))
      if (startsWith(one$name, paste0(section, ".")) && !told) commented_entry(one, key)
    }))
    if (!length(here)) {
      # a section of comments alone is a comment, too
      head <- sprintf(c("# %s", "# %s:"), c(STUDY_SECTIONS[[section]], section))
      lines <- c(lines, "", head, comments)
    } else {
      lines <- append(lines, comments, max(here))
    }
  }
  c(lines, "", "# What was expected before anybody answered, as `softsieve new --plan` explains it",
    "# design:", "#   factors: 4", "#   people: [100, 200]")
}

# The lines of a section that begins at line `at`.
section_rows <- function(lines, at) {
  after <- which(!startsWith(lines, "  ") & seq_along(lines) > at)
  seq(at, min(after - 1L, length(lines)))
}

commented_entry <- function(entry, key) {
  default <- entry[["default"]]
  shown <- if (is.null(default)) "x:" else entry_lines("x", default, 0L)
  choices <- choices_of(entry)
  label <- entry$label
  if (length(choices)) label <- sprintf("%s: %s", label, paste(choices, collapse = ", "))
  c(wrap_lines(label, "  # ", "  # "), paste0("  # ", sub("^x:", paste0(key, ":"), shown)))
}
