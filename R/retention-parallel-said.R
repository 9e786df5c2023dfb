# What parallel analysis says of groups, and what it notices.

# Groups whose number depends on the draw, or on fewer people than items.
add_unsure_groups <- function(judged, items) {
  g <- judged$groups[is.na(judged$groups$why), ]
  few <- g$n <= items
  finding <- function(code, rows) {
    if (!nrow(rows)) return(NULL)
    people <- vapply(rows$n, count_of, "", one = "person", many = "people")
    new_finding(code, rows$group, people, value = rows$n)
  }
  judged$findings <- bind_findings(judged$findings, finding("few_people_in_group", g[few, ]),
    finding("group_uncertain", g[!few & g$uncertain, ]))
  judged
}

find_in_parallel <- function(values, settings) {
  k <- values$suggested
  table <- values$eigenvalues
  e <- table$eigenvalue
  limit <- table[[limit_column(settings)]]
  above_one <- sum(e > 1)
  gap <- abs(e - limit)[seq_len(min(k + 1L, length(e)))]
  near <- which.min(gap)
  bind_findings(if (k == 0L) new_finding("no_factor", value = 0),
    if (above_one != k && settings$basis == "components") {
      new_finding("eigenvalue_one_differs",
        if (above_one == 1) "1 eigenvalue is" else paste(above_one, "eigenvalues are"),
        format_number(table$chance_mean[1L]), value = above_one, limit = k)
    },
    if (values$uncertain) {
      new_finding("uncertain", near, format_number(e[near], 3L), format_number(limit[near], 3L),
        format_count(values$replicates),
        if (values$replicates < ENOUGH$most) {
          "give replicates = \"enough\""
        } else {
          "the decision is uncertain"
        },
        value = e[near], limit = limit[near])
    },
    if (gap[near] < 0.02) {
      new_finding("close_call", near, format_number(e[near], 3L), format_number(limit[near], 3L),
        if (near == 1L) {
          "whether there is any factor is open"
        } else {
          sprintf("compare solutions with %d and %d factors", near - 1L, near)
        },
        value = e[near], limit = limit[near])
    })
}
