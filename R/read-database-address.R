# What an address of PostgreSQL holds: postgresql://user@host:port/database?name=value&...

# What may follow the question mark. (Options of the server's, files of passwords and services are
# none of an address's.)
ADDRESS_MAY_SAY <- c("sslmode", "sslrootcert", "sslcert", "sslkey", "sslcrl", "channel_binding",
  "connect_timeout", "application_name", "target_session_attrs", "hostaddr", "host", "port", "user",
  "dbname", "gssencmode", "krbsrvname")

parts_of_address <- function(address) {
  form <- "^[a-z]+://(([^@/]*)@)?(\\[[^]]*\\]|[^:/?]*)(:([0-9]+))?(/([^?]*))?([?](.*))?$"
  part <- regmatches(address, regexec(form, address))[[1L]][c(3L, 4L, 6L, 8L)]
  if (all(is.na(part))) {
    stop_input("source", "An address must be postgresql://user@host:port/database.",
      got = describe_value(address), todo = "A port is a number; a / in a name is %2F.")
  }
  parts <- stats::setNames(as.list(part), c("user", "host", "port", "dbname"))
  parts$host <- gsub("^\\[|\\]$", "", parts$host)
  more <- sub("^[^?]*[?]?", "", address)
  pairs <- strsplit(strsplit(more, "&", fixed = TRUE)[[1L]], "=", fixed = TRUE)
  for (pair in pairs[lengths(pairs) > 0L]) parts[[pair[1L]]] <- paste(pair[-1L], collapse = "=")
  parts <- parts[!is.na(parts) & nzchar(parts)]
  parts <- lapply(parts, function(x) suppressWarnings(utils::URLdecode(x)))
  check_parts(parts)
  parts
}

# The client takes what it says as a pattern of text, in which % stands for something else.
check_parts <- function(parts) {
  odd <- setdiff(names(parts), ADDRESS_MAY_SAY)
  if (length(odd)) {
    stop_input("source", "An address may hold after its ? only what is known.",
      got = sprintf("Not known: %s.", name_culprits(odd)),
      todo = sprintf("These are: %s.", join_words(ADDRESS_MAY_SAY)))
  }
  text <- unlist(parts)
  bad <- !validUTF8(text) | grepl("[%[:cntrl:]]", text)
  if (any(bad, na.rm = TRUE)) {
    stop_input("source", "An address must hold no percent sign and no control character.",
      got = sprintf("Not so, once decoded: %s.", name_culprits(names(parts)[bad])),
      todo = "Such names go by a connection of your own, passwords by the variable PGPASSWORD.")
  }
}

# How long one statement may take, and how long a table may be locked by somebody else.
DATABASE_SECONDS <- 900
LOCK_SECONDS <- 20
database_seconds <- function() {
  asked <- getOption("softsieve.database_seconds", DATABASE_SECONDS)
  check_number(asked, "softsieve.database_seconds", 0.1, 1e6)
  asked
}
