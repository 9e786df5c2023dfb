# What a finding advises, as a line that does it: in R, and in a study. Tests run every line.
#
# In R a line may use `data` (the questionnaire), `answers` (the data frame that it came from),
# `file`, `correlations`, `solution` and `scales`: what help pages call them. Between braces stand
#
#   items, less      the finding's items, in R as words or each with a minus, in a study as a list
#   factors, fewer   the number of factors of the result, and one less
#   limit            the finding's limit
#
# `entry` is an entry of the study file, or "decisions"; `one`: of several items the first alone, as
# the others are judged anew without it; `answers`: it needs the answers themselves.
advice <- function(r, entry = NULL, value = NULL, one = FALSE, answers = FALSE) {
  list(r = r, entry = entry, value = value, one = one, answers = answers)
}

drop_advice <- function(one = FALSE) {
  advice("keep_items(data, {less})", "decisions", "drop: {items}", one, answers = TRUE)
}

reverse_advice <- function() {
  advice("questionnaire(answers, reversed = {items})", "decisions", "reverse: {items}",
    answers = TRUE)
}

kind_advice <- function(kind) {
  advice(sprintf("correlate_items(data, kind = \"%s\")", kind), "correlations.kind", kind,
    answers = TRUE)
}

fewer_advice <- function() {
  advice("factor_solution(correlations, {fewer})", "factors.number", "{fewer}")
}

ladder_advice <- function() advice("solution_ladder(correlations)")

ADVICE <- list(
  wording_row = advice("read_responses(file, header_rows = 1)", "answers.header_rows", "1"),
  header_rows = advice("read_responses(file, header_rows = 1)", "answers.header_rows", "1"),
  many_answers = drop_advice(),
  unlike_the_others = drop_advice(),
  likely_missing_code = advice(
    "questionnaire(answers, missing_codes = {limit})", "answers.missing_codes", "{limit}",
    answers = TRUE
  ),
  no_variance = drop_advice(),
  one_answer = drop_advice(),
  not_interval = kind_advice("polychoric"),
  same_answer = advice(
    "keep_people(data, !grepl(\"same_answer\", profile_respondents(data)$values$people$flags))",
    answers = TRUE
  ),
  identical_items = drop_advice(one = TRUE),
  correlation_at_bound = kind_advice("pearson"),
  empty_cells = kind_advice("pearson"),
  skewed_as_numbers = kind_advice("polychoric"),
  em_not_converged = advice(
    "correlate_items(data, missing = \"pairwise\")", "correlations.missing", "pairwise",
    answers = TRUE
  ),
  adequacy_undefined = drop_advice(),
  low_item_adequacy = drop_advice(one = TRUE),
  collinear_pair = drop_advice(one = TRUE),
  toss_up = advice(
    "count_factors(correlations, replicates = \"enough\")", "factors.replicates", "enough"
  ),
  close_call = ladder_advice(),
  numbers_disagree = ladder_advice(),
  number_unsure = ladder_advice(),
  not_converged = fewer_advice(),
  improper_solution = fewer_advice(),
  different_units = advice(
    "factor_solution(correlations, {factors}, analyse = \"correlations\")",
    "factors.analyse", "correlations"
  ),
  rotation_not_converged = advice(
    "factor_solution(correlations, {factors}, starts = 500)", "factors.starts", "500"
  ),
  several_optima = advice(
    "factor_solution(correlations, {factors}, optimum = 2)", "factors.optimum", "2"
  ),
  high_factor_correlation = fewer_advice(),
  no_salient_loading = drop_advice(),
  crossing_item = drop_advice(),
  wholly_general = fewer_advice(),
  tiny_factor = fewer_advice(),
  factor_not_replicated = fewer_advice(),
  weak_items_left_out = advice(
    "form_scales(solution, weak = \"highest\")", "scales.weak", "highest"
  ),
  crossing_items_left_out = advice(
    "form_scales(solution, crossing = \"highest\")", "scales.crossing", "highest"
  ),
  loads_negatively = reverse_advice(),
  wording_in_residuals = advice("wording_factor(correlations, {factors})"),
  against_scale = reverse_advice(),
  alpha_rises_without = drop_advice(one = TRUE),
  low_determinacy = advice("score_respondents(form_scales(solution), data)", answers = TRUE),
  scored_with_gaps = advice(
    "score_respondents(solution, data, errors = TRUE)", "scores.errors", "true", answers = TRUE
  ),
  improper_scores = fewer_advice(),
  scores_uncorrelated = advice(
    "score_respondents(solution, data, method = \"correlation_preserving\")",
    "scores.method", "correlation_preserving",
    answers = TRUE
  ),
  end_flatters = advice("sift_paths(sifting)"),
  fewer_draws = advice("sift_paths(sifting, draws = 400)")
)

# The line for a finding about these items, or nothing: `place` is "r", "study" or "option" (of the
# command, for answers without a study file); `x` the result that told it.
advice_line <- function(code, items, limit, place, x = NULL) {
  known <- ADVICE[[code]]
  if (is.null(known) || known$answers && isFALSE(has_answers(x))) return(NULL)
  if (place != "r" && is.null(known$entry)) return(NULL)
  factors <- factors_of(x)
  values <- list(
    factors = factors,
    fewer = if (isTRUE(factors > 1)) factors - 1L,
    limit = if (!is.na(limit)) format(limit)
  )
  items <- items[!is.na(items)]
  if (known$one) items <- utils::head(items, 1L)
  if (length(items)) values <- c(values, item_values(items, place))
  line <- fill_braces(if (place == "r") known$r else known$value, values)
  if (is.null(line) || place == "r") return(line)
  way <- strsplit(known$entry, ".", fixed = TRUE)[[1L]]
  if (known$entry == "decisions") return(sprintf("in the study, under decisions: - %s", line))
  if (place == "option") return(sprintf("--%s %s", known$entry, line))
  sprintf("in the study, under %s: %s: %s", way[1L], way[2L], line)
}

item_values <- function(items, place) {
  if (place != "r") {
    plain <- grepl("^[A-Za-z][A-Za-z0-9_.]*$", items) & !lower(items) %in% YAML_WORDS
    listed <- ifelse(plain, items, vapply(items, function(one) as.character(json_words(one)), ""))
    return(list(items = sprintf("[%s]", paste(listed, collapse = ", "))))
  }
  list(
    items = paste(deparse(unname(items), 500L), collapse = ""),
    less = paste0("-", vapply(items, function(one) deparse(as.name(one), backtick = TRUE), ""),
      collapse = ", ")
  )
}

# Words that YAML takes for something else.
YAML_WORDS <- c("y", "n", "yes", "no", "on", "off", "true", "false", "null", "nan", "inf")

# A template with its values, or NULL where one is not known.
fill_braces <- function(template, values) {
  wanted <- regmatches(template, gregexpr("(?<=[{])[a-z]+(?=[}])", template, perl = TRUE))
  for (name in unlist(wanted)) {
    if (is.null(values[[name]])) return(NULL)
    template <- sub(sprintf("{%s}", name), values[[name]], template, fixed = TRUE)
  }
  template
}

factors_of <- function(x) {
  within <- x$values[["solution"]]
  found <- if (is_result(within, "factor_solution")) within$values$loadings else x$values$loadings
  if (is.matrix(found)) ncol(found)
}

# Were there answers, or only a matrix? (NA: nobody knows)
has_answers <- function(x) {
  if (is.null(x)) return(NA)
  !is.null(x$source$people) && !identical(x$settings$kind, "given")
}
