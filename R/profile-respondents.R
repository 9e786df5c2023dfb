#' Each person's answers at a glance
#'
#' Signs of careless answering, and people far from all others. People are flagged, nobody is
#' removed: look at the flags together, then use [keep_people()] if you must, and say so.
#'
#' @param x A [questionnaire()] or a data frame of answers.
#' @param run_share,distance_p,even_odd,contradictions Cut-offs for flags ([catalogue_table()]).
#' @return An object of class `respondent_profile` ([softsieve-result]); `values$people` is a tibble
#'   with one row for each person: the id and group columns, `row`, `answered`, `missing`,
#'   `longest_run` (of the same answer, in the order and the words of the questionnaire), `spread`
#'   (standard deviation over the items answered, keyed), `even_odd` (consistency, -1 to 1; needs
#'   three scales in the codebook, and is too unsure to flag anybody with fewer than six),
#'   `distance` (squared Mahalanobis distance over the items answered), `p` (of that, by the
#'   chi-square distribution), `contradictions` (pairs of an item and a reversed item of its scale
#'   answered at the same end) and `flags` (codes, or empty). The same answer throughout, or many
#'   times in a row, is flagged from six items on: to fewer, people give it in earnest.
#' @section Errors: `softsieve_error_class`, `softsieve_error_argument`, those of
#' [correlate_items()].
#' @section Findings: `long_runs`, `same_answer`, `far_from_all`, `inconsistent`, `contradicting`,
#'   `hardly_answered`, `no_distance` (the correlations cannot be inverted).
#' @eval describe_papers("Johnson (2005)", "Tabachnick & Fidell (2013)")
#' @family profiles
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' profile_respondents(motives)
#' @concept outlier careless responding
#' @export
profile_respondents <- function(x, run_share = cutoff("run_share"),
    distance_p = cutoff("distance_p"), even_odd = cutoff("even_odd"),
    contradictions = cutoff("contradictions")) {
  check_number(run_share, "run_share", 0, 1)
  check_number(distance_p, "distance_p", 0, 1)
  check_number(even_odd, "even_odd", -1, 1)
  check_whole(contradictions, "contradictions", 1L)
  x <- as_questionnaire(x)
  answers <- x$values$answers
  about <- x$values$items
  raw <- key_items(answers, about) # turning round twice gives the answers as they were
  members <- split(seq_len(nrow(about)),
    factor(about$scale, unique(about$scale[!is.na(about$scale)])))
  far <- measure_distance(x)
  people <- tibble::tibble(x$values$people, row = seq_len(nrow(answers)),
    answered = as.integer(rowSums(!is.na(answers))), missing = as.integer(rowSums(is.na(answers))),
    longest_run = core_longest_run(raw), spread = core_within_person_sd(answers),
    even_odd = core_even_odd(answers, members), distance = far$distance,
    p = stats::pchisq(far$distance, rowSums(!is.na(answers)), lower.tail = FALSE),
    contradictions = core_contradictions(raw, about$lowest, about$highest, about$reversed, members))
  settings <- list(run_share = run_share, distance_p = distance_p, even_odd = even_odd,
    contradictions = contradictions, id = x$settings$id, items = ncol(answers),
    scales = length(members))
  flagged <- flag_people(people, core_same_answer(raw), settings)
  new_result("respondent_profile", list(people = flagged$people), settings,
    bind_findings(far$finding, flagged$findings), x$source, match.call())
}

#' @exportS3Method tibble::as_tibble
as_tibble.respondent_profile <- function(x, ...) x$values$people

# Squared distances under the pairwise correlations, or NA and a finding when these have no inverse.
measure_distance <- function(x) {
  answers <- x$values$answers
  found <- core_correlate(answers, "pearson", "pairwise", scaled_weights(x), NULL, 1L)
  r <- found$correlations
  if (anyNA(r) || core_smallest_eigenvalue(r) < 1e-10) {
    return(list(distance = rep(NA_real_, nrow(answers)), finding = new_finding("no_distance")))
  }
  z <- sweep(sweep(answers, 2L, found$means), 2L, found$sds, "/")
  list(distance = core_squared_distance(z, r), finding = NULL)
}

# One answer to fewer items than this is not a sign of anything.
ITEMS_IN_A_ROW <- 6L

# Each person's flags, and a finding for each kind that names the first people.
flag_people <- function(people, same, s) {
  who <- if (length(s$id)) as.character(people[[s$id]]) else paste("row", people$row)
  # `said`: what a sentence has between the people's number and their names
  rules <- list(same_answer = list(hit = same & s$items >= ITEMS_IN_A_ROW),
    long_runs = list(
      hit = people$longest_run >= s$run_share * s$items & !same & s$items >= ITEMS_IN_A_ROW,
      said = ceiling(s$run_share * s$items)),
    far_from_all = list(hit = people$p < s$distance_p, said = format(s$distance_p)),
    inconsistent = list(hit = s$scales >= 6L & people$even_odd < s$even_odd,
      said = format_unit(s$even_odd)),
    contradicting = list(hit = people$contradictions >= s$contradictions, said = s$contradictions),
    hardly_answered = list(hit = people$answered < s$items / 2))
  hits <- lapply(rules, function(rule) !is.na(rule$hit) & rule$hit)
  people$flags <- apply(do.call(cbind, hits), 1L, function(hit) {
    paste(names(rules)[hit], collapse = ", ")
  })
  findings <- lapply(names(rules), function(code) {
    hit <- hits[[code]]
    if (!any(hit)) return(NULL)
    has <- count_of(sum(hit), "person has", "people have")
    said <- c(list(code, has), rules[[code]]$said, name_culprits(who[hit]))
    do.call(new_finding, c(said, list(value = sum(hit))))
  })
  list(people = people, findings = do.call(bind_findings, findings))
}

#' @export
glance.respondent_profile <- function(x, ...) {
  check_dots_empty(...)
  p <- x$values$people
  tibble_of(people = nrow(p), flagged = sum(nzchar(p$flags)), items = x$settings$items)
}
