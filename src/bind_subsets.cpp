// The door to the best subsets of a scale's items.
#include "bind_check.h"
#include "bind_convert.h"
#include "core_subsets.h"

#include <Rcpp.h>
#include <string>

using namespace softsieve;

// A list of `sets` (matrix, one row for each set, items from 1), `values` and `count`.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_best_subsets(Rcpp::NumericMatrix covariances, Rcpp::NumericVector loadings,
                            Rcpp::NumericVector uniquenesses, int size, std::string measure,
                            Rcpp::LogicalVector forced, Rcpp::IntegerVector facet, int least,
                            int best) {
  check_matrix(covariances);
  const int p = covariances.nrow();
  check_finite(loadings, "loadings must be finite");
  check_finite(uniquenesses, "uniquenesses must be finite");
  for (const R_xlen_t length : {loadings.size(), uniquenesses.size(), forced.size(), facet.size()})
    check_length(length, p, "there must be one number for each item");
  must_hold(size >= 1 && size <= p && best >= 1 && least >= 0,
            "a size must be from 1 to all items");
  static const std::pair<const char*, SubsetMeasure> measures[] = {
      {"omega", SubsetMeasure::omega}, {"fidelity", SubsetMeasure::fidelity}};
  SubsetPlan plan;
  plan.covariances = to_core(covariances);
  plan.loadings = to_core(loadings);
  plan.uniquenesses = to_core(uniquenesses);
  for (int i = 0; i < p; ++i) {
    plan.forced.push_back(forced[i] == TRUE);
    must_hold(facet[i] == NA_INTEGER || (facet[i] >= 1 && facet[i] <= p), "facets count from 1");
    plan.facet.push_back(facet[i] == NA_INTEGER ? -1 : facet[i] - 1);
  }
  plan.least = least;
  plan.size = size;
  plan.best = best;
  plan.measure = named(measures, measure);
  double count = 0;
  const std::vector<Subset> found = best_subsets(plan, count);
  Rcpp::IntegerMatrix sets(static_cast<int>(found.size()), size);
  Rcpp::NumericVector values(static_cast<int>(found.size()));
  for (int i = 0; i < sets.nrow(); ++i) {
    const Subset& one = found[static_cast<std::size_t>(i)];
    values[i] = one.value;
    for (int j = 0; j < size; ++j)
      sets(i, j) = one.items[static_cast<std::size_t>(j)] + 1;
  }
  return Rcpp::List::create(Rcpp::Named("sets") = sets, Rcpp::Named("values") = values,
                            Rcpp::Named("count") = count);
}
