# People resampled, and the solution of each draw. Where the compiled core knows the way a
# solution was found, all draws are made there; everything else goes through the stages themselves,
# draw by draw. Both draw the same people.

# Of more people than these, 500 parts of them are drawn instead of single ones
# (bench/stability-parts.R holds the two against each other).
DRAWN_SINGLY <- 2500L
DRAWN_PARTS <- 500L

# Who is drawn together: `unit_of` of each person, `stratum_of` of each unit, from 0.
units_of_people <- function(answers, clusters, strata) {
  if (is_item_tables(answers)) return(units_of_groups(answers, clusters, strata))
  values_of <- function(name, what) {
    if (is.null(name)) return(NULL)
    known <- colnames(answers$values$people)
    if (!checkmate::test_string(name) || !name %in% known) {
      stop_input("argument",
        sprintf("`%s` must name an id or group column of the questionnaire.", what),
        got = describe_value(name),
        todo = if (length(known)) {
          sprintf("Its columns: %s.", name_culprits(known))
        } else {
          "Name them in questionnaire(data, id = ..., group = ...)."
        })
    }
    values <- as.character(answers$values$people[[name]])
    if (!anyNA(values)) return(values)
    stop_input("argument",
      sprintf("Everybody must have a value in the column that `%s` names.", what),
      got = sprintf("%s have none.", count_of(sum(is.na(values)), "person", "people")),
      todo = "Leave these people out with keep_people().")
  }
  n <- nrow(answers$values$answers)
  cluster <- values_of(clusters, "clusters")
  if (is.null(cluster)) cluster <- row_blocks_of(answers)
  stratum <- values_of(strata, "strata")
  unit <- if (is.null(cluster)) seq_len(n) else match(cluster, unique(cluster))
  if (is.null(stratum)) stratum <- rep("all", n)
  first <- match(seq_len(max(unit)), unit)
  check_nested(unit, stratum, cluster)
  list(unit_of = unit - 1L, stratum_of = match(stratum[first], unique(stratum)) - 1L,
    units = max(unit), alone = names(which(table(stratum[first]) < 2L)))
}

# Of counts, random groups are drawn: who was in which cluster is not known any more.
units_of_groups <- function(tables, clusters, strata) {
  check_random_groups(tables)
  if (!is.null(clusters) || !is.null(strata)) {
    stop_input("argument", "`clusters` and `strata` need answers of people.",
      got = "The solution comes from counts, in which people were assigned to random groups.",
      todo = "Leave them out, or take a sample of people: sample_people().")
  }
  random_groups <- ncol(tables$values$cells)
  list(unit_of = seq_len(random_groups) - 1L, stratum_of = integer(random_groups),
    units = random_groups, alone = character())
}

check_nested <- function(unit, stratum, cluster) {
  if (is.null(cluster)) return(invisible())
  pairs <- unique(data.frame(unit, stratum))
  split <- unique(cluster[unit %in% pairs$unit[duplicated(pairs$unit)]])
  if (max(unit) < 2L) {
    stop_input("argument", "There must be two clusters or more to draw from.",
      got = sprintf("All people are in %s.", cluster[1L]))
  }
  if (!length(split)) return(invisible())
  stop_input("argument", "A cluster must lie within one stratum.",
    got = sprintf("In several: %s.", name_culprits(split)),
    todo = "Leave `strata` out, or name another column.")
}

# loadings (p x k x draws, aligned to the solution), factor_correlations (k x k x draws),
# communalities (p x draws), congruences (k x draws), eigenvalues (p x draws) and improper: of
# `replicates` draws and then of the halves, two columns each.
draw_solutions <- function(solution, answers, units, replicates, halves, starts, seed, threads,
    basis = "components", label = "People resampled") {
  correlations <- solution$values$item_correlations
  given <- list(answers = answers, units = units, replicates = replicates, halves = halves,
    seed = seed)
  plan <- core_plan_of(solution, starts, basis)
  columns <- replicates + 2L * halves
  drawn <- if (is.null(plan)) {
    payload <- list(given = given, solution = solution, starts = starts, basis = basis)
    run_ranges(solutions_by_stages, columns, payload, threads, label)
  } else {
    payload <- core_payload(given, plan, correlations$settings$missing)
    run_ranges(solutions_in_core, columns, payload, threads, label, align = COLUMNS_TOGETHER)
  }
  c(name_drawn(drawn$value, solution$values$loadings), list(findings = drawn$findings))
}

# Columns of draws that the core makes by one matrix product (core_resample_people.h).
COLUMNS_TOGETHER <- 24L

# All that the core needs to draw.
core_payload <- function(given, plan, missing) {
  counts <- is_item_tables(given$answers)
  x <- if (counts) {
    matrix(0, 0L, nrow(given$answers$values$items))
  } else {
    given$answers$values$answers + 0
  }
  weights <- if (!counts) scaled_weights(given$answers)
  units <- given$units
  if (!counts && missing == "complete") {
    whole <- stats::complete.cases(x)
    x <- x[whole, , drop = FALSE]
    weights <- weights[whole]
    units$unit_of <- units$unit_of[whole]
  }
  x[is.na(x)] <- NaN
  list(answers = x, weights = if (is.null(weights)) numeric() else weights, units = units,
    plan = plan, dealt = if (counts) dealt_counts(given$answers), replicates = given$replicates,
    halves = given$halves, seed = given$seed)
}

solutions_in_core <- function(first, count, payload, threads, progress) {
  cpp_resample_solution(payload$answers, payload$weights, payload$units$unit_of,
    payload$units$stratum_of, payload$plan, payload$dealt, payload$replicates, payload$halves,
    as.integer(first), as.integer(count), DRAWN_SINGLY, DRAWN_PARTS, payload$seed, threads,
    progress)
}

# How the compiled core finds a solution, or NULL where it does not know the way.
CORE_METHODS <- c(
  minres = "minres",
  ml = "ml",
  gls = "gls",
  principal_axis = "minres", # ends where minimum residuals do
  components = "components")

core_plan_of <- function(solution, starts, basis) {
  s <- solution$settings
  v <- solution$values
  behind <- v$item_correlations$settings
  spec <- ROTATIONS[[s$rotation]]
  searched <- s$rotation != "none"
  if (!knows_correlations(behind) || !s$method %in% names(CORE_METHODS)) return(NULL)
  if (searched && !knows_rotation(spec, s)) return(NULL)
  list(method = CORE_METHODS[[s$method]], covariances = s$analysed == "covariances",
    lowest = if (is.null(s$lowest_uniqueness)) 0 else s$lowest_uniqueness,
    start = v$items$uniqueness, turning = if (searched) turning_of(spec, s$oblique) else "none",
    request = if (searched) spec$request(nrow(v$loadings), ncol(v$loadings), s), starts = starts,
    target = unname(v$loadings), basis = basis)
}

knows_correlations <- function(settings) {
  settings$kind %in% c("pearson", "covariance") &&
    settings$missing %in% c("pairwise", "complete")
}

knows_rotation <- function(spec, settings) {
  isTRUE(spec$in_core) &&
    identical(settings$normalization, "none") &&
    identical(settings$optimum, 1L)
}

# The same draws through the stages.
solutions_by_stages <- function(first, count, payload, threads, progress) {
  solution <- payload$solution
  given <- payload$given
  p <- nrow(solution$values$loadings)
  k <- ncol(solution$values$loadings)
  out <- matrix(NA_real_, p * k + k * k + 2L * p + k + 1L, count)
  for (i in seq_len(count)) {
    times <- times_drawn(given, first + i)
    found <- tryCatch(
      solve_drawn(given$answers, times, solution, payload$starts, payload$basis, given$seed,
        threads),
      softsieve_error = function(e) NULL)
    if (!is.null(found)) out[, i] <- found
    progress(i)
  }
  out
}

# How often each person counts in a column of the draws.
times_drawn <- function(given, column) {
  u <- given$units
  if (column <= given$replicates) {
    return(cpp_draw_people(u$unit_of, u$stratum_of, given$seed, column - 1, FALSE))
  }
  half <- (column - given$replicates - 1L) %/% 2L
  times <- cpp_draw_people(u$unit_of, u$stratum_of, given$seed, half, TRUE)
  if ((column - given$replicates) %% 2L) times else 1 - times
}

solve_drawn <- function(answers, times, solution, starts, basis, seed, threads) {
  behind <- solution$values$item_correlations
  correlations <- correlate_times(answers, times, behind)
  found <- solve_alike(correlations, solution, seed = seed, threads = threads, starts = starts,
    extraction_starts = 0L, tested = FALSE)
  v <- found$values
  aligned <- core_aligned(v$loadings, solution$values$loadings)
  turn <- aligned$column
  between <- v$factor_correlations[turn, turn, drop = FALSE] * (aligned$sign %o% aligned$sign)
  lowest <- solution$settings$lowest_uniqueness
  c(aligned$loadings, between, v$items$communality, aligned$congruence,
    cpp_spectrum(v$correlations, basis),
    as.numeric(!is.null(lowest) && any(v$items$uniqueness <= lowest + 1e-8)))
}

# The correlations of people (or random groups) that count so often, as those behind a solution.
correlate_times <- function(answers, times, behind, threads = 1L) {
  if (!is_item_tables(answers)) {
    return(correlate_alike(subset_people(answers, rep(seq_along(times), times)), behind))
  }
  s <- behind$settings
  counted <- counted_of(answers, times)
  correlate_counts(answers, counted, s$kind, s$repair, s$continuous_from, threads)
}

name_drawn <- function(drawn, loadings) {
  p <- nrow(loadings)
  k <- ncol(loadings)
  sizes <- c(p * k, k * k, p, k, p, 1L)
  ends <- cumsum(sizes)
  part <- function(i) drawn[(ends[i] - sizes[i] + 1L):ends[i], , drop = FALSE]
  items <- rownames(loadings)
  factors <- colnames(loadings)
  box <- function(x, rows, columns) {
    array(x, c(length(rows), length(columns), ncol(drawn)), list(rows, columns, NULL))
  }
  row_named <- function(x, rows) {
    rownames(x) <- rows
    x
  }
  list(loadings = box(part(1L), items, factors),
    factor_correlations = box(part(2L), factors, factors),
    communalities = row_named(part(3L), items), congruences = row_named(part(4L), factors),
    eigenvalues = part(5L), improper = part(6L)[1L, ])
}
