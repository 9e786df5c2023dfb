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

# A function of the user's own: what it stops with is told as its own.
theirs <- function(f, name) {
  if (!is.primitive(f) && !length(formals(f))) {
    stop_input("argument", sprintf("`%s` must be a function of one argument.", name),
      got = "One that takes none came.")
  }
  function(...) {
    tryCatch(f(...), error = function(e) {
      if (inherits(e, "softsieve_error")) rlang::cnd_signal(e)
      stop_input("argument", sprintf("`%s` must work on what it is given.", name),
        got = sprintf("It ended with: %s", first_line(conditionMessage(e))))
    })
  }
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
    return(sprintf("A %s of %s and %s came.", kind, count_of(nrow(x), "row"),
      count_of(ncol(x), "column")))
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
  check_path(file)
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
  if (file.access(file, 4L) != 0) {
    stop_input("file_missing", "The file must be readable.",
      got = sprintf("\"%s\" may not be read by you.", basename(file)),
      todo = "Ask its owner, or copy it from where it can be read.")
  }
  there_is_room()
  invisible(file)
}

# Longer paths no system opens, and R warns of them in words of its own.
LONGEST_PATH <- 4000L
check_path <- function(path) {
  if (nchar(path, "bytes") > LONGEST_PATH) {
    stop_input("file_missing", sprintf("A path must have at most %d bytes.", LONGEST_PATH),
      got = sprintf("%d came.", nchar(path, "bytes")), todo = "Is it a path at all?")
  }
  # (what came as bytes of the session's own is a name as it stands)
  if (Encoding(path) == "unknown") return(invisible())
  if (Encoding(path) == "bytes") {
    stop_input("file_missing", "A path must be text.", got = "It is marked as bytes.",
      todo = "Encoding(path) <- \"unknown\" takes them for the session's own.")
  }
  if (!is.na(iconv(path, Encoding(path), ""))) return(invisible())
  stop_input("file_missing", "The language of the session must have the letters of a path.",
    got = sprintf("\"%s\" has others (LC_CTYPE is %s).", path, Sys.getlocale("LC_CTYPE")),
    todo = "Begin R with LC_ALL=C.UTF-8, or call Sys.setlocale(\"LC_ALL\", \"C.UTF-8\") first.")
}

# Where a file stands, or is to stand.
folder_of <- function(path) {
  check_path(path)
  dirname(path)
}

# R's own folder for the session, which cleaners of /tmp take away, is made again.
there_is_room <- function() {
  room <- suppressWarnings(tempdir(check = TRUE))
  if (dir.exists(room)) return(invisible())
  stop_input("unwritable", "R must have a folder for files of its own.",
    got = sprintf("\"%s\" is gone and cannot be made again.", room),
    todo = "Is the disk full? The variable TMPDIR names another one; begin R anew.")
}

# The first of some statements that holds, each named by what it says is wrong; nothing when none
# does. They are asked one after the other: later ones may take earlier ones for granted.
first_wrong <- function(...) {
  asked <- rlang::enquos(...)
  for (said in names(asked)) if (isTRUE(rlang::eval_tidy(asked[[said]]))) return(said)
  character()
}

# What is a result of ours.

# Is `x` a whole result of one of these classes, and not only called so?
is_result <- function(x, class = "softsieve_result") {
  if (!inherits(x, "softsieve_result") || !inherits(x, class) || !is.list(x)) return(FALSE)
  parts <- unclass(x)
  all(c("values", "settings", "findings", "source") %in% names(parts)) && is.list(parts$values)
}

# The classes of results: those that have a print() of ours.
own_classes <- function() {
  space <- ls(environment(own_classes), pattern = "^print[.]", all.names = TRUE)
  sub("^print[.]", "", space)
}

# Arguments of a stage, each declared once beside the verb that takes it: what it may be, and in
# words for people what it is. Defaults stand in the verb's own line. Its checks, the entries of
# study files with their schema, the command's options, and what study_of() and factor_solution()
# know of it are read from here.
#
# What an argument may be. `choices`: words, or a function of them; `several`: a list of such;
# `mapped`: such by words; `words`: or else one of these words (TRUE: any). Further fields:
#
#   check    function(x, name), where the types below do not say it all; NULL where the verb checks
#   entry    its name in a study file, where that is another
#   setting  its name among a result's settings, where that is another
#   lazy     may it be bare names, which the verb settles itself?

a_text <- function(label, choices = NULL, ...) {
  list(label = label, type = "string", choices = choices, ...)
}
a_flag <- function(label, ...) list(label = label, type = "boolean", ...)
a_number <- function(label, lowest = NULL, highest = NULL, words = NULL, ..., type = "number") {
  if (!is.null(words)) type <- c(type, "string")
  choices <- if (!is.logical(words)) words
  list(label = label, type = type, choices = choices, lowest = lowest, highest = highest, ...)
}
a_whole <- function(...) a_number(..., type = "integer")

choices_of <- function(argument) {
  choices <- argument[["choices"]]
  if (is.function(choices)) choices() else choices
}

# What the verb in whose frame this is evaluated was given for the arguments that it declares:
# checked, with defaults, by name. What is NULL by default may be NULL.
settle_arguments <- function(declared, frame = parent.frame()) {
  defaults <- formals(sys.function(sys.parent()))
  declared <- Filter(function(one) is.null(one[["lazy"]]), declared)
  values <- lapply(names(declared), function(name) {
    value <- get(name, envir = frame, inherits = FALSE)
    optional <- is.null(value) && is.null(defaults[[name]])
    if (optional) NULL else check_argument(value, name, declared[[name]])
  })
  stats::setNames(values, names(declared))
}

check_argument <- function(value, name, argument) {
  if ("check" %in% names(argument)) {
    return(if (is.null(argument$check)) value else argument$check(value, name))
  }
  if (isTRUE(argument[["several"]])) return(check_words(value, name))
  highest <- argument[["highest"]]
  switch(argument$type[1L],
    boolean = check_flag(value, name),
    number = check_number(value, name, argument$lowest, highest),
    integer = check_whole(value, name, argument$lowest,
      if (is.null(highest)) .Machine$integer.max else highest),
    string = {
      choices <- choices_of(argument)
      if (is.null(choices)) check_text(value, name) else check_choice(value, name, choices)
    })
}

# The defaults of a verb for the arguments that it declares, as values; the first of choices.
defaults_of <- function(verb, names) {
  held <- formals(verb)[names]
  values <- lapply(held[nzchar(as.character(held))], function(default) {
    value <- eval(default, topenv())
    if (is.numeric(value) && !all(is.finite(value))) NULL else utils::head(value, 1L)
  })
  stats::setNames(values[names], names)
}

# Seeds and threads of simulations.

# The seed that was given, or one drawn from R's generator, so that set.seed() settles it. A seed is
# a whole number from 0 to 2^31 - 1; it is always on the result.
settle_seed <- function(seed) {
  if (is.null(seed)) return(sample.int(.Machine$integer.max, 1L))
  check_whole(seed, "seed", 0L)
}

# All processors but never more than eight, unless told; results do not depend on it.
settle_threads <- function(threads) {
  if (!is.null(threads)) return(check_whole(threads, "threads", 1L, 256L))
  # what containers, clusters and R CMD check allow is known there; OpenMP's limit is not
  limit <- suppressWarnings(as.integer(Sys.getenv("OMP_THREAD_LIMIT", "8")))
  # (a batch system without its configuration is asked, and would warn)
  cores <- suppressWarnings(parallelly::availableCores())
  as.integer(max(1L, min(cores, 8L, limit, na.rm = TRUE)))
}
