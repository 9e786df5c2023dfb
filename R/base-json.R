# JSON from outside: parsed as text, so that nothing in it is opened, and no deeper than can be
# meant.

# Values within values, at most: solution files need a dozen.
MOST_DEPTH <- 100L

# How deep brackets go, whatever stands in texts.
json_depth <- function(text) {
  bracket_depth(gsub("\"[^\"\\\\]*+(?:\\\\.[^\"\\\\]*+)*+\"", "", text, perl = TRUE))
}

bracket_depth <- function(text) {
  marks <- utf8ToInt(gsub("[^][{}]", "", text, perl = TRUE))
  if (length(marks)) max(0, cumsum(ifelse(marks %in% utf8ToInt("[{"), 1, -1))) else 0
}

parse_json_text <- function(text, ...) {
  if (json_depth(text) > MOST_DEPTH) stop("values stand in each other too deeply", call. = FALSE)
  jsonlite::parse_json(text, ...)
}
