# A server of PostgreSQL of the tests' own: in a folder of its own, on a free port of the loopback
# address, started when the first test asks for it and stopped at the end of its file.

SERVER <- new.env()

# The address of its database; skips the test, with a word, where none can be had. Not `apart`: it
# is spoken to from this process, as workers do, which takes a fifth of the time.
local_postgres <- function(env = testthat::teardown_env(), apart = FALSE) {
  if (is.null(SERVER$address)) {
    start_postgres()
    withr::defer(SERVER$stop(), envir = env)
  }
  withr::local_options(softsieve.works = if (!apart) TRUE, .local_envir = parent.frame())
  withr::local_envvar(
    PGPASSWORD = SERVER$password,
    PGPASSFILE = "none",
    # (drivers ask the system for its time zone, which a bare machine does not know)
    TZ = "UTC",
    .local_envir = parent.frame())
  SERVER$address
}

start_postgres <- function() {
  bin <- dirname(utils::tail(sort(Sys.glob("/usr/lib/postgresql/*/bin/initdb")), 1L))
  if (!length(bin)) testthat::skip("no PostgreSQL server is installed here")
  client <- c("RPostgres", "adbcpostgresql")
  there <- vapply(client, requireNamespace, NA, quietly = TRUE)
  if (!any(there)) testthat::skip("neither RPostgres nor adbcpostgresql is installed here")
  # another user must get in, as the server refuses to be root's
  home <- tempfile("postgres-", tmpdir = dirname(tempdir()))
  dir.create(home)
  data <- file.path(home, "data")
  password <- file.path(home, "password")
  SERVER$password <- "quite secret here"
  writeLines(SERVER$password, password)
  root <- identical(system2("id", "-u", stdout = TRUE), "0")
  as <- if (root) "nobody"
  if (root) system2("chown", c("-R", "nobody", home))
  port <- parallelly::freePort()
  made <- as_user(as, file.path(bin, "initdb"), c("-D", data, "-U", "panel", "--auth=scram-sha-256",
    paste0("--pwfile=", password), "-E", "UTF8", "--locale=C", "--no-sync"))
  options <- paste("-p", port, "-c listen_addresses=127.0.0.1 -c fsync=off -c log_statement=all -c",
    paste0("unix_socket_directories=", home))
  SERVER$log <- file.path(home, "log")
  started <- made == 0 && as_user(as, file.path(bin, "pg_ctl"), c("-D", data, "-w", "-l",
    SERVER$log, "-o", shQuote(options), "start")) == 0
  if (!started) {
    unlink(home, recursive = TRUE)
    testthat::skip("the PostgreSQL server did not start here")
  }
  SERVER$port <- port
  SERVER$address <- sprintf("postgresql://panel@127.0.0.1:%d/postgres", port)
  SERVER$stop <- function() {
    as_user(as, file.path(bin, "pg_ctl"), c("-D", data, "-m", "immediate", "stop"))
    unlink(home, recursive = TRUE)
    rm(list = ls(SERVER), envir = SERVER)
  }
}

as_user <- function(user, program, args) {
  # (a sanitizer that is loaded into R is not the server's)
  withr::local_envvar(LD_PRELOAD = NA)
  if (!is.null(user)) {
    args <- c("-u", user, "--", program, args)
    program <- "runuser"
  }
  system2(program, args, stdout = FALSE, stderr = FALSE)
}

# What the server was told, as one text.
told_server <- function() paste(readLines(SERVER$log, warn = FALSE), collapse = "\n")

# A connection of the tests' own, to make tables by.
postgres_door <- function(env = parent.frame()) {
  door <- getFromNamespace("door_of", "softsieve")(SERVER$address, write = TRUE)
  withr::defer(door$close(), envir = env)
  door
}

# Makes a table of `data`.
put_table <- function(door, name, data) {
  door$run("SET client_min_messages TO warning")
  door$run(sprintf("DROP TABLE IF EXISTS %s CASCADE", paste(door$quote(name), collapse = ".")))
  door$create(name, as.data.frame(data))
  if (door$creates_empty) door$append(name, as.data.frame(data))
}
