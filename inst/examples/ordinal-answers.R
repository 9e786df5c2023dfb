# Few skewed categories: what polychoric correlations change.
library(softsieve)

motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)

# made coarser, so that it matters: three categories, most people in the last
coarse <- as_tibble(motives)
items <- motives$values$items$item
coarse[items] <- lapply(coarse[items], function(x) findInterval(x, c(3, 4)) + 1)
few <- questionnaire(coarse, items = tidyselect::all_of(items), ends = c(1, 3))

pearson <- correlate_items(few)
polychoric <- correlate_items(few, kind = "polychoric")
r <- pearson$values$correlations
p <- polychoric$values$correlations
print(summary(p[lower.tri(p)] - r[lower.tri(r)]))

# the same number of factors, larger loadings
by_pearson <- factor_solution(pearson, 4, seed = 1)
by_polychoric <- factor_solution(polychoric, 4, seed = 1)
print(compare_solutions(pearson = by_pearson, polychoric = by_polychoric))
print(c(
  pearson = sum(by_pearson$values$variance$share),
  polychoric = sum(by_polychoric$values$variance$share)
))

# weighted least squares also gives a test of fit that holds for such answers
weighted <- factor_solution(polychoric, 4, method = "wls", seed = 1)
print(weighted)
