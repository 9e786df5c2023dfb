# Tables of items, people and correlations.

PROFILE_TABLES <- list(
  item_profile = family(
    items = spec(label = "Items (kurtosis in excess of a normal distribution's)",
      most = function(x) if ("group" %in% names(x$values$items)) 12L else Inf,
      rest = function(count) sprintf("and %s more rows, in as_tibble()", format_count(count)),
      file = "items", data = function(x) as_tibble(x),
      columns = function(x) {
        i <- x$values$items
        # of several groups those that are flagged most come first
        grouped <- "group" %in% names(i)
        if (grouped) i <- i[order(-lengths(strsplit(i$flags, ", "))), ]
        list(
          group = if (grouped) words(i$group),
          item = words(i$item),
          missing = shares(i$missing_share, 1L),
          mean = numbers(i$mean),
          sd = numbers(i$sd),
          skewness = numbers(i$skewness, 1L),
          # the groups' names take the place of one column
          kurtosis = if (grouped) {
            roomy(numbers(i$excess_kurtosis, 1L))
          } else {
            numbers(i$excess_kurtosis, 1L)
          },
          floor = shares(i$floor_share),
          ceiling = shares(i$ceiling_share),
          wording = wordings(i))
      })),
  respondent_profile = family(
    people = spec(label = "People with signs of careless answers", most = 8L,
      rest = function(count) {
        sprintf("and %s with fewer flags", count_of(count, "person", "people"))
      },
      there = function(x) any(nzchar(x$values$people$flags)), file = "people",
      data = function(x) as_tibble(x),
      columns = function(x) {
        p <- x$values$people
        p <- p[nzchar(p$flags), ]
        p <- p[order(-lengths(strsplit(p$flags, ", ")), p$p), ]
        list(person = words(if (length(x$settings$id)) p[[x$settings$id]] else p$row),
          missing = counts(p$missing), run = counts(p$longest_run), "even-odd" = units(p$even_odd),
          distance = numbers(p$distance, 1L), p = p_values(p$p),
          contradictions = counts(p$contradictions), flags = words(p$flags))
      })),
  item_correlations = family(
    strongest = spec(label = "The strongest correlations", most = 5L,
      rest = function(count) sprintf("and %s", count_of(count, "more pair")),
      columns = function(x) {
        pairs <- as_tibble(x)
        pairs <- pairs[order(-abs(pairs$correlation)), ]
        list(item = words(pairs$item), with = words(pairs$with),
          correlation = units(pairs$correlation), people = counts(pairs$people))
      }),
    whole = spec(label = "The correlations", there = function(x) {
      ncol(x$values$correlations) <= WHOLE_MATRIX
    }, columns = function(x) {
      r <- x$values$correlations
      p <- ncol(r)
      below <- lapply(seq_len(p - 1L), function(j) {
        figures(ifelse(seq_len(p) > j, format_unit(r[, j]), ""))
      })
      c(list(item = words(rownames(r))), stats::setNames(below, colnames(r)[-p]))
    })),
  factorability = family(
    items = spec(label = "Items, lowest adequacy first", most = 8L,
      rest = function(count) sprintf("and %s with higher adequacy", count_of(count, "item")),
      file = "adequacy", data = function(x) as_tibble(x),
      columns = function(x) {
        i <- x$values$items
        list(item = words(i$item), adequacy = units(i$adequacy),
          "squared multiple r" = units(i$squared_multiple), wording = wordings(i))
      }),
    groups = spec(label = "Groups", there = function(x) !is.null(x$values$groups),
      columns = function(x) {
        g <- x$values$groups
        weakest <- paste(g$weakest_item, format_unit(g$weakest_adequacy))
        list(group = words(g$group), people = counts(g$people), adequacy = units(g$adequacy),
          p = p_values(g$p), weakest = words(ifelse(is.na(g$weakest_item), "", weakest)),
          verdict = words(ifelse(is.na(g$verdict), "not judged", g$verdict)))
      })))

# Tables about the number of factors.

eigenvalue_columns <- function(x) {
  e <- x$values$eigenvalues
  list(rank = counts(e$rank), eigenvalue = numbers(e$eigenvalue), share = shares(e$share, 1L),
    "cumulative share" = shares(e$cumulative_share, 1L), "chance mean" = numbers(e$chance_mean),
    "chance upper" = numbers(e$chance_upper), above = words(ifelse(e$above_chance, "yes", "no")))
}

# The ranks that decide, and some below them.
deciding_ranks <- function(x) max(x$values$suggested + 3L, 6L)
more_ranks <- function(count) sprintf("and %s below", count_of(count, "more rank"))

# Correlations of so few items are printed whole.
WHOLE_MATRIX <- 10L

NUMBER_TABLES <- list(
  grouped_correlations = family(
    differences = spec(label = "The largest differences", most = 8L, file = "group_correlations",
      data = function(x) x$values$differences,
      rest = function(count) sprintf("and %s", count_of(count, "smaller one")),
      columns = function(x) {
        d <- x$values$differences
        narrow <- !all(is.na(d$by_narrowing))
        list(item = words(d$item), with = words(d$with), group = words(d$group),
          r = units(d$correlation), against = words(d$against), " r" = units(d$correlation_against),
          difference = with_limits(d$difference, d$lower, d$upper),
          "narrowed" = if (narrow) units(d$by_narrowing),
          " " = words(ifelse(d$differs, "differs", "")))
      },
      note = function(x) {
        if (all(is.na(x$values$differences$by_narrowing))) return(NULL)
        "narrowed: what the correlation of all rows becomes by the group's narrower spread alone"
      })),
  parallel_analysis = family(
    eigenvalues = spec(label = "Eigenvalues and chance", most = deciding_ranks, rest = more_ranks,
      cut = TRUE, columns = eigenvalue_columns),
    groups = spec(label = "Groups", there = function(x) !is.null(x$values$groups),
      columns = function(x) {
        g <- x$values$groups
        uncertain <- ifelse(g$uncertain, "uncertain", "")
        list(group = words(g$group), people = counts(g$people), n = counts(g$n),
          factors = figures(ifelse(is.na(g$suggested), "-", format_count(g$suggested))),
          note = words(ifelse(!is.na(g$why), "not judged", uncertain)))
      })),
  factor_count = family(
    eigenvalues = spec(label = "Eigenvalues and chance", most = deciding_ranks, rest = more_ranks,
      cut = TRUE, file = "eigenvalues", data = function(x) x$values$eigenvalues,
      columns = eigenvalue_columns),
    rules = spec(label = "What each rule suggests", file = "rules",
      data = function(x) as_tibble(x),
      columns = function(x) {
        r <- x$values$rules
        # a number that rests on what does not hold here has a question mark
        asked <- paste0(r$suggested, ifelse(r$holds, "", " ?"))
        list(rule = words(r$label), factors = figures(ifelse(is.na(r$suggested), "-", asked)),
          reason = words(r$reason),
          "when it misleads" = roomy(words(in_called(r$misleads, x$source))),
          paper = roomy(words(r$reference)))
      }),
    fits = spec(label = "Fit of each number of factors (maximum likelihood)",
      there = function(x) !is.null(x$values$fits),
      columns = function(x) {
        f <- x$values$fits
        list(factors = counts(f$factors), "chi-square" = numbers(f$chi_square, 1L),
          df = counts(f$df), p = p_values(f$p),
          RMSEA = with_limits(f$rmsea, f$rmsea_lower, f$rmsea_upper), CFI = units(f$cfi, 3L),
          BIC = numbers(f$bic, 0L), "rms residual" = units(f$rmsr, 3L))
      })))
