# Five minutes: from a file of answers to scores.
library(softsieve)

files <- system.file("extdata", package = "softsieve")
answers <- read_responses(file.path(files, "repair_cafe_answers.csv"))
codebook <- read_codebook(file.path(files, "repair_cafe_codebook.csv"))

# answers and codebook together: reversed items are reverse-scored, codes for no answer are missing
motives <- questionnaire(answers, codebook = codebook, id = person, group = cafe)
print(motives)

# can the items be factored, and into how many factors?
print(assess_factorability(motives))
count <- count_factors(motives, replicates = 200, seed = 2026)
print(count)

# which item belongs to which factor?
solution <- rotate_factors(extract_factors(motives, count), "oblimin", seed = 2026)
print(pattern_table(solution))

# how far can each scale be trusted?
print(assess_reliability(form_scales(solution), motives, replicates = 200, seed = 2026))

# each person's scores, beside who they are
print(score_respondents(solution, motives))
