# Files of kinds that others wrote the readers of (sheets, Parquet) are read in a process of its
# own, which a damaged file may end or keep without harm to this one.

# What `read(file, sheet)` gives: columns. It is a function that knows nothing of this session, or
# one of ours.
read_apart <- function(read, file, sheet, package) {
  for (needed in c("callr", package)) needs_reader(needed, file)
  refuse <- function(got) stop_damaged(file, got)
  seconds <- ceiling(6 + file.size(file) / 2^20 * 5)
  tryCatch(
    callr::r(
      read, list(normalizePath(file), sheet),
      package = identical(environment(read), topenv()),
      # a file that asks for more is none that holds answers
      env = c(callr::rcmd_safe_env(), R_MAX_VSIZE = "4Gb"),
      timeout = seconds,
      error = "error"),
    error = function(e) refuse(why_not_read(e, seconds)))
}

why_not_read <- function(e, seconds) {
  if (inherits(e, "callr_timeout_error")) {
    return(sprintf("It was not read within %s seconds.", format(seconds)))
  }
  why <- if (inherits(e, "callr_status_error")) e$parent else e
  said <- if (!is.null(why)) strsplit(conditionMessage(why), "\n", fixed = TRUE)[[1L]]
  c(said[nzchar(said)], "Its reader broke down.")[1L]
}

needs_reader <- function(package, file) {
  if (requireNamespace(package, quietly = TRUE)) return(invisible())
  stop_input("reader",
    sprintf("Files like \"%s\" are read by the package %s, which must be installed.",
      basename(file), package),
    got = "It is not.",
    todo = sprintf("install.packages(\"%s\"), or save the file as CSV.", package))
}

# Zip files: "xlsx", "ods" or "zip", by what is in them. What they would unpack to has a limit.
kind_of_zip <- function(file) {
  damaged <- function(e) stop_damaged(file, "It is not a whole zip file, which sheets are.")
  inside <- tryCatch(utils::unzip(file, list = TRUE), error = damaged, warning = damaged)
  # sheets pack some twenty times
  most <- min(MOST_BYTES, max(2^26, 200 * file.size(file)))
  if (nrow(inside) > 1e4 || anyNA(inside$Length) || sum(inside$Length) > most) {
    stop_too_large(file, "bytes unpacked", most)
  }
  check_sheets(file)
  if ("xl/workbook.xml" %in% inside$Name) return("xlsx")
  if ("content.xml" %in% inside$Name) return("ods")
  stop_input("reader", "A zip file must be a sheet (XLSX or ODS).",
    got = sprintf("In \"%s\": %s.", basename(file), name_culprits(inside$Name, 3L)),
    todo = "Unpack it, and read the file that holds the answers.")
}

# Whole, and of no more columns and cells than can be meant: a sheet may hold one cell at its very
# end, which makes all the others.
check_sheets <- function(file) {
  wrong <- wrong_in_zip(file, function(name, bytes) {
    if (!grepl("^xl/worksheets/", name)) return(invisible())
    reach <- reach_of_sheet(bytes)
    if (reach[["columns"]] > MOST_COLUMNS) stop_too_large(file, "columns")
    if (prod(reach) > MOST_CELLS) stop_too_large(file, "cells")
  })
  if (length(wrong)) stop_damaged(file, sprintf("It is damaged: %s.", wrong))
}

# How far a sheet's XML says that it reaches: columns by cells of three letters, rows by their own
# numbers; at least 702 and 99,999, which need no look.
reach_of_sheet <- function(bytes) {
  found <- function(pattern) {
    hits <- grepRaw(pattern, bytes, all = TRUE, value = TRUE)
    unique(gsub("[^A-Z0-9]", "", sub("^.*r=", "", vapply(hits, rawToChar, ""))))
  }
  letters <- sub("[0-9]+$", "", found("<c r=\"[A-Z]{3}[0-9]+\""))
  columns <- vapply(strsplit(letters, ""), function(x) sum((match(x, LETTERS)) * 26^(2:0)), 0)
  rows <- as.numeric(found("<row r=\"[0-9]{6,9}\""))
  c(columns = max(702, columns), rows = max(99999, rows))
}
