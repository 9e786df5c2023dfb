#' How sure a number is, from counts
#'
#' Draws or leaves out the random groups of people that [tabulate_items()] counted apart, and works
#' out a number again each time: standard errors and limits of anything that follows from
#' correlations, at any number of people, without them.
#'
#' @param tables Counts, an object of class `item_tables` with at least 20 random groups.
#' @param statistic A function of item correlations ([correlate_items()]) that gives numbers, always
#'   as many, named or not: for example `function(r) r$values$correlations["m1", "m2"]`.
#' @param how `"leave_out"`: each random group is left out once (delete-a-group jackknife);
#'   `"draw"`: random groups are drawn with replacement, `replicates` times.
#' @param kind,repair As in [correlate_items()].
#' @param level Of the limits, from 0.5 to 0.999.
#' @param replicates How many draws, from 20 on; for `"draw"`.
#' @inheritParams parallel_analysis
#' @return A tibble, one row for each number: `name`, `estimate`, `standard_error`, `lower`, `upper`
#'   and `failed` (replicates for which it is missing).
#' @section Formulas: With G random groups and \eqn{t_{(g)}}{t(g)} the number without random group
#'   g, the jackknife's standard error is
#'   \deqn{\sqrt{\frac{G - 1}{G} \sum_g (t_{(g)} - \bar t)^2}}{sqrt((G - 1)/G sum (t(g) - mean)^2)}
#'   and limits are the number plus and minus it times the quantile of t with G - 1 degrees of
#'   freedom (Kott 2001). Of draws they are the standard deviation and the percentiles.
#' @section Errors: `softsieve_error_class`, `softsieve_error_argument`,
#'   `softsieve_error_statistic`.
#' @eval describe_papers("Kott (2001)")
#' @family large data
#' @examples
#' tables <- tabulate_items(repair_cafe, codebook = repair_cafe_codebook)
#' first_eigenvalues <- function(r) eigen(r$values$correlations)$values[1:4]
#' draw_tables(tables, first_eigenvalues)
#' @export
draw_tables <- function(tables, statistic, how = c("leave_out", "draw"), kind = "pearson",
    repair = TRUE, level = 0.95, replicates = 500L, seed = NULL, threads = NULL) {
  check_class(tables, "tables", "item_tables", "tabulate_items()")
  check_function(statistic, "statistic")
  how <- check_choice(how, "how", c("leave_out", "draw"))
  kind <- check_choice(kind, "kind", names(KINDS))
  check_flag(repair, "repair")
  check_number(level, "level", 0.5, 0.999)
  replicates <- check_whole(replicates, "replicates", 20L, 1e6L)
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  check_random_groups(tables)
  random_groups <- ncol(tables$values$cells)
  of <- function(often) {
    r <- correlate_counts(tables, counted_of(tables, often), kind, repair, 11L, threads)
    told_number(statistic(r))
  }
  estimate <- of(rep(1, random_groups))
  columns <- if (how == "draw") replicates else random_groups
  drawn <- with_progress("Random groups drawn", columns, function(progress) {
    vapply(seq_len(columns), function(column) {
      progress(column)
      often <- if (how == "leave_out") {
        replace(rep(1, random_groups), column, 0)
      } else {
        cpp_draw_people(seq_len(random_groups) - 1L, integer(random_groups), seed, column - 1,
          FALSE)
      }
      found <- tryCatch(of(often), softsieve_error = function(e) NULL)
      if (length(found) == length(estimate)) found + 0 else rep(NA_real_, length(estimate))
    }, numeric(length(estimate)))
  })
  drawn <- matrix(drawn, length(estimate))
  limits <- if (how == "draw") {
    drawn_limits(drawn, level)
  } else {
    left_out_limits(estimate, drawn, level)
  }
  tibble::tibble(
    name = if (is.null(names(estimate))) as.character(seq_along(estimate)) else names(estimate),
    estimate = unname(estimate), standard_error = limits$error, lower = limits$lower,
    upper = limits$upper, failed = as.integer(rowSums(is.na(drawn))))
}

told_number <- function(x) {
  if (is.numeric(x) && length(x) && is.null(dim(x))) return(x)
  stop_input("statistic", "`statistic` must give numbers.", got = describe_value(x),
    todo = "For example function(r) eigen(r$values$correlations)$values.")
}

drawn_limits <- function(drawn, level) {
  at <- c(1 - level, 1 + level) / 2
  q <- apply(drawn, 1L, stats::quantile, probs = at, na.rm = TRUE)
  list(error = apply(drawn, 1L, stats::sd, na.rm = TRUE), lower = q[1L, ], upper = q[2L, ])
}

left_out_limits <- function(estimate, drawn, level) {
  random_groups <- rowSums(!is.na(drawn))
  away <- drawn - rowMeans(drawn, na.rm = TRUE)
  error <- sqrt((random_groups - 1) / random_groups * rowSums(away^2, na.rm = TRUE))
  far <- stats::qt((1 + level) / 2, random_groups - 1) * error
  list(error = error, lower = unname(estimate - far), upper = unname(estimate + far))
}
