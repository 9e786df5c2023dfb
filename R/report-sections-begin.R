# The report's sections, in the order people work. Numbers and verdicts come from the results.
# report-sections.R says what a section is.

# The items of a study: of its answers, or of its matrix.
items_of_study <- function(study) {
  v <- study$values
  if (is.null(v$questionnaire)) v$correlations$values$items else v$questionnaire$values$items
}

# How many answered what.
sample_line <- function(v) {
  if (is.null(v$questionnaire)) {
    return(sprintf("Correlations of %s, of %s, were given.",
      count_of(nrow(v$correlations$values$items), "item"),
      count_of(v$correlations$values$people, "person", "people")))
  }
  asked <- v$questionnaire$values$answers
  sprintf("%s answered %s; %s missing.", count_of(nrow(asked), "person", "people"),
    count_of(ncol(asked), "item"),
    if (anyNA(asked)) {
      paste(format_share(mean(is.na(asked)), 1L), "of the answers are")
    } else {
      "no answer is"
    })
}

section_short <- function(study) {
  v <- study$values
  counted <- table(factor(grouped_findings(study$findings)$severity, SEVERITIES))
  stopped <- study$settings$stopped
  points(c(sample_line(v), study$findings$text[study$findings$code == "people_kept"],
    if (!is.null(v$factorability)) factorability_line(v$factorability),
    if (!is.null(v$sift)) sifted_line(v$sift$values),
    if (!is.null(v$solution)) extracted_line(v$count, v$solution),
    if (!is.null(v$reliability)) reliability_verdict(v$reliability),
    if (!is.null(stopped)) {
      sprintf("The study stopped at %s: %s", stage_title(stopped$stage), stopped$why)
    },
    sprintf("To look at: %s, %s, %s.", count_of(counted[["serious"]], "serious finding"),
      count_of(counted[["caution"]], "caution"), count_of(counted[["note"]], "note"))))
}

factorability_line <- function(x) {
  sprintf("Sampling adequacy is %s (%s). %s.", format_unit(x$values$adequacy),
    adequacy_word(x$values$adequacy), say_sphericity(x$values$sphericity))
}

sifted_line <- function(x) {
  gone <- setdiff(x$items$item, x$left)
  if (!length(gone)) return("Sifting took out no item.")
  adequacy <- stats::na.omit(x$trail$adequacy)
  sprintf(
    paste(
      "Sifting took out %s (%d of %s): adequacy is %s with and %s without. What follows is of the",
      "%s."),
    name_culprits(gone, 20L), length(gone), count_of(nrow(x$items), "item"),
    format_unit(adequacy[1L]), format_unit(adequacy[length(adequacy)]),
    paste(length(x$left), "items left"))
}

extracted_line <- function(count, solution) {
  extracted <- ncol(solution$values$loadings)
  v <- count$values
  sprintf("Parallel analysis suggests %s%s; %s extracted, explaining %s of the variance.",
    count_of(v$suggested, "factor"),
    if (v$taken_by == "parallel analysis") "" else sprintf(", %s is %d", v$taken_by, v$taken),
    if (extracted == 1L) "1 was" else paste(extracted, "were"),
    format_share(sum(solution$values$variance$share)))
}

section_findings <- function(study) findings_list(study)

section_asked <- function(study) {
  s <- study$settings
  items <- items_of_study(study)
  if (is.null(study$values$questionnaire)) items[c("lowest", "highest")] <- NA_real_
  ends <- unique(stats::na.omit(items[c("lowest", "highest")]))
  written <- length(setdiff(study$settings$written, c("title", "author", "date")))
  c(
    say(sprintf("The answers are those of %s%s. %s%s", answers_words(s),
      if (is.null(s$codebook)) "" else sprintf(", the codebook is %s", basename(s$codebook)),
      count_of(nrow(items), "item"),
      if (nrow(ends) == 1L) {
        sprintf(", answered from %s to %s.", format(ends$lowest), format(ends$highest))
      } else {
        "."
      })),
    say(sprintf(
      "%s of the study file say what was wanted; all else are defaults (at the end, in full).",
      count_of(written, "entry", "entries"))),
    if (length(s$answers$filters)) {
      say(sprintf("Only people with %s.", paste(unlist(s$answers$filters), collapse = " and ")))
    })
}

section_sample <- function(study) {
  v <- study$values
  if (is.null(v$questionnaire)) return(say(sample_line(v)))
  q <- v$questionnaire$values
  codes <- tapply(q$missing_codes$people, q$missing_codes$code, sum)
  groups <- unlist(lapply(v$questionnaire$settings$group, group_line, people = q$people))
  flagged <- v$people$values$people
  c(
    say(sprintf("%s. %s of %s answers are missing (%s).%s",
      count_of(nrow(q$answers), "person", "people"),
      format_count(sum(is.na(q$answers))), format_count(length(q$answers)),
      format_share(mean(is.na(q$answers)), 1L),
      if (length(codes)) {
        sprintf(" Codes for \"no answer\": %s.",
          paste(sprintf("%s (%d times)", names(codes), codes), collapse = ", "))
      } else {
        ""
      })),
    say(groups), show_table(study, "people_left"),
    if (!is.null(flagged)) {
      say(sprintf(
        "%s signs of careless answers, or a great distance to all others; nobody was removed.",
        flagged_said(sum(nzchar(flagged$flags)))))
    })
}

flagged_said <- function(number) {
  if (!number) return("Nobody shows")
  if (number == 1L) return("One person shows")
  sprintf("Of these, %s show", format_count(number))
}

# "cafe: Harbour 140, Mill 139": up to ten groups.
group_line <- function(column, people) {
  sizes <- sort(table(people[[column]]), decreasing = TRUE)
  shown <- utils::head(sizes, 10L)
  sprintf("%s: %s%s.", column, paste(names(shown), shown, collapse = ", "),
    if (length(sizes) > 10L) sprintf(" and %d more", length(sizes) - 10L) else "")
}

section_items <- function(study) {
  v <- study$values
  items <- v$questionnaire$values$items
  reversed <- items$item[items$reversed]
  c(if (length(reversed)) {
    say(sprintf(
      paste("%s reverse-scored before anything was computed: %s. They are marked",
        "(reversed) below."),
      if (length(reversed) == 1L) "1 item was" else paste(length(reversed), "items were"),
      name_culprits(reversed, 30L)))
  }, show_figure(v$items), show_table(v$items))
}

section_factorability <- function(study) {
  f <- study$values$factorability
  x <- f$values
  s <- f$settings
  c(
    verdict(sprintf("Sampling adequacy is %s. %s.", format_unit(x$adequacy),
      say_sphericity(x$sphericity))),
    say(sprintf(
      paste("Adequacy is near 1 when what two items share they share with the others too.",
        "Items below %s should not be factored; %s:", "%s."),
      format_unit(s$least), adequacy_ladder(), cutoff_source("adequacy_least"))),
    show_figure(f), on_screen(show_table(f, "items")))
}

section_number <- function(study) {
  x <- study$values$count
  against <- if (x$settings$reference == "upper") {
    sprintf("percentile %s", format(x$settings$percentile))
  } else {
    "the mean"
  }
  c(verdict(x$values$sentences[1L]),
    say(c(x$values$sentences[-1L], probability_lines(x$values$probabilities))),
    say(sprintf(
      paste("Unrelated items, too, give some eigenvalues above 1. Parallel analysis keeps the",
        "leading factors whose eigenvalues exceed %s of %s draws of %s, for as many",
        "people and items. The probabilities come from a network trained on simulated",
        "answers with a known number of factors."),
      against, format_count(x$settings$replicates), CHANCE_DATA[[x$settings$chance]]$label)),
    show_figure(x, "evidence"), show_table(x, "eigenvalues"), on_screen(show_table(x, "rules")),
    show_figure(x, "fit"), hidden_blocks(study$values$hidden))
}

# What so many people could not show, where a study asks for it.
hidden_blocks <- function(x) {
  if (is.null(x)) return(NULL)
  people <- count_of(x$values$people, "person", "people")
  c(heading(sprintf("What %s could not show with these items", people)), say(x$values$sentences),
    aside(sprintf("Shown: in %s of %s simulated samples or more.", format_share(x$settings$share),
      format_count(x$settings$samples))),
    show_table(x, "splits"), show_table(x, "further"), show_figure(x, "hidden"))
}

section_sift <- function(study) {
  x <- study$values$sift
  c(
    verdict(sprintf("%d of %s out: %s.", nrow(x$values$items) - length(x$values$left),
      count_of(nrow(x$values$items), "item"), ENDS[[x$values$ended]])),
    show_table(x, "story"), show_table(x, "facets"), on_screen(show_figure(x, "tiles")))
}
