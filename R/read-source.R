# Where answers come from a block of people at a time. A source is a spec whose name starts with
# SOURCE_ (base-registry.R): name, label and order, and
#
#   takes    function(x): is it one?
#   package  what it needs beside softsieve, or NULL
#   open     function(x, asked, call): opens it. asked: rows (people in a block, about), columns
#            (their names) and text (how delimited text is read)
#
# What open() gives is a list: `columns` (names of all that the source has), `take` (a function
# without arguments: the next block as a data frame, or NULL at the end) and `close` (a function
# without arguments, called once). `asked` is an environment: its columns are known before the first
# block is taken.

SOURCE_FRAME <- spec(name = "frame", label = "a data frame", order = 1, takes = is.data.frame,
  package = NULL,
  open = function(x, asked, call) {
    done <- 0
    list(columns = names(x), take = function() {
      if (done >= nrow(x)) return(NULL)
      rows <- seq(done + 1, min(nrow(x), done + asked$rows))
      done <<- max(rows)
      as.data.frame(x)[rows, asked$columns, drop = FALSE]
    }, close = function() NULL)
  })

SOURCE_FUNCTION <- spec(name = "function", label = "a function that hands out blocks", order = 2,
  takes = is.function, package = NULL,
  open = function(x, asked, call) {
    ask <- function() {
      block <- x()
      if (is.null(block)) return(NULL)
      if (!is.data.frame(block)) {
        stop_input("source",
          "A function that hands out blocks must give data frames, and NULL at the end.",
          got = describe_value(block), call = call)
      }
      as.data.frame(block)
    }
    first <- ask()
    list(columns = names(first), take = function() {
      block <- first
      first <<- NULL
      if (is.null(block)) ask() else block
    }, close = function() NULL)
  })

source_of <- function(x, call = caller_env()) {
  found <- Find(function(one) one$takes(x), specs("source"))
  if (is.null(found)) {
    labels <- vapply(specs("source"), `[[`, "", "label")
    stop_input("source",
      sprintf("`source` must be one of: %s.", paste(labels, collapse = ", ")),
      got = describe_value(x), todo = "For example the path of a CSV file.", call = call)
  }
  if (!is.null(found$package)) needs_package(found$package, "Such sources", call)
  found
}

# Opens a source, asks `choose(columns)` which of its columns are wanted, calls `each(block, first)`
# for every block (first: how many people came before), and closes it, whatever happens. Returns how
# many people came. What breaks in between is an error that says how far it came.
read_blocks <- function(x, choose, each, call, rows = 1e5, text = list()) {
  asked <- list2env(list(rows = rows, columns = NULL, text = text))
  opened <- source_of(x, call)$open(x, asked, call)
  on.exit(opened$close(), add = TRUE)
  asked$columns <- choose(opened$columns)
  people <- 0
  repeat {
    block <- tryCatch(opened$take(), error = function(e) {
      if (inherits(e, "softsieve_error")) rlang::cnd_signal(e)
      stop_broken(e, people, call)
    })
    if (is.null(block)) break
    if (!nrow(block)) next
    each(block[asked$columns], people)
    people <- people + nrow(block)
    # large blocks go before the next comes, and not when it has come
    large <- as.numeric(nrow(block)) * ncol(block) > 1e6
    rm(block)
    if (large) gc(verbose = FALSE)
  }
  people
}

stop_broken <- function(e, people, call) {
  stop_input("source",
    "The source must give its answers to the end.",
    got = sprintf("After %s it said: %s", count_of(people, "person", "people"),
      first_line(conditionMessage(e))),
    todo = paste(
      "Is the connection still there? Run it again; scores that go into a CSV file go on where",
      "they stopped."),
    call = call)
}
