# The rOpenSci standards for statistical software, general (G) and for dimension reduction (UL):
# which are met, and where; and which are not (@srrstatsNA).

#' Standards met and not met
#'
#' @srrstats {G2.0} one number is asked for by length and range (`check_whole`)
#' @srrstats {G2.2} a vector where one number is meant is an error (`check_number`)
#' @srrstats {G2.3a} choices are matched in full; the nearest word is named (`check_choice`)
#' @srrstats {G2.1} types are asserted for every argument that takes a result (`check_class`)
#' @srrstats {G5.2a} errors say what came, so that no two read alike (`describe_value`)
#' @srrstats {G5.2} errors have classes and three parts: must, came, do (`stop_input`)
#' @srrstats {G1.3} every number that is printed is defined there (`describe_glossary`)
#' @srrstats {G1.0} the papers behind each method, in full (`reference_text`)
#' @srrstats {G5.5} every simulation has a seed, which is on its result (`settle_seed`)
#' @srrstats {G2.14b} how missing answers are handled is an argument (`correlate_items`)
#' @srrstats {UL2.2} pairwise, complete or by maximum likelihood (`correlate_items`)
#' @srrstats {G3.1} kinds of correlation and covariance are choices (`correlate_items`)
#' @srrstats {UL4.0} a class of its own (`extract_factors`)
#' @srrstats {UL2.3} items that follow from others are found and named (`assess_factorability`)
#' @srrstats {UL2.0} diagnoses whether the items can be factored (`assess_factorability`)
#' @srrstats {UL6.0} each result has figures (`autoplot.softsieve_result`)
#' @srrstats {UL6.2} texts are broken where a figure ends (`wrap_subtitle`)
#' @srrstats {UL4.3} prints show a verdict, a table and the next step
#'   (`print.softsieve_scale_set`)
#' @srrstats {G2.5} ordered factors become numbers by their levels (`read_answers`)
#' @srrstats {G2.13} codes for no answer become missing, and are counted (`drop_missing_codes`)
#' @srrstats {UL1.0} which columns and types are taken, and which are not (`questionnaire`)
#' @srrstats {G2.8} all later stages receive one class (`build_questionnaire`)
#' @srrstats {G2.10} columns are taken by name, whatever the table (`select_columns`)
#' @srrstats {UL1.1} items that codebook and data name differently are an error (`settle_items`)
#' @srrstats {UL2.1} reversed items are reverse-scored once, by the key (`key_raw_answers`)
#' @srrstats {G2.7} text, sheets, Parquet, JSON lines and data frames (`read_responses`)
#' @srrstats {G2.9} columns that stay text because of some cells are reported
#'   (`find_nearly_numeric`)
#' @srrstats {G2.4b} text that is all numbers becomes numbers (`tidy_column`)
#' @srrstats {G4.0} the ending of a file name says, and is held to, its form (`check_ending`)
#' @srrstats {G1.6} rules stand beside each other, with what is known of each (`count_factors`)
#' @srrstats {UL3.1} factors are ordered by the variance they explain (`rotate_factors`)
#' @srrstats {UL4.0} a solution is saved and read back to the last bit (`write_solution`)
#' @srrstats {UL3.3} new people are scored by predict() (`score_respondents`)
#' @srrstats {G1.5} a study file repeats a run exactly (`run_study`)
#' @srrstats {UL4.3a} long tables are cut, and the rest is counted (`table_of`)
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
