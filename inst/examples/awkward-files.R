# Files as they come: each trouble, and what becomes of it.
library(softsieve)

folder <- tempfile("awkward-")
dir.create(folder)

# semicolons, decimal commas, the wording in a second header row, 9 for "no answer"
file <- file.path(folder, "export.csv")
writeLines(
  c(
    "who;hours;q1;q2;q3;q4",
    "Name;Hours a month;I like mending;It saves money;Tools bore me;I meet people",
    "a1;3,5;4;5;2;4",
    "a2;1,0;5;4;1;9",
    "a3;2,5;2;3;4;3",
    "a4;4,0;1;9;5;2",
    "a5;0,5;3;3;3;5",
    "a6;6,0;5;5;1;4"
  ),
  file
)
answers <- read_responses(file)
print(attr(answers, "reading")$text)

# what are its columns? A proposal, as a study file and a codebook to look at
begun <- begin_study(file, folder)
print(begun$columns)
writeLines(readLines(begun$files[1]))

# without a codebook the questionnaire says what looks odd
plain <- questionnaire(answers, items = c(q1, q2, q3, q4), id = who)
print(plain$findings$text)

# said by hand: what is reversed, what is no answer, where the scale ends
asked <- questionnaire(
  answers,
  items = c(q1, q2, q3, q4),
  id = who,
  reversed = q3,
  missing_codes = 9,
  ends = c(1, 5)
)
print(asked)

# answers in words
worded <- data.frame(
  w1 = c("never", "often", "always", "sometimes"),
  w2 = c("often", "always", "always", "never"),
  w3 = c("sometimes", "often", "never", "never")
)
book <- data.frame(
  item = c("w1", "w2", "w3"),
  labels = "1 = never | 2 = sometimes | 3 = often | 4 = always"
)
print(questionnaire(worded, codebook = book)$values$answers)

# a mistake is an error that says what to do
mistake <- tryCatch(
  questionnaire(data.frame(q1 = c("1", "two", "3"), q2 = 1:3)),
  softsieve_error = function(e) conditionMessage(e)
)
cat(mistake, "\n")
