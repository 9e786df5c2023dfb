# Prints of reliability.

#' @export
print.reliability <- function(x, ...) {
  v <- x$values
  s <- v$scales
  columns <- list(
    scale = s$scale,
    items = as.character(s$items),
    alpha = interval_text(v, "alpha"),
    omega = interval_text(v, "omega"),
    "mean r" = format_unit(s$mean_correlation),
    "error of score" = format_number(s$sem),
    n = format_count(s$n)
  )
  entered <- if (x$settings$missing == "given") {
    "n: people behind the correlations given."
  } else {
    sprintf(
      "n: the fewest people behind a pair of a scale's items (%s).",
      method_label("missing", x$settings$missing)
    )
  }
  show_result(
    x,
    reliability_verdict(x),
    report_reasons(v),
    c(
      table_lines(columns, c(FALSE, rep(TRUE, 6L))),
      unlist(lapply(s$scale, scale_item_lines, v = v))
    ),
    below = c(
      bracket_note(x),
      entered,
      "Error of score: standard error of measurement of the mean of the items."
    ),
    next_step = paste(
      "summary() shows every coefficient, split halves, pairs of scales and what is",
      "general; score_respondents() gives each person's scores."
    )
  )
}

# "thrift, 6 items: omega .77 [.74, .79]; without t4 it would be .78"
reliability_verdict <- function(x) {
  s <- x$values$scales
  lines <- vapply(
    seq_len(nrow(s)),
    function(i) {
      if (is.na(s$report[i])) return(sprintf("%s, 1 item: not known", s$scale[i]))
      if (!is.na(s$wrong_key[i])) {
        return(sprintf(
          "%s, %s: %s against the others; no coefficient means anything until the key is right",
          s$scale[i],
          count_of(s$items[i], "item"),
          paste(s$wrong_key[i], if (grepl(" and ", s$wrong_key[i])) "run" else "runs")
        ))
      }
      said <- sprintf(
        "%s, %s: %s %s%s",
        s$scale[i],
        count_of(s$items[i], "item"),
        coefficient_label(s$report[i]),
        format_unit(s$reliability[i]),
        bracket(s$lower[i], s$upper[i])
      )
      rows <- x$values$items[x$values$items$scale == s$scale[i], ]
      best <- which.max(rows$alpha_without)
      gains <- length(best) &&
        isTRUE(rows$alpha_without[best] - s$alpha[i] > cutoff("high_alpha_gain"))
      if (gains) {
        paste0(
          said,
          sprintf(
            "; without %s alpha would be %s, not %s",
            rows$item[best],
            format_unit(rows$alpha_without[best]),
            format_unit(s$alpha[i])
          )
        )
      } else {
        said
      }
    },
    ""
  )
  paste0(lines, ".")
}

bracket <- function(lower, upper) {
  ifelse(is.na(lower), "", sprintf(" [%s, %s]", format_unit(lower), format_unit(upper)))
}

bracket_note <- function(x) {
  kinds <- stats::na.omit(unique(x$values$coefficients$interval))
  if (!length(kinds)) return(character())
  how <- c(
    bca = sprintf(
      "bias-corrected accelerated, %s draws of the people",
      format_count(x$settings$replicates)
    ),
    feldt = "Feldt, of alpha"
  )
  sprintf(
    "In brackets: %s limits (%s).",
    format_share(x$settings$level),
    paste(how[kinds], collapse = "; ")
  )
}

interval_text <- function(v, name) {
  c <- v$coefficients[v$coefficients$coefficient == name, ]
  text <- ifelse(is.na(c$estimate), "", paste0(format_unit(c$estimate), bracket(c$lower, c$upper)))
  ifelse(is.na(v$scales$wrong_key[match(c$scale, v$scales$scale)]), text, "wrong key")
}

# Why the coefficient in the verdict is the one: the same reason once for all its scales.
report_reasons <- function(v) {
  a <- v$assumptions[is.na(v$scales$wrong_key), ]
  why <- sub(" \\(p [=<].*?\\)", "", a$why)
  vapply(
    unique(why),
    function(reason) sprintf("%s: %s.", join_words(a$scale[why == reason]), reason),
    "",
    USE.NAMES = FALSE
  )
}

scale_item_lines <- function(name, v) {
  t <- v$items[v$items$scale == name, ]
  columns <- list(
    item = t$item,
    mean = format_number(t$mean),
    sd = format_number(t$sd),
    "r with rest" = format_unit(t$item_rest),
    "alpha without" = format_unit(t$alpha_without),
    wording = paste0(
      ifelse(is.na(t$flag), "", paste0("[", t$flag, "] ")),
      keyed_wording(t$wording, t$reversed)
    )
  )
  c("", paste0("  ", name), table_lines(columns, c(FALSE, rep(TRUE, 4L), FALSE), indent = "    "))
}

#' @export
summary.reliability <- function(object, ...) {
  structure(list(reliability = object), class = "summary_reliability")
}

#' @export
print.summary_reliability <- function(x, ...) {
  r <- x$reliability
  v <- r$values
  print(r)
  cat("\nEvery coefficient:\n")
  for (name in v$scales$scale) {
    cat(
      "",
      paste0("  ", name),
      coefficient_lines(v$coefficients[v$coefficients$scale == name, ]),
      sep = "\n"
    )
  }
  cat(
    "\nWhat each takes for granted:",
    unlist(Map(
      function(label, assumes) wrap_lines(sprintf("%s: %s.", label, assumes), "  ", "    "),
      COEFFICIENTS$label,
      COEFFICIENTS$assumes
    )),
    sep = "\n"
  )
  if (!is.null(v$hierarchy)) {
    cat(
      "\nHow much of a sum's variance is general, of groups of items, and both:",
      hierarchy_lines(v$hierarchy),
      sep = "\n"
    )
  }
  if (!is.null(v$pairs)) cat("\nScales beside each other:", pair_lines(v$pairs), sep = "\n")
  if (!is.null(v$total)) {
    cat(sprintf(
      "\nSum over all scales: stratified alpha %s (alpha of all items %s).\n",
      format_unit(v$total$stratified_alpha),
      format_unit(v$total$alpha)
    ))
  }
  s <- v$scales
  cat(
    "",
    wrap_lines(sprintf(
      "Items of this kind that a reliability of %s needs, and the %s margin of one person's score:",
      format_unit(r$settings$wished),
      format_share(r$settings$level)
    )),
    table_lines(
      list(
        scale = s$scale,
        items = as.character(s$items),
        "items needed" = format_count(s$items_wished),
        "margin" = paste("+/-", format_number(s$score_margin))
      ),
      c(FALSE, TRUE, TRUE, TRUE)
    ),
    sep = "\n"
  )
  if (!is.null(v$splits)) cat("\nSplit halves:", split_lines(v$splits), sep = "\n")
  if (!is.null(v$groups)) {
    cat("\nBy group:", alpha_group_lines(v$groups, v$equal_alphas), sep = "\n")
  }
  if (!is.null(v$stability)) cat("\nTwo waves:", stability_lines(v$stability), sep = "\n")
  invisible(x)
}

coefficient_lines <- function(t) {
  t <- t[!is.na(t$estimate), ]
  at <- match(t$coefficient, COEFFICIENTS$name)
  table_lines(
    list(
      coefficient = COEFFICIENTS$label[at],
      estimate = paste0(format_unit(t$estimate), bracket(t$lower, t$upper))
    ),
    c(FALSE, FALSE),
    indent = "    "
  )
}

hierarchy_columns <- function(h) {
  h <- h[h$form == "schmid_leiman", ]
  part <- function(name) {
    paste0(
      format_unit(h$estimate[h$part == name]),
      bracket(h$lower[h$part == name], h$upper[h$part == name])
    )
  }
  list(
    scale = unique(h$scale),
    "general (omega hierarchical)" = part("general"),
    groups = format_unit(h$estimate[h$part == "groups"]),
    "both (omega total)" = part("total")
  )
}
hierarchy_lines <- function(h) table_lines(hierarchy_columns(h), c(FALSE, TRUE, TRUE, TRUE))

pair_columns <- function(p) {
  list(
    scale = p$scale,
    with = p$with,
    r = format_unit(p$correlation),
    "r without error" = format_unit(p$without_error),
    "rel. of difference" = format_unit(p$difference),
    heterotrait = format_unit(p$heterotrait)
  )
}
pair_lines <- function(p) table_lines(pair_columns(p), c(FALSE, FALSE, rep(TRUE, 4L)))

split_lines <- function(s) {
  table_lines(
    list(
      scale = s$scale,
      halves = paste0(format_count(s$number), ifelse(s$all, "", " drawn")),
      lowest = format_unit(s$lowest),
      mean = format_unit(s$mean),
      highest = format_unit(s$highest),
      "greatest of any size" = format_unit(s$greatest)
    ),
    c(FALSE, rep(TRUE, 5L))
  )
}

alpha_group_lines <- function(g, tests) {
  c(
    table_lines(
      list(
        scale = g$scale,
        group = g$group,
        people = format_count(g$people),
        alpha = paste0(format_unit(g$alpha), bracket(g$lower, g$upper)),
        omega = format_unit(g$omega)
      ),
      c(FALSE, FALSE, TRUE, TRUE, TRUE)
    ),
    if (!is.null(tests)) sprintf("  %s: equal alphas, %s", tests$scale, format_p(tests$p))
  )
}

STABILITY_LABELS <- c(
  test_retest = "test-retest correlation",
  agreement_single = "intraclass, agreement, one wave",
  agreement_mean = "intraclass, agreement, mean of both",
  consistency_single = "intraclass, consistency, one wave",
  consistency_mean = "intraclass, consistency, mean of both"
)

stability_lines <- function(s) {
  once <- s[!duplicated(s$scale), ]
  c(
    table_lines(
      list(
        scale = s$scale,
        coefficient = unname(STABILITY_LABELS[s$coefficient]),
        estimate = paste0(format_unit(s$estimate), bracket(s$lower, s$upper))
      ),
      c(FALSE, FALSE, FALSE)
    ),
    wrap_lines(
      sprintf(
        "%s (%s): a person must change by %s to have changed; the mean moved by %s",
        once$scale,
        count_of(once$people[1L], "person", "people"),
        format_number(once$smallest_change),
        format_number(once$shift)
      ),
      "  ",
      "    "
    )
  )
}

#' @exportS3Method
tables_for_word.reliability <- function(x) {
  v <- x$values
  s <- v$scales
  scales <- data.frame(
    scale = s$scale,
    items = s$items,
    alpha = interval_text(v, "alpha"),
    omega = interval_text(v, "omega"),
    "mean r" = format_unit(s$mean_correlation),
    mean = format_number(s$mean),
    sd = format_number(s$sd),
    "error of score" = format_number(s$sem),
    n = format_count(s$n),
    check.names = FALSE
  )
  items <- lapply(s$scale, function(name) {
    t <- v$items[v$items$scale == name, ]
    data.frame(
      item = t$item,
      wording = keyed_wording(t$wording, t$reversed),
      mean = format_number(t$mean),
      sd = format_number(t$sd),
      "r with rest" = format_unit(t$item_rest),
      loading = format_unit(t$loading),
      "alpha without" = format_unit(t$alpha_without),
      check.names = FALSE
    )
  })
  c(list("Reliability of the scales" = scales), stats::setNames(items, paste("Items of", s$scale)))
}
