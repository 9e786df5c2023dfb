# The cases of tools/fuzz.R. Each is a list of its kind, a file, read(file), and compare(got): what
# is not as it was put in, in words.

BOOK <- system.file("extdata", "repair_cafe_codebook.csv", package = "softsieve")
STUDY <- system.file("extdata", "repair_cafe_study.yml", package = "softsieve")
EXTDATA <- dirname(STUDY)

pick <- function(x) x[[sample.int(length(x), 1L)]]
chance <- function(share) stats::runif(1L) < share
nothing <- function(got) character()

# What breaks readers: marks, bytes, words that mean something to somebody.
ODDITIES <- list("\"", "\"\"", "'", ",", ";", "\t", "|", "\n", "\r", "\r\n", "\n\n", " ", "\\", "/",
  "..1", "...", "NA", "NaN", "Inf", "-", "1e999", "1e-999", "2147483648", "-2147483648",
  "9007199254740993", "12345678901234567890", "0x1f", "007", "1,5", "1.234,5", "=1+1", "@x", "+x",
  "<b>", "&amp;", "{", "}", "[", "]", ":", "- ", "#", "&a", "*a", "!!int", "!expr 1", "<<: *a",
  "? ", "%", "~", "yes", "null", "true", "{\"a\":1}", "[[[[", "\u00e9", "\u4e2d", "\u202e",
  "\u200d", "\U1F600", as.raw(0x00), as.raw(0x1b), as.raw(0x07), as.raw(0x7f), as.raw(0x81),
  as.raw(0x8d), as.raw(0xff), as.raw(c(0xef, 0xbb, 0xbf)), as.raw(c(0xff, 0xfe)),
  as.raw(c(0xc3, 0x28)), as.raw(c(0xed, 0xa0, 0x80)), as.raw(c(0xf4, 0x90, 0x80, 0x80)),
  strrep("a", 5000L), strrep("9", 400L), strrep("[", 3000L), strrep("- ", 500L), strrep("\"", 101L),
  strrep("\n", 300L))

odd_bytes <- function() {
  one <- pick(ODDITIES)
  if (is.raw(one)) one else charToRaw(enc2utf8(one))
}

# One change of a file's bytes.
mutate_once <- function(bytes) {
  n <- length(bytes)
  if (n < 4L) return(c(bytes, odd_bytes()))
  at <- sample.int(n, 1L)
  long <- min(n - at, sample(c(1L, 3L, 20L, 200L), 1L))
  part <- bytes[at + seq_len(long) - 1L]
  rest <- if (at + long <= n) bytes[(at + long):n] else raw()
  first <- bytes[seq_len(at - 1L)]
  switch(sample.int(7L, 1L), c(first, odd_bytes(), bytes[at:n]), c(first, odd_bytes(), rest),
    c(first, rest), c(first, part, part, rest), first,
    {
      bytes[at] <- as.raw(sample(0:255, 1L))
      bytes
    },
    {
      bytes[at] <- xor(bytes[at], as.raw(2L^sample(0:7, 1L)))
      bytes
    })
}

mutate <- function(bytes) {
  for (i in seq_len(sample(c(1L, 1L, 2L, 5L), 1L))) bytes <- mutate_once(bytes)
  bytes
}

bytes_of <- function(file) readBin(file, "raw", file.size(file))
put_bytes <- function(bytes, folder, ending) {
  file <- tempfile("case-", folder, paste0(".", ending))
  writeBin(bytes, file)
  file
}

# Lines that no quote makes ambiguous, split as anybody would by hand: what must have been read.
by_hand <- function(file, delimiter) {
  bytes <- bytes_of(file)
  if (any(bytes >= as.raw(0x80)) || any(bytes == as.raw(0x22))) return(NULL)
  lines <- strsplit(gsub("\r\n?", "\n", rawToChar(bytes)), "\n", fixed = TRUE)[[1L]]
  lines <- lines[nzchar(trimws(lines))]
  cells <- strsplit(paste0(lines, delimiter, "end"), delimiter, fixed = TRUE)
  if (length(unique(lengths(cells))) != 1L) return(NULL)
  table <- do.call(rbind, cells)
  matrix(trimws(table[, -ncol(table)]), length(lines))
}

same_cells <- function(got, hand) {
  reading <- attr(got, "reading")
  repeated <- sum(reading$value[reading$code == "header_repeated"])
  worded <- "wording_row" %in% reading$code
  if (nrow(got) != nrow(hand) - 1L - repeated - worded) return("the number of people")
  if (repeated || worded) return(character())
  put <- lapply(seq_along(got), function(j) hand[-1L, j])
  wrong <- unlist(Map(wrong_in_column, as.list(got), put))
  if (length(wrong)) paste(wrong[1L], "in column", names(wrong)[1L])
}

wrong_in_column <- function(is, put) {
  if (any(is.na(is) != (put == "" | put == "NA"))) return("missing answers")
  there <- !is.na(is)
  if (is.character(is)) return(if (!identical(is[there], put[there])) "text")
  plain <- grepl("^[-+]?[0-9]+([.][0-9]*)?$", put[there])
  if (any(is[there][plain] != as.numeric(put[there][plain]))) return("numbers")
  digits <- nchar(sub("[.].*$", "", gsub("^[-+]?0*", "", put[there][plain])))
  if (any(digits > 15L)) "digits"
}

answers_table <- function() {
  rows <- sample.int(840L, sample(3:60, 1L))
  columns <- c("person", "cafe", paste0("m", 1:6), paste0("t", 1:6))
  columns <- columns[sort(sample.int(14L, sample(2:14, 1L)))]
  as.data.frame(repair_cafe)[rows, columns, drop = FALSE]
}

text_of <- function(table, delimiter = ",", ends = "\n", na = "") {
  cells <- vapply(table, function(x) ifelse(is.na(x), na, as.character(x)), character(nrow(table)))
  cells <- matrix(cells, nrow(table))
  lines <- c(paste(names(table), collapse = delimiter),
    apply(cells, 1L, paste, collapse = delimiter))
  paste0(paste(lines, collapse = ends), ends)
}

case_csv_mutated <- function(folder) {
  delimiter <- pick(c(",", ";", "\t", "|"))
  bytes <- mutate(charToRaw(text_of(answers_table(), delimiter, pick(c("\n", "\r\n", "\r")))))
  file <- put_bytes(bytes, folder, pick(c("csv", "tsv", "txt", "dat", "xlsx")))
  list(file = file, read = read_responses, compare = function(got) {
    found <- attr(got, "reading")
    how <- found$text[found$code == "how_read"][1L]
    marks <- c(comma = ",", semicolon = ";", tab = "\t", bar = "|")
    name <- sub("^.*cells split at ([a-z]+).*$", "\\1", how)
    hand <- by_hand(file, marks[[name]])
    if (is.null(hand) || ncol(hand) != ncol(got)) character() else same_cells(got, hand)
  })
}

# the same files in blocks: what read_responses() reads of them, however the pieces fall
case_blocks_mutated <- function(folder) {
  case <- case_csv_mutated(folder)
  whole <- function() {
    tryCatch(read_responses(case$file, header_rows = 1L), softsieve_error = function(e) NULL)
  }
  list(file = case$file,
    read = function(file) sample_people(file, 1e6, seed = 1, rows = pick(c(10, 30, 1e5))),
    compare = function(got) {
      put <- whole()
      if (is.null(put)) return("what is refused elsewhere is read here")
      if (!identical(names(got), names(put))) return("the columns")
      if (nrow(got) != nrow(put)) return("the number of people")
      same <- function(x, y) {
        if (is.numeric(x) && is.numeric(y)) return(isTRUE(all.equal(x + 0, y + 0)))
        identical(as.character(x), as.character(y))
      }
      wrong <- names(put)[!unlist(Map(same, as.list(got), as.list(put)))]
      if (length(wrong)) paste("column", wrong[1L])
    })
}

# a table of odd text, quoted as it should be: it must come back as it was
case_csv_made <- function(folder) {
  cell <- function() paste0("x", odd_word(), "y")
  n <- sample(2:12, 1L)
  p <- sample(2:6, 1L)
  body <- matrix(vapply(seq_len(n * p), function(i) cell(), ""), n)
  quoted <- function(x) paste0("\"", gsub("\"", "\"\"", x, fixed = TRUE), "\"")
  lines <- c(paste(quoted(paste0("c", seq_len(p))), collapse = ";"),
    apply(body, 1L, function(row) paste(quoted(row), collapse = ";")))
  file <- put_bytes(charToRaw(paste0(paste(lines, collapse = "\n"), "\n")), folder, "csv")
  list(file = file,
    read = function(file) read_responses(file, delimiter = ";", header_rows = 1L),
    compare = function(got) {
      put <- unname(gsub("\r\n?", "\n", body))
      is <- unname(as.matrix(as.data.frame(got)))
      if (!identical(dim(is), dim(put))) return("the size")
      if (!all(is == put)) "a cell"
    })
}

case_json_mutated <- function(folder) {
  table <- answers_table()
  lines <- vapply(seq_len(nrow(table)), function(i) {
    jsonlite::toJSON(as.list(table[i, ]), auto_unbox = TRUE, na = "null")
  }, "")
  bytes <- mutate(charToRaw(paste0(paste(lines, collapse = "\n"), "\n")))
  file <- put_bytes(bytes, folder, pick(c("json", "jsonl", "ndjson")))
  list(file = file, read = read_responses, compare = function(got) {
    bytes <- bytes_of(file)
    lines <- strsplit(rawToChar(bytes[bytes != as.raw(0L)]), "[\r\n]", useBytes = TRUE)[[1L]]
    if (nrow(got) != sum(nzchar(gsub("[ \t]", "", lines, useBytes = TRUE)))) "people"
  })
}

case_sheet_mutated <- function(folder) {
  table <- answers_table()
  file <- tempfile("case-", folder, ".xlsx")
  writexl::write_xlsx(table, file)
  writeBin(mutate(bytes_of(file)), file)
  list(file = file, read = read_responses, compare = function(got) {
    # sums tell of every change, so what is read is what was there
    is <- unname(as.matrix(as.data.frame(lapply(got, as.character))))
    put <- unname(as.matrix(as.data.frame(lapply(table, as.character))))
    if (!identical(is, put)) "cells of a sheet"
  })
}

case_ods_mutated <- function(folder) {
  file <- put_bytes(mutate(bytes_of("tests/testthat/fixtures/mending.ods")), folder, "ods")
  list(file = file, read = read_responses, compare = nothing)
}

case_parquet_mutated <- function(folder) {
  file <- tempfile("case-", folder, ".parquet")
  nanoparquet::write_parquet(answers_table(), file)
  writeBin(mutate(bytes_of(file)), file)
  list(file = file, read = read_responses, compare = nothing) # Parquet keeps no sums
}

case_packed_mutated <- function(folder) {
  file <- tempfile("case-", folder, ".csv.gz")
  to <- pick(list(gzfile, xzfile))(file, "wb")
  writeBin(charToRaw(text_of(answers_table())), to)
  close(to)
  writeBin(mutate(bytes_of(file)), file)
  list(file = file, read = read_responses, compare = nothing)
}

case_book_mutated <- function(folder) {
  file <- put_bytes(mutate(bytes_of(BOOK)), folder, "csv")
  list(file = file, read = read_codebook, compare = nothing)
}

case_book_made <- function(folder) {
  entries <- lapply(seq_len(sample(1:6, 1L)), function(i) {
    one <- list(item = paste0("q", i), wording = odd_word(), reversed = pick(c("yes", "no")))
    one[c("lowest", "highest")] <- list(1L, 5L)
    if (chance(.3)) one$missing_codes <- pick(list(9L, c(8, 9), "9", odd_value()))
    if (chance(.3)) one$labels <- pick(list("1 = a | 2 = b", list("1" = "a"), odd_value(2L)))
    if (chance(.2)) one[pick(names(one))] <- list(odd_value(2L))
    one
  })
  text <- yaml_of(if (chance(.8)) entries else list(items = entries, defaults = odd_value(2L)))
  bytes <- charToRaw(enc2utf8(text))
  changed <- chance(.4)
  file <- put_bytes(if (changed) mutate(bytes) else bytes, folder, pick(c("yml", "yaml")))
  put <- lapply(entries, `[[`, "wording")
  list(file = file, read = read_codebook, compare = function(got) {
    plain <- vapply(put, is.character, NA) & lengths(put) == 1L
    if (changed || !all(plain)) return(character())
    if (!identical(got$wording, trimws(unlist(put)))) "wording"
  })
}

case_study_mutated <- function(folder) {
  file <- put_bytes(mutate(bytes_of(STUDY)), folder, "yml")
  list(file = file, read = read_study, compare = nothing)
}

case_study_made <- function(folder) {
  file <- put_bytes(charToRaw(enc2utf8(study_text())), folder, "yml")
  list(file = file, read = read_study, compare = nothing)
}

case_solution_mutated <- function(folder) {
  file <- put_bytes(mutate(SOLUTION_BYTES()), folder, "json")
  list(file = file, read = read_solution, compare = nothing)
}

# Sheets and Parquet take a process of their own each: fewer of them.
SHARES <- c(csv_mutated = 6, blocks_mutated = 3, csv_made = 3, json_mutated = 3, sheet_mutated = .5,
  ods_mutated = .3, parquet_mutated = .3, packed_mutated = 1, book_mutated = 2, book_made = 3,
  study_mutated = 3, study_made = 4, solution_mutated = 1)

draw_kind <- function() {
  shares <- c(SHARES, SHARES_OF_ACTS)
  asked <- strsplit(Sys.getenv("FUZZ_KINDS"), ",", fixed = TRUE)[[1L]]
  if (length(asked)) shares <- shares[asked]
  names(shares)[sample.int(length(shares), 1L, prob = shares)]
}

make_case <- function(kind, folder) c(list(kind = kind), match.fun(paste0("case_", kind))(folder))

SOLUTION_BYTES <- local({
  held <- NULL
  function() {
    if (is.null(held)) {
      q <- questionnaire(repair_cafe, items = m1:t6)
      file <- tempfile(fileext = ".json")
      write_solution(factor_solution(q, 2, seed = 1, starts = 2), file)
      held <<- bytes_of(file)
    }
    held
  }
})

odd_word <- function() {
  word <- odd_bytes()
  word <- rawToChar(word[word != as.raw(0L)])
  if (!validUTF8(word)) word <- "\u00ff"
  substr(word, 1L, sample(c(3L, 40L, 6000L), 1L))
}

# A value of any form, as YAML could hold it.
odd_value <- function(depth = 1L) {
  if (depth > 0L && chance(.4)) {
    parts <- lapply(seq_len(sample(0:3, 1L)), function(i) odd_value(depth - 1L))
    if (chance(.5)) parts <- stats::setNames(parts, letters[seq_along(parts)])
    return(parts)
  }
  pick(list(NULL, NA, TRUE, 1L, -3.5, 1e300, "yes", "no", "", odd_word(), odd_word(), "m1", c(1, 2),
    c("a", "b"), 0L, 5L, "none", "parallel"))
}

yaml_of <- function(x) yaml::as.yaml(x)

# A study of entries that there are, with values of their forms and of none.
study_text <- function() {
  form <- jsonlite::fromJSON(system.file("schema", "study.schema.json", package = "softsieve"),
    simplifyVector = FALSE)$properties
  sections <- form[sort(sample.int(length(form), sample.int(length(form), 1L)))]
  sections$answers <- NULL
  first <- if (chance(.95)) "answers: {file: repair_cafe_answers.csv}"
  lines <- c(first, unlist(lapply(names(sections), function(name) {
    inner <- sections[[name]]$properties
    if (is.null(inner) || chance(.02)) return(entry_text(name, sections[[name]], 0L))
    chosen <- inner[sort(sample.int(length(inner), sample.int(length(inner), 1L)))]
    c(paste0(name, ":"),
      unlist(Map(entry_text, names(chosen), chosen, MoreArgs = list(indent = 2L))))
  })))
  if (chance(.05)) lines <- sample(lines)
  if (chance(.1)) lines <- append(lines, odd_word(), sample.int(length(lines), 1L))
  paste0(paste(lines, collapse = pick(c("\n", "\r\n"))), pick(c("", "\n")))
}

entry_text <- function(name, form, indent) {
  if (chance(.01)) name <- paste0(name, pick(c("s", "_", "")))
  value <- if (chance(.04)) {
    gsub("\n", " ", trimws(yaml_of(odd_value(2L))))
  } else if (!is.null(form$enum)) {
    pick(form$enum)
  } else {
    switch(c(unlist(form$type), "x")[1L],
      string = if (chance(.1)) odd_word() else pick(c("m1", "'a: b'", "cafe = Harbour", "9")),
      boolean = pick(c("yes", "no", "true", "false")), number = ,
      integer = if (chance(.95)) number_in(form) else pick(c("-1", "1e9", "12:30", "0x10", "1_0")),
      array = if (chance(.1)) pick(c("m1", "[]", "[1, [2]]")) else "[m1, t1]",
      object = pick(c("{a: 1}", "{}", "{F1: thrift}")), "x")
  }
  paste0(strrep(" ", indent), name, ": ", value)
}

# A number that the form allows, more often than not.
number_in <- function(form) {
  least <- if (is.null(form$minimum)) 0 else form$minimum
  most <- if (is.null(form$maximum)) least + 10 else min(form$maximum, least + 1000)
  number <- stats::runif(1L, least, most)
  format(if (identical(form$type, "integer") || chance(.3)) round(number) else signif(number, 3L))
}
