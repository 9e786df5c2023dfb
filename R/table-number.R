# Tables about the number of factors.

eigenvalue_columns <- function(x) {
  e <- x$values$eigenvalues
  list(rank = counts(e$rank), eigenvalue = numbers(e$eigenvalue), share = shares(e$share, 1L),
    "cumulative share" = shares(e$cumulative_share, 1L), "chance mean" = numbers(e$chance_mean),
    "chance upper" = numbers(e$chance_upper), above = words(ifelse(e$above_chance, "yes", "no")))
}

# The ranks that decide, and some below them.
deciding_ranks <- function(x) max(x$values$suggested + 3L, 6L)
more_ranks <- function(count) sprintf("and %s below", count_of(count, "more rank"))

NUMBER_TABLES <- list(
  parallel_analysis = family(
    eigenvalues = spec(label = "Eigenvalues and chance", most = deciding_ranks, rest = more_ranks,
      cut = TRUE, columns = eigenvalue_columns),
    groups = spec(label = "Groups", there = function(x) !is.null(x$values$groups),
      columns = function(x) {
        g <- x$values$groups
        uncertain <- ifelse(g$uncertain, "uncertain", "")
        list(group = words(g$group), people = counts(g$people), n = counts(g$n),
          factors = figures(ifelse(is.na(g$suggested), "-", format_count(g$suggested))),
          note = words(ifelse(!is.na(g$why), "not judged", uncertain)))
      })),
  factor_count = family(
    eigenvalues = spec(label = "Eigenvalues and chance", most = deciding_ranks, rest = more_ranks,
      cut = TRUE, file = "eigenvalues", data = function(x) x$values$eigenvalues,
      columns = eigenvalue_columns),
    rules = spec(label = "What each rule suggests", file = "rules",
      data = function(x) as_tibble(x),
      columns = function(x) {
        r <- x$values$rules
        # a number that rests on what does not hold here has a question mark
        asked <- paste0(r$suggested, ifelse(r$holds, "", " ?"))
        list(rule = words(r$label), factors = figures(ifelse(is.na(r$suggested), "-", asked)),
          reason = words(r$reason), "when it misleads" = roomy(words(r$misleads)),
          paper = roomy(words(r$reference)))
      }),
    fits = spec(label = "Fit of each number of factors (maximum likelihood)",
      there = function(x) !is.null(x$values$fits),
      columns = function(x) {
        f <- x$values$fits
        list(factors = counts(f$factors), "chi-square" = numbers(f$chi_square, 1L),
          df = counts(f$df), p = p_values(f$p),
          RMSEA = with_limits(f$rmsea, f$rmsea_lower, f$rmsea_upper), CFI = units(f$cfi, 3L),
          BIC = numbers(f$bic, 0L), "rms residual" = units(f$rmsr, 3L))
      })))
