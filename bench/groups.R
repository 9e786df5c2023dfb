# Is the test of equal groups in factor_solution(by = ) one? Groups made equal: how often is p below
# .05, and how many loadings are called apart. Groups made different (one of 12 items belongs to the
# other factor): how often p is below .05. Five-category answers, oblimin. Writes bench/groups.csv.

suppressPackageStartupMessages(library(softsieve))
sets <- 100L

make <- function(n, groups, differ, seed) {
  set.seed(seed)
  plain <- matrix(0, 12, 2)
  plain[1:6, 1] <- plain[7:12, 2] <- c(0.8, 0.7, 0.6, 0.6, 0.5, 0.4)
  other <- plain
  if (differ) other[3, ] <- c(0, 0.6)
  between <- matrix(c(1, 0.4, 0.4, 1), 2)
  one <- function(loadings) {
    r <- loadings %*% between %*% t(loadings)
    diag(r) <- 1
    z <- matrix(stats::rnorm(n * 12), n) %*% chol(r)
    apply(z, 2, function(v) findInterval(v, c(-1.2, -0.3, 0.5, 1.3)) + 1)
  }
  parts <- lapply(seq_len(groups), function(g) one(if (g == 1L) other else plain))
  data.frame(group = rep(letters[seq_len(groups)], each = n), do.call(rbind, parts))
}

rows <- list()
for (differ in c(FALSE, TRUE)) {
  for (n in c(100L, 300L)) {
    for (groups in c(2L, 5L)) {
      found <- vapply(seq_len(sets), function(i) {
        q <- questionnaire(make(n, groups, differ, i), group = "group")
        v <- factor_solution(q, 2, by = "group", replicates = 200, starts = 5, seed = 1)$values
        c(p = v$chance$p, apart = v$apart / nrow(v$differences))
      }, c(p = 0, apart = 0))
      rows <- c(rows, list(data.frame(groups = groups, people_each = n,
        truth = if (differ) "one item differs" else "equal", below_05 = mean(found["p", ] < 0.05),
        loadings_apart = round(mean(found["apart", ]), 3L))))
      print(rows[[length(rows)]])
    }
  }
}
utils::write.csv(do.call(rbind, rows), "bench/groups.csv", row.names = FALSE)
