#include "core_bounded.h"

#include "core_weighted.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr int newton_steps = 30;
constexpr int cycles_before = 60, cycles_at_most = 20000;

// f, the sum of squared residuals over pairs.
double misfit(const MatrixXd& r, const MatrixXd& loadings) {
  const MatrixXd away = r - loadings * loadings.transpose();
  return 0.5 * (away.squaredNorm() - away.diagonal().squaredNorm());
}

// D of a point that the rows' minima have reached: what is left of the variance, and the pull where
// it is held.
VectorXd diagonal_at(const MatrixXd& r, const MatrixXd& loadings, const VectorXd& most) {
  const VectorXd size = loadings.rowwise().squaredNorm();
  VectorXd d = r.diagonal() - size;
  for (Eigen::Index i = 0; i < d.size(); ++i) {
    if (size[i] < most[i] - 1e-9 || size[i] <= 0.0) continue;
    const double outward = loadings.row(i).dot(
        (r.col(i) - loadings * loadings.row(i).transpose()).transpose() * loadings);
    // the item's own residual takes no part
    d[i] += std::max(0.0, outward / size[i] - (r(i, i) - size[i]));
  }
  return d;
}

// Newton steps on min(g, b) = 0. True when it was solved; loadings then are the answer.
bool settle(const MatrixXd& r, const VectorXd& lowest, double tolerance, VectorXd d,
            MatrixXd& loadings) {
  const Eigen::Index p = r.rows();
  const int k = static_cast<int>(loadings.cols());
  VectorXd pull, phi(p);
  MatrixXd now;
  double size = 0.0;
  const auto look = [&](const VectorXd& at) {
    MatrixXd hessian = least_squares_hessian(r, k, at, pull, now);
    const VectorXd room = at - pull - lowest;
    phi = pull.cwiseMin(room);
    size = phi.cwiseAbs().maxCoeff();
    for (Eigen::Index i = 0; i < p; ++i)
      if (pull[i] > room[i]) hessian.row(i) = MatrixXd::Identity(p, p).row(i) - hessian.row(i);
    return hessian;
  };
  MatrixXd jacobian = look(d);
  for (int step = 0; step < newton_steps && size > tolerance; ++step) {
    const VectorXd move = jacobian.partialPivLu().solve(phi), from = d;
    const double before = size;
    if (!move.allFinite()) return false;
    for (double length = 1.0; length > 1e-3; length *= 0.5) {
      d = from - length * move;
      jacobian = look(d);
      if (size < before) break;
    }
    if (!(size < before)) return false;
  }
  if (!(size <= tolerance)) return false;
  loadings = now;
  return true;
}

}  // namespace

void hold_communalities(const MatrixXd& r, const VectorXd& lowest, double tolerance,
                        UniquenessFit& fit) {
  const VectorXd most = r.diagonal() - lowest;
  MatrixXd weights = MatrixXd::Ones(r.rows(), r.cols());
  WeightedFit rows =
      fit_weighted(r, weights, fit.loadings, most, std::max(tolerance, 1e-4), cycles_before);
  MatrixXd ended = rows.loadings;
  int cycles = rows.iterations;
  const bool settled = settle(r, lowest, tolerance, diagonal_at(r, rows.loadings, most), ended) &&
                       misfit(r, ended) <= misfit(r, rows.loadings) + 1e-12;
  if (settled) {
    // rounding may leave a held row a hair too long
    rows = fit_weighted(r, weights, ended, most, tolerance, 0);
  } else {
    rows = fit_weighted(r, weights, rows.loadings, most, tolerance, cycles_at_most);
  }
  fit.iterations += cycles + rows.iterations;
  fit.loadings = rows.loadings;
  fit.uniquenesses = (r.diagonal() - fit.loadings.rowwise().squaredNorm()).cwiseMax(lowest);
  fit.discrepancy = misfit(r, fit.loadings);
  fit.gradient = rows.gradient;
  fit.converged = fit.gradient <= tolerance;
}

}  // namespace softsieve
