#include "core_evidence.h"

#include "core_search.h"
#include "core_uniqueness.h"

#include <Eigen/Cholesky>
#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>
#include <utility>
#include <functional>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr double lowest_uniqueness = 0.005;
constexpr int rung_searches = 30, rung_searches_of_many = 12;  // at most; of more than 30 items

// The eigenvalue of rank j (from 0) beyond which noise does not reach, given the larger ones: the
// empirical Kaiser criterion's reference (Braeken & van Assen 2017, Psychol. Methods 22, 450-466).
double kaiser_reference(const VectorXd& eigenvalues, int j, int n) {
  const double p = static_cast<double>(eigenvalues.size()), edge = 1.0 + std::sqrt(p / n);
  return std::max(1.0, (p - eigenvalues.head(j).sum()) / (p - j) * edge * edge);
}

// Describes the factor of a varimax solution that explains least.
void describe_weakest(const MatrixXd& loadings, Rung& rung) {
  const int p = static_cast<int>(loadings.rows());
  Eigen::Index weakest;
  rung.weakest = loadings.colwise().squaredNorm().minCoeff(&weakest);
  std::vector<double> sizes(p);
  rung.weakest_items = 0;
  double sum = 0.0;
  for (int i = 0; i < p; ++i) {
    Eigen::Index home;
    loadings.row(i).cwiseAbs().maxCoeff(&home);
    sizes[i] = std::fabs(loadings(i, weakest));
    if (home != weakest) continue;
    ++rung.weakest_items;
    sum += sizes[i];
  }
  rung.weakest_mean = rung.weakest_items ? sum / rung.weakest_items : 0.0;
  std::sort(sizes.begin(), sizes.end(), std::greater<double>());
  rung.weakest_top = sizes[std::min(2, p - 1)];
}

Rung describe(const UniquenessFit& fit, const MatrixXd& correlations) {
  Rung rung{};
  const int p = static_cast<int>(correlations.rows());
  rung.discrepancy = fit.discrepancy;
  rung.gradient = fit.gradient;
  rung.converged = fit.converged;
  rung.proper = fit.uniquenesses.minCoeff() > lowest_uniqueness * 1.001;
  rung.next = fit.residual[0];
  rung.second = fit.residual.size() > 1 ? fit.residual[1] : fit.residual[0];
  rung.spread = 1.0 / fit.next.array().square().square().sum();
  const MatrixXd left = correlations - fit.loadings * fit.loadings.transpose();
  // in an exact fit rounding may leave a sum of squares a little below 0
  rung.residual = std::sqrt(std::max(0.0, left.squaredNorm() - left.diagonal().squaredNorm()) /
                            (p * (p - 1.0)));
  if (fit.loadings.cols()) describe_weakest(varimax_planes(fit.loadings), rung);
  return rung;
}

// A number of any size and sign made comparable: the sign times ln(1 + size).
double tame(double x) {
  return std::copysign(std::log1p(std::fabs(x)), x);
}

}  // namespace

void average_partials(const MatrixXd& correlations, VectorXd& squares, VectorXd& fourths) {
  const int p = static_cast<int>(correlations.rows());
  const double pairs = p * (p - 1.0);
  Eigen::SelfAdjointEigenSolver<MatrixXd> solver(correlations);
  MatrixXd left = correlations;
  squares.setConstant(p, 1.0);
  fourths.setConstant(p, 1.0);
  for (int m = 0; m < p; ++m) {
    const VectorXd diagonal = left.diagonal();
    if (diagonal.minCoeff() < 1e-10) break;  // an item is used up: partial correlations end here
    const VectorXd scale = diagonal.cwiseSqrt().cwiseInverse();
    const Eigen::ArrayXXd partial2 =
        (scale.asDiagonal() * left * scale.asDiagonal()).array().square();
    squares[m] = (partial2.sum() - p) / pairs;
    fourths[m] = (partial2.square().sum() - p) / pairs;
    const auto component = solver.eigenvectors().col(p - 1 - m);
    left.noalias() -= solver.eigenvalues()[p - 1 - m] * component * component.transpose();
  }
}

MatrixXd varimax_planes(MatrixXd loadings) {
  const int k = static_cast<int>(loadings.cols());
  const double p = static_cast<double>(loadings.rows());
  for (int sweep = 0; sweep < 30; ++sweep) {
    double turned = 0.0;
    for (int a = 0; a < k; ++a) {
      for (int b = a + 1; b < k; ++b) {
        const Eigen::ArrayXd x = loadings.col(a), y = loadings.col(b);
        const Eigen::ArrayXd u = x.square() - y.square(), v = 2.0 * x * y;
        const double top = 2.0 * ((u * v).sum() - u.sum() * v.sum() / p);
        const double bottom =
            (u.square() - v.square()).sum() - (u.sum() * u.sum() - v.sum() * v.sum()) / p;
        const double angle = 0.25 * std::atan2(top, bottom);
        turned = std::max(turned, std::fabs(angle));
        loadings.col(a) = std::cos(angle) * x + std::sin(angle) * y;
        loadings.col(b) = std::cos(angle) * y - std::sin(angle) * x;
      }
    }
    if (turned < 1e-5) break;
  }
  return loadings;
}

namespace {

UniquenessFit rung_fit(const MatrixXd& correlations, int k, const VectorXd& unique, bool thorough) {
  const int p = static_cast<int>(correlations.rows());
  const VectorXd lowest = VectorXd::Constant(p, lowest_uniqueness);
  const Discrepancy method = Discrepancy::maximum_likelihood;
  // without factors every uniqueness is 1: the fit is there before the first step
  if (!k) return fit_uniquenesses(correlations, 0, method, VectorXd::Ones(p), lowest, 1e-5, 0);
  if (thorough)
    return search_discrepancy(correlations, k, method, lowest, 1e-6, 100,
                              {2, true, p > 30 ? rung_searches_of_many : rung_searches})
        .best;
  return fit_uniquenesses(correlations, k, method, (1.0 - 0.5 * k / p) * unique, lowest, 1e-5, 60);
}

}  // namespace

Evidence gather_evidence(const MatrixXd& correlations, int most, bool thorough) {
  const int p = static_cast<int>(correlations.rows());
  Evidence evidence;
  evidence.eigenvalues =
      Eigen::SelfAdjointEigenSolver<MatrixXd>(correlations, Eigen::EigenvaluesOnly)
          .eigenvalues()
          .reverse();
  const VectorXd unique =
      correlations.llt().solve(MatrixXd::Identity(p, p)).diagonal().cwiseInverse();
  MatrixXd reduced = correlations;
  reduced.diagonal() -= unique;
  evidence.reduced = Eigen::SelfAdjointEigenSolver<MatrixXd>(reduced, Eigen::EigenvaluesOnly)
                         .eigenvalues()
                         .reverse();
  evidence.squared_multiple = 1.0 - unique.mean();
  average_partials(correlations, evidence.partial_squares, evidence.partial_fourths);
  for (int k = 0; k <= most; ++k) {
    evidence.ladder.push_back(describe(rung_fit(correlations, k, unique, thorough), correlations));
  }
  return evidence;
}

Features features_of(const Evidence& evidence, int n, const VectorXd& chance,
                     const VectorXd& chance_reduced, int most) {
  const int p = static_cast<int>(evidence.eigenvalues.size());
  const auto& ladder = evidence.ladder;
  // Bartlett's correction of the chi-square
  const auto people = [&](int k) {
    return std::max(1.0, n - 1 - (2.0 * p + 5.0) / 6.0 - 2.0 * k / 3.0);
  };
  const auto df = [p](int k) { return 0.5 * ((p - k) * (p - k) - (p + k)); };
  const auto above = [&](int j) { return evidence.eigenvalues[j] - chance[j]; };
  const auto above_reduced = [&](int j) { return evidence.reduced[j] - chance_reduced[j]; };
  const double null_chi = people(0) * ladder[0].discrepancy;
  // what some rules suggest: how far j is from them
  const auto leading = [most](const std::function<bool(int)>& holds) {
    int j = 0;
    while (j <= most && holds(j))
      ++j;
    return j;
  };
  const int by_chance = leading([&](int j) { return above(j) > 0.0; });
  const int by_reduced = leading([&](int j) { return above_reduced(j) > 0.0; });
  const int by_kaiser = leading([&](int j) {
    return evidence.eigenvalues[j] > kaiser_reference(evidence.eigenvalues, j, n);
  });
  const auto bic = [&](int k) {
    return n * ladder[k].discrepancy - df(k) * std::log(static_cast<double>(n));
  };
  int by_bic = 0;
  for (int k = 1; k <= most + 1; ++k)
    if (bic(k) < bic(by_bic)) by_bic = k;
  const auto beyond = [](int suggested, int j) {
    return std::max(-3, std::min(3, suggested - j)) / 2.0;
  };
  const int last = static_cast<int>(ladder.size()) - 1;
  std::vector<std::vector<std::pair<const char*, double>>> rows;
  for (int j = 0; j <= most; ++j) {
    const Rung &now = ladder[j], &more = ladder[j + 1], &two = ladder[std::min(j + 2, last)];
    const double chi = people(j) * now.discrepancy, chi_more = people(j + 1) * more.discrepancy;
    const double edge = std::pow(1.0 + std::sqrt((p - j) / static_cast<double>(n)), 2);
    const double edge_next = std::pow(1.0 + std::sqrt((p - j - 1.0) / static_cast<double>(n)), 2);
    const double gain_df = df(j) - df(j + 1);
    const double gain = n * (now.discrepancy - more.discrepancy);
    const auto misfit = [n](double chi, double df) { return (chi - df) / (std::max(1.0, df) * n); };
    rows.push_back(
        {{"above", above(j)},
         {"above_next", above(j + 1)},
         {"above_before", j ? above(j - 1) : 0.0},
         {"reduced_above", above_reduced(j)},
         {"reduced_above_next", above_reduced(j + 1)},
         {"reduced_above_before", j ? above_reduced(j - 1) : 0.0},
         {"above_kaiser", evidence.eigenvalues[j] - kaiser_reference(evidence.eigenvalues, j, n)},
         {"log_gap", std::log(evidence.eigenvalues[j] / evidence.eigenvalues[j + 1])},
         {"log_gap_next", std::log(evidence.eigenvalues[j + 1] / evidence.eigenvalues[j + 2])},
         {"log_partial_fall",
          std::log(evidence.partial_squares[j] / evidence.partial_squares[j + 1])},
         {"log_partial_fourth_fall",
          std::log(evidence.partial_fourths[j] / evidence.partial_fourths[j + 1])},
         {"left_beyond_edge", std::log(now.next / edge)},
         {"left_second_beyond_edge", std::log(now.second / edge_next)},
         {"left_next_beyond_edge", std::log(more.next / edge_next)},
         {"misfit", tame((chi - df(j)) / std::sqrt(2.0 * std::max(1.0, df(j))))},
         {"misfit_next", tame((chi_more - df(j + 1)) / std::sqrt(2.0 * std::max(1.0, df(j + 1))))},
         {"misfit_root",
          std::copysign(std::sqrt(std::fabs(misfit(chi, df(j)))), misfit(chi, df(j)))},
         {"misfit_root_next", std::copysign(std::sqrt(std::fabs(misfit(chi_more, df(j + 1)))),
                                            misfit(chi_more, df(j + 1)))},
         {"gain", tame(gain / gain_df - 1.0)},
         {"gain_beyond_bic", tame(gain - gain_df * std::log(static_cast<double>(n)))},
         {"log_share_of_null", std::log((chi + 1.0) / (null_chi + 1.0))},
         {"log_fall", std::log((chi_more + 1.0) / (chi + 1.0))},
         {"residual", now.residual * 10.0},
         {"residual_next", more.residual * 10.0},
         {"log_residual_fall", std::log((more.residual + 1e-3) / (now.residual + 1e-3))},
         {"log_spread", std::log(now.spread)},
         {"spread_share", now.spread / p},
         {"weakest_next_size", std::log(more.weakest + 0.02)},
         {"weakest_next_mean", more.weakest_mean},
         {"weakest_next_items", std::min(8, more.weakest_items) / 4.0},
         {"weakest_next_top", more.weakest_top},
         {"weakest_size", j ? std::log(now.weakest + 0.02) : 1.0},
         {"weakest_mean", j ? now.weakest_mean : 1.0},
         {"weakest_items", j ? std::min(8, now.weakest_items) / 4.0 : 1.0},
         {"weakest_top", j ? now.weakest_top : 1.0},
         {"improper_next", more.proper ? 0.0 : 1.0},
         {"weakest_two_size", std::log(two.weakest + 0.02)},
         {"weakest_two_mean", two.weakest_mean},
         {"weakest_two_items", std::min(8, two.weakest_items) / 4.0},
         {"gain_two", tame(n * (more.discrepancy - two.discrepancy) / gain_df - 1.0)},
         {"from_chance", beyond(by_chance, j)},
         {"from_reduced", beyond(by_reduced, j)},
         {"from_kaiser", beyond(by_kaiser, j)},
         {"from_bic", beyond(by_bic, j)},
         {"log_people", std::log(n / 400.0)},
         {"log_items", std::log(p / 20.0)},
         {"log_items_per_person", std::log(p / static_cast<double>(n))},
         {"squared_multiple", evidence.squared_multiple},
         {"factors", j / 4.0},
         {"factors_per_item", 10.0 * j / p},
         {"first_share", evidence.eigenvalues[0] / p}});
  }
  Features out{{}, MatrixXd(most + 1, static_cast<int>(rows[0].size()))};
  for (const auto& one : rows[0])
    out.names.push_back(one.first);
  for (int j = 0; j <= most; ++j)
    for (Eigen::Index f = 0; f < out.values.cols(); ++f)
      out.values(j, f) = rows[j][f].second;
  return out;
}

}  // namespace softsieve
