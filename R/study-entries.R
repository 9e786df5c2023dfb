# Every entry of a study file, in the order in which they are written: by section and the stage that
# takes them. What a verb takes is declared beside the verb (declared_by()); here stands the rest,
# and what is made of all of them: the form of the file (what read_study() checks and fills in), its
# JSON Schema (inst/schema/study.schema.json, by tools/schema.R) and the stages' arguments.

# Made once (families that they name are settled when the package is built).
study_entries <- function() {
  if (is.null(FOUND$entries)) assign("entries", make_study_entries(), envir = FOUND)
  FOUND$entries
}

make_study_entries <- function() {
  c(entries_of_answers(), entries_of_factors(), entries_of_sifting(), entries_of_results(),
    seed_entries(),
    under("", "", design = list(
      label = paste("What was expected before anybody answered, as a design file says it:",
        "`softsieve plan` reads it here, too"), type = "design")),
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
    under("answers", "matrix",
      matrix = a_text("Instead of answers: a file that holds their correlation matrix"),
      n = a_whole("How many people are behind the matrix", 3)),
    declared_by("answers", "ask", questionnaire, QUESTIONNAIRE_TAKES),
    under("answers", "called",
      rows = a_text("What a row is, in a word: day (or ox/oxen); people when left out"),
      columns = a_text("What a column is, in a word: gauge; items when left out")),
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
        1, words = c("probable", "parallel", setdiff(names(RULES), "parallel")),
        default = "probable")),
    declared_by("factors", "count", count_factors, COUNT_TAKES),
    declared_by("factors", "extract", extract_factors, EXTRACT_TAKES),
    declared_by("factors", "rotate", rotate_factors, ROTATE_TAKES), rotation_entries(),
    under("factors", "name",
      names = a_text("What factors are called, by F1, F2, ... (of components C1, C2, ...)",
        mapped = TRUE)))
}

entries_of_sifting <- function() {
  c(
    under("sift", "", run = a_flag("Sift items before the solution is settled", default = FALSE),
      without = a_text("Rules that are not used", names(SIFTING_RULES), several = TRUE)),
    declared_by("sift", "sift", sift_items, SIFT_TAKES),
    declared_by("sift", "rules", sift_rules, RULES_TAKE), sifting_entries())
}

entries_of_results <- function() {
  c(
    under("hidden", "",
      run = a_flag("Look for what so many people could not show (takes its time)",
        default = FALSE)),
    declared_by("hidden", "hidden", hidden_factors, HIDDEN_TAKES),
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
    list(label = sprintf("For %s: %s", join_words(names(takers)), p$description),
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
  sift = "the passes of sifting", hidden = "samples in which factors hide",
  reliability = "drawing people for intervals")
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

# ---- One entry, and its form.

# Entries of a section that a stage takes ("": none by itself).
under <- function(section, stage, ...) {
  own <- list(...)
  unname(Map(
    function(key, entry) {
      entry$name <- if (nzchar(section)) paste0(section, ".", key) else key
      entry$stage <- if (nzchar(stage)) stage
      if (is.null(entry$argument)) entry$argument <- key
      # (under which name results keep it)
      if (is.null(entry$setting)) entry$setting <- entry$argument
      entry
    },
    names(own),
    own))
}

# The arguments that a verb declares (base-check.R), with its defaults, as entries.
declared_by <- function(section, stage, verb, declared) {
  defaults <- defaults_of(verb, names(declared))
  entries <- Map(function(entry, name) {
    entry$argument <- name
    if (is.null(entry[["default"]])) entry$default <- defaults[[name]]
    entry
  }, declared, names(declared))
  keys <- vapply(names(declared), function(name) {
    if (is.null(declared[[name]][["entry"]])) name else declared[[name]]$entry
  }, "")
  do.call(under, c(list(section, stage), stats::setNames(entries, keys)))
}

form_of_entry <- function(entry) {
  if (!is.null(entry[["records"]])) {
    return(list(type = "records", items = entry[["records"]](), description = entry$label))
  }
  value <- list(type = entry$type, enum = choices_of(entry), minimum = entry[["lowest"]],
    maximum = entry[["highest"]])
  value <- value[!vapply(value, is.null, NA)]
  if (isTRUE(entry[["several"]])) value <- list(type = "array", items = value)
  if (isTRUE(entry[["mapped"]])) value <- list(type = "map", items = value)
  whole <- is.numeric(entry[["default"]]) && "integer" %in% entry$type
  value$default <- if (whole) as.integer(entry$default) else entry[["default"]]
  value$description <- entry$label
  value
}

form_of_decision <- function() {
  own <- lapply(DECISIONS, form_of_entry)
  text <- function(what) list(type = "string", description = what)
  beside <- list(as = text("For name: what the factor is called"),
    to = text("For move: the scale that the items belong to"), why = text("The reason"),
    who = text("Who decided"), when = text("The day"), numbers = text("On which numbers"))
  list(type = "object", description = sprintf("One of %s; and why", join_words(names(own))),
    properties = c(own, beside))
}

# ---- The whole file.

STUDY_SECTIONS <- c(answers = "Where the answers are, and what they are",
  correlations = "How items are correlated",
  factors = "How many factors, and how they are extracted and rotated",
  sift = "Whether and how weak items are sifted out",
  hidden = "Whether and how to look for factors that so many people could not show",
  pattern = "How loadings are shown", scales = "How scales are formed and checked",
  scores = "How people are scored on factors", scale_scores = "How people are scored on scales",
  own_seeds = "Seeds of single stages, where they differ")

# The ways in which `answers` may say it: exactly one of them, whole.
ANSWER_WAYS <- list("file", c("database", "table"), c("matrix", "n"))

# The form that a study must fit: a tree of objects with properties, lists and values.
study_form <- function() {
  form <- list(type = "object",
    description = "Everything that `softsieve run` needs to know. Paths are relative to this file.",
    properties = list())
  for (entry in study_entries()) {
    way <- strsplit(entry$name, ".", fixed = TRUE)[[1L]]
    if (length(way) == 1L) {
      form$properties[[way]] <- form_of_entry(entry)
      next
    }
    section <- form$properties[[way[1L]]]
    if (is.null(section)) {
      section <- list(type = "object", description = STUDY_SECTIONS[[way[1L]]], properties = list())
    }
    section$properties[[way[2L]]] <- form_of_entry(entry)
    form$properties[[way[1L]]] <- section
  }
  form$required <- "answers"
  form$properties$answers$ways <- ANSWER_WAYS
  form
}

# The form as a JSON Schema (draft 2020-12). A value of several types has a schema for each.
study_schema <- function() {
  c(
    list("$schema" = "https://json-schema.org/draft/2020-12/schema", title = "A softsieve study"),
    schema_of_form(study_form()))
}

schema_of_form <- function(form) {
  out <- form[intersect(c("type", "description", "default"), names(form))]
  if (identical(form$type, "object")) {
    out$required <- as.list(form$required)
    if (!length(out$required)) out$required <- NULL
    out$oneOf <- lapply(form[["ways"]], function(way) {
      list(properties = stats::setNames(rep(list(TRUE), length(way)), way), required = as.list(way))
    })
    if (!length(out$oneOf)) out$oneOf <- NULL
    out$additionalProperties <- FALSE
    out$properties <- lapply(form$properties, schema_of_form)
    return(out)
  }
  if (identical(form$type, "array")) {
    out$items <- schema_of_form(form$items)
    return(out)
  }
  if (identical(form$type, "records")) {
    out[c("type", "items")] <- list("array", schema_of_form(form$items))
    out$items$oneOf <- lapply(names(DECISIONS), function(name) {
      list(properties = stats::setNames(list(TRUE), name), required = list(name))
    })
    return(out)
  }
  if (identical(form$type, "design")) {
    out[c("type", "properties")] <- list("object", lapply(
      stats::setNames(nm = DESIGN_FILE_ENTRIES), function(name) list(description = name)))
    return(c(out, list(additionalProperties = FALSE)))
  }
  if (identical(form$type, "map")) {
    out[c("type", "additionalProperties")] <- list("object", schema_of_form(form$items))
    return(out)
  }
  limits <- function(type) {
    own <- if (type == "string") "enum" else c("minimum", "maximum")
    kept <- form[intersect(own, names(form))]
    if (!is.null(kept$enum)) kept$enum <- as.list(kept$enum)
    kept
  }
  if (length(form$type) == 1L) return(c(out, limits(form$type)))
  out$type <- NULL
  c(out, list(anyOf = lapply(form$type, function(type) c(list(type = type), limits(type)))))
}

# What a study's settings say to a stage, as arguments.
stage_arguments <- function(settings, stage) {
  asked <- list()
  for (entry in study_entries()) {
    if (!isTRUE(entry[["stage"]] == stage)) next
    way <- strsplit(entry$name, ".", fixed = TRUE)[[1L]]
    asked[entry$argument] <- list(settings[[way[1L]]][[way[2L]]])
  }
  asked
}
