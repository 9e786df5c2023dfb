# Are the factors of groups the same?
library(softsieve)

motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
two <- keep_people(motives, where = "cafe in (Canal Street, Mill Lane)")

groups <- factor_solution(two, 4, by = cafe, seed = 2026)
print(groups)

# by hand: a solution each, matched
canal <- factor_solution(keep_people(motives, where = "cafe = Canal Street"), 4, seed = 2026)
mill <- factor_solution(keep_people(motives, where = "cafe = Mill Lane"), 4, seed = 2026)
print(compare_solutions(canal = canal, mill = mill))

# scores beside the norms of their group
solution <- factor_solution(motives, 4, seed = 2026)
scores <- score_respondents(form_scales(solution), motives, also = "percentile", by = cafe)
print(scores)
