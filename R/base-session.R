# Work that was interrupted and can go on in the same session: the pieces of the last such run,
# under a key that says what it was. Nothing is kept of a run that ended.

UNFINISHED <- new.env(parent = emptyenv())

unfinished_pieces <- function(key) if (identical(UNFINISHED$key, key)) UNFINISHED$pieces else list()

keep_unfinished <- function(key, pieces) {
  UNFINISHED$key <- key
  UNFINISHED$pieces <- pieces
}

forget_unfinished <- function() rm(list = ls(UNFINISHED), envir = UNFINISHED)
