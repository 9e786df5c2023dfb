#include "core_hierarchy.h"

#include "core_criteria.h"
#include "core_rotation.h"
#include "core_uniqueness.h"
#include "core_weighted.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

UniquenessFit minres(const MatrixXd& r, int k, const VectorXd& start) {
  return fit_uniquenesses(r, k, Discrepancy::least_squares, start,
                          VectorXd::Constant(r.rows(), 0.005), 1e-6, 60);
}

// The same from loadings that are nearly right, not to the last digit.
UniquenessFit minres_by_rows(const MatrixXd& r, const MatrixXd& start) {
  const VectorXd most = VectorXd::Constant(r.rows(), 0.995);
  const WeightedFit rows =
      fit_weighted(r, MatrixXd::Ones(r.rows(), r.cols()), start, most, 1e-4, 60);
  UniquenessFit fit{};
  fit.loadings = rows.loadings;
  fit.uniquenesses = 1.0 - rows.loadings.rowwise().squaredNorm().array();
  return fit;
}

// The turn of `loadings` that comes nearest to `goal`, as a start (Hurley & Cattell 1962;
// Schonemann 1966).
MatrixXd turn_towards(const MatrixXd& loadings, const MatrixXd& goal, Turning turning) {
  if (turning == Turning::orthogonal) {
    Eigen::JacobiSVD<MatrixXd> svd(loadings.transpose() * goal,
                                   Eigen::ComputeFullU | Eigen::ComputeFullV);
    return svd.matrixU() * svd.matrixV().transpose();
  }
  const MatrixXd turn = (loadings.transpose() * loadings).ldlt().solve(loadings.transpose() * goal);
  const MatrixXd t = turn.inverse().transpose();
  return t * t.colwise().norm().cwiseInverse().asDiagonal();
}

// Loadings of k factors on the one that they share.
VectorXd higher_loadings(const MatrixXd& between, OneFactor* memory) {
  const Eigen::Index k = between.rows();
  if (k > 2) {
    VectorXd g = fit_one_factor(between, memory).loadings.col(0);
    if (g.sum() < 0) g = -g;
    return g;
  }
  const double r = between(0, 1), root = std::sqrt(std::fabs(r));
  VectorXd g(2);
  g << root, std::copysign(root, r);
  return g;
}

// general, groups and total of every sum.
void put_parts(const VectorXd& general, const MatrixXd& groups, const VectorXd& uniquenesses,
               const MatrixXd& covariances, const VectorXd& sds, const std::vector<int>& scale_of,
               int scales, int offset, double* out) {
  for (int scale = 0; scale <= scales; ++scale) {
    VectorXd in = VectorXd::Zero(sds.size());
    for (Eigen::Index i = 0; i < in.size(); ++i)
      if (scale == scales || scale_of[static_cast<std::size_t>(i)] == scale) in[i] = 1.0;
    const VectorXd weight = in.cwiseProduct(sds);
    const double variance = in.dot(covariances * in);
    double* here = out + hierarchy_count * scale + offset;
    here[0] = std::pow(weight.dot(general), 2) / variance;
    here[1] = (groups.transpose() * weight).squaredNorm() / variance;
    here[2] = 1.0 - weight.cwiseAbs2().dot(uniquenesses) / variance;
  }
}

}  // namespace

void measure_hierarchy(const MatrixXd& correlations, const VectorXd& sds,
                       const std::vector<int>& scale_of, int scales, const HierarchyStart& start,
                       double* out, OneFactor* higher, bool quick) {
  std::fill(out, out + hierarchy_count * (scales + 1), std::numeric_limits<double>::quiet_NaN());
  const MatrixXd covariances = sds.asDiagonal() * correlations * sds.asDiagonal();
  const int p = static_cast<int>(sds.size()), k = static_cast<int>(start.pattern.cols());
  const double near = quick ? 1e-4 : 1e-5;
  const UniquenessFit fit = quick ? minres_by_rows(correlations, start.unrotated)
                                  : minres(correlations, k, start.uniquenesses);
  const MatrixXd begin = turn_towards(fit.loadings, start.pattern, Turning::oblique);
  if (begin.allFinite()) {
    const Rotation turned = rotate_from(fit.loadings, begin, Turning::oblique,
                                        make_criterion({"oblimin", 0.0, p, k, {}, {}}), near, 300);
    const VectorXd g =
        higher_loadings(turned.transformation.transpose() * turned.transformation, higher);
    const VectorXd own = (1.0 - g.array().square()).max(0.0).sqrt();
    put_parts(turned.loadings * g, turned.loadings * own.asDiagonal(), fit.uniquenesses,
              covariances, sds, scale_of, scales, 0, out);
  }
  if (start.bifactor.cols() < 2) return;
  const int more = static_cast<int>(start.bifactor.cols());
  const UniquenessFit wide = quick ? minres_by_rows(correlations, start.bifactor)
                                   : minres(correlations, more, start.bifactor_uniquenesses);
  const Rotation turned = rotate_from(
      wide.loadings, turn_towards(wide.loadings, start.bifactor, Turning::orthogonal),
      Turning::orthogonal, make_criterion({"bifactor-quartimin", 0.0, p, more, {}, {}}), near, 300);
  put_parts(turned.loadings.col(0), turned.loadings.rightCols(more - 1), wide.uniquenesses,
            covariances, sds, scale_of, scales, 3, out);
}

}  // namespace softsieve
