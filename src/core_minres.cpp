#include "core_minres.h"

#include <Eigen/Cholesky>
#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>
#include <vector>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

// f and what its derivatives need at one psi. Eigenvalues rise here (Eigen's order): the first
// p - k are the residual ones.
struct Point {
  VectorXd psi, theta;
  MatrixXd omega;
  double value;
};

Point at(const MatrixXd& correlations, int k, const VectorXd& psi) {
  MatrixXd reduced = correlations;
  reduced.diagonal() -= psi;
  Eigen::SelfAdjointEigenSolver<MatrixXd> solver(reduced);
  Point point{psi, solver.eigenvalues(), solver.eigenvectors(), 0.0};
  point.value = 0.5 * point.theta.head(psi.size() - k).squaredNorm();
  return point;
}

VectorXd gradient_of(const Point& x, int rest) {
  return -(x.omega.leftCols(rest).array().square().matrix() * x.theta.head(rest));
}

// The exact Hessian, and its first part alone when `exact` is false.
MatrixXd hessian_of(const Point& x, int rest, bool exact) {
  const auto residual = x.omega.leftCols(rest);
  MatrixXd hessian = (residual * residual.transpose()).array().square().matrix();
  if (!exact) return hessian;
  for (int n = rest; n < x.theta.size(); ++n) {
    const VectorXd ratio = 2.0 * x.theta.head(rest).array() / (x.theta.head(rest).array() - x.theta[n]);
    const MatrixXd inner = residual * ratio.asDiagonal() * residual.transpose();
    hessian.array() += inner.array() * (x.omega.col(n) * x.omega.col(n).transpose()).array();
  }
  return hessian;
}

// The Newton step on the free uniquenesses, zero on the others.
VectorXd step_of(const Point& x, const VectorXd& gradient, const std::vector<int>& free, int rest) {
  const int f = static_cast<int>(free.size());
  VectorXd g(f), step = VectorXd::Zero(x.psi.size());
  for (int a = 0; a < f; ++a) g[a] = gradient[free[a]];
  for (const bool exact : {true, false}) {
    const MatrixXd whole = hessian_of(x, rest, exact);
    MatrixXd h(f, f);
    for (int a = 0; a < f; ++a)
      for (int b = 0; b < f; ++b) h(a, b) = whole(free[a], free[b]);
    if (!exact) h.diagonal().array() += 1e-4 * (1.0 + h.diagonal().maxCoeff());
    Eigen::LLT<MatrixXd> cholesky(h);
    if (cholesky.info() != Eigen::Success) continue;
    const VectorXd d = -cholesky.solve(g);
    if (!d.allFinite()) continue;
    for (int a = 0; a < f; ++a) step[free[a]] = d[a];
    break;
  }
  return step;
}

}  // namespace

MinresFit fit_minres(const MatrixXd& correlations, int k, const VectorXd& start, double lowest,
                     double tolerance, int max_iterations) {
  const int p = static_cast<int>(correlations.rows()), rest = p - k;
  Point x = at(correlations, k, start.cwiseMax(lowest));
  MinresFit fit;
  for (fit.iterations = 0;; ++fit.iterations) {
    const VectorXd gradient = gradient_of(x, rest);
    std::vector<int> free;
    fit.gradient = 0.0;
    for (int i = 0; i < p; ++i) {
      if (x.psi[i] <= lowest && gradient[i] >= 0.0) continue;  // f rises away from the bound
      free.push_back(i);
      fit.gradient = std::max(fit.gradient, std::fabs(gradient[i]));
    }
    fit.converged = fit.gradient <= tolerance;
    if (fit.converged || fit.iterations == max_iterations) break;
    const VectorXd step = step_of(x, gradient, free, rest);
    bool fell = false;
    for (double length = 1.0; length > 1e-10 && !fell; length *= 0.5) {
      const VectorXd psi = (x.psi + length * step).cwiseMax(lowest);
      Point y = at(correlations, k, psi);
      // near the optimum f no longer tells points apart: take what does not rise
      fell = y.value <= x.value + 1e-4 * std::min(0.0, gradient.dot(psi - x.psi)) + 1e-15;
      if (fell) x = y;
    }
    if (!fell) break;
  }
  fit.uniquenesses = x.psi;
  fit.discrepancy = x.value;
  fit.loadings.resize(p, k);
  for (int j = 0; j < k; ++j)
    fit.loadings.col(j) = std::sqrt(std::max(0.0, x.theta[p - 1 - j])) * x.omega.col(p - 1 - j);
  return fit;
}

}  // namespace softsieve
