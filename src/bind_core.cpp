// The doors between R and the core. Arguments were checked in R; here they are copied, passed on
// and the answer is packed.
#include "bind_convert.h"
#include "bind_watch.h"
#include "core_uniqueness.h"
#include "core_random.h"
#include "core_rotation.h"
#include "core_weighted.h"

#include <Rcpp.h>

using namespace softsieve;

namespace {

Discrepancy discrepancy_of(const std::string& method) {
  if (method == "ml") return Discrepancy::maximum_likelihood;
  return method == "gls" ? Discrepancy::generalised : Discrepancy::least_squares;
}

}  // namespace

// method: "minres", "gls" or "ml"; lowest: one bound for all items, or one for each.
// [[Rcpp::export(rng = false)]]
Rcpp::List core_fit_uniquenesses(Rcpp::NumericMatrix correlations, int factors, std::string method,
                                 Rcpp::NumericVector start, Rcpp::NumericVector lowest, double tolerance, int max_iterations) {
  const Eigen::VectorXd bound = lowest.size() == 1 ? Eigen::VectorXd(Eigen::VectorXd::Constant(start.size(), lowest[0])) : to_core(lowest);
  const UniquenessFit fit = fit_uniquenesses(to_core(correlations), factors, discrepancy_of(method), to_core(start), bound,
                                             tolerance, max_iterations);
  return Rcpp::List::create(
      Rcpp::Named("loadings") = to_r(fit.loadings), Rcpp::Named("uniquenesses") = to_r(fit.uniquenesses),
      Rcpp::Named("residual") = to_r(fit.residual), Rcpp::Named("discrepancy") = fit.discrepancy,
      Rcpp::Named("gradient") = fit.gradient, Rcpp::Named("iterations") = fit.iterations,
      Rcpp::Named("converged") = fit.converged);
}

// `count` numbers evenly between 0 and 1 from a stream of their own.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector core_uniform_draws(double seed, double stream, int count) {
  Stream draws(static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(stream));
  Rcpp::NumericVector out(count);
  for (double& x : out) x = draws.uniform();
  return out;
}

// The discrepancy at uniquenesses, and its gradient in psi ("minres") or ln psi.
// [[Rcpp::export(rng = false)]]
Rcpp::List core_discrepancy(Rcpp::NumericMatrix correlations, int factors, std::string method, Rcpp::NumericVector psi) {
  Eigen::VectorXd gradient;
  const double value = discrepancy_at(to_core(correlations), factors, discrepancy_of(method), to_core(psi), gradient);
  return Rcpp::List::create(Rcpp::Named("value") = value, Rcpp::Named("gradient") = to_r(gradient));
}

// Every correlation with its own weight, from the loadings `start` (p x k).
// [[Rcpp::export(rng = false)]]
Rcpp::List core_fit_weighted(Rcpp::NumericMatrix correlations, Rcpp::NumericMatrix weights, Rcpp::NumericMatrix start,
                             double lowest, double tolerance, int max_iterations) {
  const WeightedFit fit = fit_weighted(to_core(correlations), to_core(weights), to_core(start), lowest, tolerance, max_iterations);
  return Rcpp::List::create(Rcpp::Named("loadings") = to_r(fit.loadings), Rcpp::Named("discrepancy") = fit.discrepancy,
                            Rcpp::Named("gradient") = fit.gradient, Rcpp::Named("iterations") = fit.iterations,
                            Rcpp::Named("converged") = fit.converged);
}

namespace {

// `request`: a list of criterion, parameter, target and weights (0 x 0 where there is none).
Criterion criterion_of(const Rcpp::NumericMatrix& loadings, const Rcpp::List& request) {
  const std::string name = Rcpp::as<std::string>(request["criterion"]);
  const Criterion rule = make_criterion({name, Rcpp::as<double>(request["parameter"]), loadings.nrow(), loadings.ncol(),
                                         to_core(Rcpp::NumericMatrix(Rcpp::as<Rcpp::NumericMatrix>(request["target"]))),
                                         to_core(Rcpp::NumericMatrix(Rcpp::as<Rcpp::NumericMatrix>(request["weights"])))});
  if (!rule) Rcpp::stop("no rotation criterion is named '%s'", name);
  return rule;
}

Turning turning_of(const std::string& name) {
  if (name == "reference") return Turning::reference;
  return name == "oblique" ? Turning::oblique : Turning::orthogonal;
}

Rcpp::List rotation_to_r(const Rotation& rotation) {
  return Rcpp::List::create(Rcpp::Named("loadings") = to_r(rotation.loadings),
                            Rcpp::Named("transformation") = to_r(rotation.transformation),
                            Rcpp::Named("value") = rotation.value, Rcpp::Named("gradient") = rotation.gradient,
                            Rcpp::Named("iterations") = rotation.iterations, Rcpp::Named("converged") = rotation.converged);
}

}  // namespace

// turning: "orthogonal", "oblique" or "reference". The best rotation, the second best (NULL when all starts ended in one place) and every start's value.
// [[Rcpp::export(rng = false)]]
Rcpp::List core_rotate(Rcpp::NumericMatrix loadings, std::string turning, Rcpp::List request, int starts, double seed, int threads,
                       double tolerance, int max_iterations, Rcpp::Nullable<Rcpp::Function> progress) {
  Rotation best, second;
  std::vector<double> values;
  stop_if_interrupted(rotate_best(to_core(loadings), turning_of(turning), criterion_of(loadings, request), starts,
                                  static_cast<std::uint64_t>(seed), threads, tolerance, max_iterations, watch_of(progress),
                                  best, second, values));
  Rcpp::List out = Rcpp::List::create(Rcpp::Named("best") = rotation_to_r(best), Rcpp::Named("second") = R_NilValue,
                                      Rcpp::Named("start_values") = values);
  if (second.loadings.size()) out["second"] = rotation_to_r(second);
  return out;
}

// Value and gradient of a criterion at one loading matrix: tests hold it against differences.
// [[Rcpp::export(rng = false)]]
Rcpp::List core_criterion(Rcpp::NumericMatrix loadings, Rcpp::List request) {
  Eigen::MatrixXd gradient;
  const double value = criterion_of(loadings, request)(to_core(loadings), gradient);
  return Rcpp::List::create(Rcpp::Named("value") = value, Rcpp::Named("gradient") = to_r(gradient));
}
