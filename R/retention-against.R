# What parallel analysis holds against what: which eigenvalues (basis), which level of chance
# (reference). Where chance comes from stands in retention-chance-*.R. A basis has, beside what all
# specs have:
#
#   inverse   must the matrix have one?
#   variance  function(r): the sum that the shares of eigenvalues are of
#   shares    does the core give eigenvalues as shares of that sum?

BASES <- family(
  components = spec(label = "the correlation matrix", reference = "Horn (1965)", inverse = FALSE,
    variance = function(r) ncol(r), shares = FALSE),
  factors = spec(label = "the matrix with squared multiple correlations on its diagonal",
    reference = "Humphreys & Ilgen (1969)", inverse = TRUE,
    variance = function(r) sum(core_squared_multiple(r)), shares = FALSE),
  minimum_rank = spec(label = "the matrix with the communalities of least common variance",
    reference = "Timmerman & Lorenzo-Seva (2011)", inverse = TRUE,
    variance = function(r) sum(1 - cpp_minimum_rank(r, rep(1, ncol(r)))), shares = TRUE))

REFERENCE_LEVELS <- family(
  # A reference has: level, error (its names in core_chance_levels()), column (in the table).
  upper = spec(label = "the upper percentile of the chance eigenvalues",
    reference = "Buja & Eyuboglu (1992)", level = "upper", error = "upper_error",
    column = "chance_upper"),
  mean = spec(label = "the mean of the chance eigenvalues", reference = "Horn (1965)",
    level = "mean", error = "mean_error", column = "chance_mean"))

# The chance levels that a table of eigenvalues was compared with.
limit_column <- function(settings) REFERENCE_LEVELS[[settings$reference]]$column
