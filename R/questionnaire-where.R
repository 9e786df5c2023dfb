# The small language in which people are chosen by words: in keep_people(where =) and in study
# files. It is read by the functions here and never by R, so that nothing in it can run.
#
#   cafe = Harbour            =, !=, <, <=, >, >= against a number or a text (quoted where it has
#                             signs in it)
#   cafe in (Harbour, Mill)   one of several
#   m1 is missing             or: is given
#   not ..., ... and ..., ... or ..., ( ... )
#
# A column whose name has blanks or signs stands in backticks.

WHERE_SIGNS <- c("=", "==", "!=", "<>", "<", "<=", ">", ">=")
WHERE_WORDS <- c("and", "or", "not", "in", "is")

# The condition as a tree: list(op = "and" | "or" | "not", parts) or list(op, column, values).
read_where <- function(text) {
  s <- new.env(parent = emptyenv())
  s$text <- text
  s$at <- 1L
  s$tokens <- where_tokens(text)
  tree <- where_either(s)
  if (s$at <= nrow(s$tokens)) where_refuse(s, "Conditions are joined by `and` or `or`.")
  tree
}

# What stands at the place that has been read to: its kind ("" at the end), its text, the next.
where_kind <- function(s) if (s$at > nrow(s$tokens)) "" else s$tokens$kind[s$at]
where_text <- function(s) if (s$at > nrow(s$tokens)) "" else s$tokens$text[s$at]
where_is <- function(s, word) where_kind(s) == "word" && lower(where_text(s)) %in% word
where_sign <- function(s, sign) where_kind(s) == "sign" && where_text(s) %in% sign
where_take <- function(s) {
  s$at <- s$at + 1L
  s$tokens$text[s$at - 1L]
}
where_refuse <- function(s, must) stop_where(s$text, must, s$tokens, s$at)

where_close <- function(s) {
  if (!where_sign(s, ")")) where_refuse(s, "A bracket that opens must close.")
  where_take(s)
}

where_several <- function(s, word, one) {
  parts <- list(one(s))
  while (where_is(s, word)) {
    where_take(s)
    parts <- c(parts, list(one(s)))
  }
  if (length(parts) == 1L) parts[[1L]] else list(op = word, parts = parts)
}

where_either <- function(s) where_several(s, "or", where_both)
where_both <- function(s) where_several(s, "and", where_single)

where_single <- function(s) {
  if (where_is(s, "not")) {
    where_take(s)
    return(list(op = "not", parts = list(where_single(s))))
  }
  if (!where_sign(s, "(")) return(where_comparison(s))
  where_take(s)
  inside <- where_either(s)
  where_close(s)
  inside
}

where_comparison <- function(s) {
  if (!where_kind(s) %in% c("word", "column")) {
    where_refuse(s, "The name of a column must stand here.")
  }
  column <- where_take(s)
  if (where_is(s, "is")) {
    where_take(s)
    if (!where_is(s, c("missing", "given"))) where_refuse(s, "After `is`: missing or given.")
    return(list(op = paste("is", lower(where_take(s))), column = column))
  }
  if (where_is(s, "in")) {
    where_take(s)
    return(list(op = "in", column = column, values = where_list(s)))
  }
  if (!where_sign(s, WHERE_SIGNS)) {
    where_refuse(s, "A comparison must stand here: =, !=, <, <=, >, >=, in, is.")
  }
  sign <- where_take(s)
  op <- switch(sign, "==" = "=", "<>" = "!=", sign)
  list(op = op, column = column, values = list(where_one(s)))
}

where_list <- function(s) {
  if (!where_sign(s, "(")) where_refuse(s, "After `in` stands a list in brackets.")
  values <- list()
  repeat {
    where_take(s)
    values <- c(values, list(where_one(s)))
    if (!where_sign(s, ",")) break
  }
  where_close(s)
  values
}

where_one <- function(s) {
  kind <- where_kind(s)
  if (!kind %in% c("word", "text", "number")) {
    where_refuse(s, "A number or a text must stand here.")
  }
  if (kind == "number" && !where_goes_on(s, 1L)) return(as.numeric(where_take(s)))
  value <- where_take(s)
  # a text of several words needs no quotes: Canal Street
  while (kind != "text" && where_goes_on(s, 0L)) value <- paste(value, where_take(s))
  value
}

# Is the token `ahead` of this one a further word of the same text?
where_goes_on <- function(s, ahead) {
  at <- s$at + ahead
  at <= nrow(s$tokens) && s$tokens$kind[at] %in% c("word", "number") &&
    !lower(s$tokens$text[at]) %in% WHERE_WORDS
}

# Words, numbers, quoted texts, names in backticks and signs, in turn.
where_tokens <- function(text) {
  patterns <- c(
    number = "^[-+]?([0-9]+([.][0-9]*)?|[.][0-9]+)([eE][-+]?[0-9]+)?(?![[:alnum:]_.])",
    text = "^(\"[^\"]*\"|'[^']*')", column = "^`[^`]+`", sign = "^(<=|>=|==|!=|<>|[=<>(),])",
    word = "^[[:alnum:]_.]+")
  found <- list(text = character(), kind = character())
  rest <- trimws(text)
  while (nzchar(rest)) {
    kind <- Find(function(kind) grepl(patterns[[kind]], rest, perl = TRUE), names(patterns))
    if (is.null(kind)) {
      here <- substr(rest, 1L, 12L)
      stop_where(text, "A sign must be one that conditions know.", NULL, 0L, here)
    }
    token <- regmatches(rest, regexpr(patterns[[kind]], rest, perl = TRUE))
    rest <- trimws(substr(rest, nchar(token) + 1L, nchar(rest)))
    quoted <- kind %in% c("text", "column")
    found$text <- c(found$text, if (quoted) substr(token, 2L, nchar(token) - 1L) else token)
    found$kind <- c(found$kind, kind)
  }
  as.data.frame(found)
}

stop_where <- function(text, must, tokens, at, here = NULL) {
  here <- if (!is.null(here)) {
    sprintf("at \"%s\"", here)
  } else if (at > nrow(tokens)) {
    "at its end"
  } else {
    sprintf("at \"%s\"", tokens$text[at])
  }
  stop_input("condition", must, got = sprintf("\"%s\", %s.", text, here),
    todo = c("For example: cafe = Harbour and m1 >= 3; cafe in (Harbour, Mill); m1 is given.",
      if (grepl("[^[:alnum:]_. =<>!(),`\"'+-]", text)) {
        "Names of columns with signs stand in backticks: `q1[a]` = 3; texts with signs in quotes."
      }))
}

# For each row of `data`: does the condition hold (TRUE), not hold, or cannot be said (NA)?
where_holds <- function(tree, data) {
  if (!is.null(tree$parts)) {
    held <- lapply(tree$parts, where_holds, data = data)
    return(switch(tree$op, not = !held[[1L]], and = Reduce(`&`, held), or = Reduce(`|`, held)))
  }
  x <- where_column(tree, data)
  switch(tree$op, "is missing" = is.na(x), "is given" = !is.na(x),
    "in" = ifelse(is.na(x), NA, Reduce(`|`, lapply(tree$values, where_equal, x = x))),
    "=" = where_equal(x, tree$values[[1L]]), "!=" = !where_equal(x, tree$values[[1L]]),
    where_order(tree, x))
}

where_column <- function(tree, data) {
  if (tree$column %in% names(data)) {
    x <- data[[tree$column]]
    return(if (is.factor(x)) as.character(x) else x)
  }
  stop_input("condition",
    "A condition must be about columns that are there.",
    got = sprintf("There is no column \"%s\".", tree$column),
    todo = c(hint_nearest(tree$column, names(data)),
      if (any(grepl("[^[:alnum:]_.]", names(data)))) {
        "Names with blanks or signs stand in backticks, as in `age in years` >= 18."
      },
      sprintf("Columns: %s.", name_culprits(names(data), 30L))))
}

# Numbers as numbers, texts as texts.
where_equal <- function(x, value) {
  if (is.numeric(x) && is.character(value)) {
    number <- suppressWarnings(as.numeric(value))
    return(if (is.na(number)) ifelse(is.na(x), NA, FALSE) else x == number)
  }
  if (is.numeric(x)) x == value else as.character(x) == as.character(value)
}

where_order <- function(tree, x) {
  value <- tree$values[[1L]]
  if (is.numeric(x) && is.numeric(value)) return(match.fun(tree$op)(x, value))
  stop_input("condition",
    "Only numbers are less or more than others.",
    got = sprintf("`%s` is a column of %s and was compared with %s.", tree$column,
      if (is.numeric(x)) "numbers" else "text",
      if (is.numeric(value)) "a number" else sprintf("\"%s\"", value)),
    todo = "Compare text by =, != and in.")
}

# A condition that R would evaluate (as keep_people() keeps it) in this language, or NA where it has
# no such form. The code is only looked at.
where_of_code <- function(code) {
  parsed <- tryCatch(str2lang(code), error = function(e) NULL)
  tryCatch(where_of_call(parsed), error = function(e) NA_character_)
}

where_of_call <- function(e) {
  if (!is.call(e)) stop("no comparison")
  op <- as.character(e[[1L]])
  says <- WHERE_CALLS[[op]]
  if (is.null(says)) stop("no comparison")
  says(e)
}

where_joined <- function(word) {
  function(e) sprintf("(%s) %s (%s)", where_of_call(e[[2L]]), word, where_of_call(e[[3L]]))
}

where_compared <- function(sign) {
  function(e) sprintf("%s %s %s", where_name(e[[2L]]), sign, where_value(e[[3L]]))
}

is_call_of <- function(e, name) is.call(e) && identical(e[[1L]], as.name(name))

# What calls of R say here.
WHERE_CALLS <- list("(" = function(e) sprintf("(%s)", where_of_call(e[[2L]])),
  "!" = function(e) {
    if (!is_call_of(e[[2L]], "is.na")) return(sprintf("not (%s)", where_of_call(e[[2L]])))
    sprintf("%s is given", where_name(e[[2L]][[2L]]))
  },
  is.na = function(e) sprintf("%s is missing", where_name(e[[2L]])),
  "&" = where_joined("and"), "&&" = where_joined("and"), "|" = where_joined("or"),
  "||" = where_joined("or"),
  "%in%" = function(e) {
    values <- if (is_call_of(e[[3L]], "c")) as.list(e[[3L]])[-1L] else list(e[[3L]])
    shown <- paste(vapply(values, where_value, ""), collapse = ", ")
    sprintf("%s in (%s)", where_name(e[[2L]]), shown)
  },
  "==" = where_compared("="), "!=" = where_compared("!="), "<" = where_compared("<"),
  "<=" = where_compared("<="), ">" = where_compared(">"), ">=" = where_compared(">="))

where_name <- function(e) {
  if (!is.name(e)) stop("no column")
  name <- as.character(e)
  plain <- grepl("^[[:alpha:]_.][[:alnum:]_.]*$", name) && !lower(name) %in% WHERE_WORDS
  if (plain) name else sprintf("`%s`", name)
}

where_value <- function(e) {
  if (is_call_of(e, "-") && length(e) == 2L && is.numeric(e[[2L]])) e <- -e[[2L]]
  if (length(e) != 1L) stop("no value")
  if (is.numeric(e)) return(format(e, digits = 15L))
  if (is.character(e) && !grepl("\"", e, fixed = TRUE)) return(sprintf("\"%s\"", e))
  stop("no value")
}
