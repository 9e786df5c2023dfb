#include "core_rotation.h"

#include "core_random.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>

namespace softsieve {

using Eigen::MatrixXd;

namespace {

// T, what it turns the loadings into, and (for correlated factors) its inverse.
struct Turned {
  MatrixXd t, inverse, loadings;
};

// A T or, with correlated factors, A inv(T)'. Lazy products: k is small, and blocks would cost more
// than they save.
Turned turn(const MatrixXd& loadings, const MatrixXd& t, Turning turning) {
  Turned turned;
  turned.t = t;
  if (turning == Turning::oblique) {
    turned.inverse = t.inverse();
    turned.loadings = loadings.lazyProduct(turned.inverse.transpose());
  } else {
    turned.loadings = loadings.lazyProduct(t);
  }
  return turned;
}

// The gradient in T, and its projection on the tangent of the constraint.
MatrixXd projected_gradient(const MatrixXd& loadings, const Turned& now, const MatrixXd& gradient,
                            Turning turning) {
  if (turning == Turning::orthogonal) {
    const MatrixXd g = loadings.transpose().lazyProduct(gradient), m = now.t.transpose() * g;
    return g - now.t * (0.5 * (m + m.transpose()));
  }
  MatrixXd g;
  if (turning == Turning::reference) {
    g = loadings.transpose().lazyProduct(gradient);
  } else {
    const MatrixXd inner = gradient.transpose().lazyProduct(now.loadings);
    g = -now.inverse.transpose().lazyProduct(inner);
  }
  for (Eigen::Index j = 0; j < g.cols(); ++j)
    g.col(j) -= now.t.col(j).dot(g.col(j)) * now.t.col(j);
  return g;
}

// The nearest T that keeps the constraint.
MatrixXd onto_constraint(const MatrixXd& t, Turning turning) {
  if (turning != Turning::orthogonal) return t * t.colwise().norm().cwiseInverse().asDiagonal();
  Eigen::JacobiSVD<MatrixXd> svd(t, Eigen::ComputeFullU | Eigen::ComputeFullV);
  return svd.matrixU() * svd.matrixV().transpose();
}

constexpr int memory = 5;  // values that a step may be held against

}  // namespace

MatrixXd random_orthogonal(int k, Stream stream) {
  MatrixXd normal(k, k);
  for (int i = 0; i < k * k; ++i)
    normal.data()[i] = stream.normal();
  Eigen::HouseholderQR<MatrixXd> qr(normal);
  MatrixXd q = qr.householderQ();
  for (int j = 0; j < k; ++j)  // R with a positive diagonal makes Q uniform over both determinants
    if (qr.matrixQR()(j, j) < 0) q.col(j) *= -1.0;
  return q;
}

Rotation rotate_from(const MatrixXd& loadings, const MatrixXd& start, Turning turning,
                     const Criterion& criterion, double tolerance, int max_iterations) {
  Turned now = turn(loadings, start, turning);
  MatrixXd gradient;
  Rotation at;
  at.value = criterion(now.loadings, gradient);
  MatrixXd slope = projected_gradient(loadings, now, gradient, turning);
  at.gradient = slope.norm();
  double length = 1.0, last[memory];
  std::fill(last, last + memory, at.value);
  for (at.iterations = 0;; ++at.iterations) {
    at.converged = std::isfinite(at.value) && at.gradient < tolerance;
    if (at.converged || !std::isfinite(at.value) || at.iterations == max_iterations) break;
    const double above = *std::max_element(last, last + memory);
    bool fell = false;
    for (int trials = 0; trials < 50 && !fell; ++trials) {
      if (trials) length *= 0.5;
      Turned trial = turn(loadings, onto_constraint(now.t - length * slope, turning), turning);
      const double value = criterion(trial.loadings, gradient);
      if (!std::isfinite(value)) continue;
      fell = value <= above - 1e-4 * length * at.gradient * at.gradient;
      // where rounding hides whether f falls, a falling gradient stands in for it
      const bool hidden =
          !fell && std::fabs(value - at.value) <= 1e-13 * (1.0 + std::fabs(at.value));
      if (!fell && !hidden) continue;
      MatrixXd trial_slope = projected_gradient(loadings, trial, gradient, turning);
      const double size = trial_slope.norm();
      if (hidden && size >= at.gradient) continue;
      fell = true;
      const MatrixXd moved = trial.t - now.t;
      const double curvature = std::fabs(moved.cwiseProduct(trial_slope - slope).sum());
      length = curvature > 0.0 ? std::min(1e4, moved.squaredNorm() / curvature) : 2.0 * length;
      std::swap(now, trial);
      slope.swap(trial_slope);
      at.value = value;
      at.gradient = size;
    }
    if (!fell) break;
    last[at.iterations % memory] = at.value;
  }
  at.transformation = now.t;
  at.loadings = now.loadings;
  return at;
}

Status rotate_best(const MatrixXd& loadings, Turning turning, const Criterion& criterion,
                   int starts, std::uint64_t seed, int threads, double tolerance,
                   int max_iterations, const Watch& watch, Rotation& best, Rotation& second,
                   std::vector<double>& values) {
  const int k = static_cast<int>(loadings.cols());
  std::vector<Rotation> ends(static_cast<std::size_t>(starts));
  auto make_worker = [&] {
    return [&](std::size_t i) {
      const MatrixXd start = i ? random_orthogonal(k, Stream(seed, i)) : MatrixXd::Identity(k, k);
      ends[i] = rotate_from(loadings, start, turning, criterion, std::max(tolerance, 1e-6),
                            max_iterations);
    };
  };
  const Status status = run_replicates(ends.size(), threads, make_worker, watch);
  if (status != Status::done) return status;
  values.clear();
  for (const Rotation& end : ends)
    values.push_back(end.value);
  // Starts that met the same optimum differ in the last digits: the first of them is taken, so
  // that which one it is does not hang on rounding.
  const double lowest = *std::min_element(values.begin(), values.end());
  const double same = lowest + 1e-9 * (1.0 + std::fabs(lowest)),
               apart = lowest + 1e-6 * (1.0 + std::fabs(lowest));
  std::size_t chosen = 0;
  while (values[chosen] > same)
    ++chosen;
  const auto finish = [&](const Rotation& end) {
    Rotation done = rotate_from(loadings, end.transformation, turning, criterion, tolerance,
                                10 * max_iterations);
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
