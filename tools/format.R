# Brings R files into the package's form: short arguments fill the line to 100 columns, long ones
# stand one a line, a block is opened where its call begins, and no bracket stands alone where it
# can end a line. What a file means does not change: it is parsed before and after.
#
#     Rscript tools/format.R [FILE ...]     (all of R/, tests/, ... when none is named)

WIDTH <- 100L
SHORT <- 80L # characters up to which an argument shares its line with others
MOST_NAMED <- 10L # arguments with a name on one line

tokens_of <- function(lines) utils::getParseData(parse(text = lines, keep.source = TRUE))

# Calls, definitions and groups that go over several lines, the innermost first: where their
# brackets are. Of groups, and of those with a comment in them, only the last bracket is moved
# (`whole` says so); those with a text of several lines are left as they are.
broken_calls <- function(tokens) {
  opens <- tokens[tokens$token == "'('", ]
  found <- lapply(seq_len(nrow(opens)), function(i) broken_call(opens[i, ], tokens))
  found <- do.call(rbind, found)
  if (is.null(found)) return(NULL)
  found[order(found$l2 - found$l1, -found$l1), ]
}

broken_call <- function(here, tokens) {
  within <- tokens[tokens$parent == here$parent, ]
  close <- within[within$token == "')'" & within$id > here$id, ][1L, ]
  if (is.na(close$line1) || close$line1 == here$line1) return(NULL)
  inside <- tokens$line1 >= here$line1 & tokens$line2 <= close$line1
  long_text <- tokens$token == "STR_CONST" & tokens$line2 > tokens$line1
  comments <- tokens$line1[inside & tokens$token == "COMMENT"]
  condition <- any(within$token %in% c("IF", "WHILE", "FOR"))
  if (condition || any(inside & long_text) || (close$line1 - 1L) %in% comments) return(NULL)
  first <- within$line1 < here$line1 | within$line1 == here$line1 & within$col1 < here$col1
  data.frame(parent = here$parent, l1 = here$line1, c1 = here$col1, l2 = close$line1,
    c2 = close$col1, is_function = any(within$token == "FUNCTION"),
    whole = any(first) && !length(comments))
}

# The arguments of a call, each with its lines as they stand.
arguments_of <- function(call, tokens, lines) {
  within <- tokens[tokens$parent == call$parent, ]
  commas <- as.matrix(within[within$token == "','", c("line1", "col1")])
  place <- function(at) at[, 1L] * 1e4 + at[, 2L]
  ends <- rbind(c(call$l1, call$c1), c(call$l2, call$c2))
  own <- place(commas) > place(ends)[1L] & place(commas) < place(ends)[2L]
  commas <- commas[own, , drop = FALSE]
  from <- rbind(ends[1L, ], commas)
  to <- rbind(commas, ends[2L, ])
  lapply(seq_len(nrow(from)), function(i) {
    said <- between(lines, from[i, ], to[i, ])
    there <- which(nzchar(trimws(said)))
    if (!length(there)) return("")
    said <- said[min(there):max(there)]
    said[1L] <- trimws(said[1L], "left")
    said[length(said)] <- sub("=$", "= ", trimws(said[length(said)], "right")) # (in switch())
    said
  })
}

between <- function(lines, from, to) {
  said <- lines[from[1L]:to[1L]]
  if (length(said) == 1L) return(substr(said, from[2L] + 1L, to[2L] - 1L))
  said[1L] <- substring(said[1L], from[2L] + 1L)
  said[length(said)] <- substr(said[length(said)], 1L, to[2L] - 1L)
  said
}

indent_of <- function(line) nchar(sub("\\S.*", "", line))
moved <- function(lines, by) {
  if (!length(lines)) return(lines)
  if (by >= 0L) return(paste0(strrep(" ", by), lines))
  sub(sprintf("^ {0,%d}", -by), "", lines)
}
is_named <- function(argument) grepl("^(`[^`]+`|\"[^\"]+\"|[A-Za-z._0-9]+) = ", argument)

# The lines of a call in form, or NULL where it stays as it is.
in_form <- function(call, tokens, lines) {
  head <- substr(lines[call$l1], 1L, call$c1)
  tail <- substring(lines[call$l2], call$c2)
  as_is <- closed(tail, lines, call)
  if (!call$whole) return(as_is)
  arguments <- arguments_of(call, tokens, lines)
  several <- arguments[lengths(arguments) > 1L]
  base <- indent_of(lines[call$l1])
  out <- if (length(several)) {
    hugged(head, arguments, tail, base, call)
  } else {
    in_one_line(head, unlist(arguments), tail)
  }
  if (!is.null(out)) return(out)
  # those that begin in the middle of a line would have to be moved
  starts <- vapply(several, function(a) any(trimws(lines) == a[1L]), NA)
  rest <- substr(lines[call$l1], call$c1 + 1L, WIDTH)
  if (length(several) && (nzchar(trimws(rest)) || !all(starts))) return(as_is)
  if (call$is_function) arguments <- lapply(arguments, function(a) c(a[1L], moved(a[-1L], 2L)))
  out <- filled(head, arguments, tail, base + (if (call$is_function) 4L else 2L))
  if (is.null(out)) as_is else out
}

in_one_line <- function(head, words, tail) {
  named <- sum(is_named(words) & nchar(words) > 14L)
  one <- paste0(head, paste(words, collapse = ", "), tail)
  if (nchar(one) <= WIDTH && named <= MOST_NAMED) one
}

ended <- function(lines, by) {
  lines[length(lines)] <- paste0(lines[length(lines)], by)
  lines
}

# Short arguments share lines, long ones and those of several lines have their own.
filled <- function(head, arguments, tail, indent) {
  out <- head
  long <- vapply(arguments, function(a) length(a) > 1L || nchar(a[1L]) > SHORT, NA)
  # a text that begins a call, or is all of it, may be long
  opens <- lengths(arguments[1L]) == 1L && (grepl("^\"", arguments[[1L]]) || length(long) == 1L)
  shares <- !long & !c(FALSE, long[-length(long)])
  shares[1L] <- opens || !long[1L]
  for (i in seq_along(arguments)) {
    a <- ended(arguments[[i]], if (i == length(arguments)) tail else ",")
    joined <- paste0(out[length(out)], if (i > 1L) " ", a[1L])
    if (shares[i] && nchar(joined) <= WIDTH) {
      out[length(out)] <- joined
    } else {
      out <- c(out, paste0(strrep(" ", indent), a[1L]), a[-1L])
    }
  }
  if (all(nchar(out) <= WIDTH)) out
}

# As it stands, with the bracket at the end of the last line.
closed <- function(tail, lines, call) {
  if (nzchar(trimws(substr(lines[call$l2], 1L, call$c2 - 1L)))) return(NULL)
  out <- lines[call$l1:(call$l2 - 1L)]
  out[length(out)] <- paste0(out[length(out)], tail)
  if (nchar(out[length(out)]) > WIDTH) NULL else out
}

is_block <- function(a) grepl("\\{$", a[1L]) && trimws(a[length(a)]) == "}"

# Blocks are opened in the line of the call, where everything else is short; or NULL.
hugged <- function(head, arguments, tail, base, call) {
  long <- lengths(arguments) > 1L
  blocks <- vapply(arguments[long], is_block, NA)
  short <- all(nchar(unlist(arguments[!long])) <= SHORT)
  if (call$is_function || !all(blocks, short) || sum(long) > 2L) return(NULL)
  out <- head
  for (i in seq_along(arguments)) {
    a <- arguments[[i]]
    if (long[i]) a <- c(a[1L], moved(a[-1L], base - indent_of(a[length(a)])))
    out[length(out)] <- paste0(out[length(out)], if (i > 1L) " ", a[1L])
    out <- ended(c(out, a[-1L]), if (i == length(arguments)) tail else ",")
  }
  if (all(nchar(out) <= WIDTH)) out
}

# Ifs whose branches are one short expression each, in one line; none within another.
one_line_ifs <- function(lines) {
  tokens <- tokens_of(lines)
  ifs <- tokens$parent[tokens$token == "IF"]
  edits <- lapply(ifs, function(id) one_line_if(tokens[tokens$id == id, ], tokens, lines))
  replaced(lines, Filter(Negate(is.null), edits))
}

NOT_IN_ONE_LINE <- c("COMMENT", "FUNCTION", "LEFT_ASSIGN", "EQ_ASSIGN", "FOR", "REPEAT", "WHILE")

one_line_if <- function(whole, tokens, lines) {
  place <- function(l, c) l * 1e4 + c
  within <- tokens[place(tokens$line1, tokens$col1) >= place(whole$line1, whole$col1) &
    place(tokens$line2, tokens$col2) <= place(whole$line2, whole$col2), ]
  nested <- tokens$token[tokens$parent == whole$parent] %in% c("IF", "ELSE")
  plain <- whole$line1 < whole$line2 && sum(within$token == "IF") == 1L && !any(nested) &&
    !any(within$token %in% NOT_IN_ONE_LINE)
  if (!plain) return(NULL)
  parts <- tokens[tokens$parent == whole$id & tokens$token == "expr", ]
  parts <- lapply(seq_len(nrow(parts)), function(i) text_of_branch(parts[i, ], tokens, lines))
  if (any(vapply(parts, is.null, NA))) return(NULL)
  new <- sprintf("%sif (%s) %s%s%s", substr(lines[whole$line1], 1L, whole$col1 - 1L), parts[[1L]],
    parts[[2L]], if (length(parts) > 2L) paste(" else", parts[[3L]]) else "",
    substring(lines[whole$line2], whole$col2 + 1L))
  if (nchar(new) <= WIDTH - 4L) list(span = whole$line1:whole$line2, new = new)
}

# Functions of one expression need no braces where it fits the line of their arguments.
bare_functions <- function(lines) {
  tokens <- tokens_of(lines)
  functions <- tokens$parent[tokens$token == "FUNCTION"]
  edits <- Filter(Negate(is.null), lapply(functions, bare_function, tokens, lines))
  # (the innermost of those within each other first; the outer ones in the next round)
  inner <- vapply(edits, function(e) {
    !any(vapply(edits, function(o) all(o$span %in% e$span) && !identical(o$span, e$span), NA))
  }, NA)
  if (!length(edits)) lines else bare_functions(replaced(lines, edits[inner]))
}

bare_function <- function(id, tokens, lines) {
  kids <- tokens[tokens$parent == id, ]
  body <- kids[nrow(kids), ]
  inside <- tokens[tokens$parent == body$id, ]
  e <- inside[inside$token == "expr", ]
  if (inside$token[1L] != "'{'" || nrow(inside) != 3L || nrow(e) != 1L) return(NULL)
  if (body$line2 == body$line1 || e$line1 == body$line1 || e$line2 == body$line2) return(NULL)
  span <- body$line1:body$line2
  if (any(tokens$line1 %in% span & tokens$token == "COMMENT")) return(NULL)
  if (e$line1 < e$line2 || length(span) != 3L) return(NULL)
  said <- paste0(substr(lines[body$line1], 1L, body$col1 - 1L), trimws(lines[e$line1]),
    substring(lines[body$line2], body$col2 + 1L))
  if (nchar(said) <= WIDTH) list(span = span, new = said)
}

# An expression of one line, without the braces around it, or NULL.
text_of_branch <- function(e, tokens, lines) {
  inside <- tokens[tokens$parent == e$id, ]
  if (inside$token[1L] == "'{'") e <- inside[inside$token == "expr", ]
  if (nrow(e) == 1L && e$line1 == e$line2) substr(lines[e$line1], e$col1, e$col2)
}

# Edits that do not overlap, from the last one on.
replaced <- function(lines, edits) {
  for (edit in edits[order(-vapply(edits, function(e) e$span[1L], 0))]) {
    before <- lines[seq_len(edit$span[1L] - 1L)]
    after <- lines[-seq_len(edit$span[length(edit$span)])]
    lines <- c(before, edit$new, after)
  }
  lines
}

format_lines <- function(lines) {
  lines <- bare_functions(one_line_ifs(lines))
  done <- character()
  repeat {
    tokens <- tokens_of(lines)
    calls <- broken_calls(tokens)
    touched <- rep(FALSE, length(lines))
    edits <- list()
    for (i in seq_len(NROW(calls))) {
      span <- calls$l1[i]:calls$l2[i]
      key <- paste(c(calls$c1[i], trimws(lines[span])), collapse = "\n")
      if (any(touched[span]) || key %in% done) next
      done <- c(done, key)
      new <- in_form(calls[i, ], tokens, lines)
      if (is.null(new) || identical(new, lines[span])) next
      touched[span] <- TRUE
      edits <- c(edits, list(list(span = span, new = new)))
    }
    if (!length(edits)) return(lines)
    lines <- replaced(lines, edits)
  }
}

# A file's meaning: its code, with blocks of one expression after if, and of functions, taken for
# that expression.
meaning <- function(lines) lapply(as.list(parse(text = lines, keep.source = FALSE)), without_blocks)

without_blocks <- function(e) {
  if (!is.call(e) && !is.pairlist(e)) return(e)
  parts <- as.list(e)
  is_if <- is.call(e) && identical(parts[[1L]], as.name("if"))
  is_function <- is.call(e) && identical(parts[[1L]], as.name("function"))
  # (an argument that is left out is an empty name)
  there <- which(vapply(parts, function(part) !is.null(part) && !is.name(part), NA))
  if (is_if) parts[setdiff(there, 1:2)] <- lapply(parts[setdiff(there, 1:2)], alone_in_block)
  if (is_function) parts[[3L]] <- alone_in_block(parts[[3L]])
  parts[there] <- lapply(parts[there], without_blocks)
  if (is.call(e)) as.call(parts) else as.pairlist(parts)
}

alone_in_block <- function(e) {
  if (is.call(e) && identical(e[[1L]], as.name("{")) && length(e) == 2L) e[[2L]] else e
}

format_file <- function(file) {
  lines <- readLines(file, encoding = "UTF-8")
  new <- format_lines(lines)
  if (!identical(meaning(lines), meaning(new))) stop(file, " would mean something else")
  if (!identical(new, lines)) writeLines(new, file, useBytes = TRUE)
  length(lines) - length(new)
}

if (!interactive() && sys.nframe() == 0L) {
  files <- commandArgs(TRUE)
  folders <- c("R", "tests", "bench", "tools", "data-raw")
  if (!length(files)) files <- list.files(folders, "[.]R$", recursive = TRUE, full.names = TRUE)
  files <- setdiff(files, "R/RcppExports.R")
  saved <- parallel::mclapply(files, format_file, mc.cores = 2L, mc.preschedule = FALSE)
  failed <- vapply(saved, inherits, NA, "try-error")
  if (any(failed)) stop(files[failed][1L], ": ", saved[failed][[1L]])
  cat(sprintf("%d files, %d lines fewer\n", length(files), sum(unlist(saved))))
}
