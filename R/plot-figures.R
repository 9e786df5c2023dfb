# Which figures there are of what. A figure is a spec whose name starts with FIGURE_
# (base-registry.R), in the file that draws it. It has name, label, order and
#
#   of      the class of the results that it is of
#   draw    function(object), giving a ggplot
#   there   function(object): is there anything to draw? (always, when left out)
#   file    under which name write_results() saves it (it does not, when left out)
#   height  function(object): pixels it needs to be legible (800 when left out)
#   alt     function(object): what it shows, for those who cannot see it (the label when left out)

#' Draw a result
#'
#' `autoplot()` makes a ggplot of a result, which can be changed and saved like any other; `plot()`
#' draws it.
#'
#' @param object,x A result that has a figure; see below.
#' @param what Which figure, by its name below; the first when left out.
#' @param ... Nothing; for the generic's sake.
#' @return A ggplot; `plot()` returns its argument, invisibly.
#' @eval describe_figures()
#' @section Errors: `softsieve_error_class` (a result without figures), `softsieve_error_argument`,
#'   `softsieve_error_figure` (this result does not hold what the figure shows).
#' @family results
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' plot(parallel_analysis(motives, seed = 1))
#' @name softsieve-figures
NULL

#' @rdname softsieve-figures
#' @exportS3Method ggplot2::autoplot
autoplot.softsieve_result <- function(object, what = NULL, ...) {
  check_dots_empty(...)
  draw_figure(object, what)
}

#' @rdname softsieve-figures
#' @export
plot.softsieve_result <- function(x, what = NULL, ...) {
  check_dots_empty(...)
  print(draw_figure(x, what))
  invisible(x)
}

draw_figure <- function(object, what = NULL, call = caller_env()) {
  in_name_of(call, figure_spec(object, what, call)$draw(object))
}

# The figures of a result, in their order.
figures_of <- function(object) {
  own <- unname(Filter(function(one) one$of == class(object)[1L], specs("figure")))
  stats::setNames(own, vapply(own, `[[`, "", "name"))
}

# One of them, the first when none is named.
figure_spec <- function(object, what = NULL, call = caller_env()) {
  own <- figures_of(object)
  if (!length(own)) {
    classes <- unique(vapply(specs("figure"), `[[`, "", "of"))
    stop_input(
      "class",
      sprintf(
        "`x` must be a result that has a figure: %s.",
        paste(class_words(classes), collapse = ", ")
      ),
      got = describe_value(object),
      call = call
    )
  }
  if (is.null(what)) return(own[[1L]])
  own[[check_choice(what, "what", names(own), call = call)]]
}

has_figure <- function(spec, object) is.null(spec[["there"]]) || spec[["there"]](object)

figure_height <- function(spec, object) {
  if (is.null(spec[["height"]])) 800 else spec[["height"]](object)
}

figure_alt <- function(spec, object) {
  if (is.null(spec[["alt"]])) capitalise(spec$label) else spec[["alt"]](object)
}

# A figure for which there is nothing to draw says what would have to be asked for.
check_drawable <- function(table, todo, call = caller_env()) {
  if (NROW(table)) return(table)
  stop_input(
    "figure",
    "There must be something to draw.",
    got = "This result does not hold it.",
    todo = todo,
    call = call
  )
}

# "softsieve_reliability" is a reliability to people.
class_words <- function(class) gsub("_", " ", sub("^softsieve_", "", class))

# For the help page.
describe_figures <- function() {
  all <- specs("figure")
  classes <- unique(vapply(all, `[[`, "", "of"))
  lines <- vapply(
    classes,
    function(class) {
      own <- Filter(function(one) one$of == class, all)
      each <- vapply(own, function(one) sprintf('`"%s"` (%s)', one$name, one$label), "")
      sprintf("* %s: %s.", class_words(class), paste(each, collapse = ", "))
    },
    ""
  )
  paste(c("@section Figures:", lines), collapse = "\n")
}
