# Tables of solutions and what is made of them.

# What each mark that occurs means, with its limits.
marks_note <- function(pattern) {
  there <- Filter(function(one) one$name %in% pattern$values$marks$mark, MARKS)
  vapply(unname(there), function(one) {
    sprintf("%s: %s", hyphened(one$name), one$rule(pattern$settings))
  }, "")
}

hidden_note <- function(pattern) {
  if (!pattern$values$hidden) return(character())
  sprintf("%s smaller than %s in size not shown", count_of(pattern$values$hidden, "loading"),
    format_unit(pattern$settings$hide_below))
}

grey_note <- function(limit) {
  sprintf("Loadings smaller than %s in size are grey", format_unit(limit))
}

variance_columns <- function(t) {
  list(factor = words(t$factor), share = shares(t$share, 1L),
    "cumulative share" = shares(t$cumulative_share, 1L),
    "share of common" = shares(t$share_of_common, 1L), "sum of squares" = numbers(t$sum_of_squares))
}

# Loadings smaller than this are not shown: of general and group factors smaller ones are worth a
# look than of factors alone.
hierarchical_limit <- function() cutoff("salient_loading") / 1.5

shown_loadings <- function(x) {
  lapply(x$values$table[colnames(x$values$loadings)], function(l) {
    column(l, ifelse(abs(l) < hierarchical_limit(), "", format_unit(l)), TRUE)
  })
}

SOLUTION_TABLES <- list(
  factor_solution = family(
    loadings = spec(label = "Loadings, in the questionnaire's order", columns = function(x) {
      l <- x$values$loadings
      i <- x$values$items
      c(list(item = words(i$item)), lapply(columns_of(l), function(one) {
        faint(units(one), abs(one) < cutoff("salient_loading"))
      }), list(communality = units(i$communality), wording = wordings(i)))
    }, note_word = function(x) grey_note(cutoff("salient_loading"))),
    factor_correlations = spec(label = "Correlations of the factors",
      title = function(x) sprintf("Correlations of the %ss", one_of_model(x$settings)),
      there = function(x) ncol(x$values$loadings) > 1L, file = "factor_correlations",
      data = function(x) {
        between <- x$values$factor_correlations
        cbind(data.frame(factor = colnames(between)), as.data.frame(between))
      },
      columns = function(x) {
        # the lower triangle with ones
        r <- x$values$factor_correlations
        text <- format_unit(r)
        text[upper.tri(r)] <- ""
        diag(text) <- "1"
        one <- function(j) column(r[, j], text[, j], TRUE)
        between <- stats::setNames(lapply(seq_len(ncol(r)), one), colnames(r))
        c(list(factor = words(colnames(r))), between)
      }),
    variance = spec(label = "Variance explained",
      columns = function(x) variance_columns(x$values$variance)),
    variance_unrotated = spec(label = "Variance explained before rotation",
      there = function(x) x$settings$rotation != "none",
      columns = function(x) variance_columns(x$values$variance_unrotated)),
    residuals = spec(label = "The largest residual correlations", most = 5L,
      rest = function(count) sprintf("and %s smaller", count_of(count, "pair")),
      columns = function(x) {
        pairs <- x$values$residual_pairs
        list(item = words(pairs$item), with = words(pairs$with), observed = units(pairs$observed),
          reproduced = units(pairs$reproduced), residual = units(pairs$residual))
      })),
  pattern_table = family(
    pattern = spec(label = "Pattern: the items by what they load on most", file = "pattern",
      data = function(x) x$values$table, note = function(x) c(marks_note(x), hidden_note(x)),
      note_word = function(x) c(marks_note(x), grey_note(x$settings$hide_below)),
      columns = function(x) {
        t <- x$values$table
        factors <- x$values$factors
        structure <- if (x$settings$structure) {
          stats::setNames(lapply(t[structure_columns(factors)], units), paste("r with", factors))
        }
        c(list(item = words(t$item)),
          lapply(t[factors], function(l) faint(units(l), abs(l) < x$settings$hide_below)),
          structure,
          list(communality = units(t$communality),
            marks = if (any(nzchar(t$marks))) words(hyphened(t$marks)),
            uniqueness = roomy(units(t$uniqueness)), complexity = roomy(numbers(t$complexity, 1L)),
            wording = wordings(t)))
      }),
    # Every mark with its limit and where that comes from.
    marks = spec(label = "What is marked, and why", file = "marks",
      data = function(x) x$values$marks, there = function(x) nrow(x$values$marks) > 0L,
      columns = function(x) {
        m <- x$values$marks
        list(item = words(m$item), mark = words(hyphened(m$mark)), value = units(m$value),
          limit = units(m$limit), source = words(m$source))
      })),
  component_layers = family(
    layers = spec(label = "Layers of components", most = function(x) max(10L, x$settings$factors),
      rest = function(count) sprintf("%d more, down to nothing left after the last", count),
      columns = function(x) {
        t <- x$values$table
        list(component = words(t$component), eigenvalue = numbers(t$eigenvalue, 3L),
          share = shares(t$share, 1L), "cumulative share" = shares(t$cumulative_share, 1L),
          "rms left" = units(t$rmsr, 3L), "largest left" = units(t$largest_residual, 3L))
      })),
  hierarchical_form = family(
    loadings = spec(label = "Loadings on what is general and on what is left of each factor",
      columns = function(x) {
        t <- x$values$table
        c(list(item = words(t$item)),
          shown_loadings(x),
          list("general share" = shares(t$general_share), communality = units(t$communality),
            wording = wordings(t)))
      }),
    higher = spec(label = "How the factors load on what is general:", columns = function(x) {
      h <- x$values$higher_loadings
      one <- function(j) units(unname(h[, j]))
      c(list(factor = words(rownames(h))),
        stats::setNames(lapply(seq_len(ncol(h)), one), colnames(h)),
        list("of its own" = shares(unname(x$values$higher_uniqueness))))
    })),
  softsieve_scale_set = family(scales = spec(label = "Scales", columns = function(x) {
    s <- x$values$scales
    members <- split(s$item, factor(s$scale, unique(s$scale)))
    list(scale = words(names(members)), items = counts(lengths(members)),
      which = words(vapply(members, paste, "", collapse = ", ")))
  })),
  wording_form = family(
    loadings = spec(label = "Loadings on the topics and on wording", columns = function(x) {
      t <- x$values$table
      c(list(item = words(t$item)),
        shown_loadings(x),
        list(communality = units(t$communality), "wording share" = shares(t$wording_share),
          text = wordings(list(wording = t$text, reversed = t$reversed))))
    }),
    scales = spec(label = "A sum of each topic's items, standardised:",
      there = function(x) !is.null(x$values$scales),
      columns = function(x) {
        s <- x$values$scales
        list(factor = words(s$factor), items = counts(s$items), omega = units(s$omega),
          "with wording" = units(s$with_wording), "wording alone" = units(s$wording))
      })),
  information_curves = family(
    slopes = spec(label = "Slopes", columns = function(x) {
      s <- x$values$slopes
      list(factor = words(s$factor), item = words(s$item), slope = numbers(s$slope, 2L),
        information = numbers(s$highest, 2L), "most at" = numbers(s$at, 1L), wording = wordings(s))
    }),
    curves = spec(label = "Error of a person's score at levels of the factor:",
      columns = function(x) {
        c <- x$values$curves
        at <- c[abs(c$level - round(c$level)) < 1e-8 & abs(c$level) <= 3, ]
        digits <- 0L
        if (!nrow(at)) {
          at <- c
          digits <- 2L
        }
        factors <- unique(at$factor)
        each <- lapply(factors, function(factor) numbers(at$error[at$factor == factor], 2L))
        c(list(level = numbers(unique(at$level), digits)), stats::setNames(each, factors))
      })))
