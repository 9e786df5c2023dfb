# A formula as R code: a function of a data frame, which needs no package.

write_r_formula <- function(formula) {
  v <- formula$values
  items <- rownames(v$weights)
  weights <- apply(v$weights, 1L, function(x) r_vector(exactly(x)))
  lines <- c("# Scores of people; `answers` is a data frame of answers as they were given.",
    "score_people <- function(answers) {",
    "  number <- function(x, labels = NULL, codes = NULL, missing = NULL) {",
    "    text <- tolower(trimws(as.character(x)))",
    "    found <- suppressWarnings(as.numeric(text))", "    at <- match(text, tolower(labels))",
    "    found[!is.na(at)] <- codes[at[!is.na(at)]]", "    found[found %in% missing] <- NA",
    "    found", "  }", sprintf("  items <- %s", r_vector(quote_r(items))),
    r_call("x <- cbind", vapply(items, function(item) r_item(formula, item), "")),
    r_call("weights <- rbind", weights), "  colnames(x) <- items",
    sprintf("  dimnames(weights) <- list(items, %s)", r_vector(quote_r(colnames(v$weights)))),
    "  counts <- weights != 0", if (is.null(v$least)) r_complete(v) else r_partial(v),
    "  as.data.frame(scores, optional = TRUE)", "}")
  paste0(paste(lines, collapse = "\n"), "\n")
}

# (names of arguments may mean something to cbind() and c(): there are none)
quote_r <- function(x) if (length(x)) encodeString(enc2utf8(x), quote = "\"") else character()
r_vector <- function(x) sprintf("c(%s)", paste(x, collapse = ", "))

# A call with one argument a line.
r_call <- function(head, arguments) {
  commas <- rep(c(",", ""), c(length(arguments) - 1L, 1L))
  c(sprintf("  %s(", head), paste0("    ", arguments, commas), "  )")
}

r_item <- function(formula, item) {
  codes <- codes_of_item(formula, item)
  arguments <- c(sprintf("answers[[%s]]", quote_r(item)), if (length(codes$labels)) {
    c(paste("labels =", r_vector(quote_r(names(codes$labels)))),
      paste("codes =", r_vector(exactly(unname(codes$labels)))))
  }, if (length(codes$missing)) paste("missing =", r_vector(exactly(codes$missing))))
  sprintf("number(%s)", paste(arguments, collapse = ", "))
}

# Scores of people who answered all items that count.
r_complete <- function(v) {
  c(sprintf("  constant <- %s", r_vector(exactly(v$constant))), "  gaps <- is.na(x)",
    "  x[gaps] <- 0", "  scores <- sweep(x %*% weights, 2, constant, \"+\")",
    "  scores[gaps %*% counts > 0] <- NA")
}

# Means (or sums) of the items that were answered.
r_partial <- function(v) {
  c(sprintf("  turned <- %s", r_vector(exactly(turned_by(v)))),
    sprintf("  least <- %s", r_vector(exactly(v$least))), "  there <- !is.na(x)",
    "  keyed <- sweep(sweep(x, 2, sign(rowSums(weights)), \"*\"), 2, turned, \"+\")",
    "  keyed[!there] <- 0", "  answered <- there %*% counts",
    "  scores <- sweep(keyed %*% counts / answered, 2, colSums(abs(weights)), \"*\")",
    "  scores[sweep(answered, 2, least, \"<\")] <- NA")
}
