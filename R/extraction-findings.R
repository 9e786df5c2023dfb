# What extraction notices.

find_in_extraction <- function(found, items, analysed, lowest, method) {
  observed <- observed_units(items, list(analysed = analysed))
  bound <- items$item[found$uniquenesses / observed^2 <= lowest + 1e-8]
  unit <- fitted_units(found, observed, list(method = method, lowest_uniqueness = lowest))
  moved <- which(abs(unit^2 - 1) >= 0.0005)
  bind_findings(
    if (!found$converged) {
      new_finding("not_converged", count_of(found$iterations, "step"),
        format(found$gradient, digits = 2L), value = found$gradient, limit = CONVERGED_BELOW)
    },
    if (found$apart) {
      new_finding("starts_apart", found$apart, found$starts, value = found$apart,
        limit = found$starts)
    },
    if (length(bound)) {
      new_finding("improper_solution", bound, format(lowest), item = bound, value = lowest,
        limit = lowest)
    },
    if (length(moved)) {
      new_finding("fitted_variance", items$item[moved], format_number(unit[moved]^2, 3L),
        item = items$item[moved], value = unit[moved]^2, limit = 1)
    })
}
