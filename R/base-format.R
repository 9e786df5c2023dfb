# Numbers and text as people read them. Prints, figures and reports share these, so that a number
# looks the same wherever it stands.

# A number beside its limit: with as many digits as tell the two apart, so that .69999 is not shown
# as the .70 it misses.
format_beside <- function(x, limits, digits = 2L) {
  if (is.na(x)) return("not defined")
  limits <- limits[limits != x]
  while (digits < 6L && format_unit(x, digits) %in% format_unit(limits, digits)) {
    digits <- digits + 1L
  }
  format_unit(x, digits)
}

# Bounded by 1 in size (loadings, correlations, reliability): two decimals and no leading zero.
format_unit <- function(x, digits = 2L) {
  text <- sub("^(-?)0[.]", "\\1.", sprintf("%.*f", digits, x))
  text <- sub("^-(0?[.]0*)$", "\\1", text) # no minus before a rounded zero
  ifelse(is.na(x), "", text)
}

format_number <- function(x, digits = 2L) {
  text <- sub(
    "^-(0[.]?0*)$",
    "\\1",
    formatC(x, digits = digits, format = "f", big.mark = ",")
  ) # no minus before a rounded zero
  ifelse(is.na(x), "", text)
}
# " [.74, .79]", or nothing where there are no limits.
bracket <- function(lower, upper) {
  ifelse(is.na(lower), "", sprintf(" [%s, %s]", format_unit(lower), format_unit(upper)))
}

format_count <- function(x) {
  ifelse(is.na(x), "", formatC(x, digits = 0L, format = "f", big.mark = ","))
}
format_share <- function(x, digits = 0L) ifelse(is.na(x), "", sprintf("%.*f %%", digits, 100 * x))

format_p <- function(p) ifelse(p < 0.001, "p < .001", paste("p =", format_unit(p, 3L)))

capitalise <- function(x) paste0(toupper(substr(x, 1L, 1L)), substring(x, 2L))

# "1 item", "2 items"
count_of <- function(n, one, many = paste0(one, "s")) {
  paste(format_count(n), if (n == 1) one else many)
}

# Cut to `width` display columns with an ellipsis.
clip_text <- function(x, width) {
  x[is.na(x)] <- ""
  long <- nchar(x, "width") > width
  x[long] <- paste0(sub("\\s+$", "", strtrim(x[long], max(1, width - 3L))), "...")
  x
}

# The wording as people need it beside a number: an item that was turned round says so.
keyed_wording <- function(wording, reversed) {
  paste0(ifelse(reversed, "(reversed) ", ""), ifelse(is.na(wording), "", wording))
}

# Lines of a plain table from a list of character columns: numbers right, words left.
# The last column takes what is left of the width.
table_lines <- function(columns, right, width = console_width(), indent = "  ") {
  last <- length(columns)
  cells <- Map(
    function(head, body, flush) format_column(c(head, body), flush),
    names(columns)[-last],
    columns[-last],
    right[-last]
  )
  used <- nchar(indent) + sum(vapply(cells, function(x) nchar(x[1L], "width") + 2L, 1L))
  tail <- c(names(columns)[last], columns[[last]])
  tail <- if (right[last]) format_column(tail, TRUE) else clip_text(tail, max(12L, width - used))
  lines <- do.call(paste, c(unname(cells), list(tail, sep = "  ")))
  sub("\\s+$", "", paste0(indent, lines))
}

format_column <- function(x, right) {
  fill <- strrep(" ", max(nchar(x, "width")) - nchar(x, "width"))
  if (right) paste0(fill, x) else paste0(x, fill)
}

console_width <- function() min(max(cli::console_width(), 60L), 120L)

wrap_lines <- function(text, indent = "", hang = indent) {
  unlist(
    lapply(text, strwrap, width = console_width(), initial = indent, prefix = hang),
    use.names = FALSE
  )
}
