# The registry of methods: one row for each choice a stage offers. Argument checks, prints, reports,
# the study's schema test and help pages read names, labels and references from here.

method_row <- function(stage, name, label, reference) {
  tibble::tibble(stage = stage, name = name, label = label, reference = reference)
}

METHODS <- rbind(
  method_row("correlation", "pearson", "Pearson correlations", "Pearson (1896)"),
  method_row("correlation", "covariance", "covariances", "Pearson (1896)"),
  method_row("correlation", "spearman", "Spearman correlations", "Spearman (1904)"),
  method_row("correlation", "polychoric", "polychoric correlations", "Olsson (1979)"),
  method_row(
    "correlation",
    "mixed",
    "Pearson, polyserial and polychoric correlations",
    "Olsson, Drasgow & Dorans (1982)"
  ),
  method_row(
    "missing",
    "pairwise",
    "all people who answered both items of a pair",
    "Glasser (1964)"
  ),
  method_row("missing", "complete", "people who answered all items", "Little & Rubin (2020)"),
  method_row(
    "missing",
    "em",
    "maximum likelihood on all answers there are",
    "Dempster, Laird & Rubin (1977)"
  ),
  method_row("basis", "components", "the correlation matrix", "Horn (1965)"),
  method_row(
    "basis",
    "factors",
    "the matrix with squared multiple correlations on its diagonal",
    "Humphreys & Ilgen (1969)"
  ),
  method_row(
    "basis",
    "minimum_rank",
    "the matrix with the communalities of least common variance",
    "Timmerman & Lorenzo-Seva (2011)"
  ),
  method_row("chance", "normal", "unrelated normal items", "Bartlett (1933)"),
  method_row("chance", "resampled", "the items' own answers, shuffled", "Buja & Eyuboglu (1992)"),
  method_row(
    "chance",
    "ordinal",
    "answers with the same category shares",
    "Timmerman & Lorenzo-Seva (2011)"
  ),
  method_row(
    "reference",
    "upper",
    "the upper percentile of the chance eigenvalues",
    "Buja & Eyuboglu (1992)"
  ),
  method_row("reference", "mean", "the mean of the chance eigenvalues", "Horn (1965)"),
  method_row(
    "extraction",
    "minres",
    "minimum residuals (unweighted least squares)",
    "Harman & Jones (1966)"
  ),
  method_row("extraction", "ml", "maximum likelihood", "Joreskog (1967)"),
  method_row("extraction", "gls", "generalised least squares", "Joreskog & Goldberger (1972)"),
  method_row("extraction", "wls", "least squares weighted by standard errors", "Muthen (1984)"),
  method_row(
    "extraction",
    "principal_axis",
    "principal axes, repeated until communalities settle",
    "Thurstone (1935)"
  ),
  method_row(
    "extraction",
    "principal_axis_once",
    "principal axes, with squared multiple correlations",
    "Thurstone (1935)"
  ),
  method_row("extraction", "alpha", "alpha factoring", "Kaiser & Caffrey (1965)"),
  method_row("extraction", "image", "image factoring", "Guttman (1953)"),
  method_row("extraction", "minimum_rank", "minimum rank", "ten Berge & Kiers (1991)"),
  method_row("extraction", "components", "principal components", "Hotelling (1933)"),
  method_row("rotation", "oblimin", "oblimin (oblique)", "Jennrich & Sampson (1966)"),
  method_row("rotation", "quartimin", "quartimin (oblique)", "Carroll (1953)"),
  method_row("rotation", "covarimin", "covarimin (oblique)", "Harman (1976)"),
  method_row("rotation", "geomin", "geomin (oblique)", "Yates (1987)"),
  method_row("rotation", "promax", "promax (oblique)", "Hendrickson & White (1964)"),
  method_row("rotation", "simplimax", "simplimax (oblique)", "Kiers (1994)"),
  method_row(
    "rotation",
    "pattern_simplicity",
    "invariant pattern simplicity (oblique)",
    "Bentler (1977)"
  ),
  method_row("rotation", "varimax", "varimax (orthogonal)", "Kaiser (1958)"),
  method_row("rotation", "quartimax", "quartimax (orthogonal)", "Neuhaus & Wrigley (1954)"),
  method_row("rotation", "equamax", "equamax (orthogonal)", "Saunders (1962)"),
  method_row("rotation", "parsimax", "parsimax (orthogonal)", "Crawford & Ferguson (1970)"),
  method_row(
    "rotation",
    "factor_parsimony",
    "factor parsimony (orthogonal)",
    "Crawford & Ferguson (1970)"
  ),
  method_row(
    "rotation",
    "crawford_ferguson",
    "Crawford-Ferguson with kappa as given",
    "Crawford & Ferguson (1970)"
  ),
  method_row("rotation", "infomax", "infomax (orthogonal)", "McKeon (1968)"),
  method_row("rotation", "entropy", "minimum entropy (orthogonal)", "Jennrich (2004)"),
  method_row("rotation", "oblimax", "oblimax (orthogonal)", "Saunders (1961)"),
  method_row("rotation", "bifactor_quartimin", "bifactor quartimin", "Jennrich & Bentler (2011)"),
  method_row("rotation", "bifactor_geomin", "bifactor geomin", "Jennrich & Bentler (2011)"),
  method_row("rotation", "target", "rotation to a target", "Browne (1972)"),
  method_row(
    "rotation",
    "procrustes",
    "Procrustes rotation to a matrix",
    "Hurley & Cattell (1962)"
  ),
  method_row("rotation", "none", "no rotation", NA_character_),
  method_row("row_weights", "none", "rows as they are", NA_character_),
  method_row("row_weights", "kaiser", "rows of equal length", "Kaiser (1958)"),
  method_row(
    "row_weights",
    "cureton_mulaik",
    "rows by how simple they look",
    "Cureton & Mulaik (1975)"
  ),
  method_row("score", "regression", "regression scores", "Thurstone (1935)")
)

methods_of <- function(stage) METHODS$name[METHODS$stage == stage]
method_label <- function(stage, name) METHODS$label[METHODS$stage == stage & METHODS$name == name]
method_reference <- function(stage, name) {
  METHODS$reference[METHODS$stage == stage & METHODS$name == name]
}
