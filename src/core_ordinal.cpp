#include "core_ordinal.h"

#include "core_polychoric.h"
#include "core_uniqueness.h"

#include <algorithm>
#include <limits>

namespace softsieve {

namespace {

// Phi of every threshold, to be used many times.
std::vector<std::vector<double>> below_thresholds(const std::vector<std::vector<double>>& thresholds) {
  std::vector<std::vector<double>> below;
  for (const auto& item : thresholds) {
    below.emplace_back();
    for (double t : item) below.back().push_back(normal_below(t));
  }
  return below;
}

}  // namespace

OrdinalMeasures measure_ordinal(const Eigen::MatrixXd& polychoric, const std::vector<std::vector<double>>& thresholds,
                                const std::vector<std::vector<double>>& steps) {
  constexpr double nothing = std::numeric_limits<double>::quiet_NaN();
  const Eigen::Index k = polychoric.rows();
  if (k < 2 || !polychoric.allFinite()) return {nothing, nothing};
  const double n = static_cast<double>(k), whole = polychoric.sum();
  OrdinalMeasures found{nothing, n / (n - 1) * (whole - n) / whole};
  if (k < 3) return found;
  const UniquenessFit fit = fit_uniquenesses(polychoric, 1, Discrepancy::least_squares, Eigen::VectorXd::Constant(k, 0.5),
                                             Eigen::VectorXd::Constant(k, 0.005), 1e-8, 100);
  const Eigen::VectorXd l = fit.loadings.col(0);
  const auto below = below_thresholds(thresholds);
  const auto covariance = [&](std::size_t i, std::size_t j, double rho) {
    double sum = 0.0;
    for (std::size_t c = 0; c < thresholds[i].size(); ++c)
      for (std::size_t e = 0; e < thresholds[j].size(); ++e) {
        const double both = rho >= 1.0 ? std::min(below[i][c], below[j][e])
                                       : bivariate_below(thresholds[i][c], thresholds[j][e], rho);
        sum += steps[i][c] * steps[j][e] * (both - below[i][c] * below[j][e]);
      }
    return sum;
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
