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

# The rOpenSci standards for statistical software, general (G) and for dimension reduction (UL):
# tags
# `@srrstats` stand beside the code that meets them. Those here stand beside none: tests and pages
# meet them, or nothing does (@srrstatsNA).

#' Standards met elsewhere than in R code, and standards not met
#'
#' @srrstats {G1.2} how the package grows: CONTRIBUTING.md
#' @srrstats {G1.4} all documentation is made by roxygen2
#' @srrstats {G5.1} the data of tests and examples are exported
#' @srrstats {G5.2b} every class of error is raised in the tests, with two culprits
#' @srrstats {G5.4b} published solutions are among the tests
#' @srrstats {G5.4c} results on the demo data are held to those written down (test-all-held.R)
#' @srrstats {G5.6} populations are recovered (test-extraction-factors.R, bench/coverage.R)
#' @srrstats {G5.8} files and tables that are empty, of the wrong kind, or all missing
#' @srrstats {G5.9} solutions do not depend on the order of items or people, nor on threads
#' @srrstats {UL7.0} the tests give every door what it does not take
#' @srrstats {UL7.1} the tests give data that cannot be factored
#' @srrstats {UL7.2} the tests hold the order of factors
#' @srrstats {UL7.3} the tests hold that names of items stay
#' @srrstats {UL7.4} the tests predict new people in several ways, with one result
#' @srrstatsNA {G1.1} no method here is new but the calibrated probabilities, which have a model
#' card
#' @srrstatsNA {G1.4a} internal functions are told by comments above them, not by roxygen2
#' @srrstatsNA {G2.11} columns of unusual classes are not tried one by one
#' @srrstatsNA {G5.10} there are no extended tests behind a switch: long ones are scripts in bench
#' @srrstatsNA {G5.11} bench makes its own large data
#' @srrstatsNA {UL1.2} rows are people; a warning of default row names would be noise
#' @srrstatsNA {UL3.0} nothing clusters
#' @srrstatsNA {UL3.4} nothing clusters
#' @srrstatsNA {UL4.1} no model object is made without data
#' @srrstatsNA {UL6.1} there is no plot() without a result
#' @noRd
NULL
