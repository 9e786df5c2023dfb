# Reliability: what everything costs beside stats::cov(). Everything in one run on one machine;
# quote the ratios. Run from the package root: make bench

library(softsieve)
seconds <- function(code) system.time(code)[["elapsed"]]
motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
full <- matrix(sample(5, 840 * 26, replace = TRUE), 840) + 0
ours <- theirs <- gaps <- numeric()
for (round in 1:3) {
  ours[round] <- seconds(assess_reliability(motives, seed = round, threads = 2))
  theirs[round] <- seconds(for (i in 1:1000) stats::cov(full))
  gaps[round] <- seconds(
    for (i in 1:100) stats::cov(motives$values$answers, use = "pairwise.complete.obs")) *
    10
}
cat(sprintf(
  paste("Everything for the demo data, 1,000 draws, two threads: %.1f s, %.1f times 1,000",
    "stats::cov() of 840 x 26 without missing answers (at most 12), %.1f times with them\n"),
  median(ours), median(ours / theirs), median(ours / gaps)))

set.seed(1)
people <- 24000
common <- matrix(rnorm(people * 6), people) %*% chol(0.3 + 0.7 * diag(6))
answers <- matrix(0, people, 48, dimnames = list(NULL, paste0("i", 1:48)))
for (i in 1:48) {
  answers[, i] <- findInterval(0.7 * common[, (i - 1) %/% 8 + 1] + rnorm(people, sd = 0.7),
    c(-1.2, -0.4, 0.4, 1.2)) +
    1
}
scales <- split(colnames(answers), rep(paste0("s", 1:6), each = 8))
q <- questionnaire(as.data.frame(answers))
for (round in 1:3) {
  ours[round] <- seconds(assess_reliability(scales, q, replicates = 0, seed = round, threads = 2))
  theirs[round] <- seconds(for (i in 1:10) stats::cov(answers)) / 10
}
cat(sprintf(
  "The plain part for 24,000 x 48, two threads: %.2f s, %.1f times one stats::cov() (at most 10)\n",
  median(ours), median(ours / theirs)))

all <- gaps <- numeric()
holey <- answers
holey[sample(length(holey), 0.02 * length(holey))] <- NA
with_missing <- questionnaire(as.data.frame(holey))
for (round in 1:3) {
  all[round] <- seconds(assess_reliability(scales, q, seed = round, threads = 2))
  gaps[round] <- seconds(assess_reliability(scales, with_missing, seed = round, threads = 2))
  theirs[round] <- median(vapply(1:7, function(i) seconds(stats::cov(answers)), 0))
}
pairwise <- seconds(stats::cov(holey, use = "pairwise.complete.obs"))
cat(sprintf(
  paste("24,000 x 48, six scales, 1,000 draws, two threads: %.1f s (at most 10), %.0f",
    "times one stats::cov() without missing answers (at most 60)\n"),
  median(all), median(all / theirs)))
cat(sprintf("The same with 2 %% missing: %.1f s, %.0f times one stats::cov() with them\n",
  median(gaps), median(gaps) / pairwise))

folder <- tempfile("study-")
dir.create(folder)
readr::write_csv(as.data.frame(answers), file.path(folder, "answers.csv"))
writeLines(c("answers: {file: answers.csv}", "seed: 1"), file.path(folder, "study.yml"))
run <- seconds(study <- run_study(file.path(folder, "study.yml"), threads = 2))
written <- seconds(write_results(study, file.path(folder, "results")))
cat(sprintf(
  "The default study of 24,000 x 48: %.1f s, and %.1f s to write everything (at most 30)\n",
  run, written))
