// The doors between R and the core. Arguments were checked in R; here they are copied, passed on
// and the answer is packed.
#include "bind_convert.h"
#include "bind_watch.h"
#include "core_uniqueness.h"
#include "core_rotation.h"

#include <Rcpp.h>

using namespace softsieve;

// method: "minres" or "ml".
// [[Rcpp::export(rng = false)]]
Rcpp::List core_fit_uniquenesses(Rcpp::NumericMatrix correlations, int factors, std::string method,
                                 Rcpp::NumericVector start, double lowest, double tolerance, int max_iterations) {
  const auto discrepancy = method == "ml" ? Discrepancy::maximum_likelihood : Discrepancy::least_squares;
  const UniquenessFit fit = fit_uniquenesses(to_core(correlations), factors, discrepancy, to_core(start), lowest,
                                             tolerance, max_iterations);
  return Rcpp::List::create(
      Rcpp::Named("loadings") = to_r(fit.loadings), Rcpp::Named("uniquenesses") = to_r(fit.uniquenesses),
      Rcpp::Named("residual") = to_r(fit.residual), Rcpp::Named("discrepancy") = fit.discrepancy,
      Rcpp::Named("gradient") = fit.gradient, Rcpp::Named("iterations") = fit.iterations,
      Rcpp::Named("converged") = fit.converged);
}

// [[Rcpp::export(rng = false)]]
Rcpp::List core_rotate(Rcpp::NumericMatrix loadings, bool oblique, std::string criterion,
                       double parameter, int starts, double seed, int threads, double tolerance,
                       int max_iterations, Rcpp::Nullable<Rcpp::Function> progress) {
  const Criterion rule = criterion_named(criterion, parameter, loadings.nrow());
  if (!rule) Rcpp::stop("no rotation criterion is named '%s'", criterion);
  Rotation best;
  std::vector<double> values;
  stop_if_interrupted(rotate_best(to_core(loadings), oblique, rule, starts,
                                  static_cast<std::uint64_t>(seed), threads, tolerance,
                                  max_iterations, watch_of(progress), best, values));
  return Rcpp::List::create(
      Rcpp::Named("loadings") = to_r(best.loadings),
      Rcpp::Named("transformation") = to_r(best.transformation),
      Rcpp::Named("value") = best.value, Rcpp::Named("gradient") = best.gradient,
      Rcpp::Named("iterations") = best.iterations, Rcpp::Named("converged") = best.converged,
      Rcpp::Named("start_values") = values);
}

// Value and gradient of a criterion at one loading matrix: tests hold it against differences.
// [[Rcpp::export(rng = false)]]
Rcpp::List core_criterion(Rcpp::NumericMatrix loadings, std::string criterion, double parameter) {
  const Criterion rule = criterion_named(criterion, parameter, loadings.nrow());
  if (!rule) Rcpp::stop("no rotation criterion is named '%s'", criterion);
  Eigen::MatrixXd gradient;
  const double value = rule(to_core(loadings), gradient);
  return Rcpp::List::create(Rcpp::Named("value") = value, Rcpp::Named("gradient") = to_r(gradient));
}
