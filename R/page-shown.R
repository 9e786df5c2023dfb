# What a page shows of results: plain lists of numbers and words, which go to the browser as JSON.
# Nothing is computed here, and nobody's own answers are in it.

# The answers as they were read last, in the process that works.
PAGE_HAD <- new.env(parent = emptyenv())

page_state <- function(done, before) {
  v <- done$values
  solution <- v$solution$values
  omega <- stats::na.omit(v$reliability$values$scales$omega)
  list(
    head = list(people = source_of_study(v)$people, items = nrow(solution$items),
      factors = ncol(solution$loadings),
      components = one_of_model(v$solution$settings) == "component",
      adequacy = v$factorability$values$adequacy,
      share = utils::tail(solution$variance$cumulative_share, 1L),
      lowest = if (length(omega)) min(omega), highest = if (length(omega)) max(omega),
      verdict = v$factorability$values$verdict),
    factors = page_factors(v$solution, v$reliability), rows = page_pattern(v$pattern),
    details = page_items(v), scales = page_scales(v$reliability),
    findings = page_findings(done$findings), out = page_out(done),
    places = changed_places(v$solution, before))
}

page_factors <- function(solution, reliability) {
  plain <- plain_names(ncol(solution$values$loadings), solution$settings)
  own <- factor_names(solution)
  scales <- reliability$values$scales
  lapply(seq_along(own), function(i) {
    list(plain = plain[i], name = own[i],
      share = solution$values$variance$share[match(own[i], solution$values$variance$factor)],
      omega = scales$omega[match(own[i], scales$scale)])
  })
}

page_pattern <- function(pattern) {
  table <- pattern$values$table
  factors <- pattern$values$factors
  lapply(seq_len(nrow(table)), function(i) {
    row <- table[i, ]
    list(item = row$item, wording = text_or(row$wording), reversed = isTRUE(row$reversed),
      factor = text_or(row$factor), loadings = unname(unlist(row[factors])),
      communality = row$communality, marks = as.list(strsplit(row$marks, ", ", fixed = TRUE)[[1L]]))
  })
}

text_or <- function(x, otherwise = "") if (length(x) && !is.na(x)) as.character(x) else otherwise

# Of each item what stands about it in the results, by its name.
page_items <- function(v) {
  items <- v$solution$values$items$item
  adequacy <- v$factorability$values$items
  trust <- v$reliability$values$items
  pairs <- item_partners(v$solution)
  one <- function(item) {
    at <- match(item, trust$item)
    list(adequacy = adequacy$adequacy[match(item, adequacy$item)],
      complexity = v$solution$values$items$complexity[v$solution$values$items$item == item],
      scale = text_or(trust$scale[at]), rest = trust$item_rest[at],
      without = trust$omega_without[at], with = pairs[[item]],
      answers = page_answers(v$items, item))
  }
  stats::setNames(lapply(items, one), items)
}

# The two items that each goes with most beyond the factors, where that is .05 or more.
item_partners <- function(solution) {
  v <- solution$values
  reproduced <- v$loadings %*% v$factor_correlations %*% t(v$loadings)
  pairs <- largest_residuals(v$correlations, reproduced, most = Inf)
  pairs <- pairs[abs(pairs$residual) >= 0.05, ]
  items <- rownames(v$loadings)
  found <- lapply(items, function(item) {
    own <- utils::head(pairs[pairs$item == item | pairs$with == item, ], 2L)
    Map(function(a, b, r) list(item = if (a == item) b else a, residual = r), own$item, own$with,
      own$residual, USE.NAMES = FALSE)
  })
  stats::setNames(found, items)
}

page_answers <- function(profile, item) {
  if (is.null(profile)) return(list())
  counts <- profile$values$counts
  own <- counts[counts$item == item, ]
  if (nrow(own)) {
    return(Map(function(answer, share) list(answer = format(answer), share = share), own$answer,
      own$share, USE.NAMES = FALSE))
  }
  bins <- profile$values$bins
  own <- bins[bins$item == item, ]
  Map(function(from, share) list(answer = format(from, digits = 3L), share = share), own$from,
    own$share, USE.NAMES = FALSE)
}

page_scales <- function(reliability) {
  rows_of(reliability$values$scales,
    c("scale", "items", "n", "reliability", "report", "alpha", "omega", "sem"))
}

rows_of <- function(table, columns) {
  lapply(seq_len(NROW(table)), function(i) as.list(table[i, columns]))
}

page_findings <- function(findings) {
  told <- findings[findings$severity != "note", ]
  lapply(seq_len(nrow(told)), function(i) {
    list(stage = told$stage[i], severity = told$severity[i], item = text_or(told$item[i]),
      text = told$text[i])
  })
}

# Items that are out: by people, and by rules where the study sifts by itself.
page_out <- function(done) {
  s <- settings_in_force(done$settings)
  by_hand <- s$by_hand$drop
  sifted <- done$values$sift$values$items
  sifted <- sifted[sifted$state == "out" & !sifted$item %in% names(by_hand), ]
  wording <- PAGE_HAD$answers$values$items
  of <- function(item) text_or(wording$wording[match(item, wording$item)])
  c(Map(function(item, why) list(item = item, why = why, wording = of(item)), names(by_hand),
    unlist(by_hand), USE.NAMES = FALSE),
    Map(function(item, rule) list(item = item, why = rule, wording = of(item)), sifted$item,
      sifted$rule, USE.NAMES = FALSE))
}

# Factors that stand elsewhere than in the solution before: names are by place.
changed_places <- function(solution, before) {
  if (is.null(before)) return(list())
  k <- ncol(solution$values$loadings)
  if (k != ncol(before$values$loadings)) return(list())
  shared <- intersect(rownames(solution$values$loadings), rownames(before$values$loadings))
  if (length(shared) < 3L) return(list())
  matched <- compare_solutions(before, solution)$values$factors
  first <- match(matched$factor, factor_names(solution))
  second <- match(matched$with, factor_names(before))
  plain <- plain_names(k, solution$settings)
  at <- which(!is.na(first) & !is.na(second) & first != second)
  lapply(at, function(i) list(from = plain[second[i]], to = plain[first[i]]))
}

page_count <- function(count) {
  v <- count$values
  e <- v$eigenvalues
  most <- min(nrow(e), max(12L, 2L * v$taken))
  list(taken = v$taken, suggested = v$suggested, probable = v$probable,
    plausible = as.list(v$plausible), said = v$sentences[1L],
    eigenvalues = e$eigenvalue[seq_len(most)], chance = e$chance_upper[seq_len(most)],
    findings = page_findings(count$findings))
}

# Limits, scores, and what tests have to say as well.
page_trust <- function(done) {
  v <- done$values
  scales <- v$reliability$values$scales
  factors <- v$scores$values$factors
  list(scales = rows_of(scales, c("scale", "reliability", "lower", "upper")),
    scores = rows_of(factors, c("factor", "people", "determinacy")),
    findings = page_findings(done$findings))
}

page_limits <- function(stability) {
  by <- split(stability$values$loadings, stability$values$loadings$item)
  lapply(by, function(own) Map(function(lower, upper) list(lower, upper), own$lower, own$upper))
}

page_paths <- function(paths) {
  items <- paths$values$items
  list(number = nrow(paths$values$paths), stays = stats::setNames(as.list(items$stays), items$item))
}

# What the next pass of the rules takes out, and why; `item` is empty where none does.
page_proposal <- function(sifted) {
  trail <- sifted$values$trail
  gone <- trail[trail$step == "removed" & trail$who %in% "rule", ]
  if (!nrow(gone)) return(list(item = ""))
  last <- gone[nrow(gone), ]
  list(item = last$item, wording = text_or(last$wording), rule = last$rule,
    label = SIFTING_RULES[[last$rule]]$label, value = last$value, limit = last$limit)
}

page_other_number <- function(now, then) {
  compared <- compare_solutions(list(now = now, then = then))
  items <- compared$values$items
  top <- function(solution) {
    loadings <- solution$values$loadings
    home <- apply(abs(loadings), 1L, which.max)
    list(factor = colnames(loadings)[home], loading = loadings[cbind(seq_along(home), home)])
  }
  a <- top(now)
  b <- top(then)
  all <- rownames(now$values$loadings)
  rows <- lapply(seq_along(all), function(i) {
    j <- match(all[i], rownames(then$values$loadings))
    list(item = all[i], wording = text_or(now$values$items$wording[i]), now = a$factor[i],
      now_loading = a$loading[i], then = b$factor[j], then_loading = b$loading[j],
      moved = isTRUE(items$moved[match(all[i], items$item)]))
  })
  list(rows = rows, said = compared$values$verdict, now = ncol(now$values$loadings),
    then = ncol(then$values$loadings),
    share = utils::tail(then$values$variance$cumulative_share, 1L))
}

page_naming <- function(help) {
  v <- help$values
  lapply(stats::setNames(v$factors, v$factors), function(name) {
    words <- v$words[v$words$factor == name, ]
    against <- v$against[v$against$factor == name, ]
    list(words = as.list(utils::head(words$word, 6L)), against = as.list(against$item))
  })
}

# Columns of a file as a study that begins takes them, each with its reason.
page_columns <- function(columns) {
  lapply(seq_len(nrow(columns)), function(i) {
    list(column = columns$column[i], role = columns$role[i], why = text_or(columns$why[i]))
  })
}
