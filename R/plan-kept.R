# Samples of a plan from a file that was interrupted, kept beside it (hidden) until the plan is
# done: the same question goes on there. They are data, and summed: a note that somebody changed, or
# that is of another version, is passed over.

kept_plan <- function(file) file.path(dirname(file), paste0(".", basename(file), ".plan"))

# How many samples were kept; 0 where the folder takes nothing.
keep_samples <- function(place) {
  each <- Filter(length, as.list(SAMPLED))
  if (!length(each)) return(0L)
  text <- strsplit(exact_json(lapply(each, pack_samples)), "\n", fixed = TRUE)[[1L]]
  text <- c(sum_of_note(text), text)
  done <- tryCatch(write_whole(place, function(path) write_text(text, path)),
    softsieve_error = function(e) NULL)
  if (is.null(done)) 0L else sum(lengths(each))
}

# What was kept is there as if it had been sampled now.
take_up_samples <- function(place) {
  if (kind_of_path(place) != "plain" || file.size(place) > MOST_KEPT) return(invisible())
  each <- tryCatch({
    text <- lines_of(place)
    if (identical(text[1L], sum_of_note(text[-1L]))) {
      lapply(from_exact(parse_exact(paste(text[-1L], collapse = "\n"))), unpack_samples)
    }
  }, error = function(e) NULL)
  if (is.list(each)) list2env(each, SAMPLED)
}

MOST_KEPT <- 2^28

sum_of_note <- function(text) {
  rlang::hash(list(as.character(utils::packageVersion("softsieve")), text))
}

# A few large values in the place of many small ones, and back.
pack_samples <- function(each) {
  solved <- which(lengths(lapply(each, `[[`, "loadings")) > 0L)
  stacked <- function(part) simplify2array(lapply(each[solved], `[[`, part), higher = TRUE)
  list(measures = do.call(rbind, lapply(each, `[[`, "measures")), solved = solved,
    loadings = stacked("loadings"), looks = stacked("looks"))
}

unpack_samples <- function(packed) {
  each <- lapply(seq_len(nrow(packed$measures)), function(i) list(measures = packed$measures[i, ]))
  one <- function(x, i) array(x[, , i], dim(x)[1:2], dimnames(x)[1:2])
  each[packed$solved] <- lapply(seq_along(packed$solved), function(i) {
    list(measures = packed$measures[packed$solved[i], ], loadings = one(packed$loadings, i),
      looks = one(packed$looks, i))
  })
  each
}
