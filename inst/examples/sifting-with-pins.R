# Weak items out, one at a time; some are pinned, one is put back; and how firm all that is.
library(softsieve)

motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)

rules <- sift_rules(communality = 0.25, least_per_factor = 3)
sifted <- sift_items(
  motives,
  rules,
  factors = 4,
  keep = "p6",
  drop_first = c(o2 = "about travel, not about mending"),
  seed = 2026
)
print(sifted)
print(sifted$values$trail[c("pass", "step", "item", "rule", "value", "limit", "why")])

# an item that the board wants
back <- sift_restore(sifted, "o1", "the cafe's owner asked for it")
back <- sift_items(back)
print(back$values$left)

# the same steps on half of the people: where do they depart?
some <- keep_people(motives, where = "cafe in (Harbour, Station, Mill Lane)")
print(replay(sifted, some))

# other limits, other people: which removals are firm?
print(sift_paths(sifted, replicates = 40, seed = 2026))
