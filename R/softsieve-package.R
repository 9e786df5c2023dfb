#' softsieve: from questionnaire answers to trustworthy scales
#'
#' The stages, in the order people work. Each is a function whose result prints a verdict, a table
#' and the next step:
#'
#' 1. [read_responses()], [read_codebook()] and [questionnaire()]: the answers, keyed and checked.
#' 2. [profile_items()], [profile_respondents()] and [correlate_items()]: each item, each person, and how
#'    the items go together.
#' 3. [assess_factorability()]: whether they can be factored at all.
#' 4. [count_factors()]: how many factors, by [parallel_analysis()] and all other evidence.
#' 5. [extract_factors()] or [extract_components()], and [rotate_factors()]: the factors
#'    ([factor_solution()] does both).
#' 6. [pattern_table()]: which items belong to which factor; [hierarchical_form()]: what is general in
#'    them; [component_layers()]: what each component accounts for.
#' 7. [form_scales()] and [assess_reliability()]: how far each scale can be trusted.
#' 8. [score_respondents()]: each person's factor scores.
#' 9. [write_report()]: all of it in one file.
#'
#' [run_study()] runs all stages from one study file, as the command `softsieve run` does.
#' [softsieve-result] tells what every result holds; [softsieve-glossary] what each number means and
#' what to do when it is low.
#'
#' @useDynLib softsieve, .registration = TRUE
#' @importFrom Rcpp evalCpp
#' @importFrom rlang caller_env
#' @keywords internal
"_PACKAGE"

#' @importFrom tibble as_tibble
#' @export
tibble::as_tibble

#' @importFrom generics tidy
#' @export
generics::tidy

#' @importFrom generics glance
#' @export
generics::glance

.onUnload <- function(libpath) library.dynam.unload("softsieve", libpath) # nocov

#' @importFrom rlang .data
NULL
