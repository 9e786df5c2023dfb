# Every entry of a study file, in the order in which they are written: by section and the stage that
# takes them, each with what it means, what it may be and its default. study-entries.R makes the
# form, the schema, options of the command and the stages' arguments of this.

study_entries <- function() {
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
        "Texts in the file that mean no answer, beside an empty cell; NA when left out",
        several = TRUE, argument = "missing")),
    under("answers", "ask",
      id = a_text("Column that names a person"),
      weight = a_text("Column of sampling weights"),
      cluster = a_text("Column of the clusters in which people were sampled"),
      group = a_text("Columns that group people", several = TRUE),
      items = a_text("Items to analyse; the codebook's when left out", several = TRUE),
      reversed = a_text("Items worded in reverse, beside those of the codebook", several = TRUE),
      missing_codes = a_number(
        "Numbers and words that mean no answer, beside those of the codebook",
        words = TRUE, several = TRUE),
      ends = a_number("The lowest and the highest answer, where no codebook says them",
        several = TRUE),
      categories = a_text("Columns of categories without order, to be made into items of 0 and 1",
        several = TRUE),
      out_of_range = a_text("What becomes of answers outside the ends: an error, or missing",
        c("stop", "missing"), default = "stop")),
    under("answers", "",
      filters = a_text(
        paste(
          "Only people for whom all of these hold, for example: cafe = Harbour; age >= 18; cafe in",
          "(Harbour, Mill); m1 is given; joined by and, or, not. Items count as they are analysed"),
        several = TRUE)),
    under("", "", codebook = a_text("CSV, XLSX, ODS or YAML, one row for each item")),
    under("correlations", "correlate",
      kind = a_text("The kind of correlation", names(KINDS), default = "pearson"),
      missing = a_text("What is done about missing answers", names(MISSING_METHODS),
        default = "pairwise"),
      continuous_from = a_whole("For mixed: items with so many different answers are continuous",
        3, 17, default = 11),
      repair = a_flag(
        "Replace a matrix with negative eigenvalues by the nearest correlation matrix",
        default = TRUE)))
}

entries_of_factors <- function() {
  c(
    under("factors", "number",
      number = a_whole(
        paste("A whole number, \"probable\" (what count_factors() takes: the most probable number,",
          "less what is no topic) or \"parallel\" (parallel analysis)"),
        1,
        words = c("probable", "parallel", setdiff(names(RULES), "parallel")),
        default = "probable")),
    under("factors", "count",
      basis = a_text("Which eigenvalues are compared with chance", names(BASES),
        default = "components"),
      chance = a_text(
        "Where chance eigenvalues come from; normal, or ordinal for ordinal correlations",
        names(CHANCE_DATA)),
      sequential = a_flag("Draw chance data with the factors kept so far", default = FALSE),
      reference = a_text("Which level of chance an eigenvalue must pass",
        names(REFERENCE_LEVELS), default = "upper"),
      percentile = a_number("The percentile of chance", 50, 100, default = 95),
      replicates = a_whole("How many sets of chance data, or enough to be sure",
        20, 1e6, words = c("enough"), default = 1000),
      rules = a_text("Which rules are asked, in words or all; the quick ones when left out",
        c("all", names(RULES)), several = TRUE),
      most = a_whole("The largest number of factors that the rules try; found when left out",
        1, 100),
      share = a_number("The share of variance that the rule \"running_share\" asks for",
        0.1, 1, default = 0.8),
      plausible = a_number("How often the range of plausible numbers should hold the truth",
        0.5, 0.999, default = 0.95)),
    under("factors", "extract",
      method = a_text("How factors are extracted", names(EXTRACTIONS), default = "minres"),
      analyse = a_text("Correlations, or covariances of the items",
        c("correlations", "covariances"), setting = "analysed"),
      lowest_uniqueness = a_number("The least share of an item that is its own", 0, 0.5,
        default = 0.005),
      extraction_starts = a_whole("Random starts of the extraction", 0, 100, default = 5,
        argument = "starts", setting = "extraction_starts")),
    under("factors", "rotate",
      rotation = a_text("How factors are turned", rotations_of_studies(), default = "oblimin"),
      oblique = a_flag("For rotations that can be either"),
      row_weights = a_text("How much each item counts in rotation", names(ROW_WEIGHTS),
        default = "none"),
      optimum = a_whole("1 for the best rotation found, 2 for the second best", 1, 2, default = 1),
      starts = a_whole("Random starts of the rotation", 1, 1e5, default = 100)),
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
    under("sift", "sift",
      keep = a_text("Items that never go", several = TRUE),
      drop_first = a_text("Items that go before the first pass, each with the reason",
        mapped = TRUE),
      passes = a_whole("At most so many items go; any number when left out", 0),
      cannot_carry = a_text("When the items left cannot carry so many factors: fewer, or the end",
        c("step_down", "stop"), default = "step_down"),
      starts = a_whole("Random starts of the rotation in each pass", 1, 1e5, default = 10),
      replicates = a_whole("How many sets of chance data in each pass, where it has its own number",
        20, 1e6, default = 1000)),
    under("sift", "rules",
      order = a_text("Rules that are looked at first, in this order",
        names(SIFTING_RULES), several = TRUE),
      least_items = a_whole("So many items must stay", 3, default = 3L),
      least_per_factor = a_whole("So many items must stay on each factor", 0, default = 3L),
      most_omega_loss = a_number(
        "An item stays when a scale's omega would fall by more than this without it",
        0, 1, default = cutoff("omega_loss")),
      by_limits = a_flag("An item breaks a rule only when its limits, too, lie beyond the rule's",
        default = TRUE),
      least_per_facet = a_whole("So many items of each facet must stay", 1)),
    sifting_entries())
}

entries_of_results <- function() {
  c(
    under("pattern", "pattern",
      hide_below = a_number("Smaller loadings are not shown", 0, 1, default = 0.3),
      sort = a_text("In which order items stand", names(PATTERN_ORDERS), default = "factor"),
      structure = a_flag("Show the correlations of items with factors beside the loadings",
        default = FALSE),
      weak_below = a_number("An item whose loadings are all smaller is marked weak",
        0, 1, default = 0.3),
      crossing_from = a_number("An item whose second loading is as large is marked crossing",
        0, 1, default = 0.3),
      crossing_within = a_number(
        "An item whose second loading is as near the first is marked crossing",
        0, 1, default = 0.2),
      communality_below = a_number("An item whose communality is smaller is marked low",
        0, 1, default = 0.2)),
    under("scales", "by",
      by = a_text("Scales by what items load on, or as the codebook names them",
        c("solution", "codebook"), default = "solution")),
    under("scales", "form",
      salient = a_number("Loadings of this size count", 0, 1, default = 0.3),
      crossing = a_text("What becomes of items with two loadings", c("leave_out", "highest"),
        default = "leave_out"),
      weak = a_text("What becomes of items without a loading", c("leave_out", "highest"),
        default = "leave_out")),
    under("scales", "trust",
      replicates = a_whole("Draws of the people for intervals of reliability",
        0, 1e5, default = 1000),
      wished = a_number("The reliability that scales should have", 0.5, 0.99, default = 0.8),
      level = a_number("Of the intervals of reliability", 0.5, 0.999, default = 0.95)),
    scores_entries("scores", "score", setdiff(names(SCORE_METHODS), score_methods_of("scales"))),
    scores_entries("scale_scores", "score_scales", score_methods_of("scales"), default = "mean"))
}

scores_entries <- function(section, stage, methods, default = NULL) {
  under(section, stage,
    method = a_text("How scores are made", methods, default = default, setting = "score"),
    gaps = a_text("How people with gaps are scored", names(GAPS)),
    answered_share = a_number("The share of the items a person must have answered",
      0, 1, default = 0.5),
    answered_least = a_whole("How many items a person must have answered", 1, default = 1),
    errors = a_flag("Give standard errors and limits beside scores", default = FALSE),
    level = a_number("Of the limits of scores", 0.5, 0.999, default = 0.95),
    also = a_text("Further forms of scores", FORMS, several = TRUE),
    by = a_text("Group columns within which people are compared",
      several = TRUE, setting = "norms_by"))
}

# Rotations to a matrix have no place in a file of words and numbers.
rotations_of_studies <- function() {
  takes_matrix <- function(one) any(vapply(one$parameters, `[[`, "", "type") == "matrix")
  names(Filter(function(one) !takes_matrix(one), ROTATIONS))
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
    under("", "", seed = a_whole("Drawn, and written into the results, when left out",
      0, HIGHEST_SEED)),
    do.call(under, c(list("own_seeds", ""), own)))
}

seed_of <- function(s, what) if (is.null(s$own_seeds[[what]])) s$seed else s$own_seeds[[what]]
