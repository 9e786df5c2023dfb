// The doors to extraction and rotation. Arguments were checked in R; here they are copied, passed
// on, and the answer is packed.
#include "softsieve_types.h"

#include "bind_check.h"
#include "bind_convert.h"
#include "bind_dealt.h"
#include "bind_methods.h"
#include "bind_watch.h"
#include "core_bounded.h"
#include "core_random.h"
#include "core_rotation.h"
#include "core_search.h"
#include "core_threads.h"
#include "core_uniqueness.h"
#include "core_weighted.h"

#include <Rcpp.h>
#include <cstddef>
#include <string>
#include <utility>
#include <vector>

using namespace softsieve;

namespace {

// One bound for all items, or one for each.
Eigen::VectorXd bounds_of(const Rcpp::NumericVector& lowest, int items) {
  must_hold(lowest.size() == 1 || lowest.size() == items,
            "there must be one bound, or one for each item");
  check_finite(lowest, "bounds must be finite");
  if (lowest.size() == 1) return Eigen::VectorXd::Constant(items, lowest[0]);
  return to_core(lowest);
}

Rcpp::List fit_to_r(const UniquenessFit& fit) {
  return Rcpp::List::create(
      Rcpp::Named("loadings") = to_r(fit.loadings),
      Rcpp::Named("uniquenesses") = to_r(fit.uniquenesses),
      Rcpp::Named("residual") = to_r(fit.residual), Rcpp::Named("discrepancy") = fit.discrepancy,
      Rcpp::Named("gradient") = fit.gradient, Rcpp::Named("iterations") = fit.iterations,
      Rcpp::Named("converged") = fit.converged);
}

Rcpp::List search_to_r(const SearchEnd& end) {
  Rcpp::List out = fit_to_r(end.best);
  out["starts"] = end.starts;
  out["apart"] = end.apart;
  return out;
}

}  // namespace

// method: "minres", "gls" or "ml"; lowest: one bound for all items, or one for each.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_fit_uniquenesses(Rcpp::NumericMatrix correlations, int factors, std::string method,
                                Rcpp::NumericVector start, Rcpp::NumericVector lowest,
                                double tolerance, int max_iterations) {
  check_matrix(correlations);
  check_factors(factors, correlations.nrow());
  check_length(start.size(), correlations.nrow(), "there must be one start for each item");
  check_finite(start, "starts must be finite");
  const UniquenessFit fit =
      fit_uniquenesses(to_core(correlations), factors, discrepancy_of(method), to_core(start),
                       bounds_of(lowest, correlations.nrow()), tolerance, max_iterations);
  return fit_to_r(fit);
}

// The best of many such searches (core_search.h); random: how many random starts, below 0 the usual
// start alone; most: searches, 0 for as many as the number of items allows.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_search_uniquenesses(Rcpp::NumericMatrix correlations, int factors,
                                   std::string method, Rcpp::NumericVector lowest, int random,
                                   bool thorough, int most, double tolerance, int max_iterations) {
  check_matrix(correlations);
  check_factors(factors, correlations.nrow(), 1);
  must_hold(most >= 0, "the number of searches must be at least 0");
  return search_to_r(search_discrepancy(to_core(correlations), factors, discrepancy_of(method),
                                        bounds_of(lowest, correlations.nrow()), tolerance,
                                        max_iterations, {random, thorough, most}));
}

// The same with each number of `factors` by each of `methods`, each method with so many searches at
// most (`searches`): a list for each method, with an end for each number of factors.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_search_ladder(Rcpp::NumericMatrix correlations, Rcpp::IntegerVector factors,
                             Rcpp::CharacterVector methods, Rcpp::IntegerVector searches,
                             double lowest, int random, double tolerance, int max_iterations,
                             int threads) {
  check_matrix(correlations);
  for (int k : factors)
    check_factors(k, correlations.nrow(), 1);
  check_length(searches.size(), methods.size(), "each method needs a number of searches");
  must_hold(threads >= 1, "there must be a thread");
  const Eigen::MatrixXd r = to_core(correlations);
  const Eigen::VectorXd bounds = Eigen::VectorXd::Constant(r.rows(), lowest);
  const std::vector<int> numbers(factors.begin(), factors.end());
  const std::size_t rungs = numbers.size();
  std::vector<std::pair<Discrepancy, SearchPlan>> by;
  for (R_xlen_t m = 0; m < methods.size(); ++m)
    by.push_back({discrepancy_of(Rcpp::as<std::string>(methods[m])), {random, true, searches[m]}});
  std::vector<SearchEnd> ends(rungs * by.size());
  // those with many factors take longest: the last come first
  const auto make_worker = [&] {
    return [&](std::size_t i) {
      const std::size_t one = ends.size() - 1 - i;
      const auto& method = by[one / rungs];
      ends[one] = search_discrepancy(r, numbers[one % rungs], method.first, bounds, tolerance,
                                     max_iterations, method.second);
    };
  };
  stop_if_interrupted(run_replicates(ends.size(), threads, make_worker, watch_of(R_NilValue)));
  Rcpp::List out(methods.size());
  for (std::size_t m = 0; m < by.size(); ++m) {
    Rcpp::List each(factors.size());
    for (std::size_t k = 0; k < rungs; ++k)
      each[static_cast<R_xlen_t>(k)] = search_to_r(ends[m * rungs + k]);
    out[static_cast<R_xlen_t>(m)] = each;
  }
  out.names() = methods;
  return out;
}

// From these loadings (p x k), no communality above its bound.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_hold_communalities(Rcpp::NumericMatrix correlations, Rcpp::NumericMatrix loadings,
                                  Rcpp::NumericVector lowest, double tolerance) {
  check_matrix(correlations);
  check_length(loadings.nrow(), correlations.nrow(), "loadings must have a row for each item");
  check_factors(loadings.ncol(), correlations.nrow(), 1);
  UniquenessFit fit{};
  fit.loadings = to_core(loadings);
  hold_communalities(to_core(correlations), bounds_of(lowest, correlations.nrow()), tolerance, fit);
  return fit_to_r(fit);
}

// `count` numbers evenly between 0 and 1 from a stream of their own.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_uniform_draws(double seed, double stream, int count) {
  check_counts(seed, 1, count);
  Stream draws(static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(stream));
  Rcpp::NumericVector out(count);
  for (double& x : out)
    x = draws.uniform();
  return out;
}

// The discrepancy at uniquenesses, and its gradient in psi ("minres") or ln psi.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_discrepancy(Rcpp::NumericMatrix correlations, int factors, std::string method,
                           Rcpp::NumericVector psi) {
  check_matrix(correlations);
  check_factors(factors, correlations.nrow());
  check_length(psi.size(), correlations.nrow(), "there must be one uniqueness for each item");
  Eigen::VectorXd gradient;
  const double value = discrepancy_at(to_core(correlations), factors, discrepancy_of(method),
                                      to_core(psi), gradient);
  return Rcpp::List::create(Rcpp::Named("value") = value, Rcpp::Named("gradient") = to_r(gradient));
}

// Every correlation with its own weight: the best of many searches.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_search_weighted(Rcpp::NumericMatrix correlations, Rcpp::NumericMatrix weights,
                               int factors, Rcpp::NumericVector lowest, int random, bool thorough,
                               double tolerance, int max_iterations) {
  check_matrix(correlations);
  check_same_shape(correlations, weights);
  check_finite(weights, "weights must be finite");
  check_factors(factors, correlations.nrow(), 1);
  return search_to_r(search_weighted(to_core(correlations), to_core(weights), factors,
                                     bounds_of(lowest, correlations.nrow()), tolerance,
                                     max_iterations, {random, thorough}));
}

// One such search from the loadings `start` (p x k).
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_fit_weighted(Rcpp::NumericMatrix correlations, Rcpp::NumericMatrix weights,
                            Rcpp::NumericMatrix start, Rcpp::NumericVector lowest, double tolerance,
                            int max_iterations) {
  check_matrix(correlations);
  check_same_shape(correlations, weights);
  check_length(start.nrow(), correlations.nrow(), "loadings must have a row for each item");
  check_factors(start.ncol(), correlations.nrow(), 1);
  const Eigen::MatrixXd r = to_core(correlations);
  const Eigen::VectorXd most = r.diagonal() - bounds_of(lowest, correlations.nrow());
  const WeightedFit fit =
      fit_weighted(r, to_core(weights), to_core(start), most, tolerance, max_iterations);
  return Rcpp::List::create(
      Rcpp::Named("loadings") = to_r(fit.loadings), Rcpp::Named("discrepancy") = fit.discrepancy,
      Rcpp::Named("gradient") = fit.gradient, Rcpp::Named("iterations") = fit.iterations,
      Rcpp::Named("converged") = fit.converged);
}

namespace {

Rcpp::List rotation_to_r(const Rotation& rotation) {
  return Rcpp::List::create(Rcpp::Named("loadings") = to_r(rotation.loadings),
                            Rcpp::Named("transformation") = to_r(rotation.transformation),
                            Rcpp::Named("value") = rotation.value,
                            Rcpp::Named("gradient") = rotation.gradient,
                            Rcpp::Named("iterations") = rotation.iterations,
                            Rcpp::Named("converged") = rotation.converged);
}

}  // namespace

// Each of these loadings (p x k) by its request and from its seed; turning: "orthogonal", "oblique"
// or "reference". Of each the best rotation, the second best (NULL when all starts ended in one
// place) and every start's value.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_rotate_each(Rcpp::List each, std::string turning, Rcpp::List requests, int starts,
                           Rcpp::NumericVector seeds, int threads, double tolerance,
                           int max_iterations, Rcpp::Nullable<Rcpp::Function> progress) {
  check_length(requests.size(), each.size(), "there must be one request for each");
  check_length(seeds.size(), each.size(), "there must be one seed for each");
  must_hold(starts >= 1, "a rotation needs a start");
  Rcpp::List out(each.size());
  for (R_xlen_t i = 0; i < each.size(); ++i) {
    check_counts(seeds[i], threads, starts);
    const Rcpp::NumericMatrix loadings = each[i];
    Rotation best, second;
    std::vector<double> values;
    stop_if_interrupted(rotate_best(to_core(loadings), turning_of(turning),
                                    criterion_of(loadings, requests[i]), starts,
                                    static_cast<std::uint64_t>(seeds[i]), threads, tolerance,
                                    max_iterations, watch_of(progress), best, second, values));
    Rcpp::List one = Rcpp::List::create(Rcpp::Named("best") = rotation_to_r(best),
                                        Rcpp::Named("second") = R_NilValue,
                                        Rcpp::Named("start_values") = values);
    if (second.loadings.size()) one["second"] = rotation_to_r(second);
    out[i] = one;
  }
  return out;
}

// Value and gradient of a criterion at one loading matrix: tests hold it against differences.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_criterion(Rcpp::NumericMatrix loadings, Rcpp::List request) {
  Eigen::MatrixXd gradient;
  const double value = criterion_of(loadings, request)(to_core(loadings), gradient);
  return Rcpp::List::create(Rcpp::Named("value") = value, Rcpp::Named("gradient") = to_r(gradient));
}
