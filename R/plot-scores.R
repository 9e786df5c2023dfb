# Figures of scores: how they are spread, in the plane, and one person's over all scales.

MOST_SPREADS <- 6L

# For each group (or score): the shape of the distribution, the middle half and the median.
draw_spread <- function(object, asked) {
  names <- object$values$factors$factor
  at <- settle_shown(asked$factors, names, 1L, if (is.null(asked$factors)) MOST_SPREADS else 12L)
  who <- who_was_scored(object, asked)
  grouped <- !is.null(asked$group)
  people <- stack_rows(lapply(names[at], function(name) {
    tibble_of(score = object$values$scores[[name]], of = name,
      group = if (grouped) who$group else factor(name, names))
  }))
  people <- people[!is.na(people$score), ]
  people$of <- factor(people$of, names[at])
  alike <- split(people, list(people$of, people$group), drop = TRUE)
  spread <- stack_rows(lapply(alike, function(one) {
    tibble::tibble(one[1L, c("of", "group")], percentiles_of(one$score))
  }))
  rest <- length(names) - length(at)
  ggplot2::ggplot(people, ggplot2::aes(.data$score, .data$group)) +
    ggplot2::geom_violin(fill = "#dfe6e3", colour = NA, scale = "width", width = 0.85) +
    ggplot2::geom_linerange(ggplot2::aes(xmin = .data$p10, xmax = .data$p90, x = .data$p50), spread,
      colour = sieve_colour("kept"), linewidth = 0.6) +
    ggplot2::geom_linerange(ggplot2::aes(xmin = .data$p25, xmax = .data$p75, x = .data$p50), spread,
      colour = sieve_colour("kept"), linewidth = 2.4) +
    ggplot2::geom_point(ggplot2::aes(.data$p50), spread, shape = 21, size = 3.2,
      fill = sieve_colour("paper"), colour = sieve_colour("ink")) +
    (if (grouped) ggplot2::facet_wrap(~of, labeller = ggplot2::label_wrap_gen(24L))) +
    ggplot2::scale_y_discrete(limits = function(x) rev(x), labels = group_labels(people, grouped)) +
    ggplot2::labs(
      title = if (grouped) sprintf("Scores by %s", asked$group) else "How scores are spread",
      x = score_axis(object), y = NULL,
      subtitle = wrap_subtitle(
        paste("Points: medians; thick: the middle half of the people; thin: the middle 80 %%; the",
          "shape shows where more of them are.%s%s"),
        if (grouped) say_apart(object, asked$group) else "",
        if (is.null(asked$factors) && rest > 0L) {
          sprintf(" The first %d of %d.", length(at), length(names))
        } else {
          ""
        })) +
    theme_sieve("x")
}

# Groups with how many people they have (of the score that most have).
group_labels <- function(people, grouped) {
  if (!grouped) return(function(x) wrap_names(x, 20L))
  counts <- apply(table(people$group, people$of), 1L, max)
  function(x) sprintf("%s (%s)", clip_text(x, 26L), format_count(counts[x]))
}

score_axis <- function(object) {
  s <- object$settings
  if (s$of == "scales") return(sprintf("Score (%s)", SCORE_METHODS[[s$score]]$label))
  sprintf("Score, in %s", unit_of_scores(s))
}

draw_score_plane <- function(object, asked) {
  names <- object$values$factors$factor
  check_drawable(names[-1L], "A plane needs two scores.")
  two <- names[settle_shown(asked$factors, names, 2L, 2L)]
  people <- people_in_plane(object, two, asked)
  check_drawable(people, "Nobody has both scores: take two that people have.")
  many <- nrow(people) > MOST_POINTS
  ggplot2::ggplot(people, ggplot2::aes(.data$x, .data$y)) +
    people_layers(people, many, asked$group, spread = object$settings$of == "scales") +
    chosen_layers(people[people$chosen, ]) +
    (if (object$settings$of != "scales") ggplot2::coord_fixed()) +
    ggplot2::labs(title = sprintf("People in the plane of %s and %s", two[1L], two[2L]),
      x = sprintf("Score on %s", two[1L]), y = sprintf("Score on %s", two[2L]),
      subtitle = wrap_subtitle("%s%s. The two scores correlate %s.",
        count_of(nrow(people), "person", "people"),
        if (many) {
          ", darker where more of them are"
        } else if (object$settings$of == "scales") {
          ", moved a little so that none hides another"
        } else {
          ""
        },
        format_unit(stats::cor(people$x, people$y)), width = SQUARE_SUBTITLE)) +
    theme_sieve() +
    ggplot2::theme(legend.position = if (is.null(asked$group)) "none" else "right")
}

MOST_PERSONS <- 4L

# T scores, so that scales of any length stand on one axis; bands are the norms' middle half and 80
# %.
draw_person <- function(object, asked) {
  profile <- person_profile(object, asked)
  limits <- object$settings$errors
  ggplot2::ggplot(profile, ggplot2::aes(.data$t_score, .data$scale)) +
    ggplot2::geom_linerange(ggplot2::aes(xmin = .data$p10, xmax = .data$p90), colour = "#eeeae0",
      linewidth = 11) +
    ggplot2::geom_linerange(ggplot2::aes(xmin = .data$p25, xmax = .data$p75), colour = "#d9d3c4",
      linewidth = 11) +
    ggplot2::geom_vline(xintercept = 50, colour = sieve_colour("other"), linetype = "22") +
    (
      if (limits) {
        ggplot2::geom_linerange(ggplot2::aes(xmin = .data$lower, xmax = .data$upper),
          profile[!is.na(profile$lower), ], colour = sieve_colour("kept"), linewidth = 1)
      }) +
    ggplot2::geom_point(data = profile[!is.na(profile$t_score), ], shape = 21, size = 3.6,
      fill = sieve_colour("kept"), colour = sieve_colour("ink")) +
    ggplot2::geom_text(ggplot2::aes(label = .data$label), vjust = -1.9, size = 4,
      colour = sieve_colour("ink")) +
    ggplot2::facet_wrap(~person) +
    ggplot2::scale_y_discrete(limits = function(x) rev(x),
      labels = function(x) wrap_names(x, 20L)) +
    ggplot2::expand_limits(x = c(28, 72)) +
    ggplot2::scale_x_continuous(breaks = seq(-100, 200, 10)) +
    ggplot2::labs(
      title = if (nlevels(profile$person) == 1L) "One person's scores" else "Persons' scores",
      x = "T score (50: mean of the norms, 10: their standard deviation)", y = NULL,
      subtitle = wrap_subtitle(
        "Bands: the middle half and the middle 80 %% of %s. Above the points: scores. %s",
        if (is.null(object$settings$norms_by)) "the norms" else "the person's own group",
        if (limits) {
          sprintf("Lines: %s limits.", format_share(object$settings$level))
        } else {
          "Without limits: score with errors = TRUE to have them."
        })) +
    theme_sieve("x")
}

# For each person and score: T score, its limits, the norms' percentiles as T scores, a label.
person_profile <- function(object, asked) {
  v <- object$values
  who <- who_was_scored(object, asked)
  names <- v$factors$factor
  scored <- rowSums(!is.na(v$scores[names])) > 0
  check_drawable(which(scored), "Nobody has a score.")
  rows <- if (is.null(asked$people)) which(scored)[1L] else match(asked$people, who$id)
  if (length(rows) > MOST_PERSONS) {
    stop_input("argument", sprintf("`people` must be at most %d ids.", MOST_PERSONS),
      got = sprintf("%d came.", length(rows)))
  }
  norms <- v$norms
  group <- rep("all", length(rows))
  if (is.null(norms)) {
    norms <- summarise_norms(as.matrix(v$scores[names]), rep("all", nrow(v$scores)))
  } else if (!is.null(object$settings$norms_by)) {
    group <- joined_groups(v$scores[rows, object$settings$norms_by])
  }
  profile <- stack_rows(lapply(seq_along(rows), function(i) {
    one_profile(v$scores[rows[i], ], names, norms[norms$group == group[i], ])
  }))
  called <- if (length(object$settings$id)) who$id[rows] else paste("row", who$id[rows])
  person <- rep(called, each = length(names))
  shown <- rep(group, each = length(names))
  profile$person <- ifelse(shown == "all", person, sprintf("%s (%s)", person, shown))
  profile$person <- factor(profile$person, unique(profile$person))
  profile$scale <- factor(profile$scale, names)
  profile
}

one_profile <- function(row, names, norms) {
  at <- norms[match(names, norms$scale), ]
  t_of <- function(x) 50 + 10 * (x - at$mean) / at$sd
  value <- function(end) {
    columns <- paste0(names, end)
    if (!all(columns %in% names(row))) return(rep(NA_real_, length(names)))
    unlist(row[columns], use.names = FALSE)
  }
  scores <- value("")
  tibble_of(scale = names, score = scores, t_score = t_of(scores), lower = t_of(value("_lower")),
    upper = t_of(value("_upper")), p10 = t_of(at$p10), p25 = t_of(at$p25), p75 = t_of(at$p75),
    p90 = t_of(at$p90), label = format_number(scores))
}

# How far the groups of a figure lie apart, or nothing where that cannot be said.
say_apart <- function(object, group) {
  found <- tryCatch(score_groups(object, !!group, replicates = 999L, seed = 1L),
    softsieve_error = function(e) NULL)
  if (is.null(found)) return("")
  t <- found$values$together
  sprintf(" Between groups: %s of the variance (%s).", format_share(t$eta_squared), format_p(t$p))
}
