# What rows and columns are called: "412 days", "1 gauge". A table that says so (`called` of
# questionnaire()) has its words in the source of every result made of it, and what people read goes
# through here on its way out: prints, tables, figures, findings and reports. Which words give way
# to which, in each language, stands in inst/catalogue/called.yml.

# `row`, `rows`, `column` and `columns`, from what was said ("day", or "ox/oxen"); NULL where
# nothing was. Measurements that nobody named are rows and columns.
settle_called <- function(called, measured) {
  if (is.null(called) && !length(measured)) return(NULL)
  plain <- "^[[:alpha:]][[:alpha:] '-]{0,29}(/[[:alpha:]][[:alpha:] '-]{0,29})?$"
  if (!is.null(called) && (!is.character(called) || !all(grepl(plain, called)) ||
    !all(names(called) %in% c("row", "column")) || anyDuplicated(names(called)) ||
    is.null(names(called)))) {
    stop_input("argument", "`called` must say in words what a row and a column is.",
      got = describe_value(called), todo = c(
        "For example called = c(row = \"day\", column = \"gauge\").",
        "Where many are not called by an s more: column = \"ox/oxen\"."))
  }
  unsaid <- if (length(measured)) c("row", "column") else c("person", "item")
  said <- c(called, stats::setNames(unsaid, c("row", "column")))[c("row", "column")]
  each <- strsplit(unname(said), "/", fixed = TRUE)
  many <- vapply(each, function(one) if (length(one) > 1L) one[2L] else plural_of(one), "")
  list(row = each[[1L]][1L], column = each[[2L]][1L], rows = many[1L], columns = many[2L])
}

plural_of <- function(word) {
  if (word == "person") return("people")
  if (grepl("[^aeiou]y$", word)) return(sub("y$", "ies", word))
  paste0(word, if (grepl("(s|x|z|ch|sh)$", word)) "es" else "s")
}

# `text` in the words of a result's source. What the table itself calls "item" or "people" is left
# as it is, but where people are counted.
in_called <- function(text, source, language = "en") {
  called <- source$called
  if (is.null(called) || !length(text)) return(text)
  # what stands in backticks is to be typed
  code <- unique(unlist(regmatches(text[!is.na(text)], gregexpr("`[^`]+`", text[!is.na(text)]))))
  kept <- sprintf("\u0002%d\u0002", seq_along(code))
  for (i in seq_along(code)) text <- gsub(code[i], kept[i], text, fixed = TRUE)
  own <- grep("\\b(items?|people|persons?|answers?)\\b", source$items, value = TRUE)
  mark <- sprintf("\u0001%d\u0001", seq_along(own))
  for (i in seq_along(own)) {
    # ("208 people" is not a name)
    text <- gsub(sprintf("(?<![0-9] )\\b\\Q%s\\E\\b", own[i]), mark[i], text, perl = TRUE)
  }
  rules <- rules_for(called, language)
  for (i in seq_along(rules$from)) text <- gsub(rules$from[i], rules$to[i], text, perl = TRUE)
  for (i in seq_along(own)) text <- gsub(mark[i], own[i], text, fixed = TRUE)
  for (i in seq_along(code)) text <- gsub(kept[i], code[i], text, fixed = TRUE)
  text
}

# The rules of a language with these words in them, made once; at the beginning of a sentence, too.
# Names of functions, arguments and files are no words.
rules_for <- function(called, language) {
  key <- paste(c("called", language, unlist(called)), collapse = " ")
  if (is.null(FOUND[[key]])) {
    groups <- catalogue("called")[[language]]
    if (called$row %in% c("person", "Person")) groups <- groups["columns"]
    pairs <- unlist(unname(groups), recursive = FALSE)
    from <- vapply(pairs, `[[`, "", 1L)
    to <- vapply(pairs, function(pair) {
      fill_braces(pair[[2L]], c(called, a_row = article_of(called$row),
        a_column = article_of(called$column)))
    }, "")
    from <- c(from, capitalise(from))
    pattern <- sprintf("(?<![\\w.$`\"'/=-])%s(?![\\w(]|[.]\\w|\\s=\\s)", from)
    assign(key, list(from = pattern, to = c(to, capitalise(to))), envir = FOUND)
  }
  FOUND[[key]]
}

article_of <- function(word) if (grepl("^[aeiou]", word)) "an" else "a"
