# A connection in a process of its own. The client of PostgreSQL takes what a server says (names of
# columns, texts of errors) as a pattern of text: a percent sign in it can break the process, which
# is then not this one. And a server that says nothing any more can be left.

# Seconds that a server has beyond what its statements have.
PATIENCE <- 30
ENDED <- "The process that speaks to the database has ended."

# `connect(arguments)` makes a DBI connection there; it knows nothing of this session.
apart_door <- function(connect, arguments) {
  needs_package("callr", "Addresses of PostgreSQL")
  session <- spare_session()
  # (with this package's own it would load the package there)
  environment(connect) <- baseenv()
  ahead <- NULL
  # What is not an ERROR of the server's ended the connection; to ask it again could wait for ever.
  broken <- FALSE
  answer <- function() {
    tryCatch(answer_of(session, database_seconds() + PATIENCE, ENDED), error = function(e) {
      broken <<- broken || !grepl("ERROR:", conditionMessage(e), fixed = TRUE)
      stop(e)
    })
  }
  there <- function(what, ...) {
    if (broken) stop_apart("The connection is no more.")
    ended <- ahead
    ahead <<- NULL
    if (!is.null(ended)) answer()
    ask_apart(session, what, list(...))
    answer()
  }
  variables <- Sys.getenv()
  variables <- variables[grepl("^(PG|TZ$)", names(variables))]
  tryCatch(there("open", connect, arguments, variables), error = function(e) {
    session$kill()
    stop(e)
  })
  send <- function(sql, rows) {
    there("send", sql)
    list(take = function() {
      block <- there("take", rows)
      if (NROW(block)) plain_columns(block)
    }, close = function() try(there("end"), silent = TRUE))
  }
  # What is asked ahead is answered while the one before is worked on: `coming` is what comes after.
  ask_next <- function(sql, coming) {
    now <- if (identical(ahead, sql)) answer() else there("ask", sql)
    ahead <<- coming
    if (!is.null(coming)) ask_apart(session, "ask", list(coming))
    now
  }
  calls <- lapply(stats::setNames(nm = c("run", "quote", "tables", "begin", "create", "append",
    "commit", "rollback")), function(name) function(...) there(name, ...))
  ask <- function(sql) plain_columns(there("ask", sql))
  c(calls, list(ask = ask, send = send, ask_next = ask_next, engine = "postgresql",
    creates_empty = TRUE,
    close = function() {
      closed <- !broken && session$is_alive() && is.null(ahead) &&
        !inherits(try(there("close"), silent = TRUE), "try-error")
      if (closed) SPARE$session <- session else session$kill()
    }))
}

# It takes a second to begin one: the last that was closed is kept for the next connection.
SPARE <- new.env()

spare_session <- function() {
  spare <- SPARE$session
  SPARE$session <- NULL
  if (!is.null(spare) && spare$is_alive()) return(spare)
  session <- callr::r_session$new(
    callr::r_session_options(system_profile = FALSE, user_profile = FALSE), wait = TRUE)
  does <- do_apart
  environment(does) <- baseenv()
  session$run(function(does, hands) options(softsieve.does = does, softsieve.hands = hands),
    list(does, hand_over))
  session
}

ask_apart <- function(session, what, arguments) {
  if (!session$is_alive()) stop_apart(ENDED)
  session$call(SHORT_CALL, list(what, arguments, tempfile("softsieve-")))
}

# (what does the work is sent once, as it takes longer than most of what is asked)
SHORT_CALL <- function(what, arguments, to) {
  getOption("softsieve.hands")(getOption("softsieve.does")(what, arguments), to)
}

# In that process, which loads nothing of this package. What goes wrong in some drivers is a
# warning.
do_apart <- function(what, arguments) {
  one <- function(name) getOption(paste0("softsieve.", name))
  name_of <- function(table) {
    parts <- c("catalog", "schema", "table")[seq(to = 3L, length.out = length(table))]
    do.call(DBI::Id, stats::setNames(as.list(table), parts))
  }
  connection <- one("connection")
  done <- function(code) {
    force(code)
    TRUE
  }
  withCallingHandlers(switch(what,
    open = {
      # (as they are now: passwords stand there)
      was <- grep("^PG", names(Sys.getenv()), value = TRUE)
      Sys.unsetenv(was)
      if (length(arguments[[3L]])) do.call(Sys.setenv, as.list(arguments[[3L]]))
      done(options(softsieve.connection = do.call(arguments[[1L]], arguments[2L])))
    },
    ask = DBI::dbGetQuery(connection, arguments[[1L]]),
    run = DBI::dbExecute(connection, arguments[[1L]]),
    send = done(options(softsieve.sent = DBI::dbSendQuery(connection, arguments[[1L]]))),
    take = if (!DBI::dbHasCompleted(one("sent"))) DBI::dbFetch(one("sent"), arguments[[1L]]),
    end = DBI::dbClearResult(one("sent")),
    quote = as.character(DBI::dbQuoteIdentifier(connection, arguments[[1L]])),
    tables = DBI::dbListTables(connection), begin = DBI::dbBegin(connection),
    create = DBI::dbCreateTable(connection, name_of(arguments[[1L]]), arguments[[2L]]),
    append = DBI::dbAppendTable(connection, name_of(arguments[[1L]]), arguments[[2L]]),
    commit = DBI::dbCommit(connection), rollback = DBI::dbRollback(connection),
    close = DBI::dbDisconnect(connection)),
  warning = function(w) stop(conditionMessage(w), call. = FALSE))
}
