# Print of all the evidence about the number of factors.

#' @export
print.factor_count <- function(x, ...) {
  v <- x$values
  s <- x$settings
  show_result(
    x,
    v$sentences[1L],
    c(
      v$sentences[-1L],
      probability_lines(v$probabilities),
      sprintf(
        "Eigenvalues of %s against %s draws of %s; n = %s, seed %d.",
        basis_label(s),
        format_count(s$replicates),
        method_label("chance", s$chance),
        sub("^n = ", "", n_of_people(v)),
        s$seed
      )
    ),
    c(eigenvalue_lines(v$eigenvalues, v$suggested), "", rule_lines(v$rules)),
    below = c(
      if (any(!v$rules$holds)) {
        paste(
          "?: rests on normal theory or on the sampling error of Pearson correlations,",
          "which these are not."
        )
      } else {
        character()
      },
      paste(
        "When each rule misleads: retention_rule_table(); what it judged by: the result's",
        "values$evidence."
      )
    ),
    next_step = next_after_count(v)
  )
}

basis_label <- function(s) {
  sub("^the matrix", "the correlation matrix", method_label("basis", s$basis))
}

# "Probabilities: 3 factors 12 %, 4 factors 85 %": those worth telling.
probability_lines <- function(probabilities) {
  if (is.null(probabilities)) return(character())
  told <- probabilities[probabilities$probability >= 0.01, ]
  sprintf(
    "Probability of each number: %s.",
    paste(
      sprintf("%d: %s", told$factors, vapply(told$probability, format_probability, "")),
      collapse = ", "
    )
  )
}

# The ranks that decide, and some below them.
eigenvalue_lines <- function(table, suggested) {
  last <- min(nrow(table), max(suggested + 3L, 6L))
  e <- table[seq_len(last), ]
  hidden <- nrow(table) - last
  columns <- list(
    rank = as.character(e$rank),
    eigenvalue = format_number(e$eigenvalue),
    share = format_share(e$share, 1L),
    running = format_share(e$running_share, 1L),
    chance_mean = format_number(e$chance_mean),
    chance_upper = format_number(e$chance_upper),
    above_chance = ifelse(e$above_chance, "yes", "no")
  )
  c(
    table_lines(columns, c(TRUE, TRUE, TRUE, TRUE, TRUE, TRUE, FALSE)),
    if (hidden) sprintf("  and %s below", count_of(hidden, "more rank"))
  )
}

# A number that rests on what does not hold here has a question mark.
suggested_text <- function(rules) {
  ifelse(is.na(rules$suggested), "-", paste0(rules$suggested, ifelse(rules$holds, "", " ?")))
}

rule_lines <- function(rules) {
  table_lines(
    list(rule = rules$label, factors = suggested_text(rules), reason = rules$reason),
    c(FALSE, TRUE, FALSE)
  )
}

next_after_count <- function(v) {
  if (!length(v$compare) && v$suggested > 0L) {
    return("a factor needs three items: ask more, or use these as they are.")
  }
  if (v$suggested == 0L && v$probable == 0L) {
    return("look at the items again with assess_factorability().")
  }
  if (length(v$compare) > 1L) {
    return(sprintf(
      paste(
        "factor_solution(x, factors = k) for k = %s; keep the one whose factors can be",
        "named and whose items load once."
      ),
      join_words(v$compare)
    ))
  }
  sprintf("factor_solution(x, factors = %d), and look at what it leaves.", v$probable)
}
