# Tables of sifting. table-list.R has the fields of a table.

# "communality .21 < .30", or a person's words.
sift_reasons <- function(t) {
  by_rule <- !is.na(t$rule)
  whole <- !is.na(t$value) & t$value == round(t$value) & t$value >= 1
  beside <- vapply(seq_along(t$value), function(i) format_beside(t$value[i], t$limit[i]), "")
  shown <- ifelse(whole, format_count(t$value), ifelse(is.na(t$value), "", beside))
  limit <- format_limit(t$limit)
  side <- ifelse(t$value > t$limit, ">", "<")
  rule <- sprintf("%s %s %s %s", hyphened(t$rule), shown, side, limit)
  person <- ifelse(nzchar(t$why), paste0("a person: ", t$why), "")
  ifelse(by_rule & t$who %in% "person", paste(rule, person, sep = "; "),
    ifelse(by_rule, rule, person))
}

# As many decimals as the limit has: .5, .20, 3.
format_limit <- function(x) {
  whole <- !is.na(x) & x == round(x)
  ifelse(is.na(x), "", ifelse(whole, format_count(x), sub("^0[.]", ".", format_number(x, 2L))))
}

SIFT_TABLES <- list(
  sift_rules = family(
    rules = spec(label = "Rules of sifting, in the order they are looked at",
      columns = function(x) {
        t <- x$values$table
        limit <- ifelse(is.na(t$limit), ".50 (components) or .30", format_limit(t$limit))
        list(rule = words(ifelse(t$on, t$rule, paste(t$rule, "(off)"))),
          "goes when its" = words(t$label), is = words(paste(t$breaks, limit)))
      })),
  item_sift = family(
    story = spec(label = "What went, and why", file = "trail", data = function(x) as_tibble(x),
      columns = function(x) {
        t <- x$values$trail
        end <- t$step == "end"
        said <- ifelse(t$step == "restored", "back:", ifelse(end, "", "out:"))
        list(pass = figures(ifelse(duplicated(t$pass) & !end, "", format_count(t$pass))),
          items = counts(t$items), factors = counts(t$factors), adequacy = units(t$adequacy),
          explained = shares(t$share), omega = units(t$lowest_omega),
          step = words(trimws(paste(said, ifelse(end, "the end", t$item)))),
          because = words(sift_reasons(t)))
      }),
    facets = spec(label = "What is left of each facet:",
      there = function(x) !is.null(x$values$facets),
      columns = function(x) {
        f <- x$values$facets
        list(facet = words(f$facet), before = counts(f$before), left = counts(f$after))
      })),
  sift_replay = family(
    steps = spec(label = "The steps of the trail, on these answers", columns = function(x) {
      t <- x$values$steps
      list(step = counts(t$step), went = words(t$item), rule = words(t$rule),
        then = numbers(t$then), here = numbers(t$here), "would go here" = words(t$would_go),
        same = words(ifelse(t$same, "yes", "no")))
    })),
  sift_paths = family(
    items = spec(label = "How often each item stays", columns = function(x) {
      t <- x$values$items
      t <- t[order(-t$stays), ]
      list(item = words(t$item), now = words(t$state), stays = shares(t$stays),
        limits = shares(t$limits), orders = shares(t$orders),
        numbers = if (!all(is.na(t$numbers))) shares(t$numbers),
        draws = if (!all(is.na(t$draws))) shares(t$draws), verdict = words(t$verdict),
        wording = wordings(t))
    }),
    pairs = spec(label = "Items that compete (one stays when the other goes):",
      there = function(x) nrow(x$values$pairs) > 0L,
      columns = function(x) {
        p <- x$values$pairs
        list(item = words(p$item), with = words(p$with), together = units(p$together))
      }),
    agreement = spec(label = "How far scores agree with those of the scales on other paths:",
      columns = function(x) {
        a <- x$values$agreement
        list(scale = words(a$scale), "on average" = units(a$mean), lowest = units(a$lowest))
      }),
    outside = spec(label = "In the people who chose, and in those left out:",
      there = function(x) !is.null(x$values$outside),
      columns = function(x) {
        o <- x$values$outside
        label <- c(omega = "omega (mean of scales)", rmsr = "root mean square residual")
        list(measure = words(label[o$measure]), inside = units(o$inside, 3L),
          outside = units(o$outside, 3L))
      })),
  short_forms = family(
    scales = spec(label = "Short forms", columns = function(x) {
      v <- x$values
      list(scale = words(v$scales$scale),
        items = figures(sprintf("%d of %d", v$scales$kept, v$scales$items)),
        which = words(v$sets$set[v$sets$rank == 1L]), omega = units(v$scales$omega),
        "omega short" = units(v$scales$omega_short), fidelity = units(v$scales$fidelity),
        inside = if (!is.null(v$outside)) units(v$outside$inside),
        "left out" = if (!is.null(v$outside)) units(v$outside$outside))
    }),
    sets = spec(label = "The next best:", there = function(x) any(x$values$sets$rank > 1L),
      columns = function(x) {
        s <- x$values$sets
        s <- s[s$rank > 1L, ]
        list(scale = words(s$scale), rank = counts(s$rank), omega = units(s$omega, 3L),
          fidelity = units(s$fidelity, 3L), set = words(s$set))
      })))

# The trail of a study as a table.

# What a study says of itself is not a decision about its numbers.
ABOUT_STUDY <- c("title", "author", "date", "language", "answers.file", "answers.database",
  "answers.table", "codebook")

STUDY_TABLES <- list(
  softsieve_study = family(
    decisions = spec(label = "What was decided, and by whom", file = "decisions",
      data = function(x) x$values$trail, there = function(x) length(x$values) > 0L,
      columns = function(x) {
        t <- x$values$trail
        # what nobody decided stands in the study below, and in decisions.csv
        t <- t[t$by != "default" & !t$decision %in% ABOUT_STUDY, ]
        list(decision = words(t$decision), choice = words(t$choice),
          by = words(ifelse(nzchar(t$who), t$who, t$by)),
          when = if (any(nzchar(t$when))) words(t$when),
          numbers = if (any(nzchar(t$numbers))) words(t$numbers), why = words(t$why))
      }),
    people_left = spec(label = "From the file to the tests", file = "people_left",
      data = function(x) people_left(x)[c("step", "out", "left", "conditions")],
      there = function(x) !is.null(x$values$questionnaire),
      columns = function(x) {
        p <- people_left(x)
        step <- in_called(p$step, x$values$questionnaire$source)
        list(step = words(step), `left out` = counts(p$out), people = counts(p$left))
      })))
