#' Read a codebook
#'
#' A codebook says what each item asks and how its answers are coded. It is a table (delimited text,
#' XLSX or ODS) with one row for each item and these columns, of which only `item` must be there:
#'
#' * `item`: the name of the item's column in the answers;
#' * `wording`: what people read;
#' * `lowest`, `highest`: the ends of the answer scale, needed for items worded in reverse;
#' * `reversed`: `yes` when agreeing means less of what the scale measures; empty means no;
#' * `scale`: the name of the scale the item was written for, if any;
#' * `facet`: the part of the content that the item covers, if any: [sift_rules()] can hold how many
#'   of each must stay;
#' * `missing_codes`: numbers that mean "no answer", for example `9` or `8 9`;
#' * `labels`: what the numbers are called, for answers that come as text, for example
#'   `1 = never | 2 = sometimes | 3 = always`.
#'
#' Or it is a YAML file with a list `items` of entries with these names, and a map `defaults` of
#' what they have in common (or several such documents, with `---` between them); `labels` is a map
#' there (`{1: never, 2: sometimes}`).
#'
#' @inheritParams read_responses
#' @return A tibble with one row for each item and the columns above, all present: `item`, `wording`
#'   `scale` and `facet` are text, `lowest` and `highest` numbers or `NA`, `reversed` is logical,
#'   `missing_codes` a list of numeric vectors and `labels` a list of named numbers (or `NULL`).
#' @section Errors: those of [read_responses()], and `softsieve_error_codebook`.
#' @family files
#' @examples
#' file <- system.file("extdata", "repair_cafe_codebook.csv", package = "softsieve")
#' read_codebook(file)
#' @export
read_codebook <- function(file, delimiter = NULL, encoding = NULL, sheet = 1) {
  check_file(file)
  if (plain_ending(file) %in% c("yml", "yaml")) return(tidy_codebook(read_yaml_codebook(file)))
  tidy_codebook(read_table_file(file, delimiter, encoding, "NA", sheet)$data)
}

# The entries of a YAML codebook as a table, those of all its documents one after the other.
read_yaml_codebook <- function(file) {
  parts <- read_yaml_parts(file, "codebook")
  entries <- unlist(lapply(parts, codebook_entries), recursive = FALSE)
  names <- unique(unlist(lapply(entries, names)))
  tibble::as_tibble(lapply(stats::setNames(names, names), column_of_entries, entries))
}

# The entries of one document; what an entry leaves out comes from `defaults`.
codebook_entries <- function(written) {
  entries <- if (is_named_list(written) && length(written$items)) written$items else written
  if (is_named_list(entries) && is_text(entries$item)) entries <- list(entries)
  good <- is.list(entries) && length(entries) && all(vapply(entries, is_named_list, NA))
  if (!good) {
    stop_input("codebook", "A YAML codebook must hold a list `items` of named entries.",
      got = describe_value(entries), todo = "For example: items: [{item: t1, wording: I mend}].")
  }
  common <- if (is_named_list(written)) written$defaults
  if (!is.null(common) && !is_named_list(common)) {
    stop_input("codebook", "`defaults` of a YAML codebook must hold named entries.",
      got = describe_value(common), todo = "For example: defaults: {lowest: 1, highest: 5}.")
  }
  lapply(entries, function(entry) utils::modifyList(as.list(common), entry))
}

is_named_list <- function(x) is.list(x) && !is.null(names(x))

# One column of the table: one value for each item, NA where an entry has none.
column_of_entries <- function(name, entries) {
  parts <- lapply(entries, function(entry) entry[[name]])
  if (name %in% c("missing_codes", "labels")) return(parts)
  is_one <- function(part) is.null(part) || (is.atomic(part) && length(part) == 1L)
  several <- which(!vapply(parts, is_one, NA))
  if (length(several)) {
    shown <- vapply(several, function(i) paste(c(entries[[i]]$item, i)[1L]), "")
    stop_input("codebook", sprintf("`%s` must be one value for each item.", name),
      got = sprintf("None or several for: %s.", name_culprits(shown)))
  }
  unlist(lapply(parts, function(part) if (is.null(part)) NA else part))
}

# Any data frame that describes items, brought to the form that read_codebook() returns.
tidy_codebook <- function(codebook) {
  check_codebook_columns(names(codebook))
  n <- nrow(codebook)
  given <- function(name) if (name %in% names(codebook)) codebook[[name]] else rep(NA, n)
  text <- function(name) trimws(as.character(given(name)))
  tidy <- tibble_of(item = text("item"), wording = text("wording"),
    lowest = codebook_numbers(given("lowest"), "lowest", text("item")),
    highest = codebook_numbers(given("highest"), "highest", text("item")),
    reversed = codebook_flags(given("reversed"), text("item")), scale = text("scale"),
    facet = text("facet"), missing_codes = codebook_codes(given("missing_codes"), text("item")),
    labels = codebook_labels(given("labels"), text("item")))
  check_codebook_rows(tidy)
  tidy
}

CODEBOOK_COLUMNS <- c("item", "wording", "lowest", "highest", "reversed", "scale", "facet",
  "missing_codes", "labels")

check_codebook_columns <- function(names) {
  if (!"item" %in% names) {
    stop_input("codebook", "The codebook must have a column `item` with the names of the items.",
      got = sprintf("Its columns are: %s.", name_culprits(names)),
      todo = sprintf("The columns it may have: %s.", paste(CODEBOOK_COLUMNS, collapse = ", ")))
  }
  for (name in setdiff(names, CODEBOOK_COLUMNS)) {
    hint <- hint_nearest(name, setdiff(CODEBOOK_COLUMNS, names))
    if (length(hint)) {
      stop_input("codebook", "The codebook's columns must have the names that are looked for.",
        got = sprintf("A column is called `%s`.", name), todo = hint)
    }
  }
}

check_codebook_rows <- function(tidy) {
  twice <- unique(tidy$item[duplicated(tidy$item)])
  nameless <- which(is.na(tidy$item) | !nzchar(tidy$item))
  if (length(nameless)) {
    stop_input("codebook", "Every row of the codebook must name its item.",
      got = sprintf("No name in row %s.", name_culprits(nameless)))
  }
  if (length(twice)) {
    stop_input("duplicate_names", "Every item must stand in the codebook once.",
      got = sprintf("More than once: %s.", name_culprits(twice)))
  }
  unclear <- tidy$item[!is.na(tidy$lowest) & !is.na(tidy$highest) & tidy$lowest >= tidy$highest]
  if (length(unclear)) {
    stop_input("codebook", "`lowest` must be below `highest`.",
      got = sprintf("Not so for: %s.", name_culprits(unclear)))
  }
  open <- tidy$item[tidy$reversed & (is.na(tidy$lowest) | is.na(tidy$highest))]
  if (length(open)) {
    stop_input("codebook",
      "A reversed item must have `lowest` and `highest`: it is reverse-scored between them.",
      got = sprintf("Missing for: %s.", name_culprits(open)),
      todo = "Fill in the ends of the answer scale.")
  }
}

codebook_numbers <- function(x, column, items) {
  number <- suppressWarnings(as.numeric(as.character(x)))
  bad <- !is.na(x) & is.na(number)
  if (any(bad)) {
    stop_input("codebook", sprintf("`%s` must hold numbers.", column),
      got = sprintf("Not a number for: %s.",
        name_culprits(sprintf("%s (\"%s\")", items[bad], x[bad]))))
  }
  number
}

codebook_flags <- function(x, items) {
  word <- lower(trimws(as.character(x)))
  yes <- c("yes", "y", "true", "t", "1", "x", "r", "reversed")
  no <- c("no", "n", "false", "f", "0", "")
  bad <- !is.na(word) & !word %in% c(yes, no)
  if (any(bad)) {
    stop_input("codebook", "`reversed` must be yes or no.",
      got = sprintf("Neither for: %s.", name_culprits(sprintf("%s (\"%s\")", items[bad], x[bad]))))
  }
  word %in% yes
}

# "9", "8 9", "8;9" or a list of numbers -> a list of numeric vectors.
codebook_codes <- function(x, items) {
  said <- vapply(x, function(part) paste(stats::na.omit(unlist(part)), collapse = " "), "")
  parts <- lapply(strsplit(unname(said), "[^-+0-9.eE]+"), function(part) part[nzchar(part)])
  codes <- lapply(parts, function(part) suppressWarnings(as.numeric(part)))
  bad <- vapply(codes, anyNA, NA) | grepl("[[:alpha:]]", gsub("[0-9][eE][-+]?[0-9]", "", said))
  if (any(bad)) {
    stop_input("codebook",
      "`missing_codes` must hold numbers, with spaces between them.",
      got = sprintf("Not so for: %s.",
        name_culprits(sprintf("%s (\"%s\")", items[bad], said[bad]))),
      todo = "Words for no answer belong in questionnaire(missing_codes = ).")
  }
  codes
}

# "1 = never | 2 = often", or a map, -> named numbers (the names are the texts), or NULL.
codebook_labels <- function(x, items) {
  lapply(seq_along(items), function(i) {
    one <- x[[i]]
    if (is.list(one) && length(one)) one <- paste(names(one), unlist(one), sep = "=")
    if (is.numeric(one) && !is.null(names(one))) return(one)
    parts <- trimws(unlist(strsplit(as.character(one[!is.na(one)]), "[|;\n]")))
    parts <- parts[nzchar(parts)]
    if (!length(parts)) return(NULL)
    label_numbers(parts, items[i])
  })
}

label_numbers <- function(parts, item) {
  number <- suppressWarnings(as.numeric(sub("=.*", "", parts)))
  if (anyNA(number) || !all(grepl("=", parts))) {
    stop_input("codebook", "`labels` must be written as 1 = never | 2 = often.",
      got = sprintf("Not so for %s: \"%s\".", item, name_culprits(parts)))
  }
  stats::setNames(number, trimws(sub("^[^=]*=", "", parts)))
}
