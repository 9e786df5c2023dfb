# What scoring costs beside plain R, how its memory grows, and whether limits of scores hold what
# they should. Everything in one run on one machine; quote the ratios. From the package root:
# make bench

suppressPackageStartupMessages(library(softsieve))
options(cli.progress_show_after = Inf)
seconds <- function(code) system.time(code)[["elapsed"]]
# the most memory that was in use meanwhile, over what was in use before, in MB
memory <- function(code) {
  before <- sum(gc(reset = TRUE)[, 2L])
  force(code)
  sum(gc()[, 6L]) - before
}

# Answers from 1 to 5 to p items on 5 factors, a share of them missing.
make_answers <- function(n, p = 48L, missing = 0.03) {
  loading <- rep_len(c(0.5, 0.6, 0.7), p)
  of <- rep_len(1:6, p)
  x <- matrix(0L, n, p, dimnames = list(NULL, sprintf("q%02d", seq_len(p))))
  factors <- matrix(stats::rnorm(n * 6L), n)
  for (j in seq_len(p)) {
    z <- loading[j] * factors[, of[j]] + sqrt(1 - loading[j]^2) * stats::rnorm(n)
    x[, j] <- findInterval(z, c(-1.5, -0.5, 0.5, 1.5)) + 1L
    x[stats::runif(n) < missing, j] <- NA
  }
  as.data.frame(x)
}

# The plain version: one set of weights for each pattern of gaps.
plain_scores <- function(x, s) {
  v <- s$values
  z <- sweep(sweep(as.matrix(x), 2L, v$items$mean), 2L, v$items$sd, "/")
  out <- matrix(NA_real_, nrow(z), ncol(v$structure))
  pattern <- apply(is.na(z), 1L, function(gap) paste(which(gap), collapse = " "))
  for (rows in split(seq_len(nrow(z)), pattern)) {
    has <- !is.na(z[rows[1L], ])
    weights <- solve(v$correlations[has, has], v$structure[has, ])
    out[rows, ] <- z[rows, has, drop = FALSE] %*% weights
  }
  out
}

set.seed(1)
d <- make_answers(24000)
q <- questionnaire(d, ends = c(1, 5))
s <- factor_solution(q, 6, seed = 1, starts = 10)
ours <- plain <- numeric()
for (round in 1:3) {
  plain[round] <- seconds(by_hand <- plain_scores(d, s))
  ours[round] <- seconds(scored <- score_respondents(s, q, threads = 2))
}
away <- max(abs(as.matrix(as_tibble(scored)[colnames(coef(s))]) - by_hand), na.rm = TRUE)
cat(sprintf(
  "24,000 people, 48 items, 3 %% missing: %.2f times the plain version (%.2f s), %.0e apart\n",
  stats::median(ours / plain), stats::median(ours), away))
for (method in c("bartlett", "correlation_preserving", "anderson_rubin")) {
  cat(sprintf("  %s: %.1f s\n", method, seconds(score_respondents(s, q, method = method))))
}
cat(sprintf("  with errors: %.1f s\n", seconds(score_respondents(s, q, errors = TRUE))))
all <- extract_components(q, 5)
cat(sprintf("  rebuilt from 5 components: %.1f s\n", seconds(reconstruct_responses(all))))

cat("Memory beyond the answers, in MB (the scores themselves in brackets), and seconds:\n")
for (n in c(125000, 250000, 500000, 1000000)) {
  big <- questionnaire(make_answers(n), ends = c(1, 5))
  spent <- NA
  used <- memory(spent <- seconds(scored <- score_respondents(s, big, threads = 2)))
  cat(sprintf("  %9s people: %.0f (%.0f), %.1f s\n", format(n, big.mark = ",", scientific = FALSE),
    used, as.numeric(utils::object.size(scored$values$scores)) / 2^20, spent))
  rm(big, scored)
}

# Do 95 % limits hold the factor, and the true score of a scale? Skewed answers in five categories,
# loadings that differ, solutions from n people; a make that nothing was tuned on.
held <- function(n, sets = 100L) {
  cuts <- c(-0.4, 0.4, 1.1, 1.8)
  loading <- rep(c(0.45, 0.55, 0.65, 0.75, 0.7), 3)
  of <- rep(1:3, each = 5)
  between <- matrix(0.35, 3, 3) + diag(0.65, 3)
  one <- function(seed) {
    set.seed(seed)
    f <- matrix(stats::rnorm(n * 3), n) %*% chol(between)
    clean <- sapply(seq_along(of), function(j) loading[j] * f[, of[j]])
    own <- rep(sqrt(1 - loading^2), each = n)
    x <- as.data.frame(
      apply(clean + own * stats::rnorm(n * 15), 2, function(z) findInterval(z, cuts) + 1))
    gaps <- cbind(sample(n, n, TRUE), sample(15, n, TRUE))
    x <- as.matrix(x)
    x[gaps] <- NA
    x <- as.data.frame(x)
    s <- factor_solution(questionnaire(x), 3, seed = 1, starts = 5)
    inside <- function(scored, name, truth) {
      t <- as_tibble(scored)
      mean(t[[paste0(name, "_lower")]] <= truth & truth <= t[[paste0(name, "_upper")]],
        na.rm = TRUE)
    }
    regression <- score_respondents(s, x, errors = TRUE)
    bartlett <- score_respondents(s, x, method = "bartlett", errors = TRUE)
    r <- stats::cor(f, as.matrix(as_tibble(regression)[colnames(coef(s))]), use = "complete.obs")
    at <- apply(abs(r), 1, which.max)
    factors <- sapply(1:3, function(k) {
      truth <- f[, k] * sign(r[k, at[k]])
      name <- colnames(coef(s))[at[k]]
      c(inside(regression, name, truth), inside(bartlett, name, truth))
    })
    # the true score: what a person's mean is expected to be, given the factors
    expected <- sapply(seq_along(of), function(j) {
      1 + rowSums(sapply(cuts, function(cut) {
        stats::pnorm((clean[, j] - cut) / sqrt(1 - loading[j]^2))
      }))
    })
    scales <- form_scales(split(names(x), paste0("scale", of)))
    scored <- score_respondents(scales, x, errors = TRUE)
    means <- sapply(1:3, function(k) {
      inside(scored, paste0("scale", k), rowMeans(expected[, of == k]))
    })
    c(rowMeans(factors), mean(means))
  }
  rowMeans(sapply(seq_len(sets), one))
}
for (n in c(200, 1000)) {
  h <- held(n)
  cat(sprintf("95 %% limits, n = %d: regression %.3f, Bartlett %.3f, scale means %.3f\n", n, h[1],
    h[2], h[3]))
}
