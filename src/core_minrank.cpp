#include "core_minrank.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>

namespace softsieve {

using Eigen::MatrixXd;
using Eigen::VectorXd;

namespace {

// The longest step, at most 1, that keeps 5 % of the way to psi = 0 and R - diag(psi) definite.
double step_inside(const MatrixXd& reduced, const VectorXd& psi, const VectorXd& step) {
  double length = 1.0;
  for (Eigen::Index i = 0; i < psi.size(); ++i)
    if (step[i] < 0.0) length = std::min(length, -0.95 * psi[i] / step[i]);
  for (; length > 1e-12; length *= 0.7) {
    MatrixXd moved = reduced;
    moved.diagonal() -= length * step;
    if (Eigen::LLT<MatrixXd>(moved).info() == Eigen::Success) break;
  }
  return length;
}

}  // namespace

MinimumRank minimum_rank(const MatrixXd& correlations, const VectorXd& costs, double gap) {
  const Eigen::Index p = correlations.rows();
  const double smallest =
      Eigen::SelfAdjointEigenSolver<MatrixXd>(correlations, Eigen::EigenvaluesOnly)
          .eigenvalues()[0];
  MinimumRank found{VectorXd::Zero(p), costs.sum(), 0};
  if (smallest <= 1e-10) return found;
  VectorXd psi = VectorXd::Constant(p, 0.8 * smallest);
  for (double mu = 0.1 * costs.mean(); found.iterations < 300; mu *= 0.15) {
    for (int inner = 0; inner < 30; ++inner) {
      MatrixXd reduced = correlations;
      reduced.diagonal() -= psi;
      const MatrixXd inverse = reduced.llt().solve(MatrixXd::Identity(p, p));
      const VectorXd gradient =
          -costs.array() + mu * (inverse.diagonal().array() - psi.array().inverse());
      MatrixXd hessian = mu * inverse.cwiseProduct(inverse);
      hessian.diagonal().array() += mu * psi.array().square().inverse();
      const VectorXd step = -hessian.llt().solve(gradient);
      const double decrement = -gradient.dot(step) / mu;  // the squared Newton decrement
      const double length = step_inside(reduced, psi, step);
      psi += length * step;
      ++found.iterations;
      if (decrement < 0.01) break;
    }
    found.gap = 2.0 * static_cast<double>(p) * mu;
    if (found.gap < gap) break;
  }
  found.uniquenesses = psi;
  return found;
}

}  // namespace softsieve
