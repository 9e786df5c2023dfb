# Who answers what in a plan: people in clusters, items in blocks, their simulated answers, and how
# these correlate.

settle_clusters <- function(clusters) {
  if (is.null(clusters)) return(NULL)
  fine <- is.numeric(clusters) && setequal(names(clusters), c("size", "intraclass")) &&
    length(clusters) == 2L && checkmate::test_int(clusters[["size"]], lower = 2, upper = 1e4) &&
    checkmate::test_number(clusters[["intraclass"]], lower = 0, upper = 0.5)
  if (fine) return(clusters[c("size", "intraclass")])
  stop_input("argument",
    "`clusters` must be a `size`, from 2 on, and an `intraclass` correlation, from 0 to 0.5.",
    got = describe_value(clusters), todo = "For example c(size = 20, intraclass = .05).")
}

settle_blocks <- function(blocks, items) {
  if (is.null(blocks)) return(NULL)
  fine <- checkmate::test_integerish(blocks, any.missing = FALSE, len = 2L) &&
    setequal(names(blocks), c("of", "asked")) && blocks[["of"]] <= min(items, 12L) &&
    blocks[["asked"]] >= 2L && blocks[["asked"]] < blocks[["of"]]
  if (fine) return(blocks[c("of", "asked")])
  stop_input("argument", sprintf(paste("`blocks` must say into how many the items are dealt (`of`,",
    "from 3 to %d) and how many each person is `asked`, from 2 to one fewer."), min(items, 12L)),
  got = describe_value(blocks), todo = "For example c(of = 4, asked = 3).")
}

# The block of each item: those of a factor in turn, so that they stand in as many as can be.
block_of_items <- function(design) {
  home <- home_factor(design$loadings, 0)
  block <- integer(length(home))
  block[order(home)] <- rep_len(seq_len(design$blocks[["of"]]), length(home))
  block
}

# Which answers so many people are asked for: each choice of blocks by every so many-th person.
asked_of <- function(design, n) {
  choices <- utils::combn(design$blocks[["of"]], design$blocks[["asked"]])
  own <- choices[, rep_len(seq_len(ncol(choices)), n), drop = FALSE]
  block <- block_of_items(design)
  vapply(block, function(b) colSums(own == b) > 0, logical(n))
}

layout_of <- function(design) {
  if (is.null(design$blocks)) return(NULL)
  tibble_of(item = rownames(design$loadings), block = block_of_items(design))
}

# How many items each person is asked, on average.
items_asked <- function(design) {
  p <- nrow(design$loadings)
  if (is.null(design$blocks)) return(p)
  as.integer(round(p * design$blocks[["asked"]] / design$blocks[["of"]]))
}

say_clusters <- function(design) {
  if (is.null(design$clusters)) return(NULL)
  sprintf("People answer in clusters of %d; the intraclass correlation of items is %s.",
    design$clusters[["size"]], format_unit(design$clusters[["intraclass"]]))
}

say_blocks <- function(design) {
  if (is.null(design$blocks)) return(NULL)
  of <- design$blocks[["of"]]
  asked <- design$blocks[["asked"]]
  sprintf(paste("Each person is asked %d of %d blocks of items, some %d items; two items of",
    "different blocks are answered together by %s of people."), asked, of, items_asked(design),
  format_share(asked * (asked - 1) / (of * (of - 1))))
}

# Answers of n people; the stream is that of (seed, n, replicate), and R's own goes on as if nothing
# had been drawn.
simulate_answers <- function(design, n, seed, replicate) {
  kept <- globalenv()$.Random.seed
  kind <- RNGkind()
  on.exit({
    RNGkind(kind[1L], kind[2L], kind[3L])
    if (is.null(kept)) {
      rm(".Random.seed", envir = globalenv())
    } else {
      assign(".Random.seed", kept, envir = globalenv())
    }
  })
  set.seed((seed * 1000003 + n * 7919 + replicate * 104729) %% .Machine$integer.max,
    "Mersenne-Twister", "Inversion", "Rejection")
  p <- nrow(design$loadings)
  x <- normal_answers(design, n)
  if (!is.null(design$clusters)) {
    alike <- design$clusters[["intraclass"]]
    cluster <- (seq_len(n) - 1) %/% design$clusters[["size"]] + 1
    x <- sqrt(1 - alike) * x + sqrt(alike) * normal_answers(design, max(cluster))[cluster, ]
  }
  at_random <- which(stats::runif(n) < design$careless)
  if (design$answers > 0L) {
    cuts <- seq(-1.5, 1.5, length.out = design$answers - 1L)
    if (design$answers == 2L) cuts <- 0
    x[] <- findInterval(x + design$lean, cuts) + 1
    x[at_random, ] <- sample.int(design$answers, length(at_random) * p, replace = TRUE)
  } else {
    x[at_random, ] <- stats::rnorm(length(at_random) * p)
  }
  if (design$missing > 0) x[stats::runif(n * p) < design$missing] <- NA
  if (!is.null(design$blocks)) x[!asked_of(design, n)] <- NA
  x
}

# What is behind the answers.
normal_answers <- function(design, n) {
  l <- design$loadings
  common <- matrix(stats::rnorm(n * ncol(l)), n) %*% chol(design$factor_correlations)
  own <- sqrt(1 - core_communalities(l, design$factor_correlations))
  tcrossprod(common, l) + matrix(stats::rnorm(n * nrow(l)), n) * rep(own, each = n)
}

# The correlations of simulated answers as correlate_items() gives them, or NULL.
correlations_of_sample <- function(x, how) {
  tryCatch(correlate_items(as.data.frame(x), kind = how$kind, threads = how$threads),
    softsieve_error = function(e) NULL)
}

# The same as a matrix, NA where there are none. (Those of Pearson are quicker without the rest,
# unless they are to be repaired.)
correlate_sample <- function(x, how) {
  if (how$kind == "pearson") {
    r <- suppressWarnings(stats::cor(x, use = "pairwise"))
    if (!all(is.finite(r)) || core_smallest_eigenvalue(r) > -1e-10) return(r)
  }
  found <- correlations_of_sample(x, how)
  if (is.null(found)) matrix(NA_real_, ncol(x), ncol(x)) else found$values$correlations
}
