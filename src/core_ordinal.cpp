#include "core_ordinal.h"

#include "core_polychoric.h"

#include <limits>

namespace softsieve {

OrdinalMeasures measure_ordinal(const Eigen::MatrixXd& polychoric,
                                const std::vector<std::vector<double>>& thresholds,
                                const std::vector<std::vector<double>>& steps,
                                OneFactor* one_factor) {
  constexpr double nothing = std::numeric_limits<double>::quiet_NaN();
  const Eigen::Index k = polychoric.rows();
  if (k < 2 || !polychoric.allFinite()) return {nothing, nothing};
  const double n = static_cast<double>(k), whole = polychoric.sum();
  OrdinalMeasures found{nothing, n / (n - 1) * (whole - n) / whole};
  if (k < 3) return found;
  const UniquenessFit fit = fit_one_factor(polychoric, one_factor);
  const Eigen::VectorXd l = fit.loadings.col(0);
  const auto covariance = [&](std::size_t i, std::size_t j, double rho) {
    return cut_covariance(thresholds[i], steps[i], thresholds[j], steps[j], rho);
  };
  double common = 0.0, all = 0.0;
  for (Eigen::Index i = 0; i < k; ++i)
    for (Eigen::Index j = 0; j <= i; ++j) {
      const auto a = static_cast<std::size_t>(i), b = static_cast<std::size_t>(j);
      const double twice = i == j ? 1.0 : 2.0;
      common += twice * covariance(a, b, l[i] * l[j]);
      all += twice * covariance(a, b, i == j ? 1.0 : polychoric(i, j));
    }
  found.omega = common / all;
  return found;
}

}  // namespace softsieve
