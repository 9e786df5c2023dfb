# Tables of scores, of their formula and of the way back. table-list.R has the fields of a table.

number_bracket <- function(lower, upper) {
  ifelse(is.na(lower), "", sprintf(" [%s, %s]", format_number(lower), format_number(upper)))
}

# Scores on scales go into files beside those on factors.
file_of_scores <- function(x, name) if (x$settings$of == "scales") paste0("scale_", name) else name

# What one of those that were scored is called.
scored_one <- function(x) sub("s$", "", x$settings$of)

SCORE_TABLES <- list(
  respondent_scores = family(
    factors = spec(label = "How well scores stand for the factors",
      title = function(x) {
        if (x$settings$of == "scales") return("Scores on the scales")
        sprintf("How well scores stand for the %s", x$settings$of)
      },
      file = function(x) file_of_scores(x, "scores"), data = function(x) as_tibble(x),
      columns = function(x) {
        f <- x$values$factors
        sure <- any(f[["determinacy"]] < 1 - 1e-9)
        known <- function(name) if (!is.null(f[[name]]) && !all(is.na(f[[name]]))) f[[name]]
        factor_only <- function(name) if (isTRUE(sure)) units(f[[name]])
        columns <- list(factor = words(f$factor), people = counts(f$people),
          items = if (!is.null(f[["items"]])) counts(f$items),
          determinacy = factor_only("determinacy"), "least alike" = factor_only("smallest"),
          "with factor" = if (x$settings$score != "regression") factor_only("validity"),
          reliability = if (!is.null(known("reliability"))) units(f$reliability),
          mean = numbers(f$mean), sd = numbers(f$sd))
        names(columns)[1L] <- scored_one(x)
        columns
      }),
    correlations = spec(label = "Correlations of the scores, and of the factors:",
      file = function(x) file_of_scores(x, "score_correlations"),
      data = function(x) x$values$correlations,
      title = function(x) {
        if (x$settings$of == "scales") return("Correlations of the scores:")
        sprintf("Correlations of the scores, and of the %s:", x$settings$of)
      },
      there = function(x) !is.null(x$values$correlations), most = 10L,
      rest = function(count) sprintf("and %s more", count_of(count, "pair")),
      columns = function(x) {
        v <- x$values$correlations
        scales <- x$settings$of == "scales"
        columns <- list(one = words(v$factor), with = words(v$with),
          factors = if (!scales) units(v$factors),
          "scores by formula" = if (!scales) units(v$scores), "scores here" = units(v$observed))
        names(columns)[1L] <- scored_one(x)
        if (!scales) names(columns)[3L] <- x$settings$of
        columns
      }),
    norms = spec(label = "Norms (p10 to p90: the scores below which that share of people lies):",
      file = function(x) file_of_scores(x, "norms"), data = function(x) x$values$norm_table,
      there = function(x) !is.null(x$values$norms), most = 24L,
      rest = function(count) sprintf("and %s more", count_of(count, "row")),
      columns = function(x) {
        v <- x$values$norms
        columns <- list(scale = words(v$scale),
          group = if (!identical(unique(v$group), "all")) words(v$group), people = counts(v$people),
          mean = numbers(v$mean), sd = numbers(v$sd), p10 = numbers(v$p10), p25 = numbers(v$p25),
          p50 = numbers(v$p50), p75 = numbers(v$p75), p90 = numbers(v$p90))
        names(columns)[1L] <- scored_one(x)
        columns
      }),
    people = spec(label = "The first people:", there = function(x) nrow(x$values$scores) > 0L,
      columns = function(x) {
        first <- utils::head(x$values$scores, 5L)
        people <- seq_len(match("answered", names(first)))
        columns <- lapply(first[people], function(one) {
          if (is.numeric(one)) column(one, format(one), TRUE) else words(one)
        })
        for (name in x$values$factors$factor) {
          beside <- function(what) first[[paste0(name, "_", what)]]
          limits <- if (x$settings$errors) number_bracket(beside("lower"), beside("upper")) else ""
          score <- first[[name]]
          columns[[name]] <- column(score,
            ifelse(is.na(score), "", paste0(format_number(score), limits)), TRUE)
          for (form in x$settings$also) {
            heading <- paste(name, sub("_", " ", form))
            columns[[heading]] <- numbers(beside(form), if (form == "standardised") 2L else 0L)
          }
        }
        columns
      })),
  score_formula = family(
    formula = spec(label = "Weights of answers as they were given", file = "formula",
      data = function(x) as_tibble(x),
      columns = function(x) {
        t <- x$values$table
        c(list(item = words(t$item)), lapply(t[colnames(x$values$weights)], numbers, digits = 4L),
          list(wording = wordings(t)))
      })),
  carried_back = family(coefficients = spec(label = "Coefficients of items", columns = function(x) {
    t <- x$values$table
    sure <- !all(is.na(t$raw_error))
    list(term = words(t$term), raw = numbers(t$raw, 3L), error = if (sure) numbers(t$raw_error, 3L),
      standardised = numbers(t$standardised, 3L),
      "its error" = if (sure) numbers(t$standardised_error, 3L), wording = wordings(t))
  })),
  rebuilt_answers = family(
    curve = spec(label = "What each further one adds", most = 12L,
      rest = function(count) sprintf("and %s more", format_count(count)),
      columns = function(x) {
        v <- x$values$curve
        list(kept = counts(v$kept), "share kept" = shares(v$share, 1L), "it adds" = shares(v$added,
          1L))
      }),
    items = spec(label = "Items, the least kept first:", most = 12L,
      rest = function(count) sprintf("and %s that are kept better", count_of(count, "item")),
      columns = function(x) {
        v <- x$values$items
        v <- v[order(v$share), ]
        list(item = words(v$item), "share kept" = shares(v$share, 1L),
          "typically off by" = numbers(v$typical), wording = wordings(v))
      })))
