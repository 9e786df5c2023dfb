#' How many factors: all the evidence, and a verdict
#'
#' How probable each number of factors is, as learned from simulated answers in which the truth is
#' known, makes the headline. Beside it stand parallel analysis and the rules that others use, each
#' with its evidence, its paper and when it misleads. Where parallel analysis disagrees, the result
#' says over which eigenvalue, and which solutions to compare.
#'
#' @inheritParams parallel_analysis
#' @param ... Passed on to [correlate_items()] when `x` is not correlated yet: `kind`, `missing`,
#' `n`.
#' @param basis,chance,reference,percentile,sequential,replicates Passed on to
#'   [parallel_analysis()]; `replicates` is used by every rule that simulates. Comparison data of
#'   many people draw fewer samples (850,000 people in all for each number of factors, and 40
#'   samples at least), and rules that go step by step draw fewer with more than 36 items (100
#'   from 80 on).
#' @param rules Names of the rules to ask, `"all"`, or `NULL` for all that are quick (all but
#'   comparison data): see `catalogue_table("rules")`.
#' @param most The largest number of factors that the rules try; `NULL` is 10, or two more than
#'   parallel analysis suggests, where the items allow it.
#' @param share The share of variance that the rule `"cumulative_share"` asks for, from 0.1 to 1.
#' @param plausible In what share of simulated sets like this one, of makes that were kept from the
#'   training, the range of plausible numbers held the truth; it holds as much of the probability,
#'   too. From 0.5 to 0.999.
#' @details Each argument beyond ten is a choice of parallel analysis or of a rule that a reviewer
#'   may ask about, and is kept among the settings; defaults are those that the article "How many
#'   factors" measures.
#' @return `count_factors()` returns an object of class `factor_count` ([softsieve-result]);
#'   `values` holds
#'   * `taken` (the number that extraction and sifting take when nobody names a rule), `taken_by`
#'     (in words) and `discounted` (tibble of further factors that were looked at: `factors`, `make`
#'     (`"wording"`, `"pair"`, `"neighbours"`, or `"wording or topic"`), `items`, `counts` (was it
#'     taken off?), `text`; `NULL` where there are none);
#'   * `suggested` (by parallel analysis), `probable` (the most probable number; parallel analysis's
#'     where the model does not apply), `probability` (of it, or `NA`), `agree` (is `taken` parallel
#'     analysis's number?), `hidden` (in what share of simulated sets that look like this one the
#'     last factor could not be seen; `NA` where the model does not apply), `hides` (is that often
#'     enough to say that a factor may hide?), `plausible` (lowest and highest of the plausible
#'     numbers; where the model does not apply, of what parallel analysis, its sequential form, next
#'     eigenvalue sufficiency and the empirical Kaiser criterion suggest), `compare` (numbers whose
#'     solutions to look at), `disputed` (the rank of the eigenvalue at issue, or `NA`), `outside`
#'     (why the model does not apply; empty when it does), `sentences` (the verdict in words);
#'   * `probabilities` (tibble: `factors`, `probability`; `NULL` where the model does not apply);
#'   * `pearson` (of answers whose correlations are mixed or Spearman, to which the model does not
#'     apply: `suggested`, `probable`, `probability`, `plausible`, `probabilities`
#'     and `outside` for their Pearson correlations; else `NULL`);
#'   * `eigenvalues` (as in [parallel_analysis()]), `uncertain`, `n`;
#'   * `rules` (tibble, one row for each: `rule`, `label`, `suggested`, `holds` (is what the rule
#'     takes for granted true of these correlations? Rules that rest on normal theory or on the
#'     sampling error of Pearson correlations are marked with "?" on others), `reason`, `misleads`,
#'     `reference`) and `evidence` (a named list: the table each rule judged by);
#'   * `fits` (tibble, one row for each number of factors, by maximum likelihood: `factors`, `df`,
#'     `discrepancy`, `chi_square` and its `p`, `rmsea`, `rmsea_lower`, `rmsea_upper`, `bic`, `cfi`,
#'     `rmsr`, `converged`, `proper`; `NULL` for a singular matrix).
#'
#'   `as_tibble()` and `tidy()` give the rules, `glance()` the verdict in one row; [write_table()]
#'   writes the rules as CSV, or everything as JSON.
#' @section The probabilities: Networks look at the eigenvalues against chance (of the whole matrix,
#'   of the reduced one, and with the larger ones taken as factors), the empirical Kaiser reference,
#'   average partial correlations, and maximum likelihood fits with that many factors, one and two
#'   more, and give the probability of one factor more after each number. None knows how many
#'   items there are. They were trained on simulated Pearson and polychoric correlations of twelve
#'   makes, each group of networks without one make; what a group said of the make it had not seen
#'   sets how sure the probabilities are, and how wide the range of plausible numbers. The vignette
#'   "How many factors" tells on which answers, how often they are right and where not to trust
#'   them. They do not apply to other kinds of correlation, to numbers of people or items beyond the
#'   training, or to a matrix unlike any in it: then `outside` says why, and parallel analysis
#'   stands alone. A matrix that was given without answers may be of either kind: it is seen as
#'   both, each counting half.
#' @section Factors that hide: Two factors that go together closely, or a weak one, may be more than
#'   so many people can show: no rule finds them, nor do the probabilities. A network of its own
#'   learned which sets look as those did in which the last factor gains less than one test at 5 %
#'   finds in half of all samples. Where `hidden` is above its limit the verdict says "or more", and
#'   the range reaches one number further. On makes that were kept from the training it is said of
#'   68 to 91 per cent of such sets, and of 17 to 32 per cent of all others: it is a warning, not a
#'   finding. Two factors that look like one strong factor it takes for one. How often factors hide
#'   cannot be learned from one sample: `hidden` takes it that they do as often as in training (one
#'   set in seven); where they are twice as rare, so are they here, about. [hidden_factors()] says
#'   what would go unseen.
#' @section The number that is taken: The most probable one, also where it is unsure: on simulation
#'   designs that nothing was tuned on, no single rule did better there. Where probabilities do not
#'   apply, that of sequential parallel analysis, of Pearson or rank correlations that have an
#'   inverse; of all others that of parallel analysis. Parallel analysis's own number stands with
#'   it, and `factors = "parallel"` takes it. A further factor
#'   is not counted when what makes it (its items with loadings of at least .15 and .40 of its
#'   largest) is a pair; reverse-worded items of several topics, while other items are not reversed
#'   (wording); without a key, items that load on several topics the other way round than most of
#'   their items (wording, too); or neighbours in the questionnaire from several topics, half of
#'   which or more load higher on their topic. Topics are the other factors on which these items
#'   load by .25 or more. A reverse-worded factor of one topic is counted and reported: wording and
#'   topic cannot be told apart. `probability` of what was not counted goes to the number taken.
#' @section Errors: `softsieve_error_argument`, those of [parallel_analysis()] and
#' [correlate_items()].
#' @section Findings: those of [parallel_analysis()], `numbers_disagree`, `number_unsure`,
#'   `factor_without_topic` (a further factor that is wording, neighbours or a pair),
#'   `outside_training`, `rule_silent`.
#' @section Formulas:
#' Maximum likelihood with k factors
#' \deqn{F = \ln |S| - \ln |R| + tr(R S^{-1}) - p}{F = ln |S| - ln |R| + tr(R S^-1) - p}
#' \deqn{BIC = (n - 1) F - df \ln n}{BIC = (n - 1) F - df ln n}
#' Chi-square, p, RMSEA and CFI of k factors: those of [extract_factors()], or `NA` where there is
#' no test.
#' Empirical Kaiser reference of rank j, at least 1
#' \deqn{\frac{p - \sum_{i < j} \lambda_i}{p - j + 1} (1 + \sqrt{p / n})^2}{
#'   (p - the larger eigenvalues) / (p - j + 1) (1 + sqrt(p / n))^2}
#' Elbow: the largest second difference of the eigenvalues; the factors before it. Hull: the share
#'   of
#' the misfit without factors that is taken away against df; the sharpest bend of the upper hull
#' (CFI, which is cut off at 1, has no bend where the fit is perfect)
#' \deqn{1 - F / F_0}{1 - F / F0}
#' @references Goretzko, D., & Buhner, M. (2020). One model to rule them all? Using machine learning
#'   algorithms to determine the number of factors in exploratory factor analysis. *Psychological
#'   Methods*, 25, 776-786.
#'
#'   `catalogue_table("rules")` names the paper of each rule; the vignette lists them in full.
#' @family the number of factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' count <- count_factors(motives, replicates = 200, seed = 1)
#' count
#' count$values$evidence$hull
#' @export
count_factors <- function(x, ..., basis = "components", chance = NULL, reference = "upper",
    percentile = 95, sequential = FALSE, rules = NULL, most = NULL, share = 0.80, plausible = 0.95,
    replicates = 1000L, seed = NULL, threads = NULL) {
  asked <- settle_arguments(COUNT_TAKES)
  rules <- choose_rules(rules)
  how <- list(seed = settle_seed(seed), threads = settle_threads(threads))
  correlations <- as_correlations(x, ..., threads = how$threads)
  parallel <- call_with(parallel_analysis, c(list(correlations), asked[names(CHANCE_TAKES)], how))
  settings <- c(asked, how)
  e <- gather_retention_evidence(correlations, parallel, settings)
  weighed <- weigh_numbers(e)
  said <- ask_rules(rules, e)
  pearson <- if (length(weighed$why)) count_of_pearson(correlations, settings)
  verdict <- reach_verdict(e, said$table, weighed, pearson,
    number_taken(correlations, parallel, weighed, settings))
  values <- c(verdict,
    list(probabilities = weighed$probabilities, pearson = pearson,
      eigenvalues = parallel$values$eigenvalues, uncertain = parallel$values$uncertain,
      n = parallel$values$n, people = parallel$values$people,
      rules = say_what_sees_better(said$table, verdict$taken), evidence = said$evidence,
      fits = e$fits))
  settings <- c(parallel$settings,
    list(share = asked$share, plausible = asked$plausible, rules = names(rules), most = e$most))
  new_result("factor_count", values, settings,
    bind_findings(parallel$findings, find_in_count(values, said$table)), parallel$source,
    match.call())
}

COUNT_TAKES <- c(CHANCE_TAKES,
  list(
    rules = a_text("Which rules are asked, in words or all; the quick ones when left out",
      function() c("all", names(RULES)), several = TRUE, check = NULL),
    most = a_whole("The largest number of factors that the rules try; found when left out", 1, 100),
    share = a_number("The share of variance that the rule \"cumulative_share\" asks for", 0.1, 1),
    plausible = a_number("How often the range of plausible numbers should hold the truth", 0.5,
      0.999)))

# Some kinds are beyond the model: what it says of the Pearson correlations of the same answers.
count_of_pearson <- function(correlations, settings) {
  answers <- correlations$values$questionnaire
  if (is.null(answers) || kind_is(correlations$settings$kind, "like_pearson")) return(NULL)
  plain <- correlate_items(answers, missing = correlations$settings$missing,
    threads = settings$threads)
  v <- count_factors(plain, rules = "parallel", percentile = settings$percentile,
    replicates = settings$replicates, plausible = settings$plausible, seed = settings$seed,
    threads = settings$threads)$values
  v[c("suggested", "probable", "probability", "plausible", "probabilities", "outside")]
}

choose_rules <- function(rules) {
  all <- RULES
  if (is.null(rules)) return(all[!vapply(all, function(rule) isTRUE(rule[["slow"]]), NA)])
  if (identical(rules, "all")) return(all)
  unknown <- if (is.character(rules)) setdiff(rules, names(all)) else character()
  if (is.character(rules) && length(rules) && !length(unknown)) {
    return(all[names(all) %in% c("parallel", rules)])
  }
  stop_input("argument",
    sprintf("`rules` must be \"all\", or names of rules: %s.",
      paste0('"', names(all), '"', collapse = ", ")),
    got = describe_value(rules),
    todo = if (length(unknown)) hint_nearest(unknown[1L], names(all)) else character())
}

#' @exportS3Method tibble::as_tibble
as_tibble.factor_count <- function(x, ...) x$values$rules

#' @export
glance.factor_count <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  tibble_of(taken = v$taken, suggested = v$suggested, probable = v$probable,
    probability = v$probability, agree = v$agree, plausible_lowest = v$plausible[1L],
    plausible_highest = v$plausible[2L], n = v$n, items = nrow(v$eigenvalues),
    replicates = x$settings$replicates, seed = x$settings$seed)
}
