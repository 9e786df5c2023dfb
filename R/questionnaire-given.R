# What a codebook would say, given by hand: reversed items, codes for no answer, ends.

# What was said beside (or without) a codebook: reversed items, codes and words for no answer, ends
# of the scale.
add_to_key <- function(described, key, made) {
  strange <- setdiff(key$reversed, described$item)
  if (length(strange)) {
    stop_input("items", "`reversed` must name items.",
      got = sprintf("No items: %s.", name_culprits(strange)))
  }
  described$reversed <- described$reversed | described$item %in% key$reversed
  described$missing_codes <- lapply(described$missing_codes, function(codes) {
    unique(c(codes, key$codes$numbers))
  })
  if (!is.null(key$ends)) {
    described$lowest[is.na(described$lowest)] <- key$ends[1L]
    described$highest[is.na(described$highest)] <- key$ends[2L]
  }
  described[described$item %in% made, c("lowest", "highest")] <- list(0, 1)
  described
}

# Codes and words for no answer apart.
check_missing_codes <- function(x) {
  if (!is.null(x) && !is.numeric(x) && !is.character(x)) {
    stop_input("argument", "`missing_codes` must be numbers or words.", got = describe_value(x),
      todo = "For example c(9, 99).")
  }
  number <- suppressWarnings(as.numeric(x))
  list(numbers = number[!is.na(number)], words = as.character(x)[is.na(number)])
}

check_ends <- function(x) {
  if (is.null(x) || (is.numeric(x) && length(x) == 2L && all(is.finite(x)) && x[1L] < x[2L])) {
    return(x)
  }
  stop_input("argument", "`ends` must be the lowest and the highest answer.",
    got = describe_value(x), todo = "For example ends = c(1, 5).")
}
