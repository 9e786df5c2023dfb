# What stands for a codebook: the key of an earlier result.

codebook_of_key <- function(key, there) {
  codebook <- key[key$item %in% there, ]
  # an item that has to be reverse-scored keeps the ends it was turned between
  if (codebook$ends_by[1L] == "answers") {
    codebook[!codebook$reversed, c("lowest", "highest")] <- NA_real_
  }
  codebook[names(codebook) != "ends_by"]
}

# What a solution or scales say of their items, for new answers that have some of these.
codebook_of_result <- function(result, data) {
  key <- result$values$key
  there <- intersect(key$item, names(data))
  if (length(there) > 1L) return(codebook_of_key(key, there))
  stop_input("codebook",
    "A result that stands for a codebook must know its items, and the data must have some.",
    got = if (is.null(key)) "It came from a matrix alone." else "The data have at most one.",
    todo = "Give the codebook itself.")
}
