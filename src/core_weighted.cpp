#include "core_weighted.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

struct Problem {
  const MatrixXd& r;
  MatrixXd w;     // with a diagonal of 0
  VectorXd most;  // the largest communality of each item
  bool plain;     // are all weights 1?
};

double value_at(const Problem& problem, const MatrixXd& loadings) {
  const MatrixXd away = problem.r - loadings * loadings.transpose();
  return 0.5 * problem.w.cwiseProduct(away.cwiseProduct(away)).sum();
}

// The largest element of df/dL in size; on the bound the part that would lead outside does not
// count.
double gradient_at(const Problem& problem, const MatrixXd& loadings) {
  const MatrixXd slope =
      -2.0 * problem.w.cwiseProduct(problem.r - loadings * loadings.transpose()) * loadings;
  double largest = 0.0;
  for (Eigen::Index i = 0; i < loadings.rows(); ++i) {
    Eigen::RowVectorXd g = slope.row(i);
    const double length = loadings.row(i).squaredNorm(), outward = g.dot(loadings.row(i));
    if (length >= problem.most[i] * (1.0 - 1e-8) && outward < 0.0)
      g -= outward / length * loadings.row(i);
    largest = std::max(largest, g.cwiseAbs().maxCoeff());
  }
  return largest;
}

// The minimum of l'Al - 2b'l with l'l <= most.
VectorXd bounded_minimum(const MatrixXd& a, const VectorXd& b, double most) {
  Eigen::LDLT<MatrixXd> plain(a);
  const VectorXd pivots = plain.vectorD().cwiseAbs();
  if (plain.info() == Eigen::Success && pivots.minCoeff() > 1e-12 * pivots.maxCoeff()) {
    const VectorXd l = plain.solve(b);
    if (l.squaredNorm() <= most) return l;
  }
  // |l(lambda)| falls with lambda: Newton steps on 1/|l| - 1/sqrt(most), which is nearly straight
  Eigen::SelfAdjointEigenSolver<MatrixXd> solver(a);
  const VectorXd c = solver.eigenvectors().transpose() * b;
  const VectorXd d = solver.eigenvalues().cwiseMax(0.0);
  double lambda = 1e-12 * (1.0 + d.maxCoeff());
  for (int step = 0; step < 100; ++step) {
    const VectorXd l = c.cwiseQuotient((d.array() + lambda).matrix());
    const double length = l.norm(),
                 bend = l.cwiseAbs2().cwiseQuotient((d.array() + lambda).matrix()).sum();
    const double move = (length - std::sqrt(most)) / std::sqrt(most) * length * length / bend;
    if (length <= std::sqrt(most) && step == 0) break;
    lambda = std::max(lambda + move, 1e-14);
    if (std::fabs(move) <= 1e-15 * (1.0 + lambda)) break;
  }
  VectorXd l = solver.eigenvectors() * c.cwiseQuotient((d.array() + lambda).matrix());
  if (l.squaredNorm() > most) l *= std::sqrt(most) / l.norm();
  return l;
}

// With weights of 1, A_i is L'L less the row's own part: O(p k^2) for a cycle's matrices, not O(p^2
// k^2).
MatrixXd plain_cycle(const Problem& problem, MatrixXd loadings) {
  MatrixXd inner = loadings.transpose() * loadings;
  for (Eigen::Index i = 0; i < loadings.rows(); ++i) {
    const VectorXd old = loadings.row(i);
    inner.noalias() -= old * old.transpose();
    const VectorXd right = loadings.transpose() * problem.r.col(i) - problem.r(i, i) * old;
    const VectorXd now = bounded_minimum(inner, right, problem.most[i]);
    inner.noalias() += now * now.transpose();
    loadings.row(i) = now;
  }
  return loadings;
}

MatrixXd cycle(const Problem& problem, MatrixXd loadings) {
  if (problem.plain) return plain_cycle(problem, std::move(loadings));
  for (Eigen::Index i = 0; i < loadings.rows(); ++i) {
    const MatrixXd weighted = problem.w.col(i).asDiagonal() * loadings;
    loadings.row(i) = bounded_minimum(loadings.transpose() * weighted,
                                      weighted.transpose() * problem.r.col(i), problem.most[i]);
  }
  return loadings;
}

MatrixXd inside(MatrixXd loadings, const VectorXd& most) {
  for (Eigen::Index i = 0; i < loadings.rows(); ++i) {
    const double length = loadings.row(i).squaredNorm();
    if (length > most[i]) loadings.row(i) *= std::sqrt(most[i] / length);
  }
  return loadings;
}

MatrixXd to_principal_axes(const MatrixXd& loadings) {
  Eigen::JacobiSVD<MatrixXd> svd(loadings, Eigen::ComputeThinU | Eigen::ComputeThinV);
  return loadings * svd.matrixV();
}

}  // namespace

WeightedFit fit_weighted(const MatrixXd& correlations, const MatrixXd& weights,
                         const MatrixXd& start, const VectorXd& most, double tolerance,
                         int max_iterations) {
  Problem problem{correlations, weights, most, (weights.array() == 1.0).all()};
  problem.w.diagonal().setZero();
  WeightedFit fit;
  MatrixXd now = inside(start, problem.most);
  fit.gradient = gradient_at(problem, now);
  for (fit.iterations = 0; fit.iterations < max_iterations && fit.gradient > tolerance;) {
    const MatrixXd first = cycle(problem, now), second = cycle(problem, first);
    fit.iterations += 2;
    fit.gradient = gradient_at(problem, second);
    const MatrixXd moved = first - now, bend = second - first - moved;
    now = second;
    if (fit.gradient <= tolerance) break;
    const double stride = moved.norm() / std::max(bend.norm(), 1e-300);
    if (stride <= 1.0 || !std::isfinite(stride)) continue;
    const MatrixXd origin = second - 2.0 * moved - bend;  // where this round began
    const MatrixXd far = cycle(
        problem, inside(origin + 2.0 * stride * moved + stride * stride * bend, problem.most));
    ++fit.iterations;
    if (value_at(problem, far) < value_at(problem, second)) now = far;
  }
  fit.loadings = to_principal_axes(now);
  fit.discrepancy = value_at(problem, now);
  fit.converged = fit.gradient <= tolerance;
  return fit;
}

}  // namespace softsieve
