# Components, what the first ones keep of the answers, and the way back.
library(softsieve)

motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)

# layer by layer: what each further component leaves unexplained
layers <- component_layers(extract_components(motives, 6))
print(layers)

# answers rebuilt from the first four
first <- extract_components(motives, 4)
rebuilt <- reconstruct_responses(first, motives)
print(rebuilt)

# components as scores, and their weights as a formula for raw answers
solution <- rotate_factors(extract_components(motives, 4), "varimax", seed = 1)
scores <- score_respondents(solution, motives, method = "component")
print(scores)
formula <- score_formula(solution, method = "component")
print(head(coef(formula)))
cat(head(formula_code(formula, "r"), 12), sep = "\n")

# a regression on scores, carried back to the items
scored <- as_tibble(scores)
hours <- 2 + 0.5 * scored[[colnames(coef(solution))[1]]] + sin(seq_len(nrow(scored)))
fit <- stats::lm(hours ~ ., data = cbind(hours = hours, scored[colnames(coef(solution))]))
print(carry_back(fit, formula))
