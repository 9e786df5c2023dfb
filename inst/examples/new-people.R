# A solution that is saved, and new people who are scored with it in another session.
library(softsieve)

motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
solution <- name_factors(
  factor_solution(motives, 4, seed = 2026),
  c("thrift", "planet", "mending", "neighbours")
)
file <- tempfile(fileext = ".json")
write_solution(solution, file)

# elsewhere, later: raw answers, with a reversed item and a code for no answer
new_people <- utils::head(repair_cafe, 5)
new_people$m2[2] <- 9
saved <- read_solution(file)
print(predict(saved, new_people))

# or without R: what a database would compute
cat(formula_code(score_formula(form_scales(saved)), "sql"), sep = "\n")
