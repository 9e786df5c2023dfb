# Figures of plans: what samples give, and what rules say, by the number of people.

# Shares and errors; of a search for people the wishes first, with the one that binds.
draw_sizes <- function(object) {
  m <- object$values$measures
  wishes <- object$values$needed
  shown <- unique(c(wishes$measure, SHOWN_OF_PLANS))
  m <- m[m$measure %in% shown & !is.na(m$value), ]
  titles <- capitalise(unname(PLAN_MEASURES[shown]))
  if (length(wishes)) {
    binding <- shown %in% wishes$measure[wishes$binds]
    titles <- ifelse(binding, paste0(titles, ": fails with fewer"), titles)
  }
  in_lines <- vapply(titles, function(one) paste(strwrap(one, 38L), collapse = "\n"), "")
  place <- function(measure) factor(in_lines[match(measure, shown)], in_lines)
  m$what <- place(m$measure)
  picture <- ggplot2::ggplot(m, ggplot2::aes(.data$people, .data$value))
  if (length(wishes)) {
    wishes$what <- place(wishes$measure)
    picture <- picture +
      ggplot2::geom_vline(xintercept = wishes$people[1L], colour = sieve_colour("chance"),
        linewidth = 1.6) +
      ggplot2::geom_hline(ggplot2::aes(yintercept = .data$wish), wishes, linetype = "22",
        colour = sieve_colour("ink"))
  }
  picture +
    lines_of_sizes(m) +
    ggplot2::facet_wrap(~what, scales = "free_y") +
    ggplot2::scale_y_continuous(limits = c(0, NA), labels = function(x) {
      format_unit(x, if (all(abs(x * 100 - round(x * 100)) < 1e-6, na.rm = TRUE)) 2L else 3L)
    }) +
    ggplot2::labs(title = "What so many people would give", x = "People", y = NULL,
      subtitle = wrap_subtitle("%s simulated samples of each size; bars: two Monte Carlo errors%s",
        say_samples(object$values$measures), if (length(wishes)) {
          sprintf("; dashed: wishes; pale: the %s people needed", format_count(wishes$people[1L]))
        } else {
          ""
        }))
}

SHOWN_OF_PLANS <- c("right_number", "factors_found", "loading_error", "omega_error")

# Measures by people with their Monte Carlo errors, on a scale of people that doubles.
lines_of_sizes <- function(m, dark = sieve_colour("kept")) {
  ends <- ggplot2::aes(ymin = pmax(.data$value - 2 * .data$error, 0),
    ymax = pmin(.data$value + 2 * .data$error,
      ifelse(.data$measure %in% names(PLAN_ERRORS), Inf, 1)))
  list(ggplot2::geom_linerange(ends, m, colour = dark), if (length(unique(m$people)) > 1L) {
    ggplot2::geom_line(data = m, colour = dark, linewidth = 0.8)
  }, ggplot2::geom_point(data = m, colour = dark, size = 2.4),
  ggplot2::scale_x_log10(breaks = unique(m$people), labels = format_count,
    guide = ggplot2::guide_axis(check.overlap = TRUE)), theme_sieve())
}

# How often each rule names the right number, with the most probable number behind each.
draw_plan_rules <- function(object) {
  m <- object$values$measures
  own <- check_drawable(m[rules_of_plan(m), ], "Ask for them: plan_study(rules = \"all\").")
  own$rule <- named_rule(own$label)
  last <- own[own$people == max(own$people), ]
  own$rule <- factor(own$rule, last$rule[order(-last$value)])
  probable <- m[m$measure == "right_number" & !is.na(m$value), c("people", "value", "error")]
  ggplot2::ggplot(own, ggplot2::aes(.data$people, .data$value)) +
    (if (nrow(probable) > 1L) {
      ggplot2::geom_line(data = probable, colour = sieve_colour("chance"), linewidth = 1.6)
    }) +
    lines_of_sizes(own) +
    ggplot2::facet_wrap(~rule, labeller = ggplot2::label_wrap_gen(30)) +
    ggplot2::scale_y_continuous(limits = c(0, 1), breaks = seq(0, 1, 0.5),
      labels = format_share(seq(0, 1, 0.5))) +
    ggplot2::labs(title = "How often each rule finds the number of factors", x = "People",
      y = "Samples", subtitle = wrap_subtitle(
        "%s simulated samples of each size; bars: two Monte Carlo errors%s",
        say_samples(m), if (nrow(probable) > 1L) {
          "; pale: the most probable number of count_factors()"
        } else {
          ""
        }))
}
