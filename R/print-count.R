# Print of all the evidence about the number of factors.

#' @export
print.factor_count <- function(x, ...) {
  v <- x$values
  show_result(x, v$sentences[1L],
    c(v$sentences[-1L], probability_lines(v$probabilities), drawn_against(x)),
    c(table_text(x, "eigenvalues"), "", table_text(x, "rules")),
    below = c(
      if (!all(v$rules$holds)) {
        paste("?: rests on normal theory or on the sampling error of Pearson correlations,",
          "which these are not.")
      },
      paste("When each rule misleads: catalogue_table(\"rules\"); what it judged by: the result's",
        "values$evidence.")),
    next_step = next_after_count(v))
}

# What the eigenvalues were compared with.
drawn_against <- function(x) {
  s <- x$settings
  sprintf("Eigenvalues of %s against %s draws of %s%s; n = %s, seed %d.",
    sub("^the matrix", "the correlation matrix", BASES[[s$basis]]$label),
    format_count(s$replicates), CHANCE_DATA[[s$chance]]$label,
    if (s$sequential) ", with the factors kept before each rank" else "",
    sub("^n = ", "", n_of_people(x$values)), s$seed)
}

# "Probabilities: 3 factors 12 %, 4 factors 85 %": those worth telling.
probability_lines <- function(probabilities) {
  if (is.null(probabilities)) return(character())
  told <- probabilities[probabilities$probability >= 0.01, ]
  each <- sprintf("%d: %s", told$factors, vapply(told$probability, format_probability, ""))
  sprintf("Probability of each number: %s.", paste(each, collapse = ", "))
}

next_after_count <- function(v) {
  if (!length(v$compare) && v$suggested > 0L) {
    return("a factor needs three items: ask more, or use these as they are.")
  }
  if (v$taken == 0L) return("look at the items again with assess_factorability().")
  if (length(v$compare) > 1L) {
    return(sprintf(
      paste("factor_solution(x, factors = k) for k = %s; keep the one whose factors can be",
        "named and whose items load once."),
      join_words(v$compare)))
  }
  sprintf("factor_solution(x, factors = %d), and look at what it leaves.", v$taken)
}
