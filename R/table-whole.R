# Results can be edited by hand. What then shows one says what is missing in it, not what R
# stumbles over. (R reads files in the order of their names: all methods are there when it reads
# this one, which a test holds.)

SHOW_RESULTS <- c("print", "summary", "tidy", "glance", "augment", "coef", "fitted", "residuals",
  "predict", "plot", "autoplot", "as_tibble", "as.data.frame", "vcov")

# A method whose own errors are those of a result that is not whole.
of_whole_results <- function(method) {
  result <- as.name(names(formals(method))[1L])
  body(method) <- bquote(told_if_not_whole(.(result), .(body(method))))
  method
}

# What R says of where a result goes, or of its own room, is nothing that a result lacks.
NOT_OF_RESULTS <- "SIGPIPE|connection|device|allocate|C stack|too deeply"
# A part of the kind it was, with more or fewer values.
OF_LENGTHS <- "first element used|object length|items to replace|data length"

told_if_not_whole <- function(x, code) {
  # (a summary holds the result that it is of)
  held <- if (is.list(x) && !is_result(x)) Find(is_result, unclass(x))
  if (!is.null(held)) x <- held
  withCallingHandlers(code, error = function(e) {
    # (errors of ours say it already; what is no result is looked at by the method)
    if (inherits(e, "softsieve_error") || !is.list(x)) return()
    wrong <- wrong_in_parts(x)
    said <- first_line(conditionMessage(e))
    if (!length(wrong) && grepl(NOT_OF_RESULTS, said)) return()
    stop_not_whole(if (length(wrong)) wrong else paste("R says:", said))
  }, warning = function(w) {
    if (inherits(w, "softsieve_warning") || !is.list(x)) return()
    wrong <- wrong_in_parts(x)
    said <- first_line(conditionMessage(w))
    if (!length(wrong) && !grepl(OF_LENGTHS, said)) return()
    stop_not_whole(if (length(wrong)) wrong else paste("R says:", said))
  })
}

stop_not_whole <- function(wrong) {
  stop_input("edited", "A result must be whole to be shown.",
    got = paste0(name_culprits(wrong), "."),
    todo = c("Run its stage again.", "If nobody edited it, this is ours to mend: please tell us."))
}

# What is gone or of another kind than the stage left it, by its place.
wrong_in_parts <- function(x) {
  was <- attr(x, "holds")
  is <- kinds_in(unclass(x))[names(was)]
  wrong <- names(was)[is.na(is) | is != was]
  # (of a part that is gone, what it held is not named)
  within <- vapply(wrong, function(place) any(startsWith(place, paste0(wrong, "$"))), NA)
  wrong <- wrong[!within]
  as.character(ifelse(is.na(is[wrong]), sprintf("`%s` is gone", wrong),
    sprintf("`%s` is of class %s, not %s", wrong, is[wrong], was[wrong])))
}

for (method in grep(sprintf("^(%s)[.]", paste(SHOW_RESULTS, collapse = "|")), ls(), value = TRUE)) {
  assign(method, of_whole_results(get(method)))
}
rm(method)

# What was found while the package was built is found again: it would be installed with it.
rm(list = ls(FOUND), envir = FOUND)
