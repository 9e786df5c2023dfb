#' softsieve: from questionnaire answers to trustworthy scales
#'
#' The stages, in the order people work. Each is a function whose result prints a verdict, a table
#' and the next step:
#'
#' 1. [read_responses()], [read_codebook()] and [questionnaire()]: the answers, keyed and checked.
#' 2. [profile_items()], [profile_respondents()] and [correlate_items()]: each item, each person,
#'    and how the items go together.
#' 3. [assess_factorability()]: whether they can be factored at all.
#' 4. [count_factors()]: how many factors, by [parallel_analysis()] and all other evidence.
#' 5. [extract_factors()] or [extract_components()], and [rotate_factors()]: the factors
#'    ([factor_solution()] does both).
#' 6. [pattern_table()]: which items belong to which factor, and what is wrong with some;
#'    [name_factors()]: what to call them; [hierarchical_form()]: what is general in them;
#'    [component_layers()]: what each component accounts for.
#' 7. [compare_solutions()], [solution_ladder()] and `factor_solution(by = )`: other numbers of
#'    factors, rotations, samples and groups compared; [loading_stability()]: how sure the
#'    loadings are.
#' 8. [form_scales()] and [assess_reliability()]: how far each scale can be trusted.
#' 9. [score_respondents()]: each person's scores on factors, components or scales, compared with
#'    norms; [score_formula()]: their formula, in R, for a spreadsheet or in SQL.
#' 10. [carry_back()]: from a regression on scores to the items; [reconstruct_responses()]: what the
#'    first components keep of the answers.
#' 11. [sift_items()]: weak items out, one at a time, with a trail; [sift_paths()]: how firm that
#'    is; [shorten_scales()]: short forms.
#' 12. [begin_study()], [read_study()], [decide()], [run_study()] and [write_report()]: all of it
#'    from one file, which holds what people decided, to a report; the command `softsieve` does the
#'    same without R.
#'
#' [softsieve-result] shows what every result holds, [softsieve-findings] what each finding says;
#' [softsieve-glossary] what each number means and what to do when it is low.
#'
#' @useDynLib softsieve, .registration = TRUE
#' @importFrom stats coef predict vcov
#' @keywords internal
"_PACKAGE"

#' The main table of a result
#'
#' @param x A result of this package, or anything that [tibble::as_tibble()] takes.
#' @param ... Passed on to [tibble::as_tibble()].
#' @return A tibble: which one, the help page of the result's class says.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' as_tibble(assess_factorability(motives))
#' @export
as_tibble <- function(x, ...) tibble::as_tibble(x, ...)

#' @importFrom generics tidy
#' @export
generics::tidy

#' @importFrom generics glance
#' @export
generics::glance

#' @importFrom generics augment
#' @export
generics::augment

# What takes long to load is loaded by what needs it first: tibble and rlang by the first result,
# Rcpp, whose functions compiled code calls, by the first call of a compiled routine. So the package
# itself, and a command that only prints its help, cost little more than R.
.onLoad <- function(libname, pkgname) { # nocov start
  space <- parent.env(environment())
  for (name in ls(space, pattern = "^_softsieve_", all.names = TRUE)) {
    routine_when_called(name, get(name, envir = space), space)
  }
}

routine_when_called <- function(name, routine, space) {
  force(routine)
  delayedAssign(
    name,
    {
      Rcpp::evalCpp # naming it loads the namespace
      routine
    },
    assign.env = space)
} # nocov end

.onUnload <- function(libpath) library.dynam.unload("softsieve", libpath) # nocov

# ggplot2's word for the data of a layer.
utils::globalVariables(".data")
