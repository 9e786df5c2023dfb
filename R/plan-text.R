#' A plan in words
#'
#' One paragraph for an application or a preregistration: what is assumed, what was simulated, and
#' what so many people are expected to give.
#'
#' @param plan From [plan_study()] or [people_needed()].
#' @param language A language of reports: `"en"` or `"de"`.
#' @return One text.
#' @family planning
#' @examples
#' design <- planned_factors(factors = 2, items = 5, loadings = c(0.5, 0.7))
#' plan_text(plan_study(design, people = 200, replicates = 20, seed = 1))
#' @export
plan_text <- function(plan, language = "en") {
  check_class(plan, "plan", "study_plan", "plan_study() or people_needed()")
  tongue <- languages()[[check_choice(language, "language", names(languages()))]]
  v <- plan$values
  s <- plan$settings
  said <- function(name, ...) fill_braces(tongue$plan[[name]], list(...))
  number <- function(x, digits = 2L) local_number(format_number(x, digits), tongue)
  share <- function(x) paste0(number(100 * x, 0L), tongue$percent)
  count <- function(x) {
    formatC(x, format = "d", big.mark = tongue$thousands, decimal.mark = tongue$decimal)
  }
  kind <- paste0("kind.", s$kind)
  about <- list(design_in(v$design, said, number, share), said("way",
    kind = if (kind %in% names(tongue$methods)) tongue$methods[[kind]] else KINDS[[s$kind]]$label,
    replicates = say_samples(v$measures, said("to"), count),
    seed = format(s$seed, scientific = FALSE)))
  found <- if (is.null(v$needed)) {
    sizes_in(v$measures, said, number, share, count)
  } else {
    n <- v$needed
    c(said("needed", people = count(n$people[1L])),
      vapply(seq_len(nrow(n)), function(i) {
        said("wish", label = tongue$plan[[n$measure[i]]], wish = number(n$wish[i], 3L),
          value = number(n$value[i], 3L), error = number(n$error[i], 3L))
      }, ""))
  }
  paste(c(unlist(about), found), collapse = " ")
}

# A number of ours (".5", "0.500") as the language writes it.
local_number <- function(text, tongue) {
  text <- sub("^(-?)[.]", "\\10.", text)
  sub(".", tongue$decimal, text, fixed = TRUE)
}

design_in <- function(design, said, number, share) {
  l <- design$loadings
  between <- design$factor_correlations
  range_in <- function(x) {
    if (diff(range(x)) < 0.005) return(number(x[1L]))
    paste(number(min(x)), said("to"), number(max(x)))
  }
  k <- ncol(l)
  whole <- said("design", items = nrow(l), factors = k, loadings = range_in(size_of_own(l)),
    between = if (k > 1L) {
      said("between", correlations = range_in(between[upper.tri(between)]))
    } else {
      ""
    },
    answers = if (design$answers == 0L) {
      said("continuous")
    } else {
      said("categories", count = design$answers)
    },
    lean = if (design$lean == 0) "" else said("lean", by = number(design$lean, 1L)),
    missing = share(design$missing), careless = share(design$careless))
  paste0(whole, if (!is.null(design$clusters)) {
    said("clusters", size = design$clusters[["size"]],
      intraclass = number(design$clusters[["intraclass"]]))
  }, if (!is.null(design$blocks)) {
    said("blocks", asked = design$blocks[["asked"]], of = design$blocks[["of"]])
  })
}

sizes_in <- function(measures, said, number, share, count) {
  vapply(unique(measures$people), function(n) {
    at <- plan_at(measures, n)
    said("size", people = count(n), number = share(at$number),
      rule = if (at$by_parallel) said("by_parallel") else "", found = share(at$factors_found),
      loading = number(at$loading_error), omega = if (is.na(at$omega_error)) {
        ""
      } else {
        said("omega", error = number(at$omega_error))
      })
  }, "")
}
