# The cases of tools/fuzz.R that are acts: results and files that somebody edited, outputs onto
# inputs, databases, options and languages of the session, numbers that nobody means.

suppressPackageStartupMessages(library(testthat))
source("tests/testthat/helper-data.R")
source("tests/testthat/helper-postgres.R")

# Made once, by the first process, for all cases.
once <- function(make) {
  held <- NULL
  function() {
    if (is.null(held)) held <<- make()
    held
  }
}
quietly_made <- function(code) {
  suppressWarnings(suppressMessages(utils::capture.output(code)))
  code
}

few_solution <- once(function() {
  q <- questionnaire(few_answers(), codebook = few_book(), id = person, group = cafe)
  list(q = q, s = factor_solution(q, 2, seed = 1, starts = 2))
})

RESULTS <- once(function() {
  q <- keep_items(motives(items = m1:t6), m1:t6)
  quietly_made(one_of_each(q, factor_solution(q, 2, seed = 1, starts = 3), tempdir()))
})

# --- edited by hand -------------------------------------------------------------------------------

odd_part <- function(x) {
  # (functions and environments have no order)
  own <- tryCatch(list(rev(x), utils::head(x, 1L), x[0L]), error = function(e) list())
  pick(c(own, list(NULL, NA, "a", "", -1, 0, Inf, 1e9, TRUE, list(), character(), numeric(),
    diag(2), data.frame(), list(a = 1), factor("m1"))))
}

# One part of a list, at any depth, taken away or put in another form.
edit_part <- function(x) {
  if (!is.list(x) || !length(x) || is.null(names(x)) || chance(.3)) return(odd_part(x))
  at <- sample.int(length(x), 1L)
  x <- as.list(x)
  x[at] <- list(edit_part(x[[at]]))
  if (chance(.5)) x[at] <- NULL
  x
}

edit_result <- function(x) {
  part <- pick(c(rep("values", 5L), "settings", "findings", "source", "call"))
  inner <- unclass(x[[part]])
  at <- if (is.list(inner) && length(inner)) sample.int(length(inner), 1L)
  new <- if (is.null(at) || chance(.1)) {
    odd_part(inner)
  } else {
    if (is.data.frame(inner[[at]]) && chance(.7)) {
      column <- sample.int(max(1L, length(inner[[at]])), 1L)
      inner[[at]] <- inner[[at]][-column]
    } else {
      inner[at] <- list(edit_part(inner[[at]]))
    }
    inner
  }
  if (chance(.6)) {
    x[[part]] <- new
    return(x)
  }
  class <- class(x)
  x <- unclass(x)
  x[part] <- list(new)
  structure(x, class = class)
}

WINDOWS <- list(print = print, plot = function(x) print(ggplot2::autoplot(x)), tidy = tidy,
  glance = glance, as_tibble = as_tibble, summary = function(x) print(summary(x)))

case_result_edited <- function(folder) {
  x <- edit_result(pick(RESULTS()))
  through <- pick(names(WINDOWS))
  list(file = NULL, compare = nothing, read = function(file) {
    grDevices::pdf(NULL)
    on.exit(grDevices::dev.off())
    utils::capture.output(WINDOWS[[through]](x))
  }, said = paste(class(x)[1L], through))
}

# A value of a tree of JSON, changed where it stands.
edit_json <- function(x) {
  if (!is.list(x) || !length(x) || chance(.05)) {
    return(pick(list(NULL, "a", -1, 0, 1e9, TRUE, list(), 2^31, "NaN", if (is.numeric(x)) x * 1.5)))
  }
  at <- sample.int(length(x), 1L)
  x[at] <- list(edit_json(x[[at]]))
  if (chance(.1)) x[at] <- NULL
  x
}

edited_json <- function(bytes, to) {
  tree <- jsonlite::parse_json(rawToChar(bytes))
  writeLines(jsonlite::toJSON(edit_json(tree), auto_unbox = TRUE, digits = NA, null = "null"), to)
}

# what is read of it prints and scores, in numbers
case_solution_edited <- function(folder) {
  file <- tempfile("case-", folder, ".json")
  edited_json(SOLUTION_BYTES(), file)
  list(file = file, read = function(file) {
    x <- read_solution(file)
    utils::capture.output(print(x))
    as.data.frame(score_respondents(x, repair_cafe[1:30, ]))
  }, compare = function(got) {
    if (any(is.infinite(as.matrix(got[vapply(got, is.numeric, NA)])))) "infinite scores"
  })
}

RUN <- once(function() {
  folder <- tempfile("run-")
  dir.create(folder)
  file <- few_study(folder)
  run_verb(c("run", "study.yml", "--out", "out"), folder)
  folder
})

case_stage_edited <- function(folder) {
  home <- tempfile("stages-", folder)
  dir.create(home)
  file.copy(list.files(RUN(), full.names = TRUE), home, recursive = TRUE)
  stage <- pick(list.files(file.path(home, "out", "stages"), full.names = TRUE))
  if (chance(.5)) writeBin(mutate(bytes_of(stage)), stage) else edited_json(bytes_of(stage), stage)
  list(file = home, read = function(file) run_verb(c("run", "study.yml", "--out", "out"), file),
    compare = function(got) {
      sums <- function(folder) {
        tools::md5sum(list.files(file.path(folder, "out"), "[.](csv|json)$", full.names = TRUE))
      }
      if (!identical(unname(sums(home)), unname(sums(RUN())))) "results"
    })
}

# --- outputs onto inputs --------------------------------------------------------------------------

# The command in this process; what it says is ours, or an error of R comes back.
run_verb <- function(args, folder) {
  said <- run_command(c(args, "--quiet"), folder)
  if (said$status == 0L) return(said$out)
  bare <- grepl("^Error in|object '|subscript|argument ", said$err)
  if (any(bare)) stop(paste(said$err, collapse = " "))
  softsieve:::stop_input("refused", said$err[1L])
}

# The file by another of its names.
other_name <- function(file, folder) {
  switch(sample.int(6L, 1L), file, file.path(".", file), file.path(folder, file),
    file.path(folder, "..", basename(folder), file),
    {
      file.symlink(file, file.path(folder, "link.csv"))
      "link.csv"
    },
    {
      file.symlink(folder, file.path(folder, "round"))
      file.path("round", file)
    })
}

case_output_onto_input <- function(folder) {
  home <- tempfile("onto-", folder)
  dir.create(home)
  few_study(home)
  write_solution(few_solution()$s, file.path(home, "solution.json"))
  file.copy(file.path(home, "answers.csv"), file.path(home, pick(c("people.csv", "items.csv"))))
  verb <- pick(c("items", "factorability", "count", "solve", "run", "report", "sift", "reliability",
    "score", "demo"))
  inputs <- if (verb == "score") "solution.json" else c("codebook.csv", "study.yml")
  inputs <- c("answers.csv", inputs)
  before <- tools::md5sum(file.path(home, inputs))
  to <- other_name(pick(inputs), home)
  verb <- switch(verb, demo = c("demo", "."),
    score = c("score", "solution.json", "--answers", "answers.csv", "--out", to),
    c(verb, "study.yml", "--out", to))
  try_it <- function(file) tryCatch(run_verb(verb, file), softsieve_error = identity)
  list(file = home, read = try_it,
    compare = function(got) {
      if (!identical(tools::md5sum(file.path(home, inputs)), before)) paste(verb, collapse = " ")
    })
}

# --- databases ------------------------------------------------------------------------------------

DATABASE_CELLS <- list(
  text = c("'agree'", "'%n%s'", "''", "'1'", "'007'", "'a''b'", "NULL", "'\u00e9'"),
  whole = c("1", "5", "NULL", "0", "-3", "9007199254740993", "2147483648", "9223372036854775807"),
  real = c("1.5", "0.1", "NULL", "1e300", "-2.25", "3"))

rows_of <- function(kind, n) sample(DATABASE_CELLS[[kind]], n, replace = TRUE)

# What was put in, as text: what comes back must be it, to the last digit, or be refused.
same_as_put <- function(got, put) {
  for (j in seq_along(put)) {
    is <- got[[j]]
    text <- gsub("''", "'", sub("^'(.*)'$", "\\1", put[[j]]))
    # (an empty text among numbers is a gap)
    gap <- put[[j]] == "NULL" | (is.numeric(is) & text == "")
    if (any(is.na(is) != gap)) return(paste("gaps of column", j))
    plain <- suppressWarnings(as.numeric(text))
    same <- if (is.numeric(is)) {
      !is.na(plain) & is == plain & nchar(sub("[.].*$", "", text)) < 17L
    } else {
      as.character(is) == text | (!is.na(plain) & suppressWarnings(as.numeric(is)) == plain &
          nchar(text) < 16L)
    }
    if (!all(same[!gap])) return(paste("a cell of column", j, is[!gap][!same[!gap]][1L]))
  }
  character()
}

case_sqlite <- function(folder) {
  file <- tempfile("case-", folder, ".sqlite")
  n <- sample(3:12, 1L)
  declared <- sample(c("TEXT", "INTEGER", "REAL", "NUMERIC", ""), sample(1:4, 1L), replace = TRUE)
  put <- lapply(declared, function(type) {
    of <- c(TEXT = "text", INTEGER = "whole", REAL = "real")[type]
    rows_of(if (is.na(of) || chance(.3)) pick(names(DATABASE_CELLS)) else of, n)
  })
  # (a number in a column of text, and a whole one in one of REAL, is what SQLite makes of it)
  for (j in which(declared == "TEXT")) put[[j]][!grepl("^'|NULL", put[[j]])] <- "'x'"
  for (j in which(declared == "REAL")) put[[j]][nchar(put[[j]]) > 12L] <- "2.5"
  door <- DBI::dbConnect(RSQLite::SQLite(), file)
  name <- DBI::dbQuoteIdentifier(door, paste0("t", odd_word()))
  columns <- paste0("c", seq_along(put))
  form <- paste(columns, declared, collapse = ", ")
  DBI::dbExecute(door, sprintf("CREATE TABLE %s (%s)", name, form))
  for (i in seq_len(n)) {
    DBI::dbExecute(door, sprintf("INSERT INTO %s VALUES (%s)", name,
      paste(vapply(put, `[`, "", i), collapse = ", ")))
  }
  table <- DBI::dbListTables(door)
  DBI::dbDisconnect(door)
  list(file = file, read = function(file) {
    door <- DBI::dbConnect(RSQLite::SQLite(), file)
    on.exit(DBI::dbDisconnect(door))
    read_responses(database_table(door, table))
  }, compare = function(got) same_as_put(got, put))
}

POSTGRES <- once(function() {
  tryCatch({
    start_postgres()
    reg.finalizer(SERVER, function(server) if (!is.null(server$stop)) server$stop(), onexit = TRUE)
    SERVER$address
  }, skip = function(e) NULL)
})

# by its address, with the names and texts of columns that a client could take for patterns
case_postgres <- function(folder) {
  if (is.null(POSTGRES())) return(case_sqlite(folder))
  reg.finalizer(SERVER, function(server) NULL) # (this process does not stop it)
  Sys.setenv(PGPASSWORD = SERVER$password, PGPASSFILE = "none", TZ = "UTC")
  n <- sample(2:6, 1L)
  type <- sample(c(text = "text", whole = "bigint", real = "double precision"), sample(1:3, 1L),
    replace = TRUE)
  put <- lapply(names(type), rows_of, n)
  columns <- paste0(pick(c("c", "%n%s", "a\"b", "..1", "\u00e9")), seq_along(put))
  name <- paste0("t", Sys.getpid(), pick(c("", "%s%s%n", "'", "\u4e2d")))
  options(softsieve.works = TRUE)
  door <- softsieve:::door_of(SERVER$address, write = TRUE)
  table <- paste(door$quote(name), collapse = ".")
  quoted <- vapply(columns, function(x) paste(door$quote(x), collapse = "."), "")
  door$run(sprintf("CREATE TABLE %s (%s)", table, paste(quoted, type, collapse = ", ")))
  for (i in seq_len(n)) {
    row <- paste(vapply(put, `[`, "", i), collapse = ", ")
    door$run(sprintf("INSERT INTO %s VALUES (%s)", table, row))
  }
  door$close()
  options(softsieve.works = NULL)
  list(file = NULL, read = function(file) read_responses(database_table(SERVER$address, name)),
    compare = function(got) same_as_put(got, put))
}

# --- the session ----------------------------------------------------------------------------------

SESSION_OPTIONS <- list(OutDec = c(",", "."), encoding = c("latin1", "UTF-16", "native.enc"),
  scipen = c(-9, 99), digits = c(1L, 22L), width = c(10L, 500L), digits.secs = 6L, max.print = 1L,
  useFancyQuotes = c(TRUE, FALSE), na.action = "na.fail",
  contrasts = list(c("contr.sum", "contr.sum")), cli.unicode = c(TRUE, FALSE),
  warnPartialMatchDollar = TRUE, expressions = 500L, ts.eps = 1, pillar.sigfig = 1L,
  dplyr.width = 10L, nwarnings = 50L, keep.source = TRUE)
LOCALES <- if (nzchar(Sys.which("locale"))) system2("locale", "-a", stdout = TRUE) else "C"

# A whole small job, as the bytes that it leaves.
small_job <- function() {
  dir <- tempfile("job-")
  dir.create(dir)
  file <- few_study(dir)
  q <- questionnaire(read_responses(file.path(dir, "answers.csv")), id = person, group = cafe,
    codebook = read_codebook(file.path(dir, "codebook.csv")), missing_codes = 9)
  s <- factor_solution(q, 2, seed = 1, starts = 2)
  made <- c(write_solution(s, file.path(dir, "s.json")), write_table(s, file.path(dir, "s.csv")),
    write_table(profile_items(q), file.path(dir, "i.csv")),
    write_table(score_respondents(s, q), file.path(dir, "p.csv")),
    write_table(pattern_table(s), file.path(dir, "l.tsv")),
    write_study(read_study(file), file.path(dir, "other.yml")))
  utils::capture.output(print(s), print(q))
  lapply(made, function(file) gsub("[0-9-]{10}T?[0-9:. Z]*|/tmp/[^\" ]*", "", readLines(file)))
}
JOB <- once(small_job)

case_session <- function(folder) {
  chosen <- lapply(SESSION_OPTIONS[sample.int(length(SESSION_OPTIONS), sample(1:4, 1L))], pick)
  locale <- pick(LOCALES)
  put <- JOB()
  list(file = NULL, read = function(file) {
    suppressWarnings(Sys.setlocale("LC_ALL", locale))
    options(chosen)
    small_job()
  }, compare = function(got) {
    bad <- which(!mapply(identical, got, put))
    if (length(bad)) paste("file", bad[1L], locale, paste(names(chosen), collapse = ", "))
  })
}

# --- numbers --------------------------------------------------------------------------------------

# Answers of a make that no questionnaire has, but files do.
odd_answers <- function() {
  n <- sample(c(2L, 3L, 5L, 12L, 40L, 120L), 1L)
  p <- sample(c(1:4, 6L, 9L), 1L)
  base <- matrix(stats::rnorm(n), n, p)
  x <- base * stats::runif(1L) + stats::rnorm(n * p)
  x[] <- switch(sample.int(5L, 1L), x, round(x), pmin(5, pmax(1, round(x + 3))), x > 0, 1)
  for (i in seq_len(sample(0:2, 1L))) x <- spoil(x)
  stats::setNames(as.data.frame(x), paste0("q", seq_len(p)))
}

spoil <- function(x) {
  j <- sample.int(ncol(x), 1L)
  i <- sample.int(nrow(x), 1L)
  switch(sample.int(13L, 1L), x[, j] <- 3, x[, j] <- x[, 1L], x[, j] <- -x[, 1L], x[i, j] <- 1e15,
    x[i, j] <- Inf, x[i, j] <- NaN, x[, j] <- NA, x[i, ] <- NA, x[, j] <- x[, j] * 1e12,
    x[, j] <- x[, j] * 1e-12, x <- x * 1e300, x[sample.int(length(x), length(x) %/% 2L)] <- NA,
    x[, j] <- rowSums(x))
  x
}

ACTS_ON_NUMBERS <- list(questionnaire = questionnaire, profile_items = profile_items,
  people = profile_respondents, adequacy = assess_factorability,
  correlate = function(x) {
    correlate_items(x, kind = pick(c("pearson", "spearman", "polychoric")),
      missing = pick(c("complete", "pairwise", "em")))
  },
  count = function(x) count_factors(x, replicates = 20, seed = 1, rules = "parallel"),
  number = function(x) count_factors(x, replicates = 20, seed = 1),
  parallel = function(x) parallel_analysis(x, replicates = 20, seed = 1),
  extract = function(x) {
    factor_solution(x, sample(1:3, 1L), seed = 1, starts = 2,
      method = pick(c("minres", "ml", "principal_axes", "components")))
  },
  cov = function(x) factor_solution(x, 1, seed = 1, starts = 2, analyse = "covariances"),
  sift = function(x) sift_items(x, factors = 1, seed = 1, starts = 2),
  whole = function(x) assess_reliability(x, replicates = 20, seed = 1),
  scales = function(x) {
    assess_reliability(form_scales(scales = list(A = names(x)[1L], B = names(x))), x,
      replicates = 20, seed = 1)
  },
  tables = function(x) tabulate_items(x), weights = function(x) {
    w <- pick(list(5e-324, 1e308, 0, 1, -1, NA))
    profile_items(questionnaire(cbind(x, w = c(w, rep(1, nrow(x) - 1L))), weight = w))
  },
  scores = function(x) score_respondents(factor_solution(x, 1, seed = 1, starts = 2), x),
  components = function(x) component_layers(extract_components(x, 1)),
  series = function(x) {
    correlate_items(questionnaire(x, order = seq_len(nrow(x)), remove = "trend"))
  },
  short = function(x) {
    shorten_scales(form_scales(scales = list(A = names(x))), x, size = 2, replicates = 2, seed = 1)
  },
  ladder = function(x) solution_ladder(x, from = 1, to = 2, seed = 1, starts = 2),
  groups = function(x) correlations_by(questionnaire(x), by = rep(1:2, length.out = nrow(x))))

impossible <- function(got) {
  table <- as.data.frame(as_tibble(got))
  for (name in names(table)) {
    x <- table[[name]]
    if (!is.numeric(x)) next
    if (any(is.nan(x) | is.infinite(x))) return(paste("no number in", name))
    share <- name %in% c("p", "communality", "adequacy")
    if (share && any(x < -1e-8 | x > 1 + 1e-8, na.rm = TRUE)) {
      return(paste(name, "beyond its range"))
    }
  }
  character()
}

case_numbers <- function(folder) {
  x <- odd_answers()
  act <- pick(names(ACTS_ON_NUMBERS))
  list(file = NULL, said = act, read = function(file) {
    got <- ACTS_ON_NUMBERS[[act]](x)
    utils::capture.output(print(got))
    got
  }, compare = impossible)
}

SHARES_OF_ACTS <- c(result_edited = 6, solution_edited = 2, stage_edited = .5,
  output_onto_input = 1, sqlite = 2, postgres = .5, session = .5, numbers = 6)
