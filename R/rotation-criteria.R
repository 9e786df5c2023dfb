# The rotations. A spec has, beside what all have:
#
#   parameters  what it can be asked, beside what all rotations are (base-registry.R), by name
#   oblique     what it is known for; `both`: may the other be asked for?
#   axes        is its criterion of the loadings on reference axes?
#   starts_orthogonal  is an orthogonal position searched, which `finish` makes oblique?
#   request     function(p, k, asked): the criterion of the compiled core that is minimised, from
#               the numbers of items and factors; NULL where nothing is searched
#   settle      function(asked, unrotated, call): what was asked, checked against the solution
#   finish      function(turned, asked): what is done with the end of the search
#   closed      function(unrotated, asked, oblique): the turn itself, where it has a closed form
#   in_core     is the end of its search all there is to it? Then the compiled core makes it for
#               people resampled

rotation_spec <- function(..., oblique, both = TRUE, axes = FALSE, starts_orthogonal = FALSE,
    parameters = list(), request = NULL,
    settle = function(asked, unrotated, call) asked,
    finish = function(turned, asked) turned, closed = NULL,
    in_core = !is.null(request) && is.null(closed) && !starts_orthogonal) {
  spec(..., oblique = oblique, both = both, axes = axes, starts_orthogonal = starts_orthogonal,
    parameters = parameters, request = request, settle = settle, finish = finish, closed = closed,
    in_core = in_core)
}

ROTATION_OBLIMIN <- rotation_spec(name = "oblimin", label = "oblimin (oblique)", order = 1,
  reference = "Jennrich & Sampson (1966)", oblique = TRUE,
  parameters = list(gamma = parameter("number",
    "how oblique factors may be; 0 is quartimin, below 0 less oblique",
    lowest = -10, highest = 1, default = 0)),
  request = function(p, k, asked) core_request("oblimin", asked$gamma))

ROTATION_QUARTIMIN <- rotation_spec(name = "quartimin", label = "quartimin (oblique)", order = 2,
  reference = "Carroll (1953)", oblique = TRUE, both = FALSE,
  request = function(p, k, asked) core_request("oblimin", 0))

ROTATION_COVARIMIN <- rotation_spec(name = "covarimin", label = "covarimin (oblique)", order = 3,
  reference = "Harman (1976)", oblique = TRUE, both = FALSE, axes = TRUE,
  request = function(p, k, asked) core_request("oblimin", 1))

DELTA <- parameter("number",
  "added to squared loadings, so that one zero does not decide alone",
  lowest = 1e-6, highest = 1, default = 0.01)

ROTATION_GEOMIN <- rotation_spec(name = "geomin", label = "geomin (oblique)", order = 4,
  reference = "Yates (1987)", oblique = TRUE, parameters = list(delta = DELTA),
  request = function(p, k, asked) core_request("geomin", asked$delta))

ROTATION_PROMAX <- rotation_spec(
  name = "promax",
  label = "promax (oblique)",
  order = 5,
  reference = "Hendrickson & White (1964)",
  oblique = TRUE,
  both = FALSE,
  parameters = list(power = parameter("number",
    "to which the varimax loadings are raised to make the target",
    lowest = 1, highest = 10, default = 4)),
  starts_orthogonal = TRUE,
  request = function(p, k, asked) core_request("crawford-ferguson", 1 / p), # varimax
  finish = function(turned, asked) {
    parts <- c("loadings", "transformation", "correlations")
    turned[parts] <- core_promax(turned$loadings, turned$transformation, asked$power)[parts]
    turned
  })

ROTATION_SIMPLIMAX <- rotation_spec(name = "simplimax", label = "simplimax (oblique)", order = 6,
  reference = "Kiers (1994)", oblique = TRUE,
  parameters = list(zeros = parameter("integer",
    "how many loadings are meant to be zero; items times (factors - 1) when left out",
    lowest = 1)),
  settle = function(asked, unrotated, call) {
    if (!is.null(asked$zeros)) {
      check_whole(asked$zeros, "zeros", 1L, length(unrotated) - 1L, call = call)
    }
    asked
  },
  request = function(p, k, asked) {
    core_request("simplimax", if (is.null(asked$zeros)) p * (k - 1L) else asked$zeros)
  })

ROTATION_PATTERN_SIMPLICITY <- rotation_spec(name = "pattern_simplicity",
  label = "invariant pattern simplicity (oblique)",
  order = 7, reference = "Bentler (1977)", oblique = TRUE,
  request = function(p, k, asked) core_request("pattern-simplicity"))

ROTATION_VARIMAX <- rotation_spec(name = "varimax", label = "varimax (orthogonal)", order = 8,
  reference = "Kaiser (1958)", oblique = FALSE,
  request = function(p, k, asked) core_request("crawford-ferguson", 1 / p))

ROTATION_QUARTIMAX <- rotation_spec(name = "quartimax", label = "quartimax (orthogonal)", order = 9,
  reference = "Neuhaus & Wrigley (1954)", oblique = FALSE, both = FALSE,
  request = function(p, k, asked) core_request("crawford-ferguson", 0))

ROTATION_EQUAMAX <- rotation_spec(name = "equamax", label = "equamax (orthogonal)", order = 10,
  reference = "Saunders (1962)", oblique = FALSE,
  request = function(p, k, asked) core_request("crawford-ferguson", k / (2 * p)))

ROTATION_PARSIMAX <- rotation_spec(name = "parsimax", label = "parsimax (orthogonal)", order = 11,
  reference = "Crawford & Ferguson (1970)", oblique = FALSE,
  request = function(p, k, asked) core_request("crawford-ferguson", (k - 1) / (p + k - 2)))

ROTATION_FACTOR_PARSIMONY <- rotation_spec(name = "factor_parsimony",
  label = "factor parsimony (orthogonal)", order = 12, reference = "Crawford & Ferguson (1970)",
  oblique = FALSE,
  request = function(p, k, asked) core_request("crawford-ferguson", 1))

ROTATION_CRAWFORD_FERGUSON <- rotation_spec(name = "crawford_ferguson",
  label = "Crawford-Ferguson with kappa as given",
  order = 13, reference = "Crawford & Ferguson (1970)", oblique = FALSE,
  parameters = list(kappa = parameter("number",
    "0 for simple rows (items), 1 for simple columns (factors); must be given",
    lowest = 0, highest = 1)),
  settle = function(asked, unrotated, call) {
    check_number(asked$kappa, "kappa", 0, 1, call = call)
    asked
  },
  request = function(p, k, asked) core_request("crawford-ferguson", asked$kappa))

ROTATION_INFOMAX <- rotation_spec(name = "infomax", label = "infomax (orthogonal)", order = 14,
  reference = "McKeon (1968)", oblique = FALSE,
  request = function(p, k, asked) core_request("infomax"))

ROTATION_ENTROPY <- rotation_spec(name = "entropy", label = "minimum entropy (orthogonal)",
  order = 15, reference = "Jennrich (2004)", oblique = FALSE, both = FALSE,
  request = function(p, k, asked) core_request("entropy"))

ROTATION_OBLIMAX <- rotation_spec(name = "oblimax", label = "oblimax (orthogonal)", order = 16,
  reference = "Saunders (1961)", oblique = FALSE, both = FALSE,
  request = function(p, k, asked) core_request("oblimax"))

ROTATION_BIFACTOR_QUARTIMIN <- rotation_spec(name = "bifactor_quartimin",
  label = "bifactor quartimin", order = 17, reference = "Jennrich & Bentler (2011)",
  oblique = FALSE,
  request = function(p, k, asked) core_request("bifactor-quartimin", 0))

ROTATION_BIFACTOR_GEOMIN <- rotation_spec(name = "bifactor_geomin", label = "bifactor geomin",
  order = 18, reference = "Jennrich & Bentler (2011)", oblique = FALSE,
  parameters = list(delta = DELTA),
  request = function(p, k, asked) core_request("bifactor-geomin", asked$delta))

ROTATION_NONE <- rotation_spec(name = "none", label = "no rotation", order = 21, oblique = FALSE)
