# Sentences filled from their templates, and numbers and methods as a language writes them
# (inst/catalogue/language-en.yml). Statistics that a template has between two _ come between two
# signs that no text from outside keeps; papers set what is between them in italics.

ITALIC <- c("\ue000", "\ue001")

# One sentence with its braces filled.
sentence <- function(tongue, name, ..., from = tongue$sentences) {
  text <- gsub("_([A-Za-z]+)_", paste0(ITALIC[1L], "\\1", ITALIC[2L]), from[[name]])
  given <- list(...)
  for (key in names(given)) {
    text <- gsub(sprintf("{%s}", key), as.character(given[[key]]), text, fixed = TRUE)
  }
  text
}

# Text from outside, in a sentence.
from_outside <- function(x) gsub("[\ue000\ue001{}]", "", as.character(x))

without_italics <- function(text) gsub("[\ue000\ue001]", "", text)

# The paragraphs of a text, each as its runs: `text` and whether that is in italics.
runs_of <- function(text) {
  lapply(strsplit(text, "\n\n", fixed = TRUE)[[1L]], function(paragraph) {
    at <- gregexpr("\ue000[^\ue001]*\ue001", paragraph)
    slanted <- without_italics(regmatches(paragraph, at)[[1L]])
    plain <- regmatches(paragraph, at, invert = TRUE)[[1L]]
    # (what is between is one more than what is slanted)
    text <- c(rbind(plain, c(slanted, "")))
    italic <- rep(c(FALSE, TRUE), length(plain))
    list(text = text[nzchar(text)], italic = italic[nzchar(text)])
  })
}

in_words <- function(tongue, x) {
  x <- from_outside(x)
  if (length(x) < 2L) return(paste(x, collapse = ""))
  comma <- if (isTRUE(tongue$last_comma) && length(x) > 2L) "," else ""
  paste0(paste(x[-length(x)], collapse = ", "), comma, " ", tongue$and, " ", x[length(x)])
}

in_unit <- function(tongue, x, digits = 2L) {
  text <- format_unit(x, digits)
  if (tongue$zero) text <- sub("^(-?)[.]", "\\10.", text)
  sub(".", tongue$decimal, text, fixed = TRUE)
}

in_number <- function(tongue, x, digits = 2L) {
  formatC(x, format = "f", digits = digits, big.mark = tongue$thousands,
    decimal.mark = tongue$decimal)
}

in_count <- function(tongue, x) in_number(tongue, x, 0L)

in_share <- function(tongue, x, digits = 1L) {
  paste0(in_number(tongue, 100 * x, digits), tongue$percent)
}

# p as a sentence has it, sign and all.
in_p <- function(tongue, p) {
  if (p < 0.001) return(sentence(tongue, "p_small", from = tongue$words))
  sentence(tongue, "p", p = in_unit(tongue, p, 3L), from = tongue$words)
}

# "three people", "1 person": small numbers in words.
people_said <- function(tongue, n) {
  small <- tongue$small_numbers
  # (a language may bend its word for one)
  shown <- if (n %in% seq_along(small)[-1L]) small[n] else in_count(tongue, n)
  sentence(tongue, if (n == 1) "person" else "people", number = shown, from = tongue$words)
}

# What methods sentences speak of.
method_families <- function() {
  list(kind = KINDS, missing = MISSING_METHODS, basis = BASES, chance = CHANCE_DATA,
    reference = REFERENCE_LEVELS, extraction = EXTRACTIONS, rotation = ROTATIONS,
    rows = NORMALIZATIONS, score = SCORE_METHODS, rule = RULES, sifting = SIFTING_RULES,
    mark = MARKS)
}

called <- function(tongue, kind, name) {
  key <- paste(kind, name, sep = ".")
  if (key %in% names(tongue$methods)) {
    tongue$methods[[key]]
  } else {
    method_families()[[kind]][[name]]$label
  }
}

# "Harman & Jones (1966)" as "(Harman & Jones, 1966)"; nothing without a paper.
cite <- function(kind, name) {
  reference <- method_families()[[kind]][[name]]$reference
  if (is.na(reference)) "" else sub("^(.*) \\((.*)\\)$", "(\\1, \\2)", reference)
}

# One blank between words, none before a mark, and one bracket where two would meet.
tidy_prose <- function(x) {
  x <- gsub(" +([.,;])(?= |$)", "\\1", gsub(" {2,}", " ", x), perl = TRUE)
  gsub(") (", "; ", x, fixed = TRUE)
}

paragraph <- function(...) paste(tidy_prose(c(...)), collapse = " ")

# The table of a sifting's rules, with limits that depend on the model.
rules_in_force <- function(x) {
  rules <- x$values$rules$values
  components <- identical(x$settings$method, "components")
  table <- rules$table
  table$limit <- vapply(rules$rule_specs[table$rule], function(one) {
    as.numeric(if (is.function(one$limit)) one$limit(components) else one$limit)
  }, 0)
  table
}

# "communality below .20"
rule_said <- function(tongue, rules) {
  named <- vapply(rules$rule, function(rule) called(tongue, "sifting", rule), "")
  limits <- vapply(rules$limit, function(x) {
    if (x %in% round(x)) format(x) else in_unit(tongue, x)
  }, "")
  ifelse(is.na(rules$limit), named, paste(named, tongue$words[rules$breaks], limits))
}
