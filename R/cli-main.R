# The command `softsieve`. exec/softsieve calls cli_main() and quits with what it returns.

EXIT <- c(done = 0L, bad_input = 1L, wrong_usage = 2L)

CLI_HELP <- c(
  "softsieve: from questionnaire answers to trustworthy scales", "", "Usage:",
  "  softsieve demo [DIR]               write the demo study into DIR (softsieve-demo) and run it",
  "  softsieve run STUDY.yml [--out DIR]  run a study; results go into DIR (results)", "",
  "Options:", "  --out DIR      the folder for the results of `run`",
  "  --threads N    number of threads; results do not depend on it", "  --help         this text",
  "  --version      the version", "",
  "Exit status: 0 done, 1 bad input (nothing is written), 2 wrong usage.",
  "A study file is YAML; `softsieve demo` writes one to start from."
)

# Runs the command with these arguments; returns its exit status.
cli_main <- function(args = commandArgs(trailingOnly = TRUE)) {
  asked <- tryCatch(parse_command(args), error = function(e) e)
  if (inherits(asked, "error")) return(say_usage(conditionMessage(asked)))
  if (asked$version) {
    cat("softsieve ", as.character(utils::packageVersion("softsieve")), "\n", sep = "")
    return(EXIT[["done"]])
  }
  if (asked$help) {
    cat(CLI_HELP, sep = "\n")
    return(EXIT[["done"]])
  }
  tryCatch(
    {
      if (asked$command == "demo") {
        command_demo(asked)
      } else {
        command_run(asked$target, asked$out, asked$threads)
      }
      EXIT[["done"]]
    },
    softsieve_error = function(e) say_error(e),
    interrupt = function(e) {
      cat("softsieve: interrupted; nothing was written\n", file = stderr())
      130L
    }
  )
}

parse_command <- function(args) {
  options <- list(
    optparse::make_option("--out", type = "character", default = NULL),
    optparse::make_option("--threads", type = "integer", default = NULL),
    optparse::make_option(c("-h", "--help"), action = "store_true", default = FALSE),
    optparse::make_option("--version", action = "store_true", default = FALSE)
  )
  parser <- optparse::OptionParser(option_list = options, add_help_option = FALSE)
  parsed <- withCallingHandlers(
    optparse::parse_args2(parser, args, print_help_and_exit = FALSE),
    warning = function(w) stop(conditionMessage(w), call. = FALSE)
  )
  words <- parsed$args
  asked <- list(
    help = parsed$options$help,
    version = parsed$options$version,
    out = parsed$options$out,
    threads = parsed$options$threads,
    command = words[1L],
    target = words[2L]
  )
  if (asked$help || asked$version) return(asked)
  if (!length(words)) stop("a command is missing", call. = FALSE)
  if (!words[1L] %in% c("demo", "run")) {
    stop(
      paste(
        c(
          sprintf("there is no command '%s'.", words[1L]),
          hint_nearest(words[1L], c("demo", "run"))
        ),
        collapse = " "
      ),
      call. = FALSE
    )
  }
  if (words[1L] == "run" && length(words) < 2L) stop("`run` needs a study file", call. = FALSE)
  if (length(words) > 2L) {
    stop(sprintf("too many arguments: %s", paste(words[-(1:2)], collapse = " ")), call. = FALSE)
  }
  if (words[1L] == "demo" && !is.null(asked$out)) {
    stop("`demo` takes its folder without --out", call. = FALSE)
  }
  asked
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

DEMO_FILES <- c("repair_cafe_answers.csv", "repair_cafe_codebook.csv", "repair_cafe_study.yml")

command_demo <- function(asked) {
  folder <- if (is.na(asked$target)) "softsieve-demo" else asked$target
  if (!dir.exists(folder) && !dir.create(folder, showWarnings = FALSE)) {
    check_writable(folder, call = NULL)
  }
  check_writable(folder, call = NULL)
  from <- system.file("extdata", DEMO_FILES, package = "softsieve", mustWork = TRUE)
  for (file in from) {
    write_whole(file.path(folder, basename(file)), function(path) file.copy(file, path))
  }
  cat(sprintf("Demo files written to %s: %s\n", folder, paste(DEMO_FILES, collapse = ", ")))
  command_run(file.path(folder, DEMO_FILES[3L]), file.path(folder, "results"), asked$threads)
}

command_run <- function(file, out, threads) {
  if (is.null(out)) out <- "results"
  study <- run_study(file, threads = threads, watch = function(line) cat(line, "...\n", sep = ""))
  files <- write_results(study, out)
  cat("\n")
  show_study(study, character())
  cat("\nWritten:\n", paste0("  ", sort(files), "\n"), sep = "")
  cat(sprintf("\nThe report: %s\n", normalizePath(file.path(out, "report.html"))))
}
