# The command `softsieve`. exec/softsieve calls cli_main() and quits with what it returns. A verb is
# a spec whose name starts with VERB_ (base-registry.R), in cli-verb-*.R: name, label (what it does)
# and order, and
#
#   target   what it is told to work on, as help shows it ("STUDY.yml", "[DIR]"), or NULL
#   needed   must there be a target?
#   options  a named list of verb_option()
#   run      function(target, options)

EXIT <- c(done = 0L, bad_input = 1L, wrong_usage = 2L, interrupted = 130L)

# `type` as optparse has it; `value`: what help shows for it.
verb_option <- function(type, value, help) list(type = type, value = value, help = help)

THREADS_OPTION <- verb_option("integer", "N", "number of threads; results do not depend on it")

# Runs the command with these arguments; returns its exit status.
cli_main <- function(args = commandArgs(trailingOnly = TRUE)) {
  if (!requireNamespace("optparse", quietly = TRUE)) {
    return(say_usage("the command needs the package optparse: install.packages(\"optparse\")"))
  }
  asked <- tryCatch(parse_command(args), error = function(e) e)
  if (inherits(asked, "error")) return(say_usage(conditionMessage(asked)))
  if (asked$options$version) {
    cat("softsieve ", as.character(utils::packageVersion("softsieve")), "\n", sep = "")
    return(EXIT[["done"]])
  }
  if (asked$options$help) {
    cat(help_lines(), sep = "\n")
    return(EXIT[["done"]])
  }
  tryCatch(
    {
      spec_of("verb", asked$verb)$run(asked$target, asked$options)
      EXIT[["done"]]
    },
    softsieve_error = function(e) say_error(e),
    interrupt = function(e) {
      cat("softsieve: interrupted; nothing was written\n", file = stderr())
      EXIT[["interrupted"]]
    }
  )
}

# The options of all verbs, each once.
verb_options <- function() {
  all <- unlist(unname(lapply(specs("verb"), `[[`, "options")), recursive = FALSE)
  all[!duplicated(names(all))]
}

help_lines <- function() {
  lefts <- vapply(specs("verb"), function(verb) paste("softsieve", usage_of(verb)), "")
  width <- max(nchar(lefts)) + 2L
  beside <- function(left, right) paste0("  ", formatC(left, width = -width), right)
  verbs <- vapply(specs("verb"), function(verb) beside(lefts[[verb$name]], verb$label), "")
  options <- verb_options()
  own <- vapply(
    names(options),
    function(name) {
      beside(sprintf("--%s %s", name, options[[name]]$value), options[[name]]$help)
    },
    ""
  )
  c(
    "softsieve: from questionnaire answers to trustworthy scales",
    "",
    "Usage:",
    verbs,
    "",
    "Options:",
    own,
    beside("--help", "this text"),
    beside("--version", "the version"),
    "",
    "Exit status: 0 done, 1 bad input (nothing is written), 2 wrong usage.",
    "A study file is YAML; `softsieve demo` writes one to start from."
  )
}

usage_of <- function(verb) {
  options <- vapply(
    setdiff(names(verb$options), "threads"),
    function(name) sprintf("[--%s %s]", name, verb$options[[name]]$value),
    ""
  )
  paste(c(verb$name, verb[["target"]], options), collapse = " ")
}

parse_command <- function(args) {
  made <- lapply(names(verb_options()), function(name) {
    optparse::make_option(paste0("--", name), type = verb_options()[[name]]$type, default = NULL)
  })
  flags <- list(
    optparse::make_option(c("-h", "--help"), action = "store_true", default = FALSE),
    optparse::make_option("--version", action = "store_true", default = FALSE)
  )
  parser <- optparse::OptionParser(option_list = c(made, flags), add_help_option = FALSE)
  parsed <- withCallingHandlers(
    optparse::parse_args2(parser, args, print_help_and_exit = FALSE),
    warning = function(w) stop(conditionMessage(w), call. = FALSE)
  )
  asked <- list(options = parsed$options, verb = parsed$args[1L], target = parsed$args[2L])
  if (asked$options$help || asked$options$version) return(asked)
  check_command(asked, parsed$args)
  asked
}

# Is there such a verb, and does it take what it was given?
check_command <- function(asked, words) {
  refuse <- function(...) stop(paste(c(...), collapse = " "), call. = FALSE)
  if (!length(words)) refuse("a command is missing")
  if (!asked$verb %in% names_of("verb")) {
    refuse(
      sprintf("there is no command '%s'.", asked$verb),
      hint_nearest(asked$verb, names_of("verb"))
    )
  }
  verb <- spec_of("verb", asked$verb)
  if (isTRUE(verb[["needed"]]) && is.na(asked$target)) {
    refuse(sprintf("`%s` needs %s", verb$name, verb$target))
  }
  most <- if (is.null(verb[["target"]])) 1L else 2L
  if (length(words) > most) refuse("too many arguments:", words[-seq_len(most)])
  strange <- setdiff(names(asked$options), c("help", "version", names(verb$options)))
  if (length(strange)) refuse(sprintf("`%s` takes no --%s", verb$name, strange[1L]))
}

say_usage <- function(message) {
  cat(sprintf("softsieve: %s\n", message), "Try `softsieve --help`.\n", file = stderr(), sep = "")
  EXIT[["wrong_usage"]]
}

# What must hold, what came and what to do, without R's call and traceback.
say_error <- function(e) {
  cat("softsieve: ", sub("\\s+$", "", conditionMessage(e)), "\n", file = stderr(), sep = "")
  EXIT[["bad_input"]]
}
