# The rotations, in the order in which they are shown. An entry has, besides what all have:
#
#   parameters  what it can be asked, beside what all rotations are (base-families.R), by name
#   oblique     what it is known for; `both`: may the other be asked for?
#   axes        is its criterion of the loadings on reference axes?
#   starts_orthogonal  is an orthogonal position searched, which `finish` makes oblique?
#   request     function(p, k, asked): the criterion of the compiled core that is minimised, from
#               the numbers of items and factors; NULL where nothing is searched
#   settle      function(asked, unrotated): what was asked, checked against the solution
#   finish      function(turned, asked): what is done with the end of the search
#   closed      function(unrotated, asked, oblique): the turn itself, where it has a closed form
#   in_core     is the end of its search all there is to it? Then the compiled core makes it for
#               people resampled

rotation_spec <- function(..., oblique, both = TRUE, axes = FALSE, starts_orthogonal = FALSE,
    parameters = list(), request = NULL, settle = function(asked, unrotated) asked,
    finish = function(turned, asked) turned, closed = NULL,
    in_core = !is.null(request) && is.null(closed) && !starts_orthogonal) {
  spec(..., oblique = oblique, both = both, axes = axes, starts_orthogonal = starts_orthogonal,
    parameters = parameters, request = request, settle = settle, finish = finish, closed = closed,
    in_core = in_core)
}

DELTA <- parameter("number", "added to squared loadings, so that one zero does not decide alone",
  lowest = 1e-6, highest = 1, default = 0.01)

TARGET <- parameter("matrix", "items x factors, rows in any order when they are named by items")

ROTATIONS <- family(
  oblimin = rotation_spec(label = "oblimin (oblique)", reference = "Jennrich & Sampson (1966)",
    oblique = TRUE,
    parameters = list(gamma = parameter("number",
      "how oblique factors may be; 0 is quartimin, below 0 less oblique", lowest = -10, highest = 1,
      default = 0)),
    request = function(p, k, asked) core_request("oblimin", asked$gamma)),
  quartimin = rotation_spec(label = "quartimin (oblique)", reference = "Carroll (1953)",
    oblique = TRUE, both = FALSE, request = function(p, k, asked) core_request("oblimin", 0)),
  covarimin = rotation_spec(label = "covarimin (oblique)", reference = "Harman (1976)",
    oblique = TRUE, both = FALSE, axes = TRUE,
    request = function(p, k, asked) core_request("oblimin", 1)),
  geomin = rotation_spec(label = "geomin (oblique)", reference = "Yates (1987)", oblique = TRUE,
    parameters = list(delta = DELTA),
    request = function(p, k, asked) core_request("geomin", asked$delta)),
  promax = rotation_spec(label = "promax (oblique)", reference = "Hendrickson & White (1964)",
    oblique = TRUE, both = FALSE,
    parameters = list(power = parameter("number",
      "to which the varimax loadings are raised to make the target", lowest = 1, highest = 10,
      default = 4)),
    starts_orthogonal = TRUE,
    request = function(p, k, asked) core_request("crawford-ferguson", 1 / p), # varimax
    finish = function(turned, asked) {
      parts <- c("loadings", "transformation", "correlations")
      turned[parts] <- core_promax(turned$loadings, turned$transformation, asked$power)[parts]
      turned
    }),
  simplimax = rotation_spec(label = "simplimax (oblique)", reference = "Kiers (1994)",
    oblique = TRUE,
    parameters = list(zeros = parameter("integer",
      "how many loadings are meant to be zero; items times (factors - 1) when left out",
      lowest = 1)),
    settle = function(asked, unrotated) {
      if (!is.null(asked$zeros)) check_whole(asked$zeros, "zeros", 1L, length(unrotated) - 1L)
      asked
    },
    request = function(p, k, asked) {
      core_request("simplimax", if (is.null(asked$zeros)) p * (k - 1L) else asked$zeros)
    }),
  pattern_simplicity = rotation_spec(label = "invariant pattern simplicity (oblique)",
    reference = "Bentler (1977)", oblique = TRUE,
    request = function(p, k, asked) core_request("pattern-simplicity")),
  varimax = rotation_spec(label = "varimax (orthogonal)", reference = "Kaiser (1958)",
    oblique = FALSE, request = function(p, k, asked) core_request("crawford-ferguson", 1 / p)),
  quartimax = rotation_spec(label = "quartimax (orthogonal)",
    reference = "Neuhaus & Wrigley (1954)", oblique = FALSE, both = FALSE,
    request = function(p, k, asked) core_request("crawford-ferguson", 0)),
  equamax = rotation_spec(label = "equamax (orthogonal)", reference = "Saunders (1962)",
    oblique = FALSE,
    request = function(p, k, asked) core_request("crawford-ferguson", k / (2 * p))),
  parsimax = rotation_spec(label = "parsimax (orthogonal)",
    reference = "Crawford & Ferguson (1970)", oblique = FALSE,
    request = function(p, k, asked) core_request("crawford-ferguson", (k - 1) / (p + k - 2))),
  factor_parsimony = rotation_spec(label = "factor parsimony (orthogonal)",
    reference = "Crawford & Ferguson (1970)", oblique = FALSE,
    request = function(p, k, asked) core_request("crawford-ferguson", 1)),
  crawford_ferguson = rotation_spec(label = "Crawford-Ferguson with kappa as given",
    reference = "Crawford & Ferguson (1970)", oblique = FALSE,
    parameters = list(kappa = parameter("number",
      "0 for simple rows (items), 1 for simple columns (factors); must be given", lowest = 0,
      highest = 1)),
    settle = function(asked, unrotated) {
      check_number(asked$kappa, "kappa", 0, 1)
      asked
    },
    request = function(p, k, asked) core_request("crawford-ferguson", asked$kappa)),
  infomax = rotation_spec(label = "infomax (orthogonal)", reference = "McKeon (1968)",
    oblique = FALSE, request = function(p, k, asked) core_request("infomax")),
  entropy = rotation_spec(label = "minimum entropy (orthogonal)", reference = "Jennrich (2004)",
    oblique = FALSE, both = FALSE, request = function(p, k, asked) core_request("entropy")),
  oblimax = rotation_spec(label = "oblimax (orthogonal)", reference = "Saunders (1961)",
    oblique = FALSE, both = FALSE, request = function(p, k, asked) core_request("oblimax")),
  bifactor_quartimin = rotation_spec(label = "bifactor quartimin",
    reference = "Jennrich & Bentler (2011)", oblique = FALSE,
    request = function(p, k, asked) core_request("bifactor-quartimin", 0)),
  bifactor_geomin = rotation_spec(label = "bifactor geomin",
    reference = "Jennrich & Bentler (2011)", oblique = FALSE, parameters = list(delta = DELTA),
    request = function(p, k, asked) core_request("bifactor-geomin", asked$delta)),
  target = rotation_spec(label = "rotation to a target", reference = "Browne (1972)",
    oblique = FALSE, parameters = list(target = TARGET),
    settle = function(asked, unrotated) {
      list(target = check_target(asked$target, unrotated, "target", TRUE))
    },
    request = function(p, k, asked) {
      # an element that is free does not count
      free <- is.na(asked$target)
      core_request("target", 0, replace(asked$target, free, 0), (!free) + 0)
    }),
  procrustes = rotation_spec(label = "Procrustes rotation to a matrix",
    reference = "Hurley & Cattell (1962)", oblique = FALSE, parameters = list(target = TARGET),
    settle = function(asked, unrotated) {
      list(target = check_target(asked$target, unrotated, "procrustes", FALSE))
    },
    closed = function(unrotated, asked, oblique) {
      turn <- if (oblique) core_oblique_procrustes else core_orthogonal_procrustes
      turn(unrotated, asked$target)
    }),
  none = rotation_spec(label = "no rotation", oblique = FALSE))

# How much each row (item) counts in rotation: core_row_weights() has the formulas.

NORMALIZATIONS <- family(
  none = spec(label = "rows as they are", weights = function(loadings) rep(1, nrow(loadings))),
  kaiser = spec(label = "rows of equal length", reference = "Kaiser (1958)",
    weights = function(loadings) core_row_weights(loadings, "kaiser")),
  cureton_mulaik = spec(label = "rows by how simple they look",
    reference = "Cureton & Mulaik (1975)",
    weights = function(loadings) core_row_weights(loadings, "cureton_mulaik")))

# Rotations to a matrix that people give.

# A target is a p x k matrix; NA leaves an element free where `gaps` may be. Rows may be named by
# item, in any order.
check_target <- function(target, unrotated, rotation, gaps) {
  wrong <- what_is_wrong_with_target(target, unrotated, gaps)
  if (length(wrong)) {
    stop_input("target",
      sprintf("A target must be a numeric matrix of %d rows (items) and %d columns (factors)%s.",
        nrow(unrotated), ncol(unrotated),
        if (gaps) "; NA leaves an element free" else ", without missing answers for Procrustes"),
      got = wrong,
      todo = sprintf("Give rotation = \"%s\", target = matrix(...).", rotation))
  }
  if (!is.null(rownames(target))) target <- target[rownames(unrotated), , drop = FALSE]
  unname(target) + 0
}

what_is_wrong_with_target <- function(target, unrotated, gaps) {
  if (!is.matrix(target) || !is.numeric(target)) return(describe_value(target))
  if (!identical(dim(target), dim(unrotated))) {
    return(sprintf("It has %d rows and %d columns.", nrow(target), ncol(target)))
  }
  if (all(is.na(target))) return("Every element is NA.")
  strange <- setdiff(rownames(target), rownames(unrotated))
  if (length(strange)) return(sprintf("Rows that are no items: %s.", name_culprits(strange)))
  if (gaps) character() else what_is_wrong_with_whole(target)
}

# Procrustes needs all of a matrix that stands for as many factors as it has columns.
what_is_wrong_with_whole <- function(target) {
  if (anyNA(target)) {
    return(sprintf("%s NA.", count_of(sum(is.na(target)), "element is", "elements are")))
  }
  if (qr(target)$rank < ncol(target)) {
    return("Its columns do not stand for as many factors: some follow from others.")
  }
  character()
}

# What a rotated solution leaves between reverse-worded items.

# Do reverse-worded items that load on different factors share more than these explain? Their mean
# residual, where it is more than three standard errors above 0 and above .03.
find_wording_left <- function(solution, turned) {
  v <- solution$values
  x <- v$item_correlations
  loadings <- turned$loadings
  reversed <- v$items$reversed %in% TRUE
  if (is.null(x) || !can_show_wording(solution, reversed)) return(NULL)
  residuals <- v$correlations - loadings %*% turned$correlations %*% t(loadings)
  home <- max.col(abs(loadings), ties.method = "first")
  apart <- upper.tri(residuals) & (reversed %o% reversed) & outer(home, home, "!=")
  if (sum(apart) < 3L) return(NULL)
  mean <- mean(residuals[apart])
  error <- sqrt(mean(x$values$standard_errors[apart]^2) / sum(apart))
  if (mean < max(0.03, 3 * error)) return(NULL)
  new_finding("wording_in_residuals", format_unit(mean), value = mean, limit = 0.03)
}

# Some items are reversed, others not, and there are factors.
can_show_wording <- function(solution, reversed) {
  one_of_model(solution$settings) == "factor" &&
    ncol(solution$values$loadings) > 1L &&
    sum(reversed) >= 3L &&
    !all(reversed)
}
