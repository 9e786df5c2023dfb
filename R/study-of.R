#' A study of what was done by hand
#'
#' Looks at results and writes down how they came about: which answers, who was kept, how items were
#' correlated, how factors were counted, extracted, rotated and named, which items were sifted out,
#' how scales were checked and people scored, and every seed. [write_study()] writes that as a study
#' file; [run_study()] repeats it.
#'
#' @param ... Results of the stages, for example what [count_factors()], [rotate_factors()],
#'   [sift_items()], [pattern_table()], [assess_reliability()] and [score_respondents()] returned;
#'   at least one must hold the answers it came from (a solution does).
#' @param answers Path of the file of answers, or a [database_table()] with an address. It must hold
#'   what was analysed.
#' @param codebook Path of the codebook, or `NULL` without one.
#' @param title,author What the report shows.
#' @param file Where the study file will stand: paths are relative to its folder.
#' @return An object of class `softsieve_study`, not run. Its settings hold what the results were
#'   made with.
#' @section Errors: `softsieve_error_class` (no result, or none with its answers),
#'   `softsieve_error_file_missing`; `softsieve_error_study` where results are of different answers
#'   than the file gives, were asked for different things, or where something was done that no study
#'   file can say (rules of one's own, rotation to a matrix, conditions beyond comparisons, results
#'   by group). Items that were taken out by hand in the midst of a sifting are dropped at its
#'   beginning there.
#' @family studies
#' @examples
#' folder <- tempfile()
#' dir.create(folder)
#' files <- system.file("extdata", package = "softsieve")
#' file.copy(list.files(files, full.names = TRUE), folder)
#' answers <- file.path(folder, "repair_cafe_answers.csv")
#' codebook <- file.path(folder, "repair_cafe_codebook.csv")
#' motives <- questionnaire(
#'   read_responses(answers),
#'   codebook = read_codebook(codebook),
#'   id = person,
#'   group = cafe
#' )
#' solution <- rotate_factors(extract_factors(motives, 4), "geomin", seed = 2026)
#' study <- study_of(solution, answers = answers, codebook = codebook)
#' write_study(study, file.path(folder, "study.yml"))
#' writeLines(readLines(file.path(folder, "study.yml")))
#' @export
study_of <- function(..., answers, codebook = NULL, title = NULL, author = NULL,
    file = file.path(if (is.character(answers)) dirname(answers) else ".", "study.yml")) {
  results <- list(...)
  good <- length(results) && all(vapply(results, is_result, NA))
  if (!good) {
    stop_input("class", "Results of the stages must be given.",
      got = if (length(results)) "Something else was among them." else "Nothing came.",
      todo = "For example study_of(solution, answers = \"answers.csv\").")
  }
  if (!is_database_table(answers)) check_file(answers)
  check_text(file, "file")
  if (!is.null(codebook)) check_file(codebook)
  asked <- questionnaire_behind(results)
  check_one_source(results)
  written <- list(title = title, author = author)
  written <- written[!vapply(written, is.null, NA)]
  home <- normalizePath(dirname(file))
  written$answers <- c(place_entries(answers, home), answers_said(asked, codebook))
  if (!is.null(codebook)) written$codebook <- relative_path(codebook, home)
  parts <- unlist(lapply(results, function(one) c(list(one), results_behind(one))), FALSE)
  # a sifting says what its solution only inherits
  sifted <- vapply(parts, inherits, NA, "item_sift")
  for (part in c(parts[sifted], parts[!sifted])) {
    said <- settings_said(part)
    if (any(sifted)) said <- said[!names(said) %in% c("factors.number", "factors.starts")]
    if (is_result(part, "item_sift")) said <- settings_said(part)
    written <- add_said(written, said)
  }
  written <- one_seed(written)
  study <- study_from(written, file, match.call(), lines = character())
  check_same_answers(study, asked)
  study
}

# The file, read as the study says, must give what was analysed.
check_same_answers <- function(study, asked) {
  found <- questionnaire_of_study(settings_in_force(study$settings))
  if (identical(found$source$fingerprint, asked$source$fingerprint)) return(invisible())
  size <- function(x) {
    sprintf("%s and %s", count_of(nrow(x$values$answers), "person", "people"),
      count_of(ncol(x$values$answers), "item"))
  }
  stop_input("study",
    "The file of answers must hold what was analysed.",
    got = sprintf("The results are of %s; the file, as the study reads it, gives %s%s.",
      size(asked), size(found), if (size(asked) == size(found)) " with other answers" else ""),
    todo = paste("Choose people with keep_people(), which a study can say,",
      "or write those who were analysed into a file and give that."))
}

# Where all stages had the same seed one says it.
one_seed <- function(written) {
  seeds <- unlist(written$own_seeds)
  if (!length(seeds)) return(written)
  written$seed <- seeds[[1L]]
  if (length(unique(seeds)) == 1L) written$own_seeds <- NULL
  written
}

# What a result carries with it.
results_behind <- function(result) {
  v <- result$values
  found <- list(v$going_on$all, v$item_correlations, v$solution,
    v$solution$values$item_correlations)
  found[vapply(found, inherits, NA, "softsieve_result")]
}

# The one with the most items: of fewer are the results of later stages.
questionnaire_behind <- function(results) {
  parts <- unlist(lapply(results, function(one) c(list(one), results_behind(one))), FALSE)
  found <- lapply(parts, function(part) {
    if (is_result(part, "questionnaire")) part else part$values$questionnaire
  })
  found <- found[vapply(found, is_result, NA, "questionnaire")]
  if (length(found)) {
    return(found[[which.max(vapply(found, function(one) ncol(one$values$answers), 0L))]])
  }
  stop_input("class", "One of the results must hold the answers that it came from.",
    got = "None does.", todo = "Give the questionnaire too, or what correlate_items() returned.")
}

# Later results may be of fewer items, never of other people; of the same items, of the same
# answers.
check_one_source <- function(results) {
  sources <- lapply(results, `[[`, "source")
  sources <- sources[lengths(sources) > 0L]
  items <- vapply(sources, function(one) paste(sort(one$items), collapse = "\r"), "")
  prints <- vapply(sources, `[[`, "", "fingerprint")
  people <- unique(vapply(sources, function(one) one$people, 1L))
  differ <- length(people) > 1L || any(tapply(prints, items, function(x) length(unique(x))) > 1L)
  if (!differ) return(invisible())
  stop_input("study", "All results must be of the same answers.",
    got = sprintf("They are of %d different ones.", length(unique(prints))),
    todo = "Leave out those of other people or items.")
}

# What results say of how they came about, as entries of a study file (study-of.R).

# What was done to the answers.
answers_said <- function(asked, codebook) {
  s <- asked$settings
  items <- asked$values$items
  filters <- vapply(as.character(s$kept), where_or_refuse, "", USE.NAMES = FALSE)
  made <- Reduce(`|`, lapply(paste0(s$categories, "_"), startsWith, x = items$item), FALSE)
  if (length(s$categories)) items <- items[!made, ]
  said <- list(id = s$id, weight = s$weight, cluster = s$cluster, group = as.list(s$group),
    items = as.list(items$item),
    reversed = as.list(if (is.null(codebook)) items$item[items$reversed] else s$reversed),
    missing_codes = as.list(s$missing_codes), ends = as.list(s$ends),
    categories = as.list(s$categories), measured = as.list(s$measured),
    rows = said_called("row", s), columns = said_called("column", s), order = as.list(s$order),
    remove = as.list(s$remove), period = s$period,
    indicators = if (length(s$categories)) s$indicators, out_of_range = s$out_of_range,
    filters = as.list(filters))
  said[lengths(said) > 0L]
}

said_called <- function(one, s) {
  if (!is.null(s$called)) paste(s$called[[one]], s$called[[paste0(one, "s")]], sep = "/")
}

where_or_refuse <- function(code) {
  readable <- tryCatch({
    read_where(code)
    code
  }, error = function(e) where_of_code(code))
  if (!is.na(readable)) return(readable)
  stop_input("study", "A study file can only say comparisons.",
    got = sprintf("People were kept by: %s.", code),
    todo = "Keep people by comparisons, or write a file of those who were kept.")
}

# The stage of a study that a result is of. Parallel analysis alone is what counting begins with.
stage_of_result <- function(result) {
  if (is_result(result, "parallel_analysis")) {
    stage <- STAGES$count
    stage$takes <- formals(parallel_analysis)
    stage[c("verb_name", "free")] <- list("parallel_analysis", "replicates")
    return(stage)
  }
  if (is_result(result, "respondent_scores") && identical(result$settings$of, "scales")) {
    return(STAGES$scale_scores)
  }
  found <- Find(function(one) is_result(result, one$class), STAGES)
  if (is.null(found)) stop_unsaid(sprintf("There is a <%s>.", class(result)[1L]))
  found
}

settings_said <- function(result) {
  how <- stage_of_result(result)
  s <- result$settings
  says <- if (is.null(how[["says"]])) how[["asks"]] else how[["says"]]
  entries <- Filter(function(one) isTRUE(one$stage %in% says), study_entries())
  refuse_unsaid(result, how, entries)
  held <- lapply(entries, function(one) {
    value <- s[[one$setting]]
    if (isTRUE(one[["several"]])) as.list(value) else value
  })
  names(held) <- vapply(entries, `[[`, "", "name")
  held <- held[lengths(held) > 0L]
  if (is_result(result, "factor_solution")) held <- c(held, solution_said(result))
  if (is_result(result, "softsieve_scale_set")) held <- scales_said(held)
  if (is_result(result, "factor_count")) held <- rules_said(held)
  if (is_result(result, "item_sift")) {
    held <- c(sift_said(result), sift_how_said(held, result))
  }
  seed <- if (length(how$seed)) s[[how$seed]]
  if (!is.null(seed)) held[[paste0("own_seeds.", names(how$seed))]] <- seed
  held
}

# What the verb was asked for, and no entry of its stages says.
refuse_unsaid <- function(result, how, entries) {
  if (is_result(result, "questionnaire")) return(invisible())
  defaults <- how$takes
  said <- c(vapply(entries, `[[`, "", "setting"), vapply(entries, `[[`, "", "argument"), how$seed,
    how$free, "factors", "rotation")
  for (name in setdiff(intersect(names(result$settings), names(defaults)), said)) {
    value <- result$settings[[name]]
    default <- tryCatch(eval(defaults[[name]], topenv()), error = function(e) value)
    plain <- isTRUE(all.equal(value, default)) || identical(value, default[1L])
    if (!length(value) || isFALSE(value) || plain) next
    stop_unsaid(sprintf("%s() was given `%s = %s`.", how$verb_name, name, choice_text(value)))
  }
}

stop_unsaid <- function(got) {
  stop_input("study", "A study file must be able to say what was done.", got = got,
    todo = "Leave that result out, and keep the call with the study file.")
}

# The usual rules need no word, as the number that was asked for is among them.
rules_said <- function(held) {
  usual <- names(choose_rules(NULL))
  if (setequal(unlist(held$factors.rules), usual)) held$factors.rules <- NULL
  held
}

scales_said <- function(held) {
  by <- c("factor solution" = "solution", codebook = "codebook")[held$scales.defined_by]
  if (is.na(by)) stop_unsaid(sprintf("Scales are those of a %s.", held$scales.defined_by))
  held$scales.defined_by <- by[[1L]]
  held
}

# Number, parameters of the rotation and names of factors.
solution_said <- function(result) {
  s <- result$settings
  own <- ROTATIONS[[s$rotation]]$parameters
  if (any(vapply(own, `[[`, "", "type") == "matrix")) {
    stop_unsaid(sprintf("The rotation \"%s\" has a matrix.", s$rotation))
  }
  given <- s$factor_names[s$factor_names != names(s$factor_names)]
  said <- c(list(number = ncol(result$values$loadings)), s[intersect(names(own), names(s))],
    if (length(given)) list(names = as.list(given)))
  flat_entries(list(factors = said))
}

# How a sifting extracts and rotates is what the study does to factors.
sift_how_said <- function(held, result) {
  s <- result$settings
  held$sift.keep <- NULL
  if (!isTRUE(is.finite(s$passes))) held$sift.passes <- NULL
  # (what a person stopped goes no further than that)
  if (result$values$ended == "stopped") {
    held$sift.passes <- sum(!is.na(result$values$trail$rule) & !is.na(result$values$trail$item))
  }
  c(held, list(factors.method = s$method, factors.rotation = s$rotation,
    factors.number = s$factors))
}

# The rules of a sifting, and what people did by hand.
sift_said <- function(result) {
  rules <- result$values$rules
  table <- rules$values$table
  own <- setdiff(table$rule, names(SIFTING_RULES))
  if (length(own)) stop_unsaid(sprintf("There are rules of one's own: %s.", name_culprits(own)))
  s <- rules$settings
  limits <- stats::setNames(as.list(table$limit), table$rule)
  limits <- limits[table$on & !is.na(table$limit)]
  by_hand <- result$values$trail[result$values$trail$who %in% "person", ]
  said <- c(list(run = TRUE, keep = as.list(setdiff(result$settings$keep, by_hand$item))),
    list(order = as.list(s$order), without = as.list(table$rule[!table$on])),
    s[c("least_items", "least_per_factor", "most_omega_loss", "by_limits", "least_per_facet")],
    limits)
  decisions <- lapply(seq_len(nrow(by_hand)), function(i) {
    word <- if (by_hand$step[i] == "restored") "restore" else "drop"
    stats::setNames(list(by_hand$item[i], by_hand$why[i]), c(word, "why"))
  })
  c(flat_entries(list(sift = said[lengths(said) > 0L])),
    if (length(decisions)) list(decisions = decisions))
}

# Two results that say different things of one entry cannot both be repeated by one file.
add_said <- function(written, said) {
  for (name in names(said)) {
    way <- strsplit(name, ".", fixed = TRUE)[[1L]]
    held <- if (length(way) == 1L) written[[way]] else written[[way[1L]]][[way[2L]]]
    if (!is.null(held) && !isTRUE(all.equal(held, said[[name]]))) {
      stop_input("study", "Results must agree in what they were asked for.",
        got = sprintf("`%s` is %s and %s.", name, choice_text(held), choice_text(said[[name]])),
        todo = "Give results of one chain of stages, with one seed.")
    }
    if (length(way) == 1L) {
      written[way] <- said[name]
    } else {
      written[[way[1L]]][way[2L]] <- said[name]
    }
  }
  written
}
