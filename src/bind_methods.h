// Words of methods that several doors take.
#ifndef SOFTSIEVE_BIND_METHODS_H
#define SOFTSIEVE_BIND_METHODS_H

#include "bind_check.h"
#include "bind_convert.h"
#include "core_criteria.h"
#include "core_rotation.h"
#include "core_spectrum.h"
#include "core_uniqueness.h"

#include <Rcpp.h>
#include <string>

namespace softsieve {

inline Discrepancy discrepancy_of(const std::string& method) {
  static const std::pair<const char*, Discrepancy> methods[] = {
      {"minres", Discrepancy::least_squares},
      {"gls", Discrepancy::generalised},
      {"ml", Discrepancy::maximum_likelihood}};
  return named(methods, method);
}

// `request`: a list of criterion, parameter, target and weights (0 x 0 where there is none).
inline Criterion criterion_of(const Rcpp::NumericMatrix& loadings, const Rcpp::List& request) {
  const std::string name = Rcpp::as<std::string>(request["criterion"]);
  must_hold(loadings.nrow() > 0 && loadings.ncol() > 1 && loadings.ncol() <= loadings.nrow(),
            "at least two factors, and no more than items, can be rotated");
  check_finite(loadings, "loadings must be finite");
  if (name == "target") {
    for (const char* part : {"target", "weights"})
      check_same_shape(loadings, Rcpp::NumericMatrix(Rcpp::as<Rcpp::NumericMatrix>(request[part])));
  }
  const Criterion rule = make_criterion(
      {name, Rcpp::as<double>(request["parameter"]), loadings.nrow(), loadings.ncol(),
       to_core(Rcpp::NumericMatrix(Rcpp::as<Rcpp::NumericMatrix>(request["target"]))),
       to_core(Rcpp::NumericMatrix(Rcpp::as<Rcpp::NumericMatrix>(request["weights"])))});
  if (!rule) Rcpp::stop("no rotation criterion is named '%s'", name);
  return rule;
}

inline Turning turning_of(const std::string& name) {
  static const std::pair<const char*, Turning> turnings[] = {{"orthogonal", Turning::orthogonal},
                                                             {"oblique", Turning::oblique},
                                                             {"reference", Turning::reference}};
  return named(turnings, name);
}

inline Basis basis_named(const std::string& name) {
  static const std::pair<const char*, Basis> bases[] = {{"components", Basis::components},
                                                        {"factors", Basis::factors},
                                                        {"minimum_rank", Basis::minimum_rank}};
  return named(bases, name);
}

}  // namespace softsieve

#endif
