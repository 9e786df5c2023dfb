// The doors between R and the core. Arguments were checked in R; here they are copied, passed on
// and the answer is packed.
#include "bind_convert.h"
#include "bind_watch.h"
#include "core_chance.h"
#include "core_minres.h"
#include "core_rotation.h"

#include <Rcpp.h>

using namespace softsieve;

// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix core_chance_eigenvalues(int people, int items, int replicates, double seed,
                                            int threads, Rcpp::Nullable<Rcpp::Function> progress) {
  Rcpp::NumericMatrix out(items, replicates);
  stop_if_interrupted(chance_eigenvalues(people, items, replicates,
                                         static_cast<std::uint64_t>(seed), threads, out.begin(),
                                         watch_of(progress)));
  return out;
}

// [[Rcpp::export(rng = false)]]
Rcpp::List core_minres(Rcpp::NumericMatrix correlations, int factors, Rcpp::NumericVector start,
                       double lowest, double tolerance, int max_iterations) {
  const Eigen::VectorXd psi = Eigen::Map<const Eigen::VectorXd>(start.begin(), start.size());
  const MinresFit fit = fit_minres(to_core(correlations), factors, psi, lowest, tolerance, max_iterations);
  return Rcpp::List::create(
      Rcpp::Named("loadings") = to_r(fit.loadings),
      Rcpp::Named("uniquenesses") = Rcpp::NumericVector(fit.uniquenesses.data(), fit.uniquenesses.data() + fit.uniquenesses.size()),
      Rcpp::Named("discrepancy") = fit.discrepancy, Rcpp::Named("gradient") = fit.gradient,
      Rcpp::Named("iterations") = fit.iterations, Rcpp::Named("converged") = fit.converged);
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
