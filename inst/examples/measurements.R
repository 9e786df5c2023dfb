# Measurements: rows are days, columns are quantities in different units.
library(softsieve)

log <- questionnaire(repair_log, visitors:kilograms, order = day, measured = TRUE,
  called = c(row = "day", column = "gauge"))
print(log)

# how the gauges go together, in the first and in the second half of the days
print(correlate_items(log))
print(correlations_by(log, window = 104))

# how many components, against columns that were only shifted
print(parallel_analysis(log, seed = 1))
busy <- factor_solution(log, 2, method = "components", rotation = "varimax")
print(busy)

# what they are worth for something else: were tools broken?
print(components_for(log, repair_log$tools_broken > 1, seed = 1))

# the scores of one day, part by part, and the way back to what was measured
scored <- score_respondents(busy, log)
print(explain_score(scored, log, 2))
print(score_formula(extract_components(log, 6), inverse = TRUE))
