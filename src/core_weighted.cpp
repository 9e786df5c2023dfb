#include "core_weighted.h"

#include <Eigen/Cholesky>
#include <Eigen/Eigenvalues>
#include <Eigen/SVD>
#include <algorithm>
#include <cmath>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

struct Problem {
  const MatrixXd& r;
  MatrixXd w;  // with a diagonal of 0
  double most; // the largest communality
};

double value_at(const Problem& problem, const MatrixXd& loadings) {
  const MatrixXd away = problem.r - loadings * loadings.transpose();
  return 0.5 * problem.w.cwiseProduct(away.cwiseProduct(away)).sum();
}

// The largest element of df/dL in size; on the bound the part that would lead outside does not count.
double gradient_at(const Problem& problem, const MatrixXd& loadings) {
  const MatrixXd slope = -2.0 * problem.w.cwiseProduct(problem.r - loadings * loadings.transpose()) * loadings;
  double largest = 0.0;
  for (Eigen::Index i = 0; i < loadings.rows(); ++i) {
    Eigen::RowVectorXd g = slope.row(i);
    const double length = loadings.row(i).squaredNorm(), outward = g.dot(loadings.row(i));
    if (length >= problem.most - 1e-12 && outward < 0.0) g -= outward / length * loadings.row(i);
    largest = std::max(largest, g.cwiseAbs().maxCoeff());
  }
  return largest;
}

// The minimum of l'Al - 2b'l with l'l <= most.
VectorXd bounded_minimum(const MatrixXd& a, const VectorXd& b, double most) {
  Eigen::LDLT<MatrixXd> plain(a);
  if (plain.info() == Eigen::Success && plain.rcond() > 1e-12) {
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
    const double length = l.norm(), bend = l.cwiseAbs2().cwiseQuotient((d.array() + lambda).matrix()).sum();
    const double move = (length - std::sqrt(most)) / std::sqrt(most) * length * length / bend;
    if (length <= std::sqrt(most) && step == 0) break;
    lambda = std::max(lambda + move, 1e-14);
    if (std::fabs(move) <= 1e-15 * (1.0 + lambda)) break;
  }
  VectorXd l = solver.eigenvectors() * c.cwiseQuotient((d.array() + lambda).matrix());
  if (l.squaredNorm() > most) l *= std::sqrt(most) / l.norm();
  return l;
}

MatrixXd cycle(const Problem& problem, MatrixXd loadings) {
  for (Eigen::Index i = 0; i < loadings.rows(); ++i) {
    const MatrixXd weighted = problem.w.col(i).asDiagonal() * loadings;
    loadings.row(i) = bounded_minimum(loadings.transpose() * weighted, weighted.transpose() * problem.r.col(i), problem.most);
  }
  return loadings;
}

MatrixXd inside(MatrixXd loadings, double most) {
  for (Eigen::Index i = 0; i < loadings.rows(); ++i) {
    const double length = loadings.row(i).squaredNorm();
    if (length > most) loadings.row(i) *= std::sqrt(most / length);
  }
  return loadings;
}

MatrixXd to_principal_axes(const MatrixXd& loadings) {
  Eigen::JacobiSVD<MatrixXd> svd(loadings, Eigen::ComputeThinU | Eigen::ComputeThinV);
  return loadings * svd.matrixV();
}

}  // namespace

WeightedFit fit_weighted(const MatrixXd& correlations, const MatrixXd& weights, const MatrixXd& start, double lowest,
                         double tolerance, int max_iterations) {
  Problem problem{correlations, weights, 1.0 - lowest};
  problem.w.diagonal().setZero();
  WeightedFit fit;
  MatrixXd now = inside(start, problem.most);
  for (fit.iterations = 0; fit.iterations < max_iterations;) {
    const MatrixXd first = cycle(problem, now), second = cycle(problem, first);
    fit.iterations += 2;
    fit.gradient = gradient_at(problem, second);
    const MatrixXd moved = first - now, bend = second - first - moved;
    now = second;
    if (fit.gradient <= tolerance) break;
    const double stride = moved.norm() / std::max(bend.norm(), 1e-300);
    if (stride <= 1.0 || !std::isfinite(stride)) continue;
    const MatrixXd origin = second - 2.0 * moved - bend;  // where this round began
    const MatrixXd far = cycle(problem, inside(origin + 2.0 * stride * moved + stride * stride * bend, problem.most));
    ++fit.iterations;
    if (value_at(problem, far) < value_at(problem, second)) now = far;
  }
  fit.loadings = to_principal_axes(now);
  fit.discrepancy = value_at(problem, now);
  fit.converged = fit.gradient <= tolerance;
  return fit;
}

}  // namespace softsieve
