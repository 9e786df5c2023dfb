# Prints of the stages before extraction.

#' @export
print.factorability <- function(x, ...) {
  v <- x$values
  s <- x$settings
  said <- switch(v$verdict, unrelated = "These items may be unrelated",
    unacceptable = "These items should not be factored as they are",
    miserable = "These items can hardly be factored",
    mediocre = "These items can be factored, with care", "These items can be factored")
  weakest <- v$items[1L, ]
  verdict <- sprintf("%s: sampling adequacy is %s, %s (at least %s).", said,
    format_beside(v$adequacy, s$least), adequacy_word(v$adequacy), format_unit(s$least))
  about <- c(sprintf("%s.", say_sphericity(v$sphericity)),
    sprintf(
      paste("%s people for each item; %s of the correlations are above %s in size;",
        "determinant %s, condition number %s."),
      format_number(v$people_per_item, 1L), format_share(v$share_worth),
      format_unit(cutoff("correlation_worth")), format(v$determinant, digits = 2L),
      format_number(v$condition_number, 0L)),
    sprintf("Weakest item: %s, with adequacy %s.", weakest$item,
      format_beside(weakest$adequacy, s$least)))
  low <- sum(v$items$adequacy < s$least, na.rm = TRUE)
  show_result(x, verdict, about,
    c(table_text(x, "items"), table_text(x, "groups", titled = TRUE)),
    next_step = if (low) {
      sprintf("leave out %s and run again, or go on with parallel_analysis().", weakest$item)
    } else {
      "parallel_analysis() shows how many factors to keep."
    })
}

#' @export
print.parallel_analysis <- function(x, ...) {
  v <- x$values
  s <- x$settings
  k <- v$suggested
  against <- if (s$reference == "upper") {
    sprintf("percentile %s of chance", format(s$percentile))
  } else {
    "the mean of chance"
  }
  verdict <- if (k == 0L) {
    sprintf("Parallel analysis suggests 0 factors: no eigenvalue exceeds %s.", against)
  } else {
    sprintf("Parallel analysis suggests %s: %s above %s.", count_of(k, "factor"),
      if (k == 1L) "one eigenvalue stands" else sprintf("the first %d eigenvalues stand", k),
      against)
  }
  about <- drawn_against(x)
  at <- v$eigenvalues[min(k + 1L, nrow(v$eigenvalues)), ]
  error <- at[[REFERENCE_LEVELS[[s$reference]]$error]]
  if (!is.na(error)) {
    about <- c(about,
      sprintf("Chance level %d is known to within %s (its Monte Carlo standard error).", at$rank,
        format_unit(error, 4L)))
  }
  show_result(x, verdict, about,
    c(table_text(x, "eigenvalues"), table_text(x, "groups", titled = TRUE)),
    next_step = if (k) {
      sprintf("count_factors() adds other evidence; extract_factors(x, factors = %d).", k)
    } else {
      "look at the items again with assess_factorability()."
    })
}

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
