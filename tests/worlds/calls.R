# Every exported function called on everything of a world that it may take.

new_log <- function(world) {
  log <- new.env()
  log$world <- world
  log$wrong <- character()
  log$calls <- 0L
  log
}
wrong <- function(log, what, how) {
  how <- gsub("\\s+", " ", paste(how, collapse = " "))
  log$wrong <- c(log$wrong, sprintf("%s: %s: %s", log$world, what, substr(how, 1L, 300L)))
}

# R's own words, in what a person reads.
OWN_WORDS <- paste("object '", "subscript", "non-numeric", "argument is", "argument \"",
  "replacement has", "NULL", "character\\(0\\)", "numeric\\(0\\)", "\\bNaN\\b", "\\bInf\\b",
  "\\bNA\\b", "if \\(", "list\\(", "TRUE/FALSE", "could not find", "dimnames", "closure", sep = "|")

# What came back; NULL after a classed error, and a line in the log for anything else.
attempt <- function(call, what, log) {
  log$calls <- log$calls + 1L
  tryCatch(
    withCallingHandlers(call(), warning = function(w) {
      if (!inherits(w, "softsieve_warning")) wrong(log, what, c("warns:", conditionMessage(w)))
      invokeRestart("muffleWarning")
    }, message = function(m) invokeRestart("muffleMessage")),
    softsieve_error = function(e) {
      said <- conditionMessage(e)
      if (grepl(OWN_WORDS, gsub("\"[^\"]*\"|`[^`]*`", "", said))) wrong(log, what, c("says:", said))
      NULL
    },
    error = function(e) {
      wrong(log, what, c("R's own error:", conditionMessage(e)))
      NULL
    })
}

# Arguments that make a call light, by name; those that a call cannot do without, by name.
LIGHT <- list(replicates = 20L, samples = 20L, starts = 2L, seed = 1L, threads = 1L, halves = 2L,
  passes = 2L, level = NULL, n = NULL)
LIGHT[c("level", "n")] <- NULL
nrow_of <- function(pool) {
  q <- pool[["questionnaire"]]
  if (is.null(q)) 1L else nrow(q$values$answers)
}
needed_by <- function(world, pool, dir) {
  first <- function(class) pool[[class]]
  items <- if (!is.null(first("questionnaire"))) first("questionnaire")$values$items$item
  list(
    data = if (is.null(first("questionnaire"))) world$answers else first("questionnaire"),
    components = 1L, factors = if (is.null(items) || length(items) > 4L) 2L else 1L, why = "tried",
    items = utils::head(items, 1L), file = tempfile(tmpdir = dir, fileext = ".csv"),
    folder = tempfile(tmpdir = dir), name = "mine", label = "mine", measure = function(x) 0,
    limit = 1, statistic = function(r) r$values$correlations[1L, 2L], answers = "answers.csv",
    table = "answers", to = 2L, source = world$answers, outcome = seq_len(nrow_of(pool)), row = 1L,
    by = rep(c("a", "b"), length.out = nrow_of(pool)),
    into = tempfile(tmpdir = dir, fileext = ".csv"), size = 2L)
}
# (what reads files, asks a database, or is about no result is driven by verbs and by other tests)
ELSEWHERE <- c("database_table", "draw_tables", "begin_study", "read_study", "read_codebook",
  "read_responses", "read_matrix", "read_loadings", "read_solution", "sample_people", "write_study",
  "change_study", "decide", "run_study", "write_results", "carry_back", "open_page")

OTHERS <- c("as_tibble", "augment", "glance", "tidy")

everything_called <- function(world, log) {
  dir <- tempfile()
  dir.create(dir)
  pool <- begin_with(world, log)
  exported <- setdiff(getNamespaceExports("softsieve"), c(ELSEWHERE, "plot"))
  exported <- sort(exported[vapply(exported, function(f) is.function(get(f)), NA)])
  tried <- character()
  repeat {
    before <- length(pool)
    for (name in exported) {
      for (of in names(pool)) {
        key <- paste(name, of)
        if (key %in% tried) next
        tried <- c(tried, key)
        got <- call_on(name, pool[[of]], of, world, pool, dir, log)
        pool <- remember(pool, got)
      }
    }
    if (length(pool) == before) return(pool)
  }
}

begin_with <- function(world, log) {
  pool <- list()
  if (!is.null(world$answers)) {
    q <- attempt(function() do.call(questionnaire, c(list(world$answers), world$how)),
      "questionnaire()", log)
    # (first: what is made of it knows its codebook)
    pool$questionnaire <- q
    pool$data.frame <- world$answers
    if (!is.null(world$missing) && !is.null(q)) {
      pool$item_correlations <- correlate_items(q, missing = world$missing)
    }
  }
  if (is.matrix(world$start)) {
    pool$item_correlations <- correlate_items(world$start, n = world$n)
  } else {
    pool <- remember(pool, world$start)
  }
  remember(pool, world$solution)
}

remember <- function(pool, got) {
  class <- class(got)[1L]
  if (inherits(got, "softsieve_result") || inherits(got, "questionnaire")) {
    if (is.null(pool[[class]])) pool[[class]] <- got
  }
  pool
}

call_on <- function(name, object, of, world, pool, dir, log) {
  f <- get(name, envir = asNamespace("softsieve"))
  takes <- names(formals(f))
  if (!length(takes)) return(attempt(function() f(), paste0(name, "()"), log))
  # (what other packages declare has methods for some classes)
  if (name %in% OTHERS && is.null(getS3method(name, of, optional = TRUE))) return(NULL)
  needed <- needed_by(world, pool, dir)
  bare <- vapply(formals(f), function(v) is.name(v) && !nzchar(as.character(v)), NA)
  others <- setdiff(takes[bare], c(takes[1L], "..."))
  unknown <- setdiff(others, c(names(needed), names(pool)))
  arguments <- c(needed[intersect(others, names(needed))],
    LIGHT[intersect(takes[-1L], names(LIGHT))])
  # (a matrix alone has no answers that could be given)
  if (any(c("data", "responses") %in% takes[-1L]) && is.null(needed$data)) return(NULL)
  if (length(unknown)) wrong(log, name, c("no value known for", unknown))
  if (name == "augment") arguments$data <- needed$data
  object <- rep(list(object), if (takes[1L] == "...") 2L else 1L)
  attempt(function() do.call(f, c(object, arguments), quote = TRUE), sprintf("%s(<%s>)", name, of),
    log)
}
