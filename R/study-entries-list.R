# Every entry of a study file, in the order in which they are written: by section and the stage that
# takes them. What a verb takes is declared beside the verb (declared_by()); here stands the rest.
# study-entries.R makes the form, the schema, options of the command and the stages' arguments of
# this.

# Made once (families that they name are settled when the package is built).
study_entries <- function() {
  if (is.null(FOUND$entries)) assign("entries", make_study_entries(), envir = FOUND)
  FOUND$entries
}

make_study_entries <- function() {
  c(entries_of_answers(), entries_of_factors(), entries_of_sifting(), entries_of_results(),
    seed_entries(),
    under("", "", decisions = list(
      label = "What people decided, in turn: each with what, why, who, when and the numbers",
      type = "record", records = form_of_decision)))
}

labels_of <- function(family) paste(vapply(family, `[[`, "", "label"), collapse = "; ")

entries_of_answers <- function() {
  c(
    under("", "",
      title = a_text("Title of the report"),
      author = a_text("Who made the study"),
      date = a_text("The date that the report shows; none when left out"),
      language = a_text("The language of the report's sentences on methods and results",
        names(languages()), default = "en")),
    under("answers", "read",
      file = a_text(
        paste0("Text (CSV, TSV and the like), ", labels_of(READERS), "; one row for each person")),
      database = a_text(
        paste0("Instead of a file: ", labels_of(ENGINES),
          "; never with a password (?database_table)")),
      table = a_text("The table or view of the database; with its schema, a list of two",
        several = TRUE),
      delimiter = a_text("One character; found when left out"),
      decimal = a_text("The decimal mark; found when left out", c(".", ",")),
      thousands = a_text("The mark between thousands; found when left out", c(",", ".", "'", " ")),
      encoding = a_text("For example latin1; found when left out"),
      sheet = a_whole("Name or number of the sheet, for XLSX and ODS", words = TRUE, default = 1),
      header_rows = a_whole("2 with wording below the names, 3 with codes too; found when left out",
        1, 3),
      missing_words = a_text(
        "Texts in the file that mean no answer, in addition to an empty cell; NA when left out",
        several = TRUE, argument = "missing")),
    declared_by("answers", "ask", questionnaire, QUESTIONNAIRE_TAKES),
    under("answers", "",
      filters = a_text(
        paste(
          "Only people for whom all of these hold, for example: cafe = Harbour; age >= 18; cafe in",
          "(Harbour, Mill); m1 is given; joined by and, or, not. Items count as they are analysed"),
        several = TRUE)),
    under("", "", codebook = a_text("CSV, XLSX, ODS or YAML, one row for each item")),
    declared_by("correlations", "correlate", correlate_items.questionnaire, CORRELATE_TAKES))
}

entries_of_factors <- function() {
  c(
    under("factors", "number",
      number = a_whole(
        paste("A whole number, \"probable\" (what count_factors() takes: the most probable number,",
          "less what is not a topic) or \"parallel\" (parallel analysis)"),
        1,
        words = c("probable", "parallel", setdiff(names(RULES), "parallel")),
        default = "probable")),
    declared_by("factors", "count", count_factors, COUNT_TAKES),
    declared_by("factors", "extract", extract_factors, EXTRACT_TAKES),
    declared_by("factors", "rotate", rotate_factors, ROTATE_TAKES),
    rotation_entries(),
    under("factors", "name",
      names = a_text("What factors are called, by F1, F2, ... (of components C1, C2, ...)",
        mapped = TRUE)))
}

entries_of_sifting <- function() {
  c(
    under("sift", "",
      run = a_flag("Sift items before the solution is settled", default = FALSE),
      without = a_text("Rules that are not used", names(SIFTING_RULES), several = TRUE)),
    declared_by("sift", "sift", sift_items, SIFT_TAKES),
    declared_by("sift", "rules", sift_rules, RULES_TAKE), sifting_entries())
}

entries_of_results <- function() {
  c(
    declared_by("pattern", "pattern", pattern_table, PATTERN_TAKES),
    under("scales", "by",
      defined_by = a_text("Scales by what items load on, or as the codebook names them",
        c("solution", "codebook"), default = "solution", setting = "by")),
    declared_by("scales", "form", form_scales, SCALES_TAKE),
    declared_by("scales", "trust", assess_reliability, RELIABILITY_TAKES),
    scores_of("scores", "score", setdiff(names(SCORE_METHODS), score_methods_of("scales"))),
    scores_of("scale_scores", "score_scales", score_methods_of("scales"), default = "mean"))
}

# Scores on factors and on scales are asked for apart, each by its own methods.
scores_of <- function(section, stage, methods, default = NULL) {
  takes <- SCORE_TAKES
  takes$method[c("choices", "default")] <- list(methods, default)
  declared_by(section, stage, score_respondents, takes)
}

# Parameters of rotations, and the limits of sifting's rules, come from their specs.
TYPES_OF_PARAMETERS <- c(number = "number", integer = "integer", flag = "boolean", text = "string")

rotation_entries <- function() {
  found <- parameters_of(ROTATIONS)
  found <- found[vapply(found, `[[`, "", "type") != "matrix"]
  entries <- Map(function(p, name) {
    takers <- Filter(function(one) name %in% names(one$parameters), ROTATIONS)
    list(
      label = sprintf("For %s: %s", join_words(names(takers)), p$description),
      type = TYPES_OF_PARAMETERS[[p$type]], lowest = p$lowest, highest = p$highest,
      default = p$default)
  }, found, names(found))
  do.call(under, c(list("factors", ""), entries))
}

sifting_entries <- function() {
  limits <- lapply(SIFTING_RULES, function(one) {
    label <- sprintf("Limit of the rule \"%s\" (%s)", one$name, one$label)
    a_number(label, one$lowest, one$highest)
  })
  do.call(under, c(list("sift", "rules"), limits))
}

# A seed for each stage that draws, where they are not all the same.
SEEDED <- c(count = "chance data", rotation = "the starts of the rotation",
  sift = "the passes of sifting", reliability = "drawing people for intervals")
HIGHEST_SEED <- 2147483647

seed_entries <- function() {
  own <- lapply(SEEDED, function(of) {
    a_whole(sprintf("The seed of %s, where it is not `seed`", of), 0, HIGHEST_SEED)
  })
  c(
    under("", "", seed = a_whole("Drawn, and written into the results, when left out", 0,
      HIGHEST_SEED)),
    do.call(under, c(list("own_seeds", ""), own)))
}

seed_of <- function(s, what) if (is.null(s$own_seeds[[what]])) s$seed else s$own_seeds[[what]]
