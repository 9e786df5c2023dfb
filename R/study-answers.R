# From what a study file says of its answers to the questionnaire.

questionnaire_of_study <- function(s) {
  data <- read_study_answers(s)
  codebook <- if (!is.null(s$codebook)) read_codebook(study_path(s, s$codebook))
  asking <- stage_arguments(s, "ask")
  asking["missing_codes"] <- list(codes_of_study(asking$missing_codes))
  # columns are named by words: they go in as they are
  asked <- rlang::inject(questionnaire(data, codebook = codebook, !!!asking))
  filters <- unlist(s$answers$filters)
  if (length(filters)) asked <- keep_people(asked, where = filters)
  drop_as_decided(asked, s)
}

# Codes as numbers where all are; words stay words.
codes_of_study <- function(codes) {
  if (is.null(codes)) return(NULL)
  number <- suppressWarnings(as.numeric(codes))
  if (anyNA(number)) as.character(codes) else number
}

# Where items are sifted, dropping is the first step of that, and stands in its trail.
drop_as_decided <- function(asked, s) {
  gone <- names(s$by_hand$drop)
  if (s$sift$run) return(asked)
  strange <- setdiff(gone, colnames(asked$values$answers))
  if (length(strange)) {
    stop_input("items", "Items that are dropped must be among the items.",
      got = sprintf("Not there: %s.", name_culprits(strange)),
      todo = hint_nearest(strange[1L], colnames(asked$values$answers)))
  }
  if (!length(gone)) return(asked)
  keep_items(asked, -tidyselect::all_of(gone))
}

read_study_answers <- function(s) {
  reading <- stage_arguments(s, "read")
  reading <- reading[setdiff(names(reading), c("database", "table"))]
  reading$file <- study_answers(s)
  if (is.null(reading$missing)) reading <- reading[names(reading) != "missing"]
  call_with(read_responses, reading)
}
