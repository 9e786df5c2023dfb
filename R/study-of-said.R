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
    categories = as.list(s$categories), out_of_range = s$out_of_range, filters = as.list(filters))
  said[lengths(said) > 0L]
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
    own <- list(verb = parallel_analysis, verb_name = "parallel_analysis", free = "replicates")
    return(utils::modifyList(STAGES$count, own))
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
  defaults <- formals(how$verb)
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
