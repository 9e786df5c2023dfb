# Drawing a result: which figures it has (plot-figures.R), and what each is asked.

#' Draw a result
#'
#' `autoplot()` makes a ggplot of a result, which can be changed and saved like any other; its
#' `data` is what it shows. `plot()` draws it.
#'
#' @param object,x A result that has a figure; see below.
#' @param what Which figure, by its name below; the first when left out.
#' @param ... What the figure takes, by name; see below.
#' @return A ggplot; `plot()` returns its argument, invisibly.
#' @eval describe_figures()
#' @section Angles between arrows: In `"people"` (Gabriel 1971) an item's arrow is its loadings on
#'   the two factors, times a number that is shown. Where the factors do not correlate and there are
#'   no others, the cosine of the angle between the arrows of items with loadings a and b,
#'   \deqn{a'b / \sqrt{a'a\, b'b},}{a'b / sqrt(a'a b'b),}
#'   is the correlation of what the factors explain of the two items, and a'b is their reproduced
#'   correlation. It is the correlation of the items themselves only as far as the factors explain
#'   all of both. Where the factors correlate, or others stand outside the plane, it is neither. The
#'   figure says which of these holds.
#' @section Errors: `softsieve_error_class` (a result without figures), `softsieve_error_argument`,
#'   `softsieve_error_figure` (this result does not hold what the figure shows),
#'   `softsieve_error_people` (ids that nobody has), and those of [score_respondents()].
#' @eval describe_papers("Gabriel (1971)")
#' @family results
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' plot(parallel_analysis(motives, seed = 1))
#' solution <- factor_solution(motives, factors = 4, seed = 1)
#' plot(solution, "bars", wording = TRUE)
#' plot(solution, "people", group = "cafe", factors = c("F1", "F4"))
#' @name softsieve-figures
NULL

#' @rdname softsieve-figures
#' @exportS3Method ggplot2::autoplot
autoplot.softsieve_result <- function(object, what = NULL, ...) {
  figure <- draw_figure(object, what, list(...))
  # (what an edited result lacks is reported now, not by ggplot2 when the figure is printed)
  if (length(wrong_in_parts(object))) {
    lapply(c(list(figure), figure$patches$plots), ggplot2::ggplot_build)
  }
  figure
}

#' @rdname softsieve-figures
#' @export
plot.softsieve_result <- function(x, what = NULL, ...) {
  figure <- draw_figure(x, what, list(...))
  # the whole page has the figure's ground, also beside one whose axes have equal units
  grid::grid.newpage()
  grid::grid.rect(gp = grid::gpar(fill = sieve_colour("paper"), col = NA))
  print(figure, newpage = FALSE)
  invisible(x)
}

draw_figure <- function(object, what = NULL, asked = list()) {
  draw_spec(figure_spec(object, what), object, asked)
}

draw_spec <- function(spec, object, asked = list()) {
  own <- spec[["parameters"]]
  others <- function(wrong) hint_nearest(wrong, names(own))
  asked <- settle_asked(own, sprintf("The figure \"%s\"", spec$name), asked, others)
  object <- all_visible(object)
  figure <- if (is.null(own)) spec$draw(object) else spec$draw(object, asked)
  in_called_words(figure, object$source)
}

# Titles of a figure and of its axes, in the words of what was measured.
in_called_words <- function(figure, source) {
  if (is.null(source$called)) return(figure)
  if (inherits(figure, "patchwork")) {
    for (i in seq_len(length(figure$patches$plots) + 1L)) {
      figure[[i]] <- in_called_words(figure[[i]], source)
    }
    return(figure)
  }
  said <- function(x) if (is.character(x)) in_called(x, source) else x
  figure$labels[] <- lapply(figure$labels, said)
  for (scale in figure$scales$scales) if (is.character(scale$name)) scale$name <- said(scale$name)
  figure
}

# The figures of a result, in their order.
figures_of <- function(object) FIGURES[[class(object)[1L]]]

# One of them, the first when none is named.
figure_spec <- function(object, what = NULL) {
  own <- figures_of(object)
  if (!length(own)) {
    stop_input("class",
      sprintf("`x` must be a result that has a figure: %s.",
        paste(class_words(names(FIGURES)), collapse = ", ")),
      got = describe_value(object))
  }
  if (is.null(what)) return(own[[1L]])
  own[[check_choice(what, "what", names(own))]]
}

has_figure <- function(spec, object) is.null(spec[["there"]]) || spec[["there"]](object)

figure_height <- function(spec, object) {
  if (is.null(spec[["height"]])) 800 else spec[["height"]](object)
}

# What it shows, for those who cannot see it: what exceeds it.
figure_alt <- function(spec, object) {
  drawn <- draw_spec(spec, object)
  # (of a figure of several panels, the first one's)
  if (inherits(drawn, "patchwork")) drawn <- drawn[[1L]]
  said <- drawn$labels[c("title", "subtitle")]
  said <- gsub("\\s+", " ", unlist(said))
  paste(c(capitalise(in_called(spec$label, object$source)), sub("[.]$", "", said)), collapse = ". ")
}

# "softsieve_reliability" is a reliability to people.
class_words <- function(class) gsub("_", " ", sub("^softsieve_", "", class))

# For the help page.
describe_figures <- function() {
  lines <- vapply(names(FIGURES), function(class) {
    each <- vapply(FIGURES[[class]], describe_figure, "")
    sprintf("* %s: %s.", class_words(class), paste(each, collapse = ", "))
  }, "")
  taken <- parameters_of(unlist(unname(FIGURES), recursive = FALSE))
  each <- sprintf("* `%s`: %s.", names(taken), vapply(taken, `[[`, "", "description"))
  paste(c("@section Figures:", lines, "", "@section What figures take:", each), collapse = "\n")
}

describe_figure <- function(one) {
  taken <- names(one[["parameters"]])
  with <- if (length(taken)) paste0(", with ", paste0("`", taken, "`", collapse = ", ")) else ""
  sprintf('`"%s"` (%s%s)', one$name, one$label, with)
}
