# What a study file may say of itself, its answers and its codebook. study-entries.R has the fields
# of an entry.

ENTRY_TITLE <- spec(name = "title", label = "Title of the report", order = 1, type = "string")

ENTRY_AUTHOR <- spec(name = "author", label = "Who made the study", order = 2, type = "string")

ENTRY_LANGUAGE <- spec(
  name = "language",
  label = "The language of the sentences in which the report says methods and results",
  order = 3.5,
  type = "string",
  choices = function() names_of("language"),
  default = "en"
)

ENTRY_DATE <- spec(
  name = "date",
  label = "The date that the report shows; none when left out",
  order = 3,
  type = "string"
)

ENTRY_ANSWERS_FILE <- spec(
  name = "answers.file",
  label = function() {
    others <- vapply(specs("reader"), `[[`, "", "label")
    sprintf("Text (CSV, TSV and the like), %s; one row for each person", join_words(others))
  },
  order = 4,
  type = "string",
  stage = "read",
  argument = "file"
)

ENTRY_ANSWERS_DATABASE <- spec(
  name = "answers.database",
  label = function() {
    engines <- vapply(specs("engine"), `[[`, "", "label")
    sprintf(
      "Instead of a file: %s; never with a password (?database_table)",
      paste(engines, collapse = "; ")
    )
  },
  order = 4.1,
  type = "string",
  stage = "read",
  argument = "database"
)

ENTRY_ANSWERS_TABLE <- spec(
  name = "answers.table",
  label = "The table or view of the database; with its schema, a list of two",
  order = 4.2,
  type = "string",
  several = TRUE,
  stage = "read",
  argument = "table"
)

ENTRY_ANSWERS_DELIMITER <- spec(
  name = "answers.delimiter",
  label = "One character; found when left out",
  order = 5,
  type = "string",
  stage = "read",
  argument = "delimiter"
)

ENTRY_ANSWERS_DECIMAL <- spec(
  name = "answers.decimal",
  label = "The decimal mark; found when left out",
  order = 6,
  type = "string",
  choices = function() c(".", ","),
  stage = "read",
  argument = "decimal"
)

ENTRY_ANSWERS_THOUSANDS <- spec(
  name = "answers.thousands",
  label = "The mark between thousands; found when left out",
  order = 7,
  type = "string",
  choices = function() c(",", ".", "'", " "),
  stage = "read",
  argument = "thousands"
)

ENTRY_ANSWERS_ENCODING <- spec(
  name = "answers.encoding",
  label = "For example latin1; found when left out",
  order = 8,
  type = "string",
  stage = "read",
  argument = "encoding"
)

ENTRY_ANSWERS_SHEET <- spec(
  name = "answers.sheet",
  label = "Name or number of the sheet, for XLSX and ODS",
  order = 9,
  type = c("string", "integer"),
  default = 1,
  stage = "read",
  argument = "sheet"
)

ENTRY_ANSWERS_HEADER_ROWS <- spec(
  name = "answers.header_rows",
  label = "2 when the wording stands below the names; found when left out",
  order = 10,
  type = "integer",
  lowest = 1,
  highest = 2,
  stage = "read",
  argument = "header_rows"
)

ENTRY_ANSWERS_MISSING_WORDS <- spec(
  name = "answers.missing_words",
  label = "Texts in the file that mean no answer, beside an empty cell; NA when left out",
  order = 10.5,
  type = "string",
  several = TRUE,
  stage = "read",
  argument = "missing"
)

ENTRY_ANSWERS_FILTERS <- spec(
  name = "answers.filters",
  label = paste(
    "Only people for whom all of these hold, for example: cafe = Harbour; age >= 18; cafe in",
    "(Harbour, Mill); m1 is given; joined by and, or, not. Items count as they are analysed"
  ),
  order = 19.5,
  type = "string",
  several = TRUE
)

ENTRY_ANSWERS_ID <- spec(
  name = "answers.id",
  label = "Column that names a person",
  order = 11,
  type = "string",
  stage = "ask",
  argument = "id"
)

ENTRY_ANSWERS_WEIGHT <- spec(
  name = "answers.weight",
  label = "Column of sampling weights",
  order = 12,
  type = "string",
  stage = "ask",
  argument = "weight"
)

ENTRY_ANSWERS_CLUSTER <- spec(
  name = "answers.cluster",
  label = "Column of the clusters in which people were sampled",
  order = 12.5,
  type = "string",
  stage = "ask",
  argument = "cluster"
)

ENTRY_ANSWERS_GROUP <- spec(
  name = "answers.group",
  label = "Columns that group people",
  order = 13,
  type = "string",
  several = TRUE,
  stage = "ask",
  argument = "group"
)

ENTRY_ANSWERS_ITEMS <- spec(
  name = "answers.items",
  label = "Items to analyse; the codebook's when left out",
  order = 14,
  type = "string",
  several = TRUE,
  stage = "ask",
  argument = "items"
)

ENTRY_ANSWERS_REVERSED <- spec(
  name = "answers.reversed",
  label = "Items worded in reverse, beside those of the codebook",
  order = 15,
  type = "string",
  several = TRUE,
  stage = "ask",
  argument = "reversed"
)

ENTRY_ANSWERS_MISSING_CODES <- spec(
  name = "answers.missing_codes",
  label = "Numbers and words that mean no answer, beside those of the codebook",
  order = 16,
  type = c("number", "string"),
  several = TRUE,
  stage = "ask",
  argument = "missing_codes"
)

ENTRY_ANSWERS_ENDS <- spec(
  name = "answers.ends",
  label = "The lowest and the highest answer, where no codebook says them",
  order = 17,
  type = "number",
  several = TRUE,
  stage = "ask",
  argument = "ends"
)

ENTRY_ANSWERS_CATEGORIES <- spec(
  name = "answers.categories",
  label = "Columns of categories without order, to be made into items of 0 and 1",
  order = 18,
  type = "string",
  several = TRUE,
  stage = "ask",
  argument = "categories"
)

ENTRY_ANSWERS_OUT_OF_RANGE <- spec(
  name = "answers.out_of_range",
  label = "What becomes of answers outside the ends: an error, or missing",
  order = 19,
  type = "string",
  choices = function() c("stop", "missing"),
  default = "stop",
  stage = "ask",
  argument = "out_of_range"
)

ENTRY_CODEBOOK <- spec(
  name = "codebook",
  label = "CSV, XLSX, ODS or YAML, one row for each item",
  order = 20,
  type = "string"
)
