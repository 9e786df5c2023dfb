#' Sift on a page
#'
#' Opens a study on a page in the browser, on this machine only: the solution is read there, items
#' are taken out and put back, reverse-scored, pinned and moved, factors are named and their number
#' is chosen. Each click becomes a line of the study file, so that [run_study()] and
#' `softsieve run` give the same numbers; nothing is ever only on the page.
#'
#' @details What one item would do to everything is shown before it goes. The number of factors is
#'   held while that is worked out; what takes longer (the number counted anew, limits of loadings
#'   and of reliability, the paths of a sifting) is marked as under way and filled in later. A study
#'   with `sift: {run: true}` finds its number in every pass, and takes as long as they take.
#'
#'   Limits of loadings are of 200 bootstrap samples and paths of 40, fewer than elsewhere: they are
#'   to look at ([loading_stability()], [sift_paths()]).
#' @section Safety: The page listens to this machine only. Its address holds a random token, without
#'   which nothing is answered; pages of other origins are refused; nothing is fetched from
#'   elsewhere. It writes the study file (whole, or not at all), the results when asked, and while
#'   it is open a folder beside the study (`.NAME.yml.page`), by which a second page on it knows to
#'   read only. A file that has changed on disk meanwhile is never written over unasked. No answers
#'   of single people are shown.
#' @param study Path of a study file, what [read_study()] returns of one, or the path of a file of
#'   answers, from which a study is begun ([begin_study()]) once its columns have been looked at.
#' @param port Number of the port, 1024 to 65535; a free one when left out.
#' @param browser Open the browser?
#' @param results The folder into which results are written when that is asked for: `results` beside
#'   the study when left out.
#' @return The study as it then stands in its file, invisibly, once the page is ended (Ctrl-C, or
#'   "End" on the page).
#' @section Errors: `softsieve_error_package` (shiny, bslib, callr or later is not installed), those
#'   of [read_study()] and [read_responses()], `softsieve_error_argument`.
#' @family studies
#' @examples
#' \dontrun{
#' open_page("repair_cafe_study.yml")
#' }
#' @export
open_page <- function(study, port = NULL, browser = TRUE, results = NULL) {
  for (package in c("shiny", "bslib", "callr", "later")) needs_package(package, "Pages")
  if (!is.null(port)) port <- check_whole(port, "port", 1024L, 65535L)
  check_flag(browser, "browser")
  if (!is.null(results)) check_text(results, "results")
  if (is_result(study, "softsieve_study")) study <- study$settings$file
  check_text(study, "study")
  check_file(study)
  page <- new_page(normalizePath(study), results)
  on.exit(close_page(page), add = TRUE)
  serve_page(page, port, browser)
  invisible(if (!is.null(page$study)) page$study)
}

# Everything that a page holds: `study` (NULL while one is only being begun from `answers`), `k`
# (the number of factors held), `slim` (what decisions note of it), `told` (the last message of
# each kind, for who joins later), `state` (counts what was asked), and its two workers.
new_page <- function(file, results) {
  page <- new.env(parent = emptyenv())
  page$token <- paste(format(as.hexmode(random_bytes(16L)), width = 2L), collapse = "")
  page$sessions <- list()
  page$told <- list()
  page$state <- 0L
  page$results <- results
  page$undone <- list()
  if (grepl("[.]ya?ml$", file, ignore.case = TRUE)) {
    begin_page(page, file)
  } else {
    page$answers <- file
    read_responses(file)
    page$words <- page_words("en")
  }
  page
}

# Random bytes that no seed of R repeats: from the system where it has them.
random_bytes <- function(n) {
  if (file.exists("/dev/urandom")) {
    source <- file("/dev/urandom", "rb", raw = TRUE)
    on.exit(close(source))
    return(as.integer(readBin(source, "raw", n)))
  }
  seed <- rlang::hash(list(Sys.time(), Sys.getpid(), tempfile(), stats::rnorm(1L)))
  strtoi(substring(seed, seq(1L, 2L * n, 2L), seq(2L, 2L * n, 2L)), 16L)
}

close_page <- function(page) {
  page$closed <- TRUE
  if (!is.null(page$file)) give_lock_back(page)
  for (worker in list(page$quick, page$slow)) if (!is.null(worker)) worker$session$kill()
}
