# Prints of naming, comparing, ladders, groups and people resampled.

#' @export
print.naming_help <- function(x, ...) {
  factors <- x$values$factors
  show_result(x,
    sprintf("What %s could be called.", count_of(length(factors), one_of_model(x$settings))),
    paste("Whether they agree: those who have much of the factor, with the wording as it stands",
      "(loadings are of items as keyed: reversed ones were reverse-scored)."),
    table = c(table_text(x, "strongest"), table_text(x, "words", titled = TRUE),
      table_text(x, "against", titled = TRUE)),
    next_step = sprintf("name_factors(solution, c(%s = \"...\")) gives names that stay.",
      factors[1L]))
}

#' @export
print.solution_comparison <- function(x, ...) {
  show_result(x,
    sprintf("%s compared.", count_of(nrow(x$values$solutions), "solution")),
    x$values$verdict,
    c(table_text(x, "solutions"), wrap_lines(table_of(x, "solutions")$note, "  ", "  "),
      table_text(x, "factors", titled = TRUE), wrap_lines(table_of(x, "factors")$note, "  ", "  "),
      table_text(x, "items", titled = TRUE)),
    next_step = paste(if (any(x$values$items$moved)) "read the items that move;",
      "loading_stability() shows how sure loadings are, solution_ladder() how factors split."))
}

#' @export
print.solution_ladder <- function(x, ...) {
  show_result(x,
    sprintf("A ladder from %d to %s.", x$settings$from, count_of(x$settings$to,
      one_of_model(x$settings))),
    sprintf("%s; %s. Correlations are of the factors' scores.",
      capitalise(EXTRACTIONS[[x$settings$method]]$label), ROTATIONS[[x$settings$rotation]]$label),
    table_text(x, "rungs"),
    next_step = "plot() draws it; name_factors() names the factors of the level you keep.")
}

#' @export
print.hidden_factors <- function(x, ...) {
  v <- x$values
  show_result(x,
    sprintf("What %s could not show with these items.", count_of(v$people, "person", "people")),
    c(v$sentences,
      sprintf("Seen: in %s of samples or more; %s samples for each question.",
        format_share(x$settings$share), format_count(x$settings$samples))),
    c(table_text(x, "splits"), table_text(x, "further", titled = TRUE)),
    next_step = "say it beside the number of factors; more people or items show more (`people`).")
}

#' @export
print.study_plan <- function(x, ...) {
  v <- x$values
  needed <- !is.null(v$needed)
  show_result(x, if (needed) v$sentences[1L] else "What so many people would give.",
    c(if (needed) v$sentences[-1L] else c(say_hidden_plan(v$hidden), say_design(v$design)),
      sprintf("%s simulated samples of each size, by %s; seed %s.", say_samples(v$measures),
        KINDS[[x$settings$kind]]$label,
        format(x$settings$seed, scientific = FALSE))),
    unlist(lapply(c("measures", "errors", "tests", "rules", "covered"), function(name) {
      table_text(x, name, titled = TRUE)
    })),
    next_step = paste0("plot() draws it; as_tibble() has every measure with its Monte Carlo ",
      "error; ",
      if (!is.null(v$items)) "x$values$items tells how often each item is sifted out; ",
      "write down the seed with the plan."))
}

#' @export
print.group_solutions <- function(x, ...) {
  show_result(x, x$values$verdict[1L], x$values$verdict[-1L],
    c(table_text(x, "congruences"), table_text(x, "differences", titled = TRUE)),
    next_step = paste(
      "where groups differ, look at the wording of the items that do, or report groups apart;",
      "x$values$solutions holds each group's solution."))
}

# People are drawn one by one, or with others.
drawn_how <- function(x) {
  v <- x$values
  if (isTRUE(x$settings$from_counts)) {
    return(sprintf("in the %s of the counts", count_of(v$units, "random group")))
  }
  if (!is.null(x$settings$clusters)) {
    return(sprintf("in %s of %s", count_of(v$units, "cluster"), x$settings$clusters))
  }
  if ("parts_drawn" %in% x$findings$code) return("in parts")
  if (v$units < v$people) sprintf("in %s of rows", count_of(v$units, "block")) else "one by one"
}

#' @export
print.loading_stability <- function(x, ...) {
  v <- x$values
  show_result(x, stability_verdict(x),
    c(
      sprintf("%s resampled %s, %s; limits of %s.", count_of(v$people, "person", "people"),
        count_of(v$solved, "time"), drawn_how(x), format_share(x$settings$level)),
      numbers_sentence(v$numbers)),
    c(table_text(x, "loadings"), table_text(x, "factor_correlations", titled = TRUE),
      table_text(x, "halves", titled = TRUE)),
    next_step = "plot() shows every loading with its limits; form_scales() makes scales.")
}

# From the tables alone: how sure the items' places are.
stability_verdict <- function(x) {
  moving <- sum(x$findings$code == "item_moves")
  sprintf("%s in at least %s of the draws.", if (moving) {
    sprintf("All items with a salient loading but %s stay with their factor", format_count(moving))
  } else {
    "Every item with a salient loading stays with its factor"
  }, format_share(cutoff("item_stays")))
}

numbers_sentence <- function(numbers) {
  if (!nrow(numbers)) return(character())
  most <- numbers[order(-numbers$share), ][seq_len(min(3L, nrow(numbers))), ]
  sprintf("Number of factors by parallel analysis of each draw: %s.",
    join_words(sprintf("%d in %s", most$factors, format_share(most$share))))
}

#' @export
print.printed_loadings <- function(x, ...) {
  l <- x$values$loadings
  show_result(x,
    sprintf("Printed loadings of %s on %s.", count_of(nrow(l), "item"),
      count_of(ncol(l), "factor")),
    sprintf("%s; %s.", count_of(x$values$decimals, "decimal"),
      count_of(sum(is.na(l)), "blank cell")),
    next_step = "compare_solutions(solution, these) shows how far they are reproduced.")
}

#' @export
print.printed_comparison <- function(x, ...) {
  v <- x$values
  verdict <- if (!nrow(v$cells)) {
    sprintf("Reproduced to %s: all %s that were printed.", format_unit(v$limit, 3L),
      count_of(v$compared, "cell"))
  } else {
    sprintf("%d of %s %s by more than rounding, by %s at most.", nrow(v$cells),
      count_of(v$compared, "printed cell"), if (nrow(v$cells) == 1L) "differs" else "differ",
      format_unit(v$largest))
  }
  show_result(x, verdict,
    c("Factors are matched in order and sign by the cells that were printed.",
      if (length(v$unmatched)) sprintf("Printed, and not here: %s.", name_culprits(v$unmatched))),
    c(table_text(x, "factors"), table_text(x, "cells", titled = TRUE)),
    next_step = if (nrow(v$cells)) {
      "other numbers of factors, rotations or kinds of correlation may be what was printed."
    } else {
      character()
    })
}
