#' Read a correlation matrix
#'
#' Reads a matrix as people keep one: whole, or a triangle; names in the first row, in the first
#' column, or both (the corner may be empty or named); commas, semicolons, tabs or blanks between.
#'
#' @param file Path of a text file, or of a sheet ([read_responses()] reads those).
#' @param which Of a file that holds several, parted by empty lines: which.
#' @return A square matrix with the items' names, for [correlate_items()].
#' @section Errors: `softsieve_error_matrix` (no matrix, several and `which` does not say which),
#'   those of [read_responses()].
#' @family reading
#' @examples
#' file <- tempfile(fileext = ".csv")
#' writeLines(c("item,m1,m2,m3", "m1,1", "m2,.5,1", "m3,.4,.3,1"), file)
#' correlate_items(read_matrix(file), n = 260)
#' @export
read_matrix <- function(file, which = NULL) {
  check_file(file)
  if (!is.null(which)) which <- check_whole(which, "which", 1L)
  ending <- lower(tools::file_ext(file))
  if (ending %in% c("xlsx", "xls", "ods")) {
    data <- read_responses(file)
    rows <- do.call(cbind, lapply(data, as.character))
    return(matrix_of_cells(rbind(names(data), rows), basename(file)))
  }
  lines <- decode_file(file, NULL)$lines
  filled <- nzchar(trimws(gsub("[,;\t]", "", lines)))
  block <- cumsum(!filled)[filled]
  blocks <- unname(split(lines[filled], block))
  if (length(blocks) > 1L && is.null(which) || isTRUE(which > length(blocks))) {
    stop_input("matrix", "A file of several matrices needs to be told which one.",
      got = sprintf("%s are there, of %s lines, parted by empty lines.",
        count_of(length(blocks), "matrix", "matrices"), join_words(lengths(blocks))),
      todo = "Give `which`, or a file for each.")
  }
  if (!length(blocks)) stop_no_matrix(basename(file), "It has no lines.")
  matrix_of_cells(cells_of_lines(blocks[[if (is.null(which)) 1L else which]]), basename(file))
}

stop_no_matrix <- function(name, got) {
  stop_input("matrix", sprintf("%s must hold a correlation matrix.", name), got = got,
    todo = "Numbers in a square or a triangle, with names in the first row or column, or without.")
}

# Lines as a table of text: by the mark that most lines have, or by blanks.
cells_of_lines <- function(lines) {
  marks <- c("\t", ";", ",")
  has <- vapply(marks, function(mark) mean(grepl(mark, lines, fixed = TRUE)), 0)
  # (semicolons stand beside decimal commas)
  mark <- if (any(has >= 0.5)) marks[which(has >= 0.5)[1L]] else ""
  if (identical(mark, ";") && !any(grepl("[0-9][.][0-9]", lines))) {
    lines <- gsub("([0-9]),([0-9])", "\\1.\\2", lines)
  }
  parts <- lapply(lines, function(line) {
    scan(text = line, what = "", sep = mark, quiet = TRUE, quote = "\"", strip.white = TRUE,
      na.strings = character())
  })
  widest <- max(lengths(parts))
  do.call(rbind, lapply(parts, function(part) c(part, rep("", widest - length(part)))))
}

# A table of text as a matrix: names where there are letters, a triangle mirrored.
matrix_of_cells <- function(cells, name) {
  cells[is.na(cells)] <- ""
  cells <- trimws(cells)
  is_text <- function(x) any(nzchar(x) & is.na(suppressWarnings(as.numeric(x))))
  head <- is_text(cells[1L, -1L])
  side <- is_text(if (head) cells[-1L, 1L] else cells[, 1L])
  above <- if (head) cells[1L, ]
  beside <- if (side) cells[if (head) -1L else TRUE, 1L]
  body <- cells[if (head) -1L else TRUE, if (side) -1L else TRUE, drop = FALSE]
  if (is_text(body)) {
    text <- body[nzchar(body) & is.na(suppressWarnings(as.numeric(body)))]
    stop_no_matrix(name, sprintf("It holds text: %s.", name_culprits(unique(text))))
  }
  p <- nrow(body)
  # names above columns may begin at the first, where the corner was left out
  above <- above[nzchar(above)]
  if (length(above) == p + 1L) above <- above[-1L]
  body <- body[, colSums(matrix(nzchar(body), p)) > 0L, drop = FALSE]
  if (ncol(body) != p) {
    stop_no_matrix(name, sprintf("It has %s and %s of numbers.", count_of(p, "row"),
      count_of(ncol(body), "column")))
  }
  r <- matrix(suppressWarnings(as.numeric(body)), p)
  # an upper triangle may be written from the left
  if (all(rowSums(!is.na(r)) == p:1) && anyNA(r[1L:p, p]) && p > 1L) {
    for (i in seq_len(p)) r[i, ] <- c(rep(NA, i - 1L), r[i, seq_len(p - i + 1L)])
  }
  named <- if (length(beside) == p) beside else if (length(above) == p) above
  dimnames(r) <- list(named, named)
  r
}
