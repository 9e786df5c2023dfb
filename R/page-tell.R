# What the browser is told, and in which words.

# The last message of each kind is kept for who comes later; `kept = FALSE`: for now only.
tell_page <- function(page, kind, what, kept = FALSE) {
  text <- as.character(jsonlite::toJSON(c(list(kind = kind, state = page$state), what),
    auto_unbox = TRUE, digits = NA, null = "null", na = "null"))
  if (kept) page$told[[kind]] <- text
  for (session in page$sessions) session$sendCustomMessage("page", text)
}

greet <- function(page, session) {
  words <- jsonlite::toJSON(c(list(kind = "words"), page$words), auto_unbox = TRUE)
  session$sendCustomMessage("page", as.character(words))
  for (text in page$told) session$sendCustomMessage("page", text)
}

# The sentences of a page, in a language of theirs.
page_words <- function(language) {
  words <- catalogue("page")
  own <- lapply(words, function(one) if (is.null(one[[language]])) one[["en"]] else one[[language]])
  c(list(language = if (language %in% names(words[[1L]])) language else "en"), own)
}
