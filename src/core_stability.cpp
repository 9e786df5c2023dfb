#include "core_stability.h"

#include "core_align.h"
#include "core_people_sums.h"
#include "core_product.h"
#include "core_random.h"
#include "core_search.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace softsieve {

namespace {

using Eigen::Index;
using Eigen::MatrixXd;
using Eigen::VectorXd;

// Gradients below these are ends: what they leave is far below what draws differ by.
constexpr double extracted_enough = 1e-6, turned_enough = 1e-6;
constexpr int most_steps = 200, most_turns = 1000;

struct Extracted {
  MatrixXd loadings;  // for items of variance 1
  VectorXd uniquenesses;
  bool found, improper;
};

Extracted leading_components(const MatrixXd& s, int k) {
  Eigen::SelfAdjointEigenSolver<MatrixXd> solver(s);
  const VectorXd root = solver.eigenvalues().tail(k).cwiseMax(0.0).cwiseSqrt();
  Extracted out{solver.eigenvectors().rightCols(k) * root.asDiagonal(), {}, true, false};
  out.uniquenesses = s.diagonal() - out.loadings.rowwise().squaredNorm();
  return out;
}

bool at_bound(const VectorXd& psi, const VectorXd& lowest) {
  return ((psi - lowest).array() <= 1e-6 * lowest.array() + 1e-9).any();
}

Extracted search_near(const MatrixXd& s, int k, const SolutionPlan& plan) {
  const VectorXd variance = s.diagonal(), lowest = plan.lowest * variance;
  const auto from = [&](const VectorXd& start) {
    return fit_uniquenesses(s, k, plan.discrepancy, start.cwiseMax(lowest), lowest,
                            extracted_enough, most_steps);
  };
  UniquenessFit best = from(plan.start.cwiseProduct(variance));
  const auto ended = [](const UniquenessFit& fit) {
    return fit.converged && std::isfinite(fit.discrepancy);
  };
  if (!plan.many || !ended(best)) {
    const UniquenessFit usual = from(usual_uniquenesses(s));
    if (!ended(best) || (ended(usual) && usual.discrepancy < best.discrepancy)) best = usual;
  }
  if (!ended(best) || at_bound(best.uniquenesses, lowest))
    best =
        search_discrepancy(s, k, plan.discrepancy, lowest, extracted_enough, most_steps, {2, false})
            .best;
  return {best.loadings, best.uniquenesses,
          best.gradient <= 1e-4 && best.loadings.allFinite() && best.uniquenesses.allFinite(),
          at_bound(best.uniquenesses, lowest)};
}

// Loadings of items of variance 1; maximum likelihood and generalised least squares may give an
// item at its bound another variance than was observed, and its loadings are for that one.
void standardise(Extracted& found, const VectorXd& variance, const SolutionPlan& plan) {
  VectorXd unit = variance;
  const bool fits_variance = !plan.components && plan.discrepancy != Discrepancy::least_squares;
  for (Index i = 0; fits_variance && i < unit.size(); ++i) {
    const double fitted = found.loadings.row(i).squaredNorm() + found.uniquenesses[i];
    const bool own = found.uniquenesses[i] <= (plan.lowest + 1e-8) * variance[i] ||
                     fitted > (1.0 + 1e-8) * variance[i];
    if (own) unit[i] = fitted;
  }
  found.loadings = unit.cwiseSqrt().cwiseInverse().asDiagonal() * found.loadings;
}

// Columns of length 1.
MatrixXd unit_columns(MatrixXd t) {
  for (Index j = 0; j < t.cols(); ++j)
    t.col(j) /= t.col(j).norm();
  return t;
}

// The turn that brings A nearest to the target: orthogonal by the singular vectors of A'B
// (Schonemann 1966), oblique by least squares with factors of variance 1 (Hurley & Cattell 1962).
MatrixXd nearest_turn(const MatrixXd& a, const MatrixXd& target, Turning turning) {
  const MatrixXd between = a.transpose() * target;
  if (turning == Turning::oblique) {
    const MatrixXd axes = (a.transpose() * a).ldlt().solve(between);
    const MatrixXd factors = unit_columns(axes.inverse().transpose());
    if (factors.allFinite()) return factors;
  }
  if (turning == Turning::reference) {
    const MatrixXd axes = unit_columns((a.transpose() * a).ldlt().solve(between));
    if (axes.allFinite()) return axes;
  }
  Eigen::JacobiSVD<MatrixXd> parts(between, Eigen::ComputeFullU | Eigen::ComputeFullV);
  return parts.matrixU() * parts.matrixV().transpose();
}

struct Pattern {
  MatrixXd loadings, correlations;
};

// The best of several starts.
Pattern rotate_alike(const MatrixXd& a, const SolutionPlan& plan, std::uint64_t seed) {
  const Index k = a.cols();
  if (!plan.turned || k == 1) return {a, MatrixXd::Identity(k, k)};
  Rotation best = rotate_from(a, nearest_turn(a, plan.target, plan.turning), plan.turning,
                              plan.criterion, turned_enough, most_turns);
  for (int i = 1; i < plan.starts; ++i) {
    const MatrixXd start =
        random_orthogonal(static_cast<int>(k), Stream(seed, static_cast<std::uint64_t>(i)));
    const Rotation end =
        rotate_from(a, start, plan.turning, plan.criterion, turned_enough, most_turns);
    if (end.value < best.value - 1e-7 * (1.0 + std::fabs(best.value))) best = end;
  }
  MatrixXd t = best.transformation;
  if (plan.turning == Turning::reference) {
    t = unit_columns(t.inverse().transpose());
    return {a * t.inverse().transpose(), t.transpose() * t};
  }
  if (plan.turning == Turning::orthogonal) return {best.loadings, MatrixXd::Identity(k, k)};
  return {best.loadings, t.transpose() * t};
}

}  // namespace

std::size_t numbers_of_solution(Index items, Index factors) {
  return static_cast<std::size_t>(items * factors + factors * factors + 2 * items + factors + 1);
}

void solve_alike(const MatrixXd& r, const VectorXd& sds, const SolutionPlan& plan,
                 std::uint64_t seed, double* out) {
  const Index p = r.rows(), k = plan.target.cols();
  std::fill(out, out + numbers_of_solution(p, k), std::numeric_limits<double>::quiet_NaN());
  if (!r.allFinite()) return;
  MatrixXd s = r;
  if (plan.covariances) {
    s = sds.asDiagonal() * r * sds.asDiagonal();
    s /= s.diagonal().mean();
  }
  const int factors = static_cast<int>(k);
  Extracted found =
      plan.components ? leading_components(s, factors) : search_near(s, factors, plan);
  if (!found.found) return;
  standardise(found, s.diagonal(), plan);
  const Pattern pattern = rotate_alike(found.loadings, plan, seed);
  if (!pattern.loadings.allFinite() || !pattern.correlations.allFinite()) return;
  const Alignment alignment = align_factors(pattern.loadings, plan.target);
  const MatrixXd loadings = align_columns(pattern.loadings, alignment);
  const MatrixXd between = align_square(pattern.correlations, alignment);
  double* at = std::copy(loadings.data(), loadings.data() + loadings.size(), out);
  at = std::copy(between.data(), between.data() + between.size(), at);
  const VectorXd common = (loadings * between).cwiseProduct(loadings).rowwise().sum();
  at = std::copy(common.data(), common.data() + p, at);
  at = std::copy(alignment.congruence.data(), alignment.congruence.data() + k, at);
  SpectrumSolver(static_cast<int>(p), plan.basis).compute(r, at);
  at[p] = found.improper ? 1.0 : 0.0;
}

namespace {

// How often units count in a column: a draw, or one of two halves.
VectorXd counts_of(const Units& units, std::size_t column, std::size_t replicates,
                   std::uint64_t seed) {
  if (column < replicates) return draw_units(units, seed, column);
  const std::size_t number = column - replicates;
  const VectorXd half = halve_units(units, seed, number / 2);
  return number % 2 ? VectorXd(VectorXd::Ones(half.size()) - half) : half;
}

}  // namespace

Status resample_solution(const DrawnPeople& drawn, const SolutionPlan& plan, std::size_t replicates,
                         const ColumnRange& range, int most_single, int parts, std::uint64_t seed,
                         int threads, double* out, const Watch& watch) {
  const Index n = drawn.answers.rows();
  const VectorXd base = drawn.weights.empty()
                            ? VectorXd(VectorXd::Ones(n))
                            : VectorXd(Eigen::Map<const VectorXd>(drawn.weights.data(), n));
  PeoplePlan all;
  all.answers = drawn.answers;
  all.dealt = drawn.dealt;
  all.scales = 0;
  all.ordinal = false;
  const People people(all);
  const std::size_t columns = range.last - range.first;
  const std::size_t rows_out = numbers_of_solution(drawn.answers.cols(), plan.target.cols());
  // the streams of rotation are apart from those of the draws
  const auto turning_seed = [seed](std::size_t column) {
    return Stream(seed, (std::uint64_t{1} << 42) + column).bits();
  };
  SolutionPlan near = plan;
  near.many = drawn.dealt || n > most_single;
  const auto solve = [&](const MatrixXd& r, const VectorXd& sds, std::size_t column) {
    solve_alike(r, sds, near, turning_seed(column), out + (column - range.first) * rows_out);
  };
  if (!near.many) {
    auto make_worker = [&] {
      return [&](std::size_t i) {
        const std::size_t column = range.first + i;
        const VectorXd counts = counts_of(drawn.units, column, replicates, seed);
        const VectorXd w = spread_over_people(drawn.units, counts).cwiseProduct(base);
        MatrixXd r;
        VectorXd sds;
        moments_of_weights(people, w, r, sds);
        r.diagonal().setOnes();
        solve(r, sds, column);
      };
    };
    return run_replicates(columns, threads, make_worker, watch);
  }
  const Units units = !drawn.dealt && drawn.units.count() > 2 * parts
                          ? deal_units(drawn.units, parts, seed)
                          : drawn.units;
  const SumRows rows(people);
  const MatrixXd sums = drawn.dealt ? sum_deals(people, rows)
                                    : sum_parts(people, rows, units.unit_of, units.count(), base);
  auto make_worker = [&] {
    return [&](std::size_t batch) {
      const std::size_t from = range.first + batch * columns_at_once,
                        to = std::min(range.last, from + columns_at_once);
      MatrixXd w(units.count(), static_cast<Index>(to - from));
      for (std::size_t column = from; column < to; ++column)
        w.col(static_cast<Index>(column - from)) = counts_of(units, column, replicates, seed);
      const MatrixXd sums_drawn = product_of(sums, w);
      MatrixXd r;
      VectorXd sds;
      for (std::size_t column = from; column < to; ++column) {
        moments_of_sums(people, rows, sums_drawn.col(static_cast<Index>(column - from)).data(), r,
                        sds);
        solve(r, sds, column);
      }
    };
  };
  const Watch count = [&](std::size_t done) {
    return watch(std::min(done * columns_at_once, columns));
  };
  return run_replicates((columns + columns_at_once - 1) / columns_at_once, threads, make_worker,
                        count);
}

}  // namespace softsieve
