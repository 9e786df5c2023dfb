# The command `softsieve`. exec/softsieve calls cli_main() and quits with what it returns.

# Runs the command with these arguments; returns its exit status.
cli_main <- function(args = commandArgs(trailingOnly = TRUE)) {
  # where no language is set, names and text are UTF-8 all the same
  bare <- !l10n_info()[["UTF-8"]] && Sys.getlocale("LC_CTYPE") %in% c("C", "POSIX")
  if (bare) suppressWarnings(Sys.setlocale("LC_CTYPE", "C.UTF-8"))
  if (!requireNamespace("optparse", quietly = TRUE)) {
    return(say_usage("the command needs the package optparse: install.packages(\"optparse\")"))
  }
  asked <- tryCatch(parse_command(args), error = function(e) e)
  if (inherits(asked, "error")) return(say_usage(conditionMessage(asked), asked$verb))
  if (asked$options$version) {
    return(put_out(paste("softsieve", utils::packageVersion("softsieve"))))
  }
  if (asked$options$help) {
    verb <- asked$verb
    return(put_out(if (is.na(verb)) help_lines() else verb_help(VERBS[[verb]])))
  }
  run_verb(VERBS[[asked$verb]], asked$target, asked$options)
}

# What to type next, about the same answers.
next_command <- function(then, target, options) {
  if (is.null(then)) return(character())
  same <- c(if (is.null(options$matrix)) {
    shell_word(target)
  } else {
    c("--matrix", shell_word(options$matrix), "--n", options$n)
  }, if (!is.null(options$codebook)) c("--codebook", shell_word(options$codebook)))
  gsub("%s", paste(same, collapse = " "), then, fixed = TRUE)
}

run_verb <- function(verb, target, options) {
  if (isTRUE(options$quiet)) {
    hidden <- options("cli.progress_show_after" = 1e6)
    on.exit(options(hidden), add = TRUE)
  }
  tryCatch(
    {
      settle_format(options["format"])
      if (!is.null(options$threads)) settle_threads(options$threads)
      check_out_apart(verb, target, options)
      then <- next_command(verb[["then"]], target, options)
      of_study <- is.null(verb[["reads"]]) && is_study_file(target)
      place <- if (of_study) "study" else "option"
      done <- with_face(then, "--format json", place, verb$run(target, options))
      findings <- if (is.list(done)) done$findings
      serious <- is.data.frame(findings) && any(findings$severity == "serious")
      if (is_result(done, "softsieve_study") && !is.null(done$settings$stopped)) {
        EXIT[["bad_input"]]
      } else if (isTRUE(options$strict) && serious) {
        say_strict(findings)
      } else {
        EXIT[["done"]]
      }
    },
    softsieve_error = function(e) say_error(e), closed_pipe = function(e) EXIT[["done"]],
    interrupt = function(e) {
      say_aside("softsieve: interrupted; nothing is half-written")
      EXIT[["interrupted"]]
    })
}

# What is written by `--out` or `--report` is none of the files that the command names, or that its
# study or design does.
check_out_apart <- function(verb, target, options) {
  for (one in intersect(c("out", "report"), names(options))) {
    place <- options[[one]]
    named <- unlist(Filter(is.character, c(target, options[names(options) != one])))
    named <- c(named, sub("#[^#]*$", "", named))
    check_not_input(place, named)
    if (!is.null(verb[["reads"]])) {
      check_not_input(place, verb$reads(target))
    } else if (is_study_file(target)) {
      check_not_input(place, files_of_study(read_study(target)))
    }
  }
}

parse_command <- function(args) {
  taken <- take_entries(args)
  made <- lapply(known_options(), function(one) {
    flag <- paste0("--", one$name)
    if (one$type == "flag") {
      return(optparse::make_option(flag, action = "store_true", default = FALSE))
    }
    optparse::make_option(flag, type = one$type, default = NULL)
  })
  flags <- list(optparse::make_option(c("-h", "--help"), action = "store_true", default = FALSE),
    optparse::make_option("--version", action = "store_true", default = FALSE))
  parser <- optparse::OptionParser(option_list = c(unname(made), flags), add_help_option = FALSE)
  parsed <- withCallingHandlers(
    optparse::parse_args(parser, taken$rest, print_help_and_exit = FALSE,
      positional_arguments = TRUE, convert_hyphens_to_underscores = FALSE),
    warning = function(w) {
      stop(sub("^double expected", "a number is expected", conditionMessage(w)), call. = FALSE)
    },
    error = function(e) {
      # (whatever the call of the parser's is called)
      flag <- regmatches(conditionMessage(e), regexec("flag \"([^\"]*)\" requires",
        conditionMessage(e)))[[1L]]
      if (length(flag)) stop(sprintf("--%s needs a value", flag[2L]), call. = FALSE)
    })
  options <- parsed$options
  options$entries <- taken$entries
  asked <- list(options = options, verb = parsed$args[1L], target = parsed$args[2L])
  if (options$version) return(asked)
  if (options$help && !isTRUE(asked$verb %in% names(VERBS))) {
    asked$verb <- NA
    return(asked)
  }
  if (options$help) return(asked)
  if (!is.null(options$matrix) && is.na(asked$target)) asked$target <- options$matrix
  check_command(asked, parsed$args)
  asked
}

# Is there such a verb, and does it take what it was given?
check_command <- function(asked, words) {
  known <- asked$verb %in% names(VERBS)
  refuse <- function(...) {
    stop(structure(class = c("usage", "error", "condition"),
      list(message = paste(c(...), collapse = " "), call = NULL, verb = if (known) asked$verb)))
  }
  if (!length(words)) refuse("a command is missing")
  if (!known) {
    refuse(sprintf("there is no command '%s'.", asked$verb), hint_nearest(asked$verb, names(VERBS)))
  }
  verb <- VERBS[[asked$verb]]
  spared <- !is.null(verb[["unless"]]) && isTRUE(asked$options[[verb$unless$option]])
  if (isTRUE(verb[["needed"]]) && is.na(asked$target) && !spared) {
    refuse(sprintf("`%s` needs %s", verb$name, verb$target))
  }
  if (spared && !is.na(asked$target)) {
    refuse(sprintf("`%s --%s` takes no %s", verb$name, verb$unless$option, verb$target))
  }
  most <- if (is.null(verb[["target"]])) 1L else 2L
  if (length(words) > most) refuse("too many arguments:", words[-seq_len(most)])
  given <- asked$options[setdiff(names(asked$options), c("help", "version", "entries"))]
  given <- names(Filter(function(x) !isFALSE(x), given))
  strange <- setdiff(given, if (spared) unlist(verb$unless) else verb$options)
  if (length(strange)) {
    name <- paste(c(verb$name, if (spared) paste0("--", verb$unless$option)), collapse = " ")
    refuse(sprintf("`%s` takes no --%s", name, strange[1L]))
  }
  if (length(asked$options$entries) && !isTRUE(verb[["entries"]])) {
    refuse(sprintf("`%s` takes no --%s", verb$name, names(asked$options$entries)[1L]))
  }
}

say_usage <- function(message, verb = NULL) {
  say_aside("softsieve: ", message)
  say_aside(sprintf("Try `softsieve %s--help`.", if (is.null(verb)) "" else paste0(verb, " ")))
  EXIT[["wrong_usage"]]
}

# What must hold, what came and what to do, without R's call and traceback.
say_error <- function(e) {
  say_aside("softsieve: ", sub("\\s+$", "", conditionMessage(e)))
  EXIT[["bad_input"]]
}

say_strict <- function(findings) {
  serious <- findings[findings$severity == "serious", ]
  say_aside(sprintf("softsieve: --strict: %s. %s", count_of(nrow(serious), "serious finding"),
    serious$text[1L]))
  EXIT[["strict"]]
}
