# What a study file may hold: the form of the whole file (what read_study() checks and fills in),
# its JSON Schema (inst/schema/study.schema.json, by tools/schema.R) and the stages' arguments, all
# from the entries (study-entries-list.R).

STUDY_SECTIONS <- c(answers = "Where the answers are, and what they are",
  correlations = "How items are correlated",
  factors = "How many factors, and how they are extracted and rotated",
  sift = "Whether and how weak items are sifted out", pattern = "How loadings are shown",
  scales = "How scales are formed and checked", scores = "How people are scored on factors",
  scale_scores = "How people are scored on scales",
  own_seeds = "Seeds of single stages, where they differ")

# The ways in which `answers` may say it: exactly one of them, whole.
ANSWER_WAYS <- list("file", c("database", "table"))

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
