# Checks of arguments. check_*() returns its argument unseen or raises a classed error in the name
# of the exported function that was called.

check_whole <- function(x, name, lowest, highest = .Machine$integer.max) {
  good <- checkmate::test_int(x, lower = lowest, upper = highest, tol = 0)
  if (good) return(invisible(as.integer(x)))
  range <- if (highest == .Machine$integer.max) {
    sprintf("of at least %d", lowest)
  } else {
    sprintf("from %d to %d", lowest, highest)
  }
  stop_input("argument", sprintf("`%s` must be a whole number %s.", name, range),
    got = describe_value(x), todo = sprintf("Give one number, for example %s = %d.", name, lowest))
}

check_number <- function(x, name, lowest, highest) {
  good <- checkmate::test_number(x, lower = lowest, upper = highest, finite = TRUE)
  if (good) return(invisible(x))
  stop_input("argument",
    sprintf("`%s` must be one number from %s to %s.", name, format(lowest), format(highest)),
    got = describe_value(x),
    todo = sprintf("Give one number, for example %s = %s.", name, format(highest)))
}

check_choice <- function(x, name, choices) {
  if (checkmate::test_choice(x, choices)) return(invisible(x))
  # several choices are what an unused default looks like: the first is meant
  if (identical(x, choices)) return(invisible(choices[1L]))
  stop_input("argument",
    sprintf("`%s` must be one of: %s.", name, paste0('"', choices, '"', collapse = ", ")),
    got = describe_value(x),
    todo = if (is.character(x) && length(x) == 1L) hint_nearest(x, choices) else character())
}

check_flag <- function(x, name) {
  if (checkmate::test_flag(x)) return(invisible(x))
  stop_input("argument", sprintf("`%s` must be TRUE or FALSE.", name), got = describe_value(x))
}

is_text <- function(x) checkmate::test_string(x, min.chars = 1L) && validEnc(x)

check_function <- function(x, name) {
  if (is.function(x)) return(invisible(x))
  stop_input("argument", sprintf("`%s` must be a function.", name), got = describe_value(x))
}

check_text <- function(x, name) {
  if (is_text(x)) return(invisible(x))
  stop_input("argument", sprintf("`%s` must be one piece of text.", name), got = describe_value(x))
}

check_words <- function(x, name) {
  text <- checkmate::test_character(x, any.missing = FALSE, min.len = 1L)
  if (text && all(validEnc(x))) return(x)
  if (checkmate::test_numeric(x, any.missing = FALSE, min.len = 1L)) return(as.character(x))
  stop_input("argument", sprintf("`%s` must be one word or several.", name),
    got = describe_value(x))
}

check_class <- function(x, name, class, maker) {
  if (is_result(x, class)) return(invisible(x))
  # classes that are not results of ours are taken at their word
  if (inherits(x, class) && !any(class %in% own_classes())) return(invisible(x))
  stop_input("class", sprintf("`%s` must be what %s returns.", name, maker),
    got = describe_value(x))
}

# `...` of a function with arguments of its own takes nothing: what lands in it was mis-typed.
check_dots_empty <- function(...) {
  if (!...length()) return(invisible())
  names <- names(list(...))
  if (is.null(names)) names <- rep("", ...length())
  known <- c(names(formals(sys.function(sys.parent()))), called_arguments())
  first <- names[nzchar(names)][1L]
  stop_input("argument",
    "Every argument must be one that the function knows.",
    got = sprintf("Not known here: %s.",
      name_culprits(ifelse(nzchar(names), sprintf("`%s`", names), "an argument without a name"))),
    todo = c(hint_nearest(first, known), "Look at the help page for the arguments' names."))
}

describe_value <- function(x) {
  if (is.null(x)) return("Nothing came.")
  if (is.data.frame(x) || is.matrix(x)) {
    kind <- if (is.matrix(x)) "matrix" else "data frame"
    return(sprintf("A %s of %d rows and %d columns came.", kind, nrow(x), ncol(x)))
  }
  if (!is.atomic(x)) return(sprintf("An object of class \"%s\" came.", class(x)[1L]))
  if (!length(x)) return(sprintf("An empty %s vector came.", class(x)[1L]))
  shown <- utils::head(x, 11L)
  shown <- if (is.character(x)) {
    paste0('"', clip_text(visible_text(shown, blanks = TRUE), 60L), '"')
  } else {
    format(shown, trim = TRUE)
  }
  rest <- length(x) - length(shown)
  sprintf("%s came.", name_culprits(c(shown, rep("", rest))))
}

# The file is there, is a file and has bytes in it.
check_file <- function(file) {
  check_text(file, "file")
  if (!file.exists(file)) {
    near <- list.files(dirname(file))
    stop_input("file_missing", "The file must exist.",
      got = sprintf("There is no file \"%s\".", file),
      todo = c(hint_nearest(basename(file), near),
        sprintf("Relative paths start from \"%s\".", getwd())))
  }
  if (dir.exists(file)) {
    stop_input("file_missing", "A file must be named, not a folder.",
      got = sprintf("\"%s\" is a folder.", file))
  }
  if (file.size(file) == 0) {
    stop_input("file_empty", "The file must have something in it.",
      got = sprintf("\"%s\" is empty (0 bytes).", file),
      todo = "Was the export finished? Open the file in a text editor.")
  }
  invisible(file)
}

# The first of some statements that holds, each named by what it says is wrong; nothing when none
# does. They are asked one after the other: later ones may take earlier ones for granted.
first_wrong <- function(...) {
  asked <- rlang::enquos(...)
  for (said in names(asked)) if (isTRUE(rlang::eval_tidy(asked[[said]]))) return(said)
  character()
}
