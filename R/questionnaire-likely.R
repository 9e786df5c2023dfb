# What looks like a mistake in the answers where no codebook says what they are: codes for "no
# answer" among them, and columns that are no items.

# Numbers that files use for "no answer".
LIKELY_CODES <- c(-999, -998, -99, -98, -97, -88, -77, -66, -9, -8, -7, -1, 9, 77, 88, 97, 98, 99,
  777, 888, 997, 998, 999, 9999)

# One finding for each code: where it stands, and how often. `given`: codes that were said to be
# missing.
find_likely_codes <- function(answers, ends_by) {
  if (ends_by == "codebook") return(NULL)
  hits <- lapply(seq_len(ncol(answers)), function(i) likely_codes_in(answers[, i]))
  codes <- sort(unique(unlist(lapply(hits, `[[`, "code"))))
  do.call(bind_findings, lapply(codes, function(code) {
    with_it <- which(vapply(hits, function(hit) code %in% hit$code, NA))
    times <- vapply(hits[with_it], function(hit) hit$times[hit$code == code], 0L)
    others <- range(unlist(lapply(hits[with_it], `[[`, "others")))
    where <- sprintf("%s (%s)", colnames(answers)[with_it],
      vapply(times, count_of, "", one = "time"))
    new_finding("likely_missing_code", format(code), format(others[1L]), format(others[2L]),
      name_culprits(where), value = sum(times), limit = code)
  }))
}

# Codes that are there and lie further from the other answers than these spread, half of it at
# least.
likely_codes_in <- function(x) {
  x <- x[!is.na(x)]
  values <- unique(x)
  code <- values[values %in% LIKELY_CODES]
  others <- setdiff(values, code)
  none <- list(code = numeric(), times = integer(), others = numeric())
  if (!length(code) || length(others) < 2L) return(none)
  ends <- range(others)
  gap <- pmax(ends[1L] - code, code - ends[2L])
  far <- gap >= max(3, diff(ends) / 2) | (code < 0 & ends[1L] >= 0)
  code <- code[far]
  if (!length(code)) return(none)
  list(code = code, times = vapply(code, function(v) sum(x == v), 0L), others = ends)
}

# Ids and ages have many different values; answers beside them have few.
find_unlike_others <- function(answers, many = 25L, few = 11L) {
  distinct <- vapply(seq_len(ncol(answers)),
    function(i) length(unique(stats::na.omit(answers[, i]))), 1L)
  hit <- which(distinct > many & distinct <= 101L) # more of them have a finding of their own
  if (!length(hit) || stats::median(distinct[-hit]) > few || length(hit) >= ncol(answers) / 2) {
    return(NULL)
  }
  new_finding("unlike_the_others", colnames(answers)[hit], format_count(distinct[hit]),
    format(stats::median(distinct[-hit])), item = colnames(answers)[hit], value = distinct[hit],
    limit = many)
}
