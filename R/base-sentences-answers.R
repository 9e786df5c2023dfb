# The catalogue of findings (base-findings.R): those of reading and questionnaires.

FINDING_HOW_READ <- spec(
  name = "how_read",
  label = "\"%s\": %s; %s in %s.",
  order = 1,
  stage = "reading",
  severity = "note",
  meaning = paste(
    "Tells what was decided about cells, encoding and decimal mark. Look whether it is",
    "what the file has; every choice is an argument of read_responses()."
  )
)

FINDING_WORDING_ROW <- spec(
  name = "wording_row",
  label = paste(
    "The line below the names was taken for the items' wording (header_rows = 1 reads",
    "it as a person)."
  ),
  order = 2,
  stage = "reading",
  severity = "note",
  meaning = paste(
    "Two header rows: names, and wording below them. If the second row is a person,",
    "give header_rows = 1."
  )
)

FINDING_HEADER_ROWS <- spec(
  name = "header_rows",
  label = paste(
    "The two lines below the names were taken for the items' wording and for codes",
    "(header_rows = 1 reads them as people)."
  ),
  order = 2.5,
  stage = "reading",
  severity = "note",
  meaning = paste(
    "Three header rows: names, wording, and codes of the survey program. If these rows are people,",
    "give header_rows = 1."
  )
)

FINDING_NEARLY_NUMERIC <- spec(
  name = "nearly_numeric",
  label = "Column %s stays text because of %s.",
  order = 3,
  stage = "reading",
  severity = "caution",
  meaning = paste(
    "A column is text because a few of its cells are no numbers. Mend these cells, or",
    "name them as missing_codes."
  )
)

FINDING_HEADER_REPEATED <- spec(
  name = "header_repeated",
  label = "The header stands again in line %s: left out. Were files put together?",
  order = 4,
  stage = "reading",
  severity = "caution",
  meaning = paste(
    "Files that were put together repeat their header. Look whether the parts belong to",
    "one data set."
  )
)

FINDING_LINE_ENDS_IN_CELLS <- spec(
  name = "line_ends_in_cells",
  label = "%s over several lines (line %s): is every quote closed where it should be?",
  order = 5,
  stage = "reading",
  severity = "caution",
  meaning = paste(
    "A quote that is not closed swallows lines, and with them people. Compare the",
    "number of people with that of the file."
  )
)

FINDING_LEVELS_NUMBERED <- spec(
  name = "levels_numbered",
  label = "Ordered factors numbered by their levels, the lowest 1: %s.",
  order = 6,
  stage = "questionnaire",
  severity = "note",
  meaning = paste(
    "Ordered factors became numbers by the order of their levels. Look whether that",
    "order is the one meant."
  )
)

FINDING_WORDS_AS_MISSING <- spec(
  name = "words_as_missing",
  label = "%s given as words for no answer: %s.",
  order = 7,
  stage = "questionnaire",
  severity = "note",
  meaning = paste(
    "Words such as \"no answer\" count as missing. The codebook's missing_codes holds",
    "them."
  )
)

FINDING_OUT_OF_RANGE <- spec(
  name = "out_of_range",
  label = "%s: %s outside the codebook's range, treated as missing.",
  order = 8,
  stage = "questionnaire",
  severity = "caution",
  meaning = paste(
    "Answers outside the codebook's ends were treated as missing, as was asked. Look",
    "for typing errors, or ends that are wrong."
  )
)

FINDING_CATEGORIES_SPLIT <- spec(
  name = "categories_split",
  label = "%s was made into items of 0 and 1: %s.",
  order = 9,
  stage = "questionnaire",
  severity = "note",
  meaning = paste(
    "A column of categories without order became items of 0 and 1, one for each",
    "category."
  )
)

FINDING_COLUMNS_LEFT_OUT <- spec(
  name = "columns_left_out",
  label = "Kept apart, as neither items nor ids, groups or weights: %s.",
  order = 10,
  stage = "questionnaire",
  severity = "note",
  meaning = "Columns that are neither item nor id, group or weight are not analysed."
)

FINDING_TURNED_BY_ANSWERS <- spec(
  name = "turned_by_answers",
  label = "%s was turned round between %s and %s.",
  order = 11,
  stage = "questionnaire",
  severity = "note",
  meaning = paste(
    "An item was turned round between the lowest and highest answer given, as nobody",
    "said the scale's ends. Give `ends`, or a codebook."
  )
)

FINDING_NO_CODEBOOK <- spec(
  name = "no_codebook",
  label = "No codebook: wording comes from the columns' labels, the range from the answers%s.",
  order = 12,
  stage = "questionnaire",
  severity = "caution",
  meaning = paste(
    "Without a codebook nobody knows wording, ends and keys: items worded in reverse",
    "are not turned round. Give one, or `reversed` and `ends`."
  )
)

FINDING_REPEATED_ID <- spec(
  name = "repeated_id",
  label = "%s in `%s` more than once: %s. Was a person entered twice?",
  order = 13,
  stage = "questionnaire",
  severity = "caution",
  meaning = "The same name stands for two rows. Take one of them out, or choose another id."
)

FINDING_MANY_ANSWERS <- spec(
  name = "many_answers",
  label = "%s has %s different answers: is it an item?",
  many = "%s have many different answers: are they items?",
  order = 14,
  stage = "questionnaire",
  severity = c("caution", "serious"),
  meaning = paste(
    "So many different answers are rare for an item: it may be an age, an id or a sum.",
    "Leave it out, or say so in the codebook."
  )
)

FINDING_FRACTIONS <- spec(
  name = "fractions",
  label = "%s has %s that %s no whole numbers.",
  many = "%s have numbers that are not whole.",
  order = 15,
  stage = "questionnaire",
  severity = "caution",
  meaning = paste(
    "Whole numbers were expected. A decimal mark may be misread, or the column is a",
    "mean and no item."
  )
)

FINDING_PEOPLE_KEPT <- spec(
  name = "people_kept",
  label = "%s of %s kept: %s.",
  order = 16,
  stage = "questionnaire",
  severity = "note",
  meaning = paste(
    "Some people were left out by the conditions named. Results are of those who were",
    "kept."
  )
)

FINDING_ITEMS_LEFT_OUT <- spec(
  name = "items_left_out",
  label = "Items left out: %s.",
  order = 17,
  stage = "questionnaire",
  severity = "note",
  meaning = "Items were left out by hand. Results are of the others."
)

FINDING_LIKELY_MISSING_CODE <- spec(
  name = "likely_missing_code",
  label = paste(
    "%s is far from the other answers (%s to %s) and looks like a code for no answer:",
    "%s. If it is, say so with missing_codes."
  ),
  order = 18,
  stage = "questionnaire",
  severity = "caution",
  meaning = paste(
    "A number far from all other answers, in several items, is most likely a code for",
    "no answer. Taken as an answer it ruins every correlation."
  )
)

FINDING_UNLIKE_THE_OTHERS <- spec(
  name = "unlike_the_others",
  label = paste(
    "%s has %s different answers, the other items mostly %s: is it an item, or an age,",
    "a date, an id?"
  ),
  many = paste(
    "%s have more or fewer different answers than most items: are they items, or ages, dates,",
    "ids?"
  ),
  order = 19,
  stage = "questionnaire",
  severity = "caution",
  meaning = "A column whose answers are unlike those of the other items is rarely an item."
)

FINDING_COUNTED_IN_BLOCKS <- spec(
  name = "counted_in_blocks",
  label = "%s were counted block by block, and dealt into %s.",
  order = 20,
  stage = "tables",
  severity = "note",
  meaning = paste(
    "The answers were too many for memory, or came from a source that is read once. All that",
    "follows from counts of pairs is what it would be of the answers."
  )
)

FINDING_UNFIT_ANSWERS <- spec(
  name = "unfit_answers",
  label = "%s: %s of none of its categories, not counted.",
  order = 21,
  stage = "tables",
  severity = "caution",
  meaning = paste(
    "Answers beyond the codebook's ends, or between its categories. A code for no answer belongs",
    "into missing_codes; otherwise look whether the ends are right."
  )
)

FINDING_ENDS_OF_FIRST_BLOCK <- spec(
  name = "ends_of_first_block",
  label = "Categories are those of the first block, as nothing else told them: %s.",
  order = 22,
  stage = "tables",
  severity = "caution",
  meaning = paste(
    "Categories must be known before people are counted. Give a codebook, or `ends`: answers that",
    "came up later only are counted as unfit."
  )
)
