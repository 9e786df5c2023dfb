# Parallel analysis in which the chance data hold the factors kept so far (Green et al. 2012), and
# the same on the eigenvalues of the whole matrix, known as the next eigenvalue sufficiency test
# (Achim 2017).

judge_step_by_step <- function(e, basis) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  s <- e$settings
  found <- parallel_analysis(e$correlations, basis = basis, chance = "normal", percentile = 95,
    sequential = TRUE, replicates = step_draws(s$replicates, e$p), seed = s$seed,
    threads = s$threads)$values
  table <- found$eigenvalues[c("rank", "eigenvalue", "chance_mean", "chance_upper", "above_chance")]
  at <- min(found$suggested + 1L, nrow(table))
  list(suggested = found$suggested, table = table,
    reason = sprintf("eigenvalue %d: %s", at,
      format_against(table$eigenvalue[at], table$chance_upper[at])))
}

# Every step draws again, and a draw costs as the cube of the items: of more than 100 there are
# fewer, 300 with 150 items.
step_draws <- function(replicates, items) {
  if (!is.numeric(replicates)) return(replicates)
  as.integer(min(replicates, max(STEP_DRAWS, STEP_COST / items^3)))
}
STEP_DRAWS <- 100
STEP_COST <- 1e9
