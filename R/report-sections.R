# The sections of a report, in their order. An entry has a label (its title) and
#
#   title   function(study): its title, where that depends on the study
#   needs   names of the study's results without which it is left out
#   make    function(study): a list of blocks

SECTIONS <- family(short = spec(label = "In short", make = section_short),
  text = spec(label = "Text to paste", needs = c("solution", "reliability", "scores"),
    make = section_text),
  findings = spec(label = "To look at", make = section_findings),
  asked = spec(label = "What was asked", make = section_asked),
  sample = spec(label = "The sample", make = section_sample),
  items = spec(label = "The items", needs = "items", make = section_items),
  factorability = spec(label = "Can the items be factored?", needs = "factorability",
    make = section_factorability),
  number = spec(label = "How many factors?", needs = "count", make = section_number),
  sift = spec(label = "Items taken out", needs = "sift", make = section_sift),
  factors = spec(label = "The factors",
    title = function(study) sprintf("The %ss", one_of_model(study$values$solution$settings)),
    needs = c("solution", "pattern"), make = section_factors),
  scales = spec(label = "Scales and their reliability", needs = "reliability",
    make = section_scales),
  scores = spec(label = "Scores", needs = c("scores", "scale_scores"), make = section_scores),
  decisions = spec(label = "What was decided", make = section_decisions),
  "repeat" = spec(label = "Supplement: how to repeat it", make = section_repeat),
  references = spec(label = "References", make = section_references),
  glossary = spec(label = "Words and numbers",
    make = function(study) on_screen(terms(glossary_plain()))))

# The sections of a study, each with its title and blocks; those without anything to say left out.
sections_of <- function(study) {
  made <- lapply(SECTIONS, function(section) {
    if (!all(section[["needs"]] %in% names(study$values))) return(NULL)
    blocks <- section$make(study)
    if (!length(blocks)) return(NULL)
    title <- if (is.null(section[["title"]])) section$label else section[["title"]](study)
    list(name = section$name, title = title, blocks = blocks)
  })
  made[!vapply(made, is.null, NA)]
}

# The sections of one study or of several, for papers that are read from top to bottom: in each, the
# studies one after the other, by name.
paper_sections <- function(studies) {
  sections <- lapply(studies, sections_of)
  several <- length(studies) > 1L
  known <- names(SECTIONS)
  made <- lapply(known[known %in% unlist(lapply(sections, names))], function(name) {
    held <- lapply(sections, `[[`, name)
    if (name == "glossary") held[-1L] <- list(NULL)
    there <- which(!vapply(held, is.null, NA))
    list(title = held[[there[1L]]]$title, parts = lapply(there, function(i) {
      named <- several && name != "glossary"
      list(name = if (named) names(studies)[i], blocks = held[[i]]$blocks)
    }))
  })
  agree <- if (several) comparison_blocks(studies)
  if (is.null(agree)) return(made)
  agree <- list(title = "How the two agree", parts = list(list(name = NULL, blocks = agree)))
  c(made[1L], list(agree), made[-1L])
}
