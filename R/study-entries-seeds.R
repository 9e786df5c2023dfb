# Seeds of single stages in a study file. study-entries.R has the fields of an entry.

# A seed for each stage that draws, where they are not all the same.
SEEDED <- c(
  count = "chance data",
  rotation = "the starts of the rotation",
  sift = "the passes of sifting",
  reliability = "drawing people for intervals"
)

seed_entries <- function() {
  lapply(seq_along(SEEDED), function(i) {
    spec(
      name = paste0("own_seeds.", names(SEEDED)[i]),
      label = sprintf("The seed of %s, where it is not `seed`", SEEDED[[i]]),
      order = 55 + i / 100,
      type = "integer",
      lowest = 0,
      highest = 2147483647
    )
  })
}

seed_of <- function(s, what) if (is.null(s$own_seeds[[what]])) s$seed else s$own_seeds[[what]]
