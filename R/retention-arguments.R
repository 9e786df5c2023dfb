# What parallel_analysis() takes; count_factors() takes it too.

CHANCE_TAKES <- list(
  basis = a_text("Which eigenvalues are compared with chance", function() names(BASES)),
  chance = a_text("Where chance eigenvalues come from; normal, or ordinal for ordinal correlations",
    function() names(CHANCE_DATA), check = NULL),
  sequential = a_flag("Draw chance data with the factors kept so far"),
  reference = a_text("Which level of chance an eigenvalue must pass",
    function() names(REFERENCE_LEVELS)),
  percentile = a_number("The percentile of chance", 50, 100),
  replicates = a_whole("How many sets of chance data, or enough to be sure", 20, 1e6,
    words = "enough", check = function(x, name) check_replicates(x)))

check_replicates <- function(x) {
  if (identical(x, "enough")) return(x)
  if (checkmate::test_int(x, lower = 20, upper = 1e6, tol = 0)) return(as.integer(x))
  stop_input("argument",
    "`replicates` must be a whole number from 20 to 1,000,000, or \"enough\".",
    got = describe_value(x),
    todo = c(
      "A chance level is a percentile over replicates: from fewer than 20 there is none to be had.",
      "Give 1000, or \"enough\" to go on until the decision is clear."))
}
