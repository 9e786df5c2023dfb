# What results say of how they came about, as entries of a study file (study-of.R).

# What was done to the answers.
answers_said <- function(asked, codebook, call) {
  s <- asked$settings
  items <- asked$values$items
  filters <- vapply(as.character(s$kept), where_or_refuse, "", call = call, USE.NAMES = FALSE)
  said <- list(
    id = s$id,
    weight = s$weight,
    cluster = s$cluster,
    group = as.list(s$group),
    items = as.list(items$item),
    reversed = as.list(if (is.null(codebook)) items$item[items$reversed] else s$reversed),
    missing_codes = as.list(s$missing_codes),
    ends = as.list(s$ends),
    out_of_range = s$out_of_range,
    filters = as.list(filters)
  )
  said[lengths(said) > 0L]
}

where_or_refuse <- function(code, call) {
  readable <- tryCatch(
    {
      read_where(code)
      code
    },
    error = function(e) where_of_code(code)
  )
  if (!is.na(readable)) return(readable)
  stop_input(
    "study",
    "A study file can only say comparisons.",
    got = sprintf("People were kept by: %s.", code),
    todo = "Keep people by comparisons, or write a file of those who were kept.",
    call = call
  )
}

# Which entries a result's settings are: its class, the section, and entries by the names of the
# settings that they come from; `seed` is the name of the seed among them, and which of `own_seeds`
# it is.
SAID_BY <- list(
  item_correlations = list(
    section = "correlations",
    take = c("kind", "missing", "repair", "continuous_from")
  ),
  factor_count = list(
    section = "factors",
    take = c("basis", "chance", "sequential", "reference", "percentile", "replicates"),
    seed = c(count = "seed")
  ),
  factor_solution = list(
    section = "factors",
    take = c(
      "method", "rotation", analyse = "analysed", "lowest_uniqueness", "extraction_starts",
      "oblique", "row_weights", "optimum", "starts"
    ),
    seed = c(rotation = "rotation_seed")
  ),
  pattern_table = list(
    section = "pattern",
    take = c(
      "hide_below", "sort", "structure", "weak_below", "crossing_from", "crossing_within",
      "communality_below"
    )
  ),
  softsieve_scale_set = list(section = "scales", take = c("salient", "crossing", "weak")),
  softsieve_reliability = list(
    section = "scales",
    take = c("replicates", "wished", "level"),
    seed = c(reliability = "seed")
  ),
  item_sift = list(section = "factors", take = c("method", "rotation"), seed = c(sift = "seed"))
)

settings_said <- function(result, call) {
  s <- result$settings
  how <- SAID_BY[[class(result)[1L]]]
  if (is.null(how)) return(scores_said(result))
  named <- if (is.null(names(how$take))) rep("", length(how$take)) else names(how$take)
  held <- stats::setNames(s[how$take], ifelse(nzchar(named), named, how$take))
  held <- held[lengths(held) == 1L]
  if (is_result(result, "factor_solution")) held <- c(held, solution_said(result, call))
  said <- flat_entries(stats::setNames(list(held), how$section))
  if (is_result(result, "item_sift")) said <- c(said, sift_said(result, call))
  seed <- if (length(how$seed)) s[[how$seed]]
  if (!is.null(seed)) said[[paste0("own_seeds.", names(how$seed))]] <- seed
  said[names(said) %in% vapply(study_entries(), `[[`, "", "name")]
}

scores_said <- function(result) {
  if (!is_result(result, "respondent_scores")) return(NULL)
  s <- result$settings
  section <- if (identical(s$of, "scales")) "scale_scores" else "scores"
  held <- s[c("score", "gaps", "answered_share", "errors", "level")]
  names(held)[1L] <- "method"
  if (section == "scale_scores") held <- c(held, list(also = s$also, by = s$norms_by))
  flat_entries(stats::setNames(list(held[lengths(held) > 0L]), section))
}

# Number, parameters of the rotation and names of factors.
solution_said <- function(result, call) {
  s <- result$settings
  own <- spec_of("rotation", s$rotation)$parameters
  if (any(vapply(own, `[[`, "", "type") == "matrix")) {
    stop_input(
      "study",
      "A study file can only say rotations without a matrix.",
      got = sprintf("The rotation is \"%s\".", s$rotation),
      call = call
    )
  }
  given <- s$factor_names[s$factor_names != names(s$factor_names)]
  asked <- s[intersect(names(own), names(s))]
  c(
    list(number = ncol(result$values$loadings)),
    asked,
    if (length(given)) list(names = as.list(given))
  )
}

# The rules of a sifting, and what people did by hand.
sift_said <- function(result, call) {
  rules <- result$values$rules
  table <- rules$values$table
  own <- setdiff(table$rule, names_of("sifting"))
  if (length(own)) {
    stop_input(
      "study",
      "A study file can only say the rules of this package.",
      got = sprintf("Rules of one's own: %s.", name_culprits(own)),
      call = call
    )
  }
  s <- rules$settings
  limits <- stats::setNames(as.list(table$limit), table$rule)
  limits <- limits[table$on & !is.na(table$limit)]
  by_hand <- result$values$trail[result$values$trail$who %in% "person", ]
  said <- c(
    list(run = TRUE, keep = as.list(setdiff(result$settings$keep, by_hand$item))),
    list(order = as.list(s$order), without = as.list(table$rule[!table$on])),
    s[c("least_items", "least_per_factor", "most_omega_loss", "by_limits", "least_per_facet")],
    limits
  )
  decisions <- lapply(seq_len(nrow(by_hand)), function(i) {
    word <- if (by_hand$step[i] == "restored") "restore" else "drop"
    stats::setNames(list(by_hand$item[i], by_hand$why[i]), c(word, "why"))
  })
  c(
    flat_entries(list(sift = said[lengths(said) > 0L])),
    if (length(decisions)) list(decisions = decisions),
    list(factors.number = result$settings$factors)
  )
}

# Two results that say different things of one entry cannot both be repeated by one file.
add_said <- function(written, said, call) {
  for (name in names(said)) {
    way <- strsplit(name, ".", fixed = TRUE)[[1L]]
    held <- if (length(way) == 1L) written[[way]] else written[[way[1L]]][[way[2L]]]
    if (!is.null(held) && !isTRUE(all.equal(held, said[[name]]))) {
      stop_input(
        "study",
        "Results must agree in what they were asked for.",
        got = sprintf("`%s` is %s and %s.", name, choice_text(held), choice_text(said[[name]])),
        todo = "Give results of one chain of stages, with one seed.",
        call = call
      )
    }
    if (length(way) == 1L) {
      written[way] <- said[name]
    } else {
      written[[way[1L]]][way[2L]] <- said[name]
    }
  }
  written
}
