# A whole table in memory, as files are read: text and numbers.
read_database_table <- function(x) {
  blocks <- list()
  state <- new.env()
  name <- paste(x$table, collapse = ".")
  people <- read_blocks(x, function(columns) {
    state$columns <- columns
    check_column_names(columns, name)
    columns
  }, function(block, first) {
    check_size(block, name, first + nrow(block))
    blocks[[length(blocks) + 1L]] <<- block
  })
  if (!people) stop_input("no_answers", "The table must have people.", got = "It has none.")
  joined <- lapply(stats::setNames(nm = state$columns), function(name) {
    parts <- lapply(blocks, function(block) plain_values(block[[name]]))
    # (a column of numbers in which one has too many digits is text, from its first block on)
    if (any(vapply(parts, is.character, NA))) parts <- lapply(parts, numbers_as_text)
    unlist(parts)
  })
  list(data = tibble::as_tibble(joined, .name_repair = "minimal"), how = "table of a database",
    findings = NULL)
}

numbers_as_text <- function(x) {
  if (!is.numeric(x)) return(as.character(x))
  text <- format(x, trim = TRUE, digits = 15L, scientific = FALSE, decimal.mark = ".")
  ifelse(is.na(x), NA_character_, text)
}

# What is neither number nor text (days, times) is read as it is written.
plain_values <- function(x) {
  if (is.numeric(x) && !is.object(x)) x else if (is.logical(x)) x else as.character(x)
}
