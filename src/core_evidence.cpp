#include "core_evidence.h"

#include "core_search.h"
#include "core_uniqueness.h"

#include <Eigen/Cholesky>
#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>
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

MatrixXd features_of(const Evidence& evidence, int n, const VectorXd& chance,
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
  std::vector<std::vector<double>> rows;
  for (int j = 0; j <= most; ++j) {
    const Rung &now = ladder[j], &more = ladder[j + 1], &two = ladder[std::min(j + 2, last)];
    const double chi = people(j) * now.discrepancy, chi_more = people(j + 1) * more.discrepancy;
    const double edge = std::pow(1.0 + std::sqrt((p - j) / static_cast<double>(n)), 2);
    const double edge_next = std::pow(1.0 + std::sqrt((p - j - 1.0) / static_cast<double>(n)), 2);
    const double gain_df = df(j) - df(j + 1);
    const double gain = n * (now.discrepancy - more.discrepancy);
    const auto misfit = [n](double chi, double df) { return (chi - df) / (std::max(1.0, df) * n); };
    rows.push_back({above(j),
                    above(j + 1),
                    j ? above(j - 1) : 0.0,
                    above_reduced(j),
                    above_reduced(j + 1),
                    j ? above_reduced(j - 1) : 0.0,
                    evidence.eigenvalues[j] - kaiser_reference(evidence.eigenvalues, j, n),
                    std::log(evidence.eigenvalues[j] / evidence.eigenvalues[j + 1]),
                    std::log(evidence.eigenvalues[j + 1] / evidence.eigenvalues[j + 2]),
                    std::log(evidence.partial_squares[j] / evidence.partial_squares[j + 1]),
                    std::log(evidence.partial_fourths[j] / evidence.partial_fourths[j + 1]),
                    std::log(now.next / edge),
                    std::log(now.second / edge_next),
                    std::log(more.next / edge_next),
                    tame((chi - df(j)) / std::sqrt(2.0 * std::max(1.0, df(j)))),
                    tame((chi_more - df(j + 1)) / std::sqrt(2.0 * std::max(1.0, df(j + 1)))),
                    std::copysign(std::sqrt(std::fabs(misfit(chi, df(j)))), misfit(chi, df(j))),
                    std::copysign(std::sqrt(std::fabs(misfit(chi_more, df(j + 1)))),
                                  misfit(chi_more, df(j + 1))),
                    tame(gain / gain_df - 1.0),
                    tame(gain - gain_df * std::log(static_cast<double>(n))),
                    std::log((chi + 1.0) / (null_chi + 1.0)),
                    std::log((chi_more + 1.0) / (chi + 1.0)),
                    now.residual * 10.0,
                    more.residual * 10.0,
                    std::log((more.residual + 1e-3) / (now.residual + 1e-3)),
                    std::log(now.spread),
                    now.spread / p,
                    std::log(more.weakest + 0.02),
                    more.weakest_mean,
                    std::min(8, more.weakest_items) / 4.0,
                    more.weakest_top,
                    j ? std::log(now.weakest + 0.02) : 1.0,
                    j ? now.weakest_mean : 1.0,
                    j ? std::min(8, now.weakest_items) / 4.0 : 1.0,
                    j ? now.weakest_top : 1.0,
                    more.proper ? 0.0 : 1.0,
                    std::log(two.weakest + 0.02),
                    two.weakest_mean,
                    std::min(8, two.weakest_items) / 4.0,
                    tame(n * (more.discrepancy - two.discrepancy) / gain_df - 1.0),
                    beyond(by_chance, j),
                    beyond(by_reduced, j),
                    beyond(by_kaiser, j),
                    beyond(by_bic, j),
                    std::log(n / 400.0),
                    std::log(p / 20.0),
                    std::log(p / static_cast<double>(n)),
                    evidence.squared_multiple,
                    j / 4.0,
                    10.0 * j / p,
                    evidence.eigenvalues[0] / p});
  }
  MatrixXd out(most + 1, static_cast<int>(rows[0].size()));
  for (int j = 0; j <= most; ++j)
    for (Eigen::Index f = 0; f < out.cols(); ++f)
      out(j, f) = rows[j][f];
  return out;
}

}  // namespace softsieve
