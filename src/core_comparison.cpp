#include "core_comparison.h"

#include "core_eigenvalues.h"
#include "core_polychoric.h"

#include <algorithm>
#include <cmath>

namespace softsieve {

using Eigen::MatrixXd;
using Eigen::VectorXd;

namespace {

// Mean and standard deviation of a cut item.
void moments_when_cut(const Cutting& item, double& mean, double& spread) {
  double square = 0.0, before = 0.0;
  mean = 0.0;
  for (std::size_t c = 0; c < item.values.size(); ++c) {
    const double upto = c < item.thresholds.size() ? normal_below(item.thresholds[c]) : 1.0;
    mean += (upto - before) * item.values[c];
    square += (upto - before) * item.values[c] * item.values[c];
    before = upto;
  }
  spread = std::sqrt(std::max(0.0, square - mean * mean));
}

}  // namespace

double correlation_when_cut(const Cutting& first, const Cutting& second, double rho) {
  double mean, spread_first, spread_second, covariance = 0.0;
  moments_when_cut(first, mean, spread_first);
  moments_when_cut(second, mean, spread_second);
  for (std::size_t a = 0; a < first.thresholds.size(); ++a) {
    const double h = first.thresholds[a], below = normal_below(h);
    for (std::size_t b = 0; b < second.thresholds.size(); ++b) {
      const double k = second.thresholds[b];
      covariance += (first.values[a + 1] - first.values[a]) *
                    (second.values[b + 1] - second.values[b]) *
                    (bivariate_below(h, k, rho) - below * normal_below(k));
    }
  }
  return covariance / (spread_first * spread_second);
}

double latent_correlation(const Cutting& first, const Cutting& second, double r) {
  double low = -0.99, high = 0.99, at_low = correlation_when_cut(first, second, low),
         at_high = correlation_when_cut(first, second, high);
  if (!(r > at_low)) return low;
  if (!(r < at_high)) return high;
  double rho = std::max(-0.9, std::min(0.9, r));
  for (int step = 0; step < 60;
       ++step) {  // the secant within a bracket, halved when it does not close in
    const double value = correlation_when_cut(first, second, rho);
    if (std::fabs(value - r) < 1e-9) break;
    if (value < r) {
      low = rho;
      at_low = value;
    } else {
      high = rho;
      at_high = value;
    }
    const double width = high - low, secant = low + (r - at_low) / (at_high - at_low) * width;
    rho = step % 4 == 3 ? 0.5 * (low + high)
                        : std::max(low + 1e-3 * width, std::min(high - 1e-3 * width, secant));
  }
  return rho;
}

MatrixXd latent_correlations(const std::vector<Cutting>& items, const MatrixXd& correlations,
                             int threads) {
  const int p = static_cast<int>(items.size());
  MatrixXd latent = MatrixXd::Identity(p, p);
  const auto make_worker = [&] {
    return [&](std::size_t i) {
      const int row = static_cast<int>(i);
      for (int j = 0; j < row; ++j)
        latent(row, j) = latent_correlation(items[i], items[j], correlations(row, j));
    };
  };
  run_replicates(items.size(), threads, make_worker, watch_nothing);
  return latent.selfadjointView<Eigen::Lower>();
}

Status comparison_misfits(const MatrixXd& loadings, const VectorXd& uniquenesses,
                          const std::vector<Cutting>& items, int people, const VectorXd& observed,
                          std::size_t first, std::size_t replicates, std::uint64_t seed,
                          int threads, double* out, const Watch& watch) {
  const int p = static_cast<int>(loadings.rows()), k = static_cast<int>(loadings.cols());
  const VectorXd unique = uniquenesses.cwiseMax(0.0).cwiseSqrt();
  const auto make_worker = [&, people, first, seed] {
    MatrixXd x(people, p), scores(people, std::max(k, 1)), correlations(p, p);
    VectorXd eigenvalues(p);
    EigenvalueSolver solver(p);
    return [=, &loadings, &items, &observed](std::size_t replicate) mutable {
      Stream stream(seed, first + replicate);
      for (Eigen::Index i = 0; i < x.size(); ++i)
        x.data()[i] = stream.normal();
      x.array().rowwise() *= unique.transpose().array();
      if (k) {
        for (Eigen::Index i = 0; i < scores.size(); ++i)
          scores.data()[i] = stream.normal();
        x.noalias() += scores * loadings.transpose();
      }
      for (int i = 0; i < p; ++i) {
        const Cutting& item = items[i];
        const std::size_t cuts = item.thresholds.size();
        double mean = 0.0;
        for (int person = 0; person < people; ++person) {
          std::size_t c = 0;
          while (c < cuts && x(person, i) > item.thresholds[c])
            ++c;
          mean += x(person, i) = item.values[c];
        }
        x.col(i).array() -= mean / people;
        const double length = x.col(i).norm();
        if (length > 0.0) x.col(i) /= length;
      }
      correlations.setZero();
      correlations.selfadjointView<Eigen::Lower>().rankUpdate(x.transpose());
      correlations.diagonal().setOnes();
      solver.compute(correlations, eigenvalues.data());
      out[replicate] = std::sqrt((eigenvalues - observed).squaredNorm() / p);
    };
  };
  return run_replicates(replicates, threads, make_worker, watch);
}

}  // namespace softsieve
