# Data frames, and functions that hand out blocks, as sources.

open_frame <- function(x, asked) {
  done <- 0
  list(columns = names(x), take = function() {
    if (done >= nrow(x)) return(NULL)
    rows <- seq(done + 1, min(nrow(x), done + asked$rows))
    done <<- max(rows)
    block <- unclass(x)[asked$columns]
    # (`[` of a data frame looks at the names of all rows)
    some <- function(column) if (length(dim(column))) column[rows, , drop = FALSE] else column[rows]
    structure(if (length(rows) == nrow(x)) block else lapply(block, some), class = "data.frame",
      row.names = .set_row_names(length(rows)))
  }, close = function() NULL)
}

open_function <- function(x, asked) {
  ask <- function() {
    block <- x()
    if (is.null(block)) return(NULL)
    if (!is.data.frame(block)) {
      stop_input("source",
        "A function that hands out blocks must give data frames, and NULL at the end.",
        got = describe_value(block))
    }
    as.data.frame(block)
  }
  first <- ask()
  list(columns = names(first), take = function() {
    block <- first
    first <<- NULL
    if (is.null(block)) ask() else block
  }, close = function() NULL)
}
