# What a finding advises, as a line that does it: in R, and in a study (`r` and `study` in
# inst/catalogue/findings.yml). Tests run every line.
#
# In R a line may use `data` (the questionnaire), `answers` (the data frame that it came from),
# `file`, `correlations`, `solution`, `scales` and `sifting`; in a study it is an entry, or
# "decisions", and its value. Between braces stand
#
#   items, less      the finding's items, in R as words or each with a minus, in a study as a list
#   factors, fewer   the number of factors of the result, and one less
#   limit            the finding's limit
#   codebook         ", codebook = codebook" where the items have one

# The line for a finding about these items, or nothing: `place` is "r", "study" or "option" (of the
# command, for answers without a study file); `x` the result that told it.
advice_line <- function(code, items, limit, place, x = NULL) {
  known <- finding_kinds()[[code]]
  template <- known[[if (place == "r") "r" else "study"]]
  unknown <- isTRUE(known$answers) && isFALSE(has_answers(x))
  # (factors of a matrix without an inverse cannot be had)
  singular <- isTRUE(known$factors) && "not_positive_definite" %in% x$findings$code
  if (is.null(template) || unknown || singular) return(NULL)
  items <- items[!is.na(items)]
  if (isTRUE(known$one)) items <- utils::head(items, 1L)
  values <- c(factor_values(x),
    list(limit = if (!is.na(limit)) format(limit), codebook = codebook_argument(x)),
    if (length(items)) item_values(items, place))
  line <- fill_braces(template, values)
  if (is.null(line) || place == "r") line else entry_line(line, place)
}

# An entry of a study file ("factors.number = 2"), as it is written there or given to the command.
entry_line <- function(line, place) {
  entry <- sub(" = .*", "", line)
  value <- sub("^[^=]* = ", "", line)
  way <- strsplit(entry, ".", fixed = TRUE)[[1L]]
  if (entry == "decisions") return(sprintf("in the study, under decisions: - %s", value))
  if (place == "option") return(sprintf("--%s %s", entry, value))
  sprintf("in the study, under %s: %s: %s", way[1L], way[2L], value)
}

item_values <- function(items, place) {
  if (place != "r") {
    plain <- grepl("^[A-Za-z][A-Za-z0-9_.]*$", items) & !lower(items) %in% YAML_WORDS
    listed <- ifelse(plain, items, vapply(items, function(one) as.character(json_words(one)), ""))
    return(list(items = sprintf("[%s]", paste(listed, collapse = ", "))))
  }
  list(items = paste(deparse(unname(items), 500L), collapse = ""),
    less = paste0("-", vapply(items, function(one) deparse(as.name(one), backtick = TRUE), ""),
      collapse = ", "))
}

# Wording is what a codebook brings.
codebook_argument <- function(x) {
  wording <- c(x$values$items$wording, x$values$key$wording)
  if (any(nzchar(wording) & !is.na(wording))) ", codebook = codebook" else ""
}

# Words that YAML takes for something else.
YAML_WORDS <- c("y", "n", "yes", "no", "on", "off", "true", "false", "null", "nan", "inf", "na")

# A template with its values, or NULL where one is not known.
fill_braces <- function(template, values) {
  wanted <- regmatches(template, gregexpr("(?<=[{])[a-z_]+(?=[}])", template, perl = TRUE))
  for (name in unlist(wanted)) {
    if (is.null(values[[name]])) return(NULL)
    template <- sub(sprintf("{%s}", name), values[[name]], template, fixed = TRUE)
  }
  template
}

factor_values <- function(x) {
  within <- x$values[["solution"]]
  found <- if (is_result(within, "factor_solution")) within$values$loadings else x$values$loadings
  if (!is.matrix(found)) return(list())
  list(factors = ncol(found), fewer = if (ncol(found) > 1L) ncol(found) - 1L)
}

# Were there answers, or only a matrix? (NA: nobody knows)
has_answers <- function(x) {
  if (is.null(x)) return(NA)
  !is.null(x$source$people) && !identical(x$settings$missing, "given")
}
