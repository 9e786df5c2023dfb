#include "core_rotation.h"

#include "core_random.h"

#include <Eigen/LU>
#include <Eigen/QR>
#include <Eigen/SVD>
#include <algorithm>
#include <cmath>

namespace softsieve {

using Eigen::MatrixXd;

namespace {

// A T or, with correlated factors, A inv(T)'.
MatrixXd rotated(const MatrixXd& loadings, const MatrixXd& t, Turning turning) {
  if (turning != Turning::oblique) return loadings * t;
  return loadings * t.inverse().transpose();
}

// The gradient in T, and its projection on the tangent of the constraint.
MatrixXd projected_gradient(const MatrixXd& loadings, const MatrixXd& now, const MatrixXd& gradient,
                            const MatrixXd& t, Turning turning) {
  if (turning == Turning::orthogonal) {
    const MatrixXd g = loadings.transpose() * gradient, m = t.transpose() * g;
    return g - t * (0.5 * (m + m.transpose()));
  }
  const MatrixXd g = turning == Turning::reference ? MatrixXd(loadings.transpose() * gradient)
                                                   : MatrixXd(-(now.transpose() * gradient * t.inverse()).transpose());
  return g - t * t.cwiseProduct(g).colwise().sum().asDiagonal();
}

// The nearest T that keeps the constraint.
MatrixXd onto_constraint(const MatrixXd& t, Turning turning) {
  if (turning != Turning::orthogonal) return t * t.colwise().norm().cwiseInverse().asDiagonal();
  Eigen::JacobiSVD<MatrixXd> svd(t, Eigen::ComputeFullU | Eigen::ComputeFullV);
  return svd.matrixU() * svd.matrixV().transpose();
}

MatrixXd random_orthogonal(int k, Stream stream) {
  MatrixXd normal(k, k);
  for (int i = 0; i < k * k; ++i) normal.data()[i] = stream.normal();
  Eigen::HouseholderQR<MatrixXd> qr(normal);
  MatrixXd q = qr.householderQ();
  for (int j = 0; j < k; ++j)  // R with a positive diagonal makes Q uniform over both determinants
    if (qr.matrixQR()(j, j) < 0) q.col(j) *= -1.0;
  return q;
}

}  // namespace

Rotation rotate_from(const MatrixXd& loadings, const MatrixXd& start, Turning turning,
                     const Criterion& criterion, double tolerance, int max_iterations) {
  Rotation at;
  at.transformation = start;
  at.loadings = rotated(loadings, start, turning);
  MatrixXd gradient, trial_gradient;
  at.value = criterion(at.loadings, gradient);
  double length = 1.0;
  for (at.iterations = 0;; ++at.iterations) {
    const MatrixXd slope = projected_gradient(loadings, at.loadings, gradient, at.transformation, turning);
    at.gradient = slope.norm();
    at.converged = at.gradient < tolerance;
    if (at.converged || at.iterations == max_iterations) return at;
    length *= 2.0;
    bool fell = false;
    for (int halving = 0; halving < 40 && !fell; ++halving, length *= 0.5) {
      const MatrixXd t = onto_constraint(at.transformation - length * slope, turning);
      const MatrixXd trial = rotated(loadings, t, turning);
      const double value = criterion(trial, trial_gradient);
      if (!std::isfinite(value)) continue;
      fell = value <= at.value - 0.5 * length * at.gradient * at.gradient;
      // where rounding hides whether f falls, a falling gradient stands in for it
      if (!fell && std::fabs(value - at.value) <= 1e-13 * (1.0 + std::fabs(at.value)))
        fell = projected_gradient(loadings, trial, trial_gradient, t, turning).norm() < at.gradient;
      if (!fell) continue;
      at.transformation = t;
      at.loadings = trial;
      at.value = value;
      gradient.swap(trial_gradient);
      break;
    }
    if (!fell) return at;
  }
}

Status rotate_best(const MatrixXd& loadings, Turning turning, const Criterion& criterion, int starts,
                   std::uint64_t seed, int threads, double tolerance, int max_iterations,
                   const Watch& watch, Rotation& best, Rotation& second, std::vector<double>& values) {
  const int k = static_cast<int>(loadings.cols());
  std::vector<Rotation> ends(static_cast<std::size_t>(starts));
  auto make_worker = [&] {
    return [&](std::size_t i) {
      const MatrixXd start = i ? random_orthogonal(k, Stream(seed, i)) : MatrixXd::Identity(k, k);
      ends[i] = rotate_from(loadings, start, turning, criterion, std::max(tolerance, 1e-6), max_iterations);
    };
  };
  const Status status = run_replicates(ends.size(), threads, make_worker, watch);
  if (status != Status::done) return status;
  values.clear();
  for (const Rotation& end : ends) values.push_back(end.value);
  // Starts that met the same optimum differ in the last digits: the first of them is taken, so
  // that which one it is does not hang on rounding.
  const double lowest = *std::min_element(values.begin(), values.end());
  const double same = lowest + 1e-9 * (1.0 + std::fabs(lowest)), apart = lowest + 1e-6 * (1.0 + std::fabs(lowest));
  std::size_t chosen = 0;
  while (values[chosen] > same) ++chosen;
  const auto finish = [&](const Rotation& end) {
    Rotation done = rotate_from(loadings, end.transformation, turning, criterion, tolerance, 10 * max_iterations);
    done.iterations += end.iterations;
    return done;
  };
  best = finish(ends[chosen]);
  const Rotation* next = nullptr;
  for (const Rotation& end : ends)
    if (end.value > apart && (!next || end.value < next->value)) next = &end;
  if (next) second = finish(*next);
  return status;
}

}  // namespace softsieve
