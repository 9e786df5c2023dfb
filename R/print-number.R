# Prints of the stages before extraction.

#' @export
print.factorability <- function(x, ...) {
  v <- x$values
  s <- x$settings
  said <- c(good = "These items can be factored", acceptable = "These items can be factored, with some care",
            poor = "These items can hardly be factored", no = "These items should not be factored as they are")
  weakest <- v$items[1L, ]
  verdict <- sprintf("%s: sampling adequacy is %s (at least %s; good from %s).",
                     said[[v$verdict]], format_unit(v$adequacy),
                     format_unit(s$least), format_unit(s$good))
  about <- c(
    sprintf("Bartlett's test of sphericity: chi-square = %s, df = %d, %s (n = %s%s).",
            format_number(v$sphericity$statistic, 1L), v$sphericity$df,
            format_p(v$sphericity$p), format_count(v$n), if (s$missing == "pairwise") ", the fewest behind any pair" else ""),
    sprintf("%s people for each item; %s of the correlations are above %s in size; determinant %s, condition number %s.", format_number(v$people_per_item, 1L),
            format_share(v$share_worth), format_unit(cutoff("correlation_worth")), format(v$determinant,
                digits = 2L), format_number(v$condition_number, 0L)),
    sprintf("Weakest item: %s, with adequacy %s.", weakest$item, format_unit(weakest$adequacy))
  )
  shown <- utils::head(v$items, 8L)
  columns <- c(list(item = shown$item, adequacy = format_unit(shown$adequacy),
                    "squared multiple r" = format_unit(shown$squared_multiple)),
               list(wording = keyed_wording(shown$wording, shown$reversed)))
  more <- nrow(v$items) - nrow(shown)
  low <- sum(v$items$adequacy < s$least)
  show_result(x, verdict, about, c(table_lines(columns, c(FALSE, TRUE, TRUE, FALSE)), group_lines(v$groups)),
              below = if (more) sprintf("and %s with higher adequacy", count_of(more, "item")),
              next_step = if (low) sprintf("leave out %s and run again, or go on with parallel_analysis().",
                                           weakest$item) else
                "parallel_analysis() tells how many factors to keep.")
}

#' @export
print.parallel_analysis <- function(x, ...) {
  v <- x$values
  s <- x$settings
  k <- v$suggested
  against <- if (s$reference == "upper") sprintf("percentile %s of chance",
                                                 format(s$percentile)) else "the mean of chance"
  verdict <- if (k == 0L) sprintf("Parallel analysis suggests 0 factors: no eigenvalue stands above %s.", against) else
    sprintf("Parallel analysis suggests %s: %s above %s.", count_of(k, "factor"),
            if (k == 1L) "one eigenvalue stands" else sprintf("the first %d eigenvalues stand", k), against)
  last <- min(nrow(v$eigenvalues), max(k + 3L, 6L))
  e <- v$eigenvalues[seq_len(last), ]
  columns <- list(rank = as.character(e$rank), eigenvalue = format_number(e$eigenvalue),
                  share = format_share(e$share, 1L),
                  running = format_share(e$running_share, 1L), chance_mean = format_number(e$chance_mean),
                  chance_upper = format_number(e$chance_upper), above_chance = ifelse(e$above_chance, "yes", "no"))
  hidden <- nrow(v$eigenvalues) - last
  show_result(x, verdict,
              sprintf("Eigenvalues of the correlation matrix against %s matrices of unrelated items, n = %s, seed %d.", format_count(s$replicates), format_count(v$n), s$seed),
              table_lines(columns, c(TRUE, TRUE, TRUE, TRUE, TRUE, TRUE, FALSE)),
              below = if (hidden) sprintf("and %s below", count_of(hidden, "more rank")),
              next_step = if (k) sprintf("extract_factors(x, factors = %d), and compare with %s.", k,
                                         if (k > 1L) paste(k - 1L, "and", k + 1L) else "2") else
                "look at the items again with assess_factorability().")
}

# A table of groups under that of items.
group_lines <- function(groups) {
  if (is.null(groups)) return(character())
  c("", table_lines(list(group = groups$group, people = format_count(groups$people),
                         adequacy = format_unit(groups$adequacy), p = ifelse(is.na(groups$p), "", format_p(groups$p)),
                         weakest = ifelse(is.na(groups$weakest_item), "",
                                          paste(groups$weakest_item, format_unit(groups$weakest_adequacy))),
                         verdict = ifelse(is.na(groups$verdict), "not judged", groups$verdict)), c(FALSE, TRUE, TRUE,
                             FALSE, FALSE, FALSE)))
}
