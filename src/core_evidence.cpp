#include "core_evidence.h"

#include "core_uniqueness.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>
#include <vector>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr double lowest_uniqueness = 0.005;

// The largest size of an item's loadings on factors other than `weakest`; 0 where there is none.
double load_elsewhere(const MatrixXd& loadings, int item, Eigen::Index weakest) {
  double most = 0.0;
  for (Eigen::Index f = 0; f < loadings.cols(); ++f)
    if (f != weakest) most = std::max(most, std::fabs(loadings(item, f)));
  return most;
}

// Describes the factor of a varimax solution that explains least.
void describe_weakest(const MatrixXd& loadings, Rung& rung) {
  const int p = static_cast<int>(loadings.rows());
  Eigen::Index weakest;
  rung.weakest = loadings.colwise().squaredNorm().minCoeff(&weakest);
  const VectorXd sizes = loadings.col(weakest).cwiseAbs();
  std::vector<int> order(p);
  std::iota(order.begin(), order.end(), 0);
  std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return sizes[a] > sizes[b]; });
  double sum = 0.0, squares = 0.0;
  for (int i = 0; i < p; ++i) {
    if (load_elsewhere(loadings, i, weakest) > sizes[i]) continue;
    ++rung.weakest_items;
    sum += sizes[i];
    squares += sizes[i] * sizes[i];
  }
  rung.weakest_mean = rung.weakest_items ? sum / rung.weakest_items : 0.0;
  rung.weakest_own = squares / std::max(rung.weakest, 1e-12);
  for (int top = 0; top < 3; ++top) {
    const int item = order[std::min(top, p - 1)];
    rung.weakest_top[top] = sizes[item];
    rung.weakest_elsewhere += load_elsewhere(loadings, item, weakest) / 3.0;
  }
}

Rung describe(const UniquenessFit& fit, const MatrixXd& correlations) {
  Rung rung{};
  const int p = static_cast<int>(correlations.rows());
  rung.discrepancy = fit.discrepancy;
  rung.gradient = fit.gradient;
  rung.converged = fit.converged;
  rung.proper = fit.uniquenesses.minCoeff() > lowest_uniqueness * 1.001;
  rung.next = fit.residual[0];
  rung.second = fit.residual.size() > 1 ? fit.residual[1] : fit.residual[0];
  rung.spread = 1.0 / fit.next.array().square().square().sum();
  MatrixXd left = correlations - fit.loadings * fit.loadings.transpose();
  // in an exact fit rounding may leave a sum of squares a little below 0
  rung.residual = std::sqrt(std::max(0.0, left.squaredNorm() - left.diagonal().squaredNorm()) /
                            (p * (p - 1.0)));
  left.diagonal().setZero();
  rung.peak = left.cwiseAbs().maxCoeff();
  if (fit.loadings.cols()) describe_weakest(varimax_planes(fit.loadings), rung);
  return rung;
}

}  // namespace

void average_partials(const MatrixXd& correlations, VectorXd& squares, VectorXd& fourths) {
  const int p = static_cast<int>(correlations.rows());
  const double pairs = p * (p - 1.0);
  Eigen::SelfAdjointEigenSolver<MatrixXd> solver(correlations);
  MatrixXd left = correlations;
  squares.setConstant(p, 1.0);
  fourths.setConstant(p, 1.0);
  for (int m = 0; m < p; ++m) {
    const VectorXd diagonal = left.diagonal();
    if (diagonal.minCoeff() < 1e-10) break;  // an item is used up: partial correlations end here
    const VectorXd scale = diagonal.cwiseSqrt().cwiseInverse();
    const Eigen::ArrayXXd partial2 =
        (scale.asDiagonal() * left * scale.asDiagonal()).array().square();
    squares[m] = (partial2.sum() - p) / pairs;
    fourths[m] = (partial2.square().sum() - p) / pairs;
    const auto component = solver.eigenvectors().col(p - 1 - m);
    left.noalias() -= solver.eigenvalues()[p - 1 - m] * component * component.transpose();
  }
}

MatrixXd varimax_planes(MatrixXd loadings) {
  const int k = static_cast<int>(loadings.cols());
  const double p = static_cast<double>(loadings.rows());
  for (int sweep = 0; sweep < 30; ++sweep) {
    double turned = 0.0;
    for (int a = 0; a < k; ++a) {
      for (int b = a + 1; b < k; ++b) {
        const Eigen::ArrayXd x = loadings.col(a), y = loadings.col(b);
        const Eigen::ArrayXd u = x.square() - y.square(), v = 2.0 * x * y;
        const double top = 2.0 * ((u * v).sum() - u.sum() * v.sum() / p);
        const double bottom =
            (u.square() - v.square()).sum() - (u.sum() * u.sum() - v.sum() * v.sum()) / p;
        const double angle = 0.25 * std::atan2(top, bottom);
        turned = std::max(turned, std::fabs(angle));
        loadings.col(a) = std::cos(angle) * x + std::sin(angle) * y;
        loadings.col(b) = std::cos(angle) * y - std::sin(angle) * x;
      }
    }
    if (turned < 1e-5) break;
  }
  return loadings;
}

namespace {

UniquenessFit rung_fit(const MatrixXd& correlations, int k, const VectorXd& unique) {
  const int p = static_cast<int>(correlations.rows());
  const VectorXd lowest = VectorXd::Constant(p, lowest_uniqueness);
  // without factors every uniqueness is 1: the fit is there before the first step
  const VectorXd start = k ? VectorXd((1.0 - 0.5 * k / p) * unique) : VectorXd::Ones(p);
  return fit_uniquenesses(correlations, k, Discrepancy::maximum_likelihood, start, lowest, 1e-5,
                          k ? 60 : 0);
}

}  // namespace

Evidence gather_evidence(const MatrixXd& correlations, int most) {
  const int p = static_cast<int>(correlations.rows());
  Evidence evidence;
  evidence.eigenvalues =
      Eigen::SelfAdjointEigenSolver<MatrixXd>(correlations, Eigen::EigenvaluesOnly)
          .eigenvalues()
          .reverse();
  const VectorXd unique =
      correlations.llt().solve(MatrixXd::Identity(p, p)).diagonal().cwiseInverse();
  MatrixXd reduced = correlations;
  reduced.diagonal() -= unique;
  evidence.reduced = Eigen::SelfAdjointEigenSolver<MatrixXd>(reduced, Eigen::EigenvaluesOnly)
                         .eigenvalues()
                         .reverse();
  evidence.squared_multiple = 1.0 - unique.mean();
  average_partials(correlations, evidence.partial_squares, evidence.partial_fourths);
  for (int k = 0; k <= most; ++k)
    evidence.ladder.push_back(describe(rung_fit(correlations, k, unique), correlations));
  return evidence;
}

}  // namespace softsieve
