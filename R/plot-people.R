# Figure: people and items in one plane.

# More people than these are shown as a density.
MOST_POINTS <- 2000L
MOST_GROUPS <- 8L

draw_plane_of_people <- function(object, asked) {
  object <- with_variance(object)
  v <- object$values
  factors <- colnames(v$loadings)
  check_drawable(factors[-1L], "A plane needs two factors.")
  at <- settle_shown(asked$factors, factors, 2L, 2L)
  two <- factors[at]
  data <- if (is.null(asked$data)) v$item_correlations$values$questionnaire else asked$data
  if (is.null(data)) check_drawable(NULL, "Give the people's answers: data = ....")
  people <- scored_people(object, data, two, asked)
  many <- nrow(people) > MOST_POINTS
  reach <- max(abs(stats::quantile(unlist(people[c("x", "y")]), c(0.005, 0.995))))
  arrows <- item_arrows(v, at, reach)
  scale <- attr(arrows, "scale")
  ggplot2::ggplot(people, ggplot2::aes(.data$x, .data$y)) +
    people_layers(people, many, asked$group) +
    ring_layers(scale) +
    ggplot2::geom_segment(ggplot2::aes(x = 0, y = 0, xend = .data$x, yend = .data$y), arrows,
      arrow = ggplot2::arrow(length = ggplot2::unit(6, "pt")), colour = sieve_colour("ink"),
      linewidth = 0.5) +
    point_labels(ggplot2::aes(label = .data$label), arrows, size = 3.5, fontface = "bold",
      colour = sieve_colour("ink")) +
    chosen_layers(people[people$chosen, ]) +
    ggplot2::coord_fixed() +
    ggplot2::labs(
      title = sprintf("People and items in the plane of two %ss", one_of_model(object$settings)),
      x = sprintf("Score on %s", two[1L]), y = sprintf("Score on %s", two[2L]),
      caption = wording_below(v$items[nzchar(arrows$label), ], asked$wording),
      subtitle = wrap_subtitle("%s. Arrows: loadings times %s; the ring is a loading of .50. %s",
        if (many) {
          sprintf("%s, darker where more of them are", count_of(nrow(people), "person", "people"))
        } else {
          count_of(nrow(people), "person", "people")
        },
        format_number(scale, 1L), angle_said(object, at), width = SQUARE_SUBTITLE)) +
    theme_sieve() +
    ggplot2::theme(legend.position = if (is.null(asked$group)) "none" else "right")
}

# What the angle between two arrows is. With uncorrelated factors that are all shown, its cosine is
# the correlation of what the factors explain of the two items, and of nothing more.
angle_said <- function(object, at) {
  between <- object$values$factor_correlations[at[1L], at[2L]]
  if (abs(between) >= 0.005 || (ncol(object$values$loadings) == 2L && abs(between) > 1e-8)) {
    return(sprintf("The factors correlate (%s): angles between arrows are not correlations.",
      format_unit(between)))
  }
  if (ncol(object$values$loadings) > 2L) {
    return(sprintf(
      "Other %ss stand outside this plane: angles between arrows are not correlations.",
      one_of_model(object$settings)))
  }
  paste(
    "The cosine of the angle between two arrows is the correlation of what these factors explain",
    "of the items.")
}

# Scores of the two factors: x, y, group, id, chosen.
scored_people <- function(object, data, two, asked) {
  people_in_plane(score_respondents(object, data), two, asked)
}

people_in_plane <- function(scored, two, asked) {
  people <- who_was_scored(scored, asked)
  people <- tibble::tibble(people, x = scored$values$scores[[two[1L]]],
    y = scored$values$scores[[two[2L]]])
  people[!is.na(people$x) & !is.na(people$y), ]
}

# Of each person that was scored: id (the first column beside the scores, or the row), group (""
# where none was asked for), chosen.
who_was_scored <- function(scored, asked) {
  scores <- scored$values$scores
  beside <- names(scores)[seq_len(match("answered", names(scores)) - 1L)]
  if (!is.null(asked$group) && !asked$group %in% beside) {
    stop_input("argument", "`group` must name an id or group column of the people.",
      got = describe_value(asked$group),
      todo = sprintf("Their columns: %s.", if (length(beside)) name_culprits(beside) else "none"))
  }
  group <- if (is.null(asked$group)) rep("", nrow(scores)) else as.character(scores[[asked$group]])
  named_by <- intersect(scored$settings$id, beside)
  id <- if (length(named_by)) scores[[named_by]] else seq_len(nrow(scores))
  id <- as.character(id)
  unknown <- setdiff(asked$people, id)
  if (length(unknown)) {
    stop_input("people", "`people` must be ids of people who are there.",
      got = sprintf("Not among them: %s.", name_culprits(unknown)),
      todo = sprintf("The first ids: %s.", paste(utils::head(id, 5L), collapse = ", ")))
  }
  tibble::tibble(id = id, group = few_groups(group), chosen = id %in% asked$people)
}

# The largest groups by their names, the others together.
few_groups <- function(group) {
  group[is.na(group)] <- "(none)"
  sizes <- sort(table(group), decreasing = TRUE)
  if (length(sizes) > MOST_GROUPS) {
    rest <- names(sizes)[-seq_len(MOST_GROUPS - 1L)]
    group[group %in% rest] <- sprintf("%d others", length(rest))
  }
  named <- sort(unique(group[!grepl("^[0-9]+ others$", group)]))
  factor(group, unique(c(named, group)))
}

item_arrows <- function(v, at, reach) {
  loadings <- v$loadings[, at]
  scale <- round(0.9 * reach / max(sqrt(rowSums(loadings^2))), 1L)
  arrows <- tibble::tibble(item = v$items$item, x = scale * unname(loadings[, 1L]),
    y = scale * unname(loadings[, 2L]), label = v$items$item)
  # those too short to point anywhere have no label
  short <- sqrt(rowSums(loadings^2)) < cutoff("salient_loading")
  arrows$label[short] <- ""
  attr(arrows, "scale") <- scale
  arrows
}

ring_layers <- function(scale) {
  turn <- seq(0, 2 * pi, length.out = 181L)
  ring <- data.frame(x = 0.5 * scale * cos(turn), y = 0.5 * scale * sin(turn))
  list(
    ggplot2::geom_hline(yintercept = 0, colour = sieve_colour("other"), linewidth = 0.3),
    ggplot2::geom_vline(xintercept = 0, colour = sieve_colour("other"), linewidth = 0.3),
    ggplot2::geom_path(data = ring, colour = sieve_colour("other"), linetype = "22"))
}

# Points while they are few; squares that are darker where more people are, with a line around the
# inner half of each group, when they are many.
# `spread`: scores of few different values, moved a little so that people do not hide each other.
people_layers <- function(people, many, group, spread = FALSE) {
  place <- if (spread) ggplot2::position_jitter(0.04, 0.04, seed = 1L) else "identity"
  groups <- levels(droplevels(people$group))
  shapes <- stats::setNames(rep_len(FACTOR_SHAPES, length(groups)), groups)
  shades <- c(FACTOR_SHADES, "#fffefb", "#cc7a8b", "#6f8f3f")
  shades <- stats::setNames(rep_len(shades, length(groups)), groups)
  if (many) {
    lines <- if (!is.null(group)) {
      list(
        ggplot2::stat_density_2d(ggplot2::aes(linetype = .data$group), contour_var = "ndensity",
          breaks = 0.5, colour = sieve_colour("turned")),
        ggplot2::labs(linetype = group))
    }
    return(c(
      list(ggplot2::geom_bin_2d(bins = 60L),
        ggplot2::scale_fill_gradient(low = "#eef0ec", high = "#6d8a8c", guide = "none")),
      lines))
  }
  if (is.null(group)) {
    return(ggplot2::geom_point(shape = 21, size = 1.6, colour = "#8fa3a3", fill = "#c9d3d1",
      position = place))
  }
  list(
    ggplot2::geom_point(ggplot2::aes(shape = .data$group, fill = .data$group), size = 2,
      alpha = 0.75, colour = "#4d5a5e", stroke = 0.3, position = place),
    ggplot2::scale_shape_manual(values = shapes), ggplot2::scale_fill_manual(values = shades),
    ggplot2::labs(shape = group, fill = group),
    ggplot2::guides(fill = ggplot2::guide_legend(override.aes = list(size = 4, alpha = 1))))
}

chosen_layers <- function(chosen) {
  if (!nrow(chosen)) return(NULL)
  list(
    ggplot2::geom_point(data = chosen, shape = 21, size = 4, stroke = 1.4, fill = NA,
      colour = sieve_colour("turned")),
    point_labels(ggplot2::aes(label = .data$id), chosen, size = 4, fontface = "bold",
      colour = sieve_colour("turned")))
}
