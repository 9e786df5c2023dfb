#include "core_uniqueness.h"

#include "core_bounded.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>
#include <vector>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

// f and what its derivatives need at one x. Eigenvalues rise here (Eigen's order): the first `rest`
// = p - k are the residual ones.
struct Point {
  VectorXd x;
  MatrixXd reduced;  // what the eigenvalues are of
  VectorXd theta;
  MatrixXd omega;
  double value;
};

// What one discrepancy consists of: uniquenesses from x and back, f, its gradient and its Hessian.
struct Form {
  VectorXd (*to_x)(const VectorXd& psi);
  VectorXd (*to_psi)(const VectorXd& x);
  MatrixXd (*reduce)(const MatrixXd& correlations, const VectorXd& psi);
  double (*value)(const VectorXd& theta);           // of the residual eigenvalues
  VectorXd (*slope)(const VectorXd& theta);         // gradient_i = sum_M slope_m omega_im^2
  MatrixXd (*first)(const Point& at, int rest);     // the Hessian's first part, semidefinite
  MatrixXd (*rest)(const Point& at, int rest);      // what else M alone adds, or null
  double (*cross)(double theta_m, double theta_n);  // the part of M and N
  VectorXd (*scale)(const VectorXd& theta, const VectorXd& psi,
                    int j);  // column j of the loadings over omega
};

VectorXd same(const VectorXd& v) {
  return v;
}
VectorXd exponential(const VectorXd& v) {
  return v.array().exp();
}
VectorXd logarithm(const VectorXd& v) {
  return v.array().log();
}

// Omega Omega' of the residual vectors: what the others leave of the identity.
MatrixXd projector(const Point& at, int rest) {
  const auto kept = at.omega.rightCols(at.theta.size() - rest);
  return MatrixXd::Identity(at.theta.size(), at.theta.size()) - kept * kept.transpose();
}

// Omega diag(weights) Omega' of the residual vectors, its lower half.
MatrixXd lower_half(const Point& at, int rest, const VectorXd& weights) {
  const auto residual = at.omega.leftCols(rest);
  const MatrixXd weighted = residual * weights.asDiagonal();
  MatrixXd half = MatrixXd::Zero(residual.rows(), residual.rows());
  half.triangularView<Eigen::Lower>() = weighted * residual.transpose();
  return half;
}

MatrixXd rescaled(const MatrixXd& r, const VectorXd& psi) {
  const VectorXd root = psi.cwiseSqrt().cwiseInverse();
  return root.asDiagonal() * r * root.asDiagonal();
}

VectorXd rescaled_length(const VectorXd& theta, const VectorXd& psi, int j) {
  return psi.cwiseSqrt() * std::sqrt(std::max(0.0, theta[j] - 1.0));
}

const Form least_squares = {
    same,
    same,
    [](const MatrixXd& r, const VectorXd& psi) -> MatrixXd {
      MatrixXd reduced = r;
      reduced.diagonal() -= psi;
      return reduced;
    },
    [](const VectorXd& theta) { return 0.5 * theta.squaredNorm(); },
    [](const VectorXd& theta) -> VectorXd { return -theta; },
    [](const Point& at, int rest) -> MatrixXd { return projector(at, rest).cwiseAbs2(); },
    nullptr,
    [](double m, double n) { return 2.0 * m / (m - n); },
    [](const VectorXd& theta, const VectorXd& psi, int j) -> VectorXd {
      return VectorXd::Constant(psi.size(), std::sqrt(std::max(0.0, theta[j])));
    }};

const Form likelihood = {
    logarithm,
    exponential,
    rescaled,
    [](const VectorXd& theta) {
      if (theta.minCoeff() <= 0.0) return std::numeric_limits<double>::infinity();
      return (theta.array() - theta.array().log() - 1.0).sum();
    },
    [](const VectorXd& theta) -> VectorXd { return 1.0 - theta.array(); },
    [](const Point& at, int rest) -> MatrixXd {
      const int k = static_cast<int>(at.theta.size()) - rest;
      const auto kept = at.omega.rightCols(k);
      return (at.reduced - kept * at.theta.tail(k).asDiagonal() * kept.transpose())
          .cwiseProduct(projector(at, rest));
    },
    nullptr,
    [](double m, double n) { return (m - 1.0) * (m + n) / (m - n); },
    rescaled_length};

VectorXd generalised_slope(const VectorXd& theta) {
  return (theta.array().inverse() - 1.0) / theta.array();
}

const Form generalised = {
    logarithm,
    exponential,
    rescaled,
    [](const VectorXd& theta) {
      if (theta.minCoeff() <= 0.0) return std::numeric_limits<double>::infinity();
      return 0.5 * (theta.array().inverse() - 1.0).square().sum();
    },
    generalised_slope,
    [](const Point& at, int rest) -> MatrixXd {
      return lower_half(at, rest, at.theta.head(rest).cwiseInverse()).cwiseAbs2();
    },
    [](const Point& at, int rest) -> MatrixXd {
      return lower_half(at, rest, generalised_slope(at.theta.head(rest)))
          .cwiseProduct(projector(at, rest));
    },
    [](double m, double n) { return -(1.0 / m - 1.0) / m * (m + n) / (m - n); },
    rescaled_length};

const Form& form_of(Discrepancy discrepancy) {
  if (discrepancy == Discrepancy::least_squares) return least_squares;
  return discrepancy == Discrepancy::generalised ? generalised : likelihood;
}

// ln |R|; NaN where it has none.
double log_determinant(const MatrixXd& r) {
  const Eigen::LLT<MatrixXd> root(r);
  if (root.info() != Eigen::Success) return std::numeric_limits<double>::quiet_NaN();
  return 2.0 * root.matrixLLT().diagonal().array().log().sum();
}

// log_det: ln |R|, by which the likelihood is known without its small eigenvalues. Of a matrix that
// is nearly singular these are known to few digits only, and a search by them would not find its
// end.
Point at(const Form& form, const MatrixXd& correlations, double log_det, int rest,
         const VectorXd& x) {
  const VectorXd psi = form.to_psi(x);
  MatrixXd reduced = form.reduce(correlations, psi);
  Eigen::SelfAdjointEigenSolver<MatrixXd> solver(reduced);
  Point point{x, std::move(reduced), solver.eigenvalues(), solver.eigenvectors(), 0.0};
  const auto kept = point.theta.tail(point.theta.size() - rest).array();
  if (&form == &likelihood && std::isfinite(log_det) && (kept > 0.0).all()) {
    const double trace = correlations.diagonal().cwiseQuotient(psi).sum() - kept.sum();
    const double logs = log_det - psi.array().log().sum() - kept.log().sum();
    point.value = trace - logs - rest;
  } else {
    point.value = form.value(point.theta.head(rest));
  }
  return point;
}

// The exact Hessian, or its first part alone.
MatrixXd hessian_of(const Form& form, const Point& at, int rest, bool exact) {
  MatrixXd hessian = form.first(at, rest);
  if (exact) {
    if (form.rest) hessian += form.rest(at, rest);
    VectorXd ratio(rest);
    for (int n = rest; n < at.theta.size(); ++n) {
      for (int m = 0; m < rest; ++m)
        ratio[m] = form.cross(at.theta[m], at.theta[n]);
      hessian.array() += lower_half(at, rest, ratio).array() *
                         (at.omega.col(n) * at.omega.col(n).transpose()).array();
    }
  }
  return hessian.selfadjointView<Eigen::Lower>();
}

VectorXd gradient_of(const Form& form, const Point& at, int rest) {
  return at.omega.leftCols(rest).array().square().matrix() * form.slope(at.theta.head(rest));
}

// At its bound, with f rising away from it.
bool held(double x, double bound, double gradient) {
  return x <= bound && gradient >= 0.0;
}

// The largest element in size of the gradient that the bound leaves free.
double free_gradient(const Point& at, const VectorXd& gradient, const VectorXd& bound) {
  double largest = 0.0;
  for (Eigen::Index i = 0; i < gradient.size(); ++i)
    if (!held(at.x[i], bound[i], gradient[i])) largest = std::max(largest, std::fabs(gradient[i]));
  return largest;
}

constexpr int most_damping = 5;

// The Newton step on the free places of x, zero on the others: with the exact Hessian (damping 0),
// or with its first part and a ridge of 1e-4 (damping 1), 1e-2, 1, ... of its size, which ends as
// steepest descent. Empty where the exact Hessian is not positive definite.
VectorXd step_of(const Form& form, const Point& at, const VectorXd& gradient,
                 const std::vector<int>& free, int rest, int damping) {
  const int f = static_cast<int>(free.size());
  VectorXd g(f), step = VectorXd::Zero(at.x.size());
  for (int a = 0; a < f; ++a)
    g[a] = gradient[free[a]];
  const MatrixXd whole = hessian_of(form, at, rest, damping == 0);
  MatrixXd h(f, f);
  for (int a = 0; a < f; ++a)
    for (int b = 0; b < f; ++b)
      h(a, b) = whole(free[a], free[b]);
  if (damping)
    h.diagonal().array() += std::pow(100.0, damping - 3) * (1.0 + h.diagonal().maxCoeff());
  Eigen::LLT<MatrixXd> cholesky(h);
  if (cholesky.info() != Eigen::Success) return VectorXd();
  const VectorXd d = -cholesky.solve(g);
  if (!d.allFinite()) return VectorXd();
  for (int a = 0; a < f; ++a)
    step[free[a]] = d[a];
  // a step in logarithms that is out of proportion would overflow
  const double longest = step.cwiseAbs().maxCoeff();
  return longest > 5.0 ? VectorXd(step * (5.0 / longest)) : step;
}

}  // namespace

UniquenessFit fit_uniquenesses(const MatrixXd& correlations, int k, Discrepancy discrepancy,
                               const VectorXd& start, const VectorXd& lowest, double tolerance,
                               int max_iterations) {
  const Form& form = form_of(discrepancy);
  const int p = static_cast<int>(correlations.rows()), rest = p - k;
  const VectorXd bound = form.to_x(lowest);
  const double log_det = log_determinant(correlations);
  Point now = at(form, correlations, log_det, rest, form.to_x(start.cwiseMax(lowest)));
  UniquenessFit fit;
  for (fit.iterations = 0;; ++fit.iterations) {
    const VectorXd gradient = gradient_of(form, now, rest);
    std::vector<int> free;
    for (int i = 0; i < p; ++i)
      if (!held(now.x[i], bound[i], gradient[i])) free.push_back(i);
    fit.gradient = free_gradient(now, gradient, bound);
    fit.converged = fit.gradient <= tolerance;
    if (fit.converged || fit.iterations == max_iterations) break;
    bool fell = false;
    for (int damping = 0; damping <= most_damping && !fell; ++damping) {
      const VectorXd step = step_of(form, now, gradient, free, rest, damping);
      if (!step.size()) continue;
      // a step that the bound bends may climb however short it is: then a more careful one is made
      const double shortest = damping < most_damping ? 1e-3 : 1e-10;
      for (double length = 1.0; length > shortest && !fell; length *= 0.5) {
        const VectorXd x = (now.x + length * step).cwiseMax(bound);
        Point next = at(form, correlations, log_det, rest, x);
        fell = next.value <= now.value + 1e-4 * std::min(0.0, gradient.dot(x - now.x)) + 1e-15;
        // near the optimum rounding hides whether f falls: a falling gradient stands in for it
        if (!fell && std::fabs(next.value - now.value) <= 1e-13 * (1.0 + std::fabs(now.value)))
          fell = free_gradient(next, gradient_of(form, next, rest), bound) < fit.gradient;
        if (fell) now = next;
      }
    }
    if (!fell) break;
  }
  fit.uniquenesses = form.to_psi(now.x);
  fit.discrepancy = now.value;
  fit.residual = now.theta.head(rest).reverse();
  fit.next = now.omega.col(rest - 1);
  fit.loadings.resize(p, k);
  for (int j = 0; j < k; ++j)
    fit.loadings.col(j) =
        form.scale(now.theta, fit.uniquenesses, p - 1 - j).cwiseProduct(now.omega.col(p - 1 - j));
  // least squares with a uniqueness at its bound: the loading has to be held, too
  if (discrepancy == Discrepancy::least_squares &&
      ((fit.uniquenesses - lowest).array() <= 0.0).any())
    hold_communalities(correlations, lowest, tolerance, fit);
  return fit;
}

MatrixXd least_squares_hessian(const MatrixXd& correlations, int k, const VectorXd& psi,
                               VectorXd& gradient, MatrixXd& loadings) {
  const int p = static_cast<int>(correlations.rows()), rest = p - k;
  const Point here = at(least_squares, correlations, 0.0, rest, psi);
  gradient = gradient_of(least_squares, here, rest);
  loadings.resize(p, k);
  for (int j = 0; j < k; ++j)
    loadings.col(j) = std::sqrt(std::max(0.0, here.theta[p - 1 - j])) * here.omega.col(p - 1 - j);
  return hessian_of(least_squares, here, rest, true);
}

double discrepancy_at(const MatrixXd& correlations, int k, Discrepancy discrepancy,
                      const VectorXd& psi, VectorXd& gradient) {
  const Form& form = form_of(discrepancy);
  const int rest = static_cast<int>(correlations.rows()) - k;
  const Point here = at(form, correlations, log_determinant(correlations), rest, form.to_x(psi));
  gradient = gradient_of(form, here, rest);
  return here.value;
}

}  // namespace softsieve
