# The page, as a browser shows it: what is clicked stands in the study file, what is shown is what a
# run of it finds; doors, conflicts and ends. (fixtures/sift-page.js clicks.)

skip_without_browser <- function() {
  modules <- Sys.getenv("SOFTSIEVE_NODE_MODULES")
  there <- nzchar(Sys.which("chromium")) && dir.exists(file.path(modules, "playwright-core"))
  packages <- c("shiny", "bslib", "later", "callr", "processx")
  installed <- all(vapply(packages, requireNamespace, NA, quietly = TRUE))
  skip_if(!there || !installed, "no browser, or no shiny")
}

# A page in a process of its own: its address, the process, and what it says.
opened_page <- function(study, env = parent.frame()) {
  log <- withr::local_tempfile(.local_envir = env)
  code <- "softsieve::open_page(commandArgs(TRUE)[1], browser = FALSE)"
  process <- processx::process$new("Rscript", c("-e", code, study), stdout = log, stderr = "2>&1")
  withr::defer(if (process$is_alive()) process$kill(), envir = env)
  address <- character()
  for (i in 1:300) {
    address <- grep("http", readLines(log, warn = FALSE), value = TRUE)
    if (length(address) || !process$is_alive()) break
    Sys.sleep(.1)
  }
  # (it answers a moment after it has said where it is)
  Sys.sleep(.7)
  list(url = sub(".*(http[^ ]*).*", "\\1", address), process = process, log = log)
}

clicked <- function(page, study, part) {
  script <- normalizePath(test_path("fixtures", "sift-page.js"))
  said <- system2("node", shQuote(c(script, page$url, Sys.getenv("SOFTSIEVE_NODE_MODULES"),
    Sys.which("chromium"), study, part)), stdout = TRUE)
  found <- jsonlite::fromJSON(said, simplifyMatrix = FALSE)
  expect_identical(found$errors, list(), label = part)
  expect_identical(found$elsewhere, list(), label = part)
  found
}

decisions_in <- function(text) yaml::yaml.load(text)$decisions

page_study <- function(env = parent.frame()) {
  dir <- withr::local_tempdir(.local_envir = env)
  file.copy(list.files(system.file("extdata", package = "softsieve"), full.names = TRUE), dir)
  # (few draws: it is about clicks)
  study <- read_study(file.path(dir, "repair_cafe_study.yml"))
  write_study(change_study(study, scales.replicates = 100, factors.replicates = 200))
}

test_that("what is clicked stands in the study file, and a run of it finds what the page shows", {
  skip_without_browser()
  study <- page_study()
  before <- readLines(study)
  page <- opened_page(study)
  doors <- clicked(page, study, "doors")
  expect_identical(doors$status, c(403L, 403L, 403L, 403L, 200L, 404L))
  expect_identical(doors$sockets, c(FALSE, FALSE, TRUE))

  found <- clicked(page, study, "sift")
  expect_match(found$weighed, "items 26 → 25explained 37 % → 38 %.*counted anew: 4")
  expect_identical(found$reason, "adequacy .44, below .50")
  expect_match(found$changes, "items 26 → 25", fixed = TRUE)
  made <- lapply(found$files, decisions_in)
  expect_identical(made$drop[[1]][c("drop", "why")], list(drop = "o2", why = found$reason))
  expect_match(made$drop[[1]]$numbers, "o2: communality .00", fixed = TRUE)
  expect_null(made$undo)
  expect_identical(made$redo, made$drop)
  expect_identical(made$pin[[2]][c("keep", "why")],
    list(keep = "p6", why = "the only item on both"))
  expect_identical(made$name[[3]][c("name", "as")], list(name = "F1", as = "tinkering"))
  expect_identical(made$move[[4]][c("move", "to")], list(move = "t4", to = "F2"))
  expect_identical(found$kept, 4L)
  expect_match(found$proposal, "^Next: o1 I like the coffee at the cafe: communality .0")
  expect_identical(made$rule[[5]]$drop, "o1")
  expect_identical(made$restore[[6]][c("restore", "why")],
    list(restore = "o2", why = "asked for by the board"))
  expect_gt(found$other, 3)
  expect_identical(made$number[[7]]$number, 3L)
  expect_match(found$back, "earlier state (after 0 decisions)", fixed = TRUE)
  expect_length(found$trail, 6)
  # comments and order stay: but for decisions the file is what it was
  now <- readLines(study)
  expect_identical(now[seq_along(before)], before)
  expect_identical(found$axe, list())
  expect_lte(found$wide, 0)
  expect_match(found$report, "volunteer at repair cafes")

  # the files are those of a run, and the page showed what stands in them
  written <- file.path(dirname(study), "results")
  again <- file.path(dirname(study), "again")
  expect_identical(withr::with_output_sink(withr::local_tempfile(),
    softsieve:::cli_main(c("run", study, "--out", again, "--quiet"))), 0L)
  tables <- list.files(again, "[.]csv$")
  expect_gt(length(tables), 10)
  expect_identical(unname(tools::md5sum(file.path(written, tables))),
    unname(tools::md5sum(file.path(again, tables))))
  pattern <- utils::read.csv(file.path(again, "pattern.csv"), check.names = FALSE)
  for (row in found$rows) {
    loadings <- unlist(pattern[pattern$item == row[[1]], c("tinkering", "F2", "F3", "F4")])
    shown <- ifelse(abs(loadings) < .3, "", softsieve:::format_unit(loadings))
    expect_identical(unlist(row[-1]), unname(shown), label = row[[1]])
  }
  scales <- utils::read.csv(file.path(again, "scales.csv"))
  unit <- softsieve:::format_unit
  for (i in seq_along(found$scales)) {
    expect_identical(unlist(found$scales[[i]][1:6]),
      c(scales$scale[i], scales$items[i], scales$n[i], unit(scales$omega[i]),
        paste(unit(scales$lower[i]), "to", unit(scales$upper[i])), unit(scales$alpha[i])))
  }
  items <- utils::read.csv(file.path(again, "scale_items.csv"))
  expect_identical(items$scale[items$item == "t4"], "F2")

  # a second page on the file reads only, and says whose it is
  other <- opened_page(study)
  told <- clicked(other, study, "readonly")
  expect_match(told$told, sprintf("process %d", page$process$get_pid()), fixed = TRUE)
  expect_identical(told$buttons, 0L)
  expect_identical(told$files$untouched, paste0(paste(now, collapse = "\n"), "\n"))
  other$process$kill()

  # what somebody else wrote meanwhile is lost only when that is asked for
  found <- clicked(page, study, "conflict")
  expect_identical(found$axe, list())
  expect_lte(found$wide, 0)
  expect_match(found$files$reloaded, "written by somebody else", fixed = TRUE)
  expect_identical(found$files$told, found$files$reloaded)
  mine <- decisions_in(found$files$mine)
  expect_length(mine, 7)

  # killed at any moment, the file is whole and opens again
  page$process$kill()
  expect_identical(read_study(study)$settings$decisions[[7]]$drop, mine[[7]]$drop)
  reopened <- opened_page(study)
  expect_true(reopened$process$is_alive())
  expect_false(identical(readLines(file.path(dirname(study), ".repair_cafe_study.yml.page",
    "process")), as.character(page$process$get_pid())))
})

test_that("a study begins from a file of answers, its columns as people say, wording as text", {
  skip_without_browser()
  dir <- withr::local_tempdir()
  answers <- file.path(dir, "people.csv")
  data <- repair_cafe[1:300, c("person", "cafe", paste0("m", 1:4), paste0("t", 1:4), "o1")]
  names(data)[3] <- "<img src=x onerror=alert(1)>"
  write_table(data, answers)
  page <- opened_page(answers)
  found <- clicked(page, file.path(dir, "people_study.yml"), "begin")
  roles <- stats::setNames(vapply(found$columns, `[[`, "", 2), vapply(found$columns, `[[`, "", 1))
  expect_identical(roles[c("person", "cafe", "m4", "o1")],
    c(person = "id", cafe = "group", m4 = "reversed", o1 = "item"))
  expect_setequal(unlist(found$items), setdiff(names(data), c("person", "cafe", "o1")))
  expect_identical(found$images, 0L)
  expect_identical(found$axe, list())
  study <- read_study(file.path(dir, "people_study.yml"))
  expect_length(run_study(change_study(study, scales.replicates = 0,
    factors.replicates = 40))$values$questionnaire$values$items$item, 8)
})

test_that("a page needs what it is made of, and names a port that can be", {
  study <- page_study()
  expect_error(open_page(study, port = 80, browser = FALSE), class = "softsieve_error_argument")
  expect_error(open_page(file.path(dirname(study), "none.yml"), browser = FALSE),
    class = "softsieve_error_file_missing")
  expect_error(open_page(study, browser = NA), class = "softsieve_error_argument")
})

test_that("names go with their factors where a decision changes their order", {
  page <- new.env()
  page$file <- page_study()
  page$holder <- 0L
  page$state <- 0L
  page$k <- 4L
  page$words <- softsieve:::page_words("en")
  softsieve:::take_up_file(page)
  page$study <- decide(decide(page$study, name = "F1", as = "thrift"), name = "F3", as = "mending")
  worker <- list2env(list(waiting = list(), page = page, busy = list(kind = "none", first = FALSE)))
  page$quick <- page$slow <- worker
  moved <- function(...) Map(function(from, to) list(from = from, to = to), names(c(...)), c(...))
  worker$session <- list(interrupt = function() NULL, poll_process = function(ms) "silent",
    is_alive = function() TRUE)
  expect_false(softsieve:::names_follow(page, list()))
  expect_true(softsieve:::names_follow(page, unname(moved(F3 = "F1", F1 = "F2", F2 = "F3"))))
  named <- Filter(function(one) !is.null(one$name), read_study(page$file)$settings$decisions)
  last <- vapply(utils::tail(named, 3), `[[`, "", "as")
  names(last) <- vapply(utils::tail(named, 3), `[[`, "", "name")
  expect_identical(last[c("F1", "F2", "F3")], c(F1 = "mending", F2 = "thrift", F3 = "F3"))
  page$closed <- TRUE
})

test_that("every sentence of the page is in both languages, and each that it asks for is there", {
  words <- softsieve:::catalogue("page")
  for (key in names(words)) expect_named(words[[key]], c("en", "de"), label = key)
  script <- softsieve:::packed_files("web")[["page.js"]]
  script <- paste(script, collapse = "\n")
  asked <- unlist(regmatches(script,
    gregexpr('(?<=say\\(")[a-z_0-9]+(?="[,)])', script, perl = TRUE)))
  expect_gt(length(asked), 60)
  # and what is put together there
  families <- list(did = names(softsieve:::DECISIONS), mark = names(softsieve:::MARKS),
    decide = setdiff(names(softsieve:::DECISIONS), "name"),
    role = sub(" ", "_", softsieve:::COLUMN_ROLES),
    verdict = c("mediocre", "middling", "meritorious", "marvelous", "miserable", "unacceptable"))
  made <- unlist(Map(paste, names(families), families, sep = "_"))
  expect_identical(setdiff(c(asked, made), names(words)), character())
  # rows and columns of measurements are called what they are, and what is put in stays
  called <- softsieve:::settle_called(c(row = "day", column = "gauge"), "cups")
  source <- list(called = called, items = "cups")
  for (key in names(words)) {
    put_in <- function(x) sort(regmatches(x, gregexpr("[{][a-z_]+[}]", x))[[1]])
    for (language in c("en", "de")) {
      text <- words[[key]][[language]]
      expect_identical(put_in(softsieve:::in_called(text, source, language)), put_in(text),
        label = key)
    }
  }
})

test_that("a port that is taken is refused", {
  socket <- serverSocket(28999)
  on.exit(close(socket))
  expect_error(softsieve:::free_port(28999L), "28999", class = "softsieve_error_argument")
})
