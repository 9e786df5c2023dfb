# Delimited text, a piece of the file at a time: what the first piece tells of encoding, delimiter
# and marks holds for all of it.

open_files <- function(x, asked) {
  files <- find_files(x)
  looks <- lapply(files, look_at_text, asked$text)
  one_header(files, looks)
  now <- NULL
  at <- 0L
  list(columns = looks[[1L]]$names, take = function() {
    repeat {
      if (is.null(now)) {
        if (at == length(files)) return(NULL)
        at <<- at + 1L
        now <<- open_text(files[at], looks[[at]], asked)
      }
      block <- now$take()
      if (!is.null(block)) return(block)
      now$close()
      now <<- NULL
    }
  }, close = function() if (!is.null(now)) now$close())
}

# Paths, some of them with * or ?, as the files that there are.
find_files <- function(x) {
  for (path in x) check_path(path)
  globs <- grepl("[*?]", x) & !file.exists(x)
  found <- unlist(Map(function(path, glob) if (glob) sort(Sys.glob(path)) else path, x, globs))
  empty <- x[globs][lengths(lapply(x[globs], Sys.glob)) == 0]
  if (length(empty)) {
    stop_input("file_missing", "A pattern of file names must find a file.",
      got = sprintf("None is like %s.", name_culprits(sprintf("\"%s\"", empty))))
  }
  for (file in found) check_file(file)
  unname(found)
}

# What the beginning of a file tells: encoding, delimiter, columns' names, marks of numbers, whether
# lines end in a carriage return alone, and how many bytes a person takes.
look_at_text <- function(file, asked) {
  kind <- kind_of_file(file)
  if (kind != "text" && !kind %in% PACKED) refuse_kind(file, kind)
  from <- gzfile(file, "rb")
  on.exit(close(from))
  bytes <- unpack_piece(from, file, 2^20)
  encoding <- asked$encoding
  if (is.null(encoding)) encoding <- guess_encoding(bytes)
  if (grepl("^(UTF-?16|UTF-?32|UCS)", encoding, ignore.case = TRUE)) {
    stop_input("encoding",
      "A file that is read in pieces must be in UTF-8, or in an encoding of one byte a letter.",
      got = sprintf("\"%s\" is in %s.", basename(file), encoding), todo = "Save it in UTF-8.")
  }
  whole <- length(bytes) < 2^20
  returns <- !any(bytes == LINE_FEED)
  end <- if (returns) CARRIAGE else LINE_FEED
  cut <- if (whole) length(bytes) else cpp_look_at_bytes(bytes, end)$last
  lines <- text_lines(decode_bytes(bytes[seq_len(cut)], encoding, basename(file), TRUE))
  if (!any(nzchar(trimws(lines)))) stop_no_header(file)
  delimiter <- asked$delimiter
  if (is.null(delimiter)) delimiter <- find_delimiter(utils::head(lines, 20L))
  few <- parse_lines(utils::head(lines, 2000L), delimiter, asked$missing)
  if (!ncol(few)) stop_no_header(file)
  check_column_names(names(few), basename(file))
  marks <- settle_marks(few, asked$decimal, asked$thousands)
  list(names = names(few), encoding = encoding, delimiter = delimiter, marks = marks, end = end,
    width = max(1, cut / max(1, length(lines))))
}

LINE_FEED <- as.raw(0x0a)
CARRIAGE <- as.raw(0x0d)

# Files that are read as one must have the same columns.
one_header <- function(files, looks) {
  other <- vapply(looks, function(look) !identical(look$names, looks[[1L]]$names), NA)
  if (!any(other)) return(invisible())
  at <- which(other)[1L]
  stop_input("items",
    "Files that are read together must have the same columns in the same order.",
    got = sprintf("\"%s\" has others than \"%s\": %s.", basename(files[at]), basename(files[1L]),
      name_culprits(c(setdiff(looks[[at]]$names, looks[[1L]]$names),
        setdiff(looks[[1L]]$names, looks[[at]]$names), "their order"))))
}

# A file as blocks of whole lines.
open_text <- function(file, look, asked) {
  at <- list2env(list(from = gzfile(file, "rb"), gzip = kind_of_file(file) == "gzip", sum = 0,
    bytes = 0, left = raw(), lines = 0, ended = FALSE))
  size <- max(2^10, min(2^28, ceiling(asked$rows * look$width)))
  list(take = function() {
    while (!at$ended) {
      bytes <- next_lines(at, file, look, size)
      if (!length(bytes)) next
      block <- parse_piece(bytes, file, look, asked$columns, at$lines)
      at$lines <- at$lines + block$lines
      if (length(block$data) && nrow(block$data)) return(block$data)
    }
    NULL
  }, close = function() close(at$from))
}

# The bytes of the next lines that are whole, some `size` of them.
next_lines <- function(at, file, look, size) {
  repeat {
    more <- unpack_piece(at$from, file, size)
    at$ended <- !length(more)
    check_unpacked(at, more, file)
    at$left <- c(at$left, more)
    cut <- if (at$ended) length(at$left) else cpp_look_at_bytes(at$left, look$end)$last
    if (cut || at$ended) break
    if (length(at$left) > MOST_WAITING) stop_open_quote(file, at$lines)
  }
  taken <- at$left[seq_len(cut)]
  at$left <- if (cut < length(at$left)) at$left[(cut + 1):length(at$left)] else raw()
  taken
}

# R does not tell where a gzip file was cut off: what it unpacks to is compared with its sum and
# size.
check_unpacked <- function(at, more, file) {
  if (!at$gzip) return(invisible())
  at$sum <- cpp_zip_sum(more, at$sum)
  at$bytes <- at$bytes + length(more)
  if (!at$ended) return(invisible())
  end <- gzip_end(file)
  if (at$bytes %% 2^32 == end$size && at$sum == end$sum) return(invisible())
  stop_damaged(file,
    "It unpacks to something else than was packed (or is put together of several packed files).")
}

# What an open quote may swallow before it is said to be one.
MOST_WAITING <- 2^26

stop_open_quote <- function(file, lines) {
  stop_input("ragged",
    "Every line of the file must be read as a line.",
    got = sprintf("\"%s\": from line %s on, 64 MB were taken for one cell.", basename(file),
      format_count(lines + 1)),
    todo = "Is a quote (\") left open there? Close it, or take it away.")
}

# Whole lines as a data frame of the wanted columns; `lines` of the file came before, the first of
# which is the header.
parse_piece <- function(bytes, file, look, wanted, lines) {
  header <- lines == 0
  is <- cpp_look_at_bytes(bytes, look$end)
  there <- is$ends + (bytes[length(bytes)] != look$end)
  plain <- !is$high && !is$zeros && identical(look$end, LINE_FEED)
  if (!plain) bytes <- charToRaw(decode_lines(bytes, file, look))
  data <- if (!is$quoted) read_numbers(bytes, look, wanted, header)
  if (!is.data.frame(data) || nrow(data) != there - header) {
    # something is not plain: the careful reader says what
    text <- rawToChar(bytes)
    Encoding(text) <- "UTF-8"
    data <- parse_carefully(text, file, look, wanted, header, lines)
  }
  list(data = data, lines = there)
}

decode_lines <- function(bytes, file, look) {
  text <- decode_bytes(bytes, look$encoding, basename(file), FALSE)
  if (identical(look$end, CARRIAGE)) gsub("\r", "\n", text, fixed = TRUE) else text
}

# The fast way: a data frame, or what stood in the way. Its reader is given a file of ours: a text
# that it is given may look like a command or an address to it.
read_numbers <- function(bytes, look, wanted, header) {
  refused <- function(e) conditionMessage(e)
  copy <- tempfile("softsieve-", fileext = ".txt")
  on.exit(unlink(copy, expand = FALSE), add = TRUE)
  write_own(copy, length(bytes), function(to) writeBin(bytes, to))
  hidden <- options(encoding = "native.enc")
  on.exit(options(hidden), add = TRUE)
  read <- function(...) {
    data.table::fread(file = copy, sep = look$delimiter, header = FALSE, skip = as.integer(header),
      ..., dec = look$marks$decimal, na.strings = c("", "NA"), blank.lines.skip = FALSE,
      keepLeadingZeros = TRUE, logical01 = FALSE, integer64 = "character", showProgress = FALSE,
      data.table = FALSE, nThread = 1L)
  }
  data <- tryCatch(
    {
      # (columns that are not asked for are not counted otherwise)
      if (ncol(read(nrows = 1L)) != length(look$names)) stop("another number of cells")
      read(select = match(wanted, look$names), col.names = wanted)
    },
    error = refused,
    warning = refused)
  if (is.character(data)) return(data)
  plain <- vapply(data, function(x) is.integer(x) || is.double(x) || all(is.na(x)), NA)
  if (all(plain)) data else "text"
}

# The way of read_responses(): every line accounted for.
parse_carefully <- function(text, file, look, wanted, header, before) {
  lines <- text_lines(text)
  names <- paste0("\"", look$names, "\"", collapse = look$delimiter)
  read <- columns_of_lines(if (header) lines else c(names, lines), file, look$delimiter, "NA",
    before - !header)
  columns <- stats::setNames(read$columns, look$names)
  as.data.frame(lapply(columns[wanted], tidy_column, marks = look$marks), check.names = FALSE)
}

# Files of kinds that others wrote the readers of (sheets, Parquet) are read in a process of its
# own, which a damaged file may end or keep without harm to this one.

# What `read(file, sheet)` gives: columns. It is a function that knows nothing of this session, or
# one of ours.
read_apart <- function(read, file, sheet, package) {
  for (needed in c("callr", package)) needs_reader(needed, file)
  refuse <- function(got) stop_damaged(file, got)
  seconds <- seconds_to_read(file)
  tryCatch(
    callr::r(read, list(normalizePath(file), sheet),
      package = identical(environment(read), topenv()), env = limits_apart(), timeout = seconds,
      error = "error"),
    error = function(e) refuse(why_not_read(e, seconds)))
}

seconds_to_read <- function(file) ceiling(6 + max(file.size(file), 0, na.rm = TRUE) / 2^20 * 5)

# A file that asks for more is none that holds answers.
limits_apart <- function() c(callr::rcmd_safe_env(), R_MAX_VSIZE = "4Gb")

# Several files after each other in one such process: take(file, coming, asked) gives what
# `read(file, asked)` does, and has the one that comes next read meanwhile.
reader_apart <- function(read) {
  environment(read) <- baseenv() # (nothing of what is here goes there)
  session <- NULL
  begun <- NULL
  ask <- function(file, asked) {
    begun <<- file
    session$call(function(read, file, asked, hand_over, to) hand_over(read(file, asked), to),
      list(read, normalizePath(file, mustWork = FALSE), asked, hand_over, tempfile("softsieve-")))
  }
  take <- function(file, coming, asked) {
    if (is.null(session)) {
      options <- callr::r_session_options(system_profile = FALSE, user_profile = FALSE,
        env = limits_apart())
      session <<- callr::r_session$new(options, wait = TRUE)
    }
    tryCatch({
      if (!identical(begun, file)) ask(file, asked)
      got <- answer_of(session, seconds_to_read(file), "Its reader broke down.")
      if (!is.na(coming)) ask(coming, asked)
      got
    }, error = function(e) stop_damaged(file, first_line(conditionMessage(e))))
  }
  list(take = take, close = function() if (!is.null(session)) session$kill())
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
