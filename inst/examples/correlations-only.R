# A correlation matrix from a paper: no answers, only how many people there were.
library(softsieve)

# made up: six motives, two of a kind each
r <- matrix(0.2, 6, 6)
for (pair in list(1:2, 3:4, 5:6)) r[pair, pair] <- 0.6
diag(r) <- 1
dimnames(r) <- rep(list(c("mend1", "mend2", "save1", "save2", "meet1", "meet2")), 2)

print(assess_factorability(r, n = 240))
count <- count_factors(r, n = 240, replicates = 200, seed = 1)
print(count)

solution <- factor_solution(r, 2, n = 240, seed = 1)
print(pattern_table(solution))
print(residuals(solution)[1:3, 1:3])

# what needs people says so
refused <- tryCatch(score_respondents(solution, r), softsieve_error = conditionMessage)
cat(refused, "\n")
