# Tables of reliability.

# A coefficient of each scale with its limits; none where the key is wrong.
interval_column <- function(v, name) {
  c <- v$coefficients[v$coefficients$coefficient == name, ]
  column <- with_limits(c$estimate, c$lower, c$upper)
  wrong <- !is.na(v$scales$wrong_key[match(c$scale, v$scales$scale)])
  column$text[wrong] <- "wrong key"
  column
}

STABILITY_LABELS <- c(test_retest = "test-retest correlation",
  agreement_single = "intraclass, agreement, one wave",
  agreement_mean = "intraclass, agreement, mean of both",
  consistency_single = "intraclass, consistency, one wave",
  consistency_mean = "intraclass, consistency, mean of both")

RELIABILITY_TABLES <- list(
  softsieve_reliability = family(
    scales = spec(label = "Reliability of the scales", file = "scales",
      data = function(x) as_tibble(x),
      columns = function(x) {
        v <- x$values
        s <- v$scales
        list(scale = words(s$scale), items = counts(s$items), alpha = interval_column(v, "alpha"),
          omega = interval_column(v, "omega"),
          "greatest lower bound" = roomy(interval_column(v, "greatest_lower_bound")),
          "mean r" = units(s$mean_correlation), mean = roomy(numbers(s$mean)),
          sd = roomy(numbers(s$sd)), "error of score" = numbers(s$sem), n = counts(s$n))
      }),
    items = spec(label = "%s", parts = function(x) x$values$scales$scale, file = "scale_items",
      data = function(x) tidy(x),
      columns = function(x, part) {
        t <- x$values$items[x$values$items$scale == part, ]
        flag <- ifelse(is.na(t$flag), "", paste0("[", t$flag, "] "))
        list(item = words(t$item), mean = numbers(t$mean), sd = numbers(t$sd),
          "r with rest" = units(t$item_rest), loading = roomy(units(t$loading)),
          "alpha without" = units(t$alpha_without), "omega without" = roomy(units(t$omega_without)),
          wording = words(paste0(flag, keyed_wording(t$wording, t$reversed))))
      }),
    coefficients = spec(label = "Every coefficient of %s",
      parts = function(x) x$values$scales$scale,
      columns = function(x, part) {
        t <- x$values$coefficients
        t <- t[t$scale == part & !is.na(t$estimate), ]
        estimate <- with_limits(t$estimate, t$lower, t$upper)
        estimate$right <- FALSE
        list(coefficient = words(coefficient_label(t$coefficient)), estimate = estimate)
      }),
    hierarchy = spec(
      label = "How much of a sum's variance is general, of groups of items, and both",
      there = function(x) !is.null(x$values$hierarchy),
      columns = function(x) {
        h <- x$values$hierarchy
        h <- h[h$form == "schmid_leiman", ]
        part <- function(name) {
          own <- h[h$part == name, ]
          with_limits(own$estimate, own$lower, own$upper)
        }
        list(scale = words(in_called(unique(h$scale), x$source)),
          "general (omega hierarchical)" = part("general"),
          groups = units(h$estimate[h$part == "groups"]), "both (omega total)" = part("total"))
      }),
    pairs = spec(label = "Scales compared with each other",
      there = function(x) !is.null(x$values$pairs),
      note = function(x) {
        sprintf(
          paste(
            "r without error: corrected for unreliability; rel. of difference: reliability of one",
            "score less the other; heterotrait: size of correlations between the two scales beside",
            "those within, above %s they may be one."),
          format_unit(cutoff("heterotrait")))
      },
      columns = function(x) {
        p <- x$values$pairs
        list(scale = words(p$scale), with = words(p$with), r = units(p$correlation),
          "r without error" = units(p$without_error), "rel. of difference" = units(p$difference),
          heterotrait = units(p$heterotrait))
      }),
    needed = spec(label = "Items needed, and the margin of one person's score",
      columns = function(x) {
        s <- x$values$scales
        list(scale = words(s$scale), items = counts(s$items),
          "items needed" = counts(s$items_needed),
          margin = column(s$score_margin, paste("+/-", format_number(s$score_margin)), TRUE))
      }),
    splits = spec(label = "Split halves", there = function(x) !is.null(x$values$splits),
      columns = function(x) {
        s <- x$values$splits
        list(scale = words(s$scale),
          halves = figures(paste0(format_count(s$number), ifelse(s$all, "", " drawn"))),
          lowest = units(s$lowest), mean = units(s$mean), highest = units(s$highest),
          "greatest of any size" = units(s$greatest))
      }),
    groups = spec(label = "By group", there = function(x) !is.null(x$values$groups),
      columns = function(x) {
        g <- x$values$groups
        list(scale = words(g$scale), group = words(g$group), people = counts(g$people),
          alpha = with_limits(g$alpha, g$lower, g$upper), omega = units(g$omega))
      },
      note = function(x) {
        tests <- x$values$equal_alphas
        if (!is.null(tests)) sprintf("%s: equal alphas, %s", tests$scale, format_p(tests$p))
      }),
    stability = spec(label = "Two waves", there = function(x) !is.null(x$values$stability),
      columns = function(x) {
        s <- x$values$stability
        estimate <- with_limits(s$estimate, s$lower, s$upper)
        estimate$right <- FALSE
        list(scale = words(s$scale), coefficient = words(unname(STABILITY_LABELS[s$coefficient])),
          estimate = estimate)
      },
      note = function(x) {
        once <- x$values$stability[!duplicated(x$values$stability$scale), ]
        sprintf("%s (%s): a person must change by %s to have changed; the mean moved by %s",
          once$scale, count_of(once$people[1L], "person", "people"),
          format_number(once$smallest_change), format_number(once$shift))
      })))
