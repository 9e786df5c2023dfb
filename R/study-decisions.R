# What people decide about a study, by the word in the file (`drop: o2`). An entry has a label (what
# it means), a type, whether `several` may be named, and
#
#   stage     to which stage it belongs, for the trail
#   needs     further keys that must stand beside it (a name needs `as`)
#   apply     function(s, decision): the study's settings with the decision in force
#   numbers   function(values, decision): what a run showed of it, in words, or nothing

DECISIONS <- family(
  drop = spec(label = "items that are left out", type = "string", several = TRUE, stage = "items",
    apply = function(s, decision) {
      s$by_hand$restore <- setdiff(s$by_hand$restore, decision$drop)
      s$by_hand$drop[decision$drop] <- why_of(decision)
      s$scales$moved <- s$scales$moved[setdiff(names(s$scales$moved), decision$drop)]
      s
    },
    numbers = function(values, decision) numbers_of_items(values, decision$drop)),
  keep = spec(label = "items that no rule takes out", type = "string", several = TRUE,
    stage = "items",
    apply = function(s, decision) {
      s$sift$keep <- union(s$sift$keep, decision$keep)
      s
    },
    numbers = function(values, decision) numbers_of_items(values, decision$keep)),
  restore = spec(label = "items that were dropped, or that a rule took out, and that come back",
    type = "string", several = TRUE, stage = "items",
    apply = function(s, decision) {
      s$by_hand$drop <- s$by_hand$drop[setdiff(names(s$by_hand$drop), decision$restore)]
      s$by_hand$restore <- union(s$by_hand$restore, decision$restore)
      s$by_hand$restore_why[decision$restore] <- why_of(decision)
      s
    },
    numbers = function(values, decision) numbers_of_items(values, decision$restore)),
  reverse = spec(label = "items that are worded in reverse, in addition to those of the codebook",
    type = "string", several = TRUE, stage = "items",
    apply = function(s, decision) {
      s$answers$reversed <- union(s$answers$reversed, decision$reverse)
      s
    },
    numbers = function(values, decision) numbers_of_items(values, decision$reverse)),
  move = spec(label = "items that belong to another scale", type = "string", several = TRUE,
    stage = "scales", needs = "to",
    apply = function(s, decision) {
      s$scales$moved[decision$move] <- decision$to
      s
    },
    numbers = function(values, decision) numbers_of_items(values, decision$move)),
  number = spec(label = "the number of factors", type = "integer", lowest = 1,
    stage = "number of factors",
    apply = function(s, decision) {
      s$factors$number <- decision$number
      # names of factors that there are no more
      at <- suppressWarnings(as.integer(sub("^[A-Z]", "", names(s$factors$names))))
      s$factors$names <- s$factors$names[is.na(at) | at <= decision$number]
      s
    },
    numbers = function(values, decision) {
      v <- values$count$values
      if (is.null(v)) return(NULL)
      probable <- if (!is.null(v$probable) && !is.na(v$probable)) {
        sprintf(", most probable %d", v$probable)
      }
      paste0(sprintf("parallel analysis suggests %d", v$suggested), probable,
        sprintf(", taken %d", v$taken))
    }),
  name = spec(label = "the factor that is named", type = "string", stage = "factors",
    needs = "as",
    apply = function(s, decision) {
      s$factors$names[decision$name] <- decision$as
      s
    },
    numbers = function(values, decision) {
      v <- values$solution$values
      if (is.null(v)) return(NULL)
      own <- values$solution$settings$factor_names
      given <- if (decision$name %in% names(own)) own[[decision$name]] else decision$name
      if (!given %in% colnames(v$loadings)) return(NULL)
      column <- v$loadings[, given]
      top <- utils::head(order(-abs(column)), 3L)
      paste(names(column)[top], format_unit(column[top]), collapse = ", ")
    }))

why_of <- function(decision) if (is.null(decision$why)) "no reason given" else decision$why

numbers_of_items <- function(values, items) {
  v <- values$solution$values
  known <- intersect(items, rownames(v$loadings))
  if (!length(known)) return(NULL)
  said <- vapply(known, function(item) {
    loadings <- v$loadings[item, ]
    top <- which.max(abs(loadings))
    sprintf("%s: communality %s, largest loading %s (%s)", item,
      format_unit(v$items$communality[v$items$item == item]), format_unit(loadings[top]),
      names(loadings)[top])
  }, "")
  paste(said, collapse = "; ")
}

word_of <- function(decision) intersect(names(decision), names(DECISIONS))

# The study's settings with what people decided in force; `by_hand` holds what is done about items.
settings_in_force <- function(s) {
  s$by_hand <- list(drop = character(), restore = character(), restore_why = character())
  for (decision in s$decisions) {
    s <- DECISIONS[[word_of(decision)]]$apply(s, decision)
  }
  s
}
