# Tables of naming, comparing, ladders, groups and people resampled.

# A word that repeats the one above it is left out.
first_of_each <- function(x) ifelse(c(TRUE, x[-1L] != x[-length(x)]), x, "")

TRUST_TABLES <- list(
  printed_comparison = family(
    factors = spec(label = "Which factor is which", columns = function(x) {
      f <- x$values$factors
      list(factor = words(f$factor), printed = words(ifelse(is.na(f$printed), "(none)",
        paste0(f$printed, ifelse(f$sign %in% -1, ", reverse-scored", "")))),
        cells = counts(f$cells), "largest difference" = units(f$largest, 3L))
    }),
    cells = spec(label = "Cells that differ", there = function(x) nrow(x$values$cells) > 0L,
      data = function(x) x$values$cells, file = "printed", most = 10L,
      rest = function(count) sprintf("and %s", count_of(count, "cell more", "cells more")),
      columns = function(x) {
        c <- x$values$cells
        list(item = words(c$item), factor = words(c$factor), here = units(c$here, 3L),
          printed = units(c$printed), difference = units(c$difference, 3L))
      })),
  naming_help = family(
    strongest = spec(label = "The strongest items of each factor", columns = function(x) {
      t <- x$values$strongest
      list(factor = words(first_of_each(t$factor)),
        they = words(ifelse(t$agree, "agree", "disagree")), item = words(t$item),
        loading = units(t$loading), wording = wordings(t))
    }),
    words = spec(label = "Words that tell its items from the others",
      there = function(x) nrow(x$values$words) > 0L,
      columns = function(x) {
        t <- x$values$words
        list(factor = words(first_of_each(t$factor)), word = words(t$word),
          "in its items" = shares(t$own_share), "in others" = shares(t$others_share))
      }),
    against = spec(label = "Items that speak against",
      there = function(x) nrow(x$values$against) > 0L,
      columns = function(x) {
        t <- x$values$against
        why <- c(elsewhere = "loads more on another", "words alone" = "has its words, no loading")
        list(factor = words(first_of_each(t$factor)), item = words(t$item),
          loading = units(t$loading), why = words(unname(why[t$why])), wording = wordings(t))
      })),
  solution_comparison = family(
    solutions = spec(label = "Side by side", columns = function(x) {
      s <- x$values$solutions
      if_any <- function(column, shown) if (!all(is.na(column))) shown(column)
      list(solution = words(s$solution), factors = counts(s$factors),
        items = roomy(counts(s$items)), n = roomy(counts(s$n)), method = roomy(words(s$method)),
        rotation = roomy(words(s$rotation)), explained = shares(s$share), RMSR = units(s$rmsr, 3L),
        RMSEA = if_any(s$rmsea, function(column) units(column, 3L)),
        CFI = if_any(s$cfi, function(column) units(column, 3L)),
        BIC = if_any(s$bic, function(column) numbers(column, 0L)),
        "smallest factor" = figures(vapply(s$smallest, count_of, "", one = "item")),
        weak = counts(s$weak), "cross-loading" = counts(s$cross_loading))
    }, note = function(x) {
      sprintf("weak: items without a loading of %s; cross-loading: items with two or more",
        format_unit(x$settings$salient))
    }),
    factors = spec(label = "Which factor is which", columns = function(x) {
      f <- x$values$factors
      list(solution = words(first_of_each(f$solution)), factor = words(f$factor),
        against = words(first_of_each(f$against)),
        "its factor" = words(ifelse(is.na(f$with), "(none left)",
          paste0(f$with, ifelse(f$sign < 0, ", reverse-scored", "")))),
        congruence = units(f$congruence),
        "rms difference" = roomy(units(f$rms_difference)),
        likeness = words(ifelse(f$likeness == "none", "", f$likeness)))
    }, note = function(x) {
      sprintf("congruence: very similar from %s, similar from %s",
        format_unit(cutoff("factor_equal")), format_unit(cutoff("factor_similar")))
    }),
    items = spec(label = "Items that differ most", file = "items",
      data = function(x) x$values$items, most = 8L,
      rest = function(count) sprintf("and %s that differ less", count_of(count, "item")),
      cut = TRUE,
      columns = function(x) {
        i <- x$values$items
        i <- i[order(-i$moved, -abs(i$difference)), ]
        list(solution = if (length(x$values$verdict) > 1L) words(i$solution), item = words(i$item),
          now = words(ifelse(is.na(i$factor), "none", i$factor)),
          before = words(ifelse(is.na(i$before), "none", i$before)),
          difference = units(i$difference), on = roomy(words(i$on)), wording = wordings(i))
      })),
  solution_ladder = family(
    rungs = spec(
      label = "Each factor, and those of the level before that it correlates with (.30 or more)",
      file = "rungs", data = function(x) x$values$rungs,
      columns = function(x) {
        f <- x$values$factors
        r <- x$values$rungs
        r <- r[abs(r$correlation) >= cutoff("correlation_worth"), ]
        r <- r[order(-abs(r$correlation)), ]
        from <- vapply(seq_len(nrow(f)), function(i) {
          own <- r[r$level == f$level[i] & r$factor == f$factor[i], ]
          paste(sprintf("%s %s", own$factor_before, format_unit(own$correlation)), collapse = ", ")
        }, "")
        from[!nzchar(from) & f$level > min(f$level)] <- "none above"
        list(level = words(first_of_each(as.character(f$level))), factor = words(f$factor),
          items = counts(f$items), "comes from" = words(from), strongest = words(f$item),
          wording = wordings(f))
      })),
  hidden_factors = family(
    splits = spec(label = "Two factors that correlate this closely look like one",
      file = "hidden", data = function(x) x$values$splits,
      columns = function(x) {
        s <- x$values$splits
        list(factor = words(s$factor), items = counts(s$items), "hides from" = units(s$hides_from),
          "one half" = roomy(words(s$first)), "the other" = roomy(words(s$second)))
      }),
    further = spec(label = "In how many samples a further factor shows",
      data = function(x) x$values$further,
      columns = function(x) {
        f <- x$values$further
        list(loadings = units(f$loading), items = counts(f$items), shown = shares(f$shown),
          se = shares(f$error))
      })),
  study_plan = family(
    needed = spec(label = "The wishes, and what so many people give",
      there = function(x) !is.null(x$values$needed), file = "needed",
      data = function(x) x$values$needed,
      columns = function(x) {
        n <- x$values$needed
        list(wish = words(n$label), "asked for" = words(format_number(n$wish, 3L)),
          reached = words(format_number(n$value, 3L)), people = counts(n$people),
          fails = words(ifelse(n$binds, "with fewer", "")))
      }),
    alternatives = spec(label = "What other designs would need",
      there = function(x) !is.null(x$values$alternatives), file = "alternatives",
      data = function(x) x$values$alternatives, columns = function(x) {
        a <- x$values$alternatives
        list(design = words(a$design), items = counts(a$items), "asked of each" = counts(a$asked),
          people = counts(a$people),
          saved = counts(a$saved))
      }),
    measures = spec(label = "How often (shares of samples; astray, sifted, kept: of items)",
      file = "plan", data = function(x) x$values$measures,
      columns = function(x) {
        of_measures(x, shares, c("right number" = "right_number",
          "parallel right" = "right_parallel", "factors found" = "factors_found", "improper",
          "astray", "sifted wrongly" = "sifted_wrongly", "weak kept" = "weak_kept"))
      }),
    tests = spec(label = "Tests (shares of samples)",
      there = function(x) x$settings$kind == "pearson", data = function(x) x$values$measures,
      columns = function(x) {
        of_measures(x, shares, c("items related" = "sphericity", "close fit kept" = "close_fit",
          "close fit of one factor fewer rejected" = "fewer_rejected"))
      }),
    errors = spec(label = "How exactly (root mean square errors)",
      data = function(x) x$values$measures,
      columns = function(x) {
        of_measures(x, units, c("loadings off by" = "loading_error",
          "communalities" = "communality_error", "factor correlations" = "correlation_error",
          "omega" = "omega_error", "width of its limits" = "omega_width",
          "cross-loading seen" = "cross_loading"))
      }),
    biases = spec(label = "How far off on average (largest loadings, factor correlations: from 0)",
      data = function(x) x$values$measures,
      columns = function(x) {
        of_measures(x, units, c("congruence" = "congruence", "loadings" = "loading_bias",
          "communalities" = "communality_bias", "factor correlations" = "correlation_bias",
          "omega" = "omega_bias"))
      }),
    rules = spec(label = "How often each rule finds the number of factors (shares of samples)",
      there = function(x) any(rules_of_plan(x$values$measures)),
      data = function(x) x$values$measures,
      columns = function(x) {
        m <- x$values$measures[rules_of_plan(x$values$measures), ]
        by_size <- lapply(split(m$value, m$people), shares)
        names(by_size) <- sprintf("%s people", format_count(as.integer(names(by_size))))
        c(list(rule = words(named_rule(unique(m$label)))), by_size)
      }),
    covered = spec(label = "How often 95 % limits hold what many people would show (shares)",
      there = function(x) any(x$values$measures$measure %in% names(COVERED)),
      data = function(x) x$values$measures,
      columns = function(x) {
        of_measures(x, shares, c("of loadings" = "loadings_covered",
          "of communalities" = "communalities_covered",
          "of factor correlations" = "correlations_covered"))
      }),
    hidden = spec(label = "What so many people could not show", file = "plan_hidden",
      there = function(x) !is.null(x$values$hidden), data = function(x) x$values$hidden,
      columns = function(x) {
        h <- x$values$hidden
        list(people = counts(h$people), factor = words(h$factor), items = counts(h$items),
          "hides two from" = units(h$hides_from), "further factor from" = units(h$further))
      }),
    items = spec(label = "How often rules of sifting take each item out (shares of samples)",
      file = "plan_items",
      there = function(x) !is.null(x$values$items), data = function(x) x$values$items,
      columns = function(x) {
        i <- x$values$items
        people <- unique(i$people)
        out <- lapply(stats::setNames(people, sprintf("%s people", format_count(people))),
          function(n) shares(i$out[i$people == n]))
        first <- i[i$people == people[1L], ]
        c(list(item = words(first$item), "50,000 people" = words(ifelse(first$weak, "out", ""))),
          out)
      })),
  group_solutions = family(
    congruences = spec(label = "Congruence of each group's factors with those of everybody",
      file = "congruences", data = function(x) x$values$congruences,
      columns = function(x) {
        g <- x$values$groups
        all <- x$values$congruences
        each <- function(factor) {
          own <- all[all$factor == factor & all$with == "everybody", ]
          units(own$congruence[match(g$group, own$group)])
        }
        factors <- colnames(x$values$pooled$values$loadings)
        c(list(group = words(g$group), people = counts(g$people)),
          stats::setNames(lapply(factors, each), factors))
      }),
    differences = spec(label = "Loadings that differ most from the groups' mean (95 % limits)",
      file = "differences", data = function(x) x$values$differences, most = 8L,
      rest = function(count) sprintf("and %s smaller", count_of(count, "difference")), cut = TRUE,
      columns = function(x) {
        d <- x$values$differences
        list(item = words(d$item), factor = words(d$factor), group = words(d$group),
          loading = units(d$loading), mean = units(d$mean),
          difference = with_limits(d$difference, d$lower, d$upper), wording = wordings(d))
      })),
  loading_stability = family(
    loadings = spec(label = "Each item's largest loading, and how often it stays there",
      file = "stability", data = function(x) x$values$loadings,
      columns = function(x) {
        home <- x$values$loadings[x$values$loadings$home, ]
        items <- x$values$items
        home <- home[match(items$item, home$item), ]
        weak <- abs(home$loading) < cutoff("salient_loading")
        place <- match(items$factor, unique(x$values$loadings$factor))
        order <- order(weak, place, -abs(home$loading))
        home <- home[order, ]
        items <- items[order, ]
        list(item = words(items$item), factor = words(items$factor),
          loading = with_limits(home$loading, home$lower, home$upper),
          "se" = units(home$standard_error, 3L), stays = shares(items$stays),
          wording = wordings(items))
      }),
    factor_correlations = spec(label = "Correlations of the factors",
      there = function(x) nrow(x$values$factor_correlations) > 0L,
      columns = function(x) {
        f <- x$values$factor_correlations
        list(factor = words(f$factor), with = words(f$with),
          correlation = with_limits(f$correlation, f$lower, f$upper),
          se = units(f$standard_error, 3L))
      }),
    communalities = spec(label = "Communalities", columns = function(x) {
      i <- x$values$items
      list(item = words(i$item), communality = with_limits(i$communality, i$lower, i$upper),
        se = units(i$standard_error, 3L))
    }),
    numbers = spec(label = "How often each number of factors would be chosen",
      there = function(x) nrow(x$values$numbers) > 0L,
      columns = function(x) {
        n <- x$values$numbers
        list(factors = counts(n$factors), share = shares(n$share, 1L))
      }),
    halves = spec(label = "The same factors in two halves of the people",
      there = function(x) !is.null(x$values$halves),
      columns = function(x) {
        h <- x$values$halves
        list(factor = words(h$factor), congruence = units(h$congruence),
          "5 % are below" = units(h$lowest), "equal in" = shares(h$equal),
          "similar in" = shares(h$similar))
      })))

# The measures of a plan, named by their columns, a row for each number of people; those that nobody
# knows are left out.
of_measures <- function(x, kind, columns) {
  m <- x$values$measures
  m <- m[order(m$people), ]
  names(columns)[!nzchar(names(columns))] <- columns[!nzchar(names(columns))]
  each <- lapply(columns, function(name) m$value[m$measure == name])
  each <- Filter(function(value) !all(is.na(value)), each)
  c(list(people = counts(unique(m$people))), lapply(each, kind))
}
