#include "core_em.h"
#include "core_linear.h"

#include <chrono>
#include <cmath>
#include <map>
#include <vector>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

// People with the same gaps. What EM needs of them are their sum of weights, weighted mean and
// cross-products of the answers there are: people are gone through once, not at every iteration.
struct Pattern {
  std::vector<int> seen, gap;
  double weight = 0;
  VectorXd mean;
  MatrixXd cross;  // sum of weights times deviations from `mean`, observed by observed
};

std::vector<Pattern> patterns_of(const MatrixXd& answers, const double* weights) {
  const int p = static_cast<int>(answers.cols());
  std::map<std::vector<bool>, std::vector<Eigen::Index>> groups;
  for (Eigen::Index i = 0; i < answers.rows(); ++i) {
    std::vector<bool> there(static_cast<std::size_t>(p));
    for (int j = 0; j < p; ++j)
      there[j] = !std::isnan(answers(i, j));
    groups[there].push_back(i);
  }
  std::vector<Pattern> patterns;
  for (const auto& group : groups) {
    Pattern x;
    for (int j = 0; j < p; ++j)
      (group.first[j] ? x.seen : x.gap).push_back(j);
    if (x.seen.empty()) continue;
    const int o = static_cast<int>(x.seen.size());
    MatrixXd rows(static_cast<Eigen::Index>(group.second.size()), o);
    VectorXd w(rows.rows());
    for (Eigen::Index i = 0; i < rows.rows(); ++i) {
      w[i] = weights ? weights[group.second[i]] : 1.0;
      for (int j = 0; j < o; ++j)
        rows(i, j) = answers(group.second[i], x.seen[j]);
    }
    x.weight = w.sum();
    if (x.weight <= 0) continue;
    x.mean = rows.transpose() * w / x.weight;
    rows.rowwise() -= x.mean.transpose();
    x.cross = rows.transpose() * w.asDiagonal() * rows;
    patterns.push_back(std::move(x));
  }
  return patterns;
}

MatrixXd part(const MatrixXd& whole, const std::vector<int>& rows,
              const std::vector<int>& columns) {
  MatrixXd out(rows.size(), columns.size());
  for (std::size_t j = 0; j < columns.size(); ++j)
    for (std::size_t i = 0; i < rows.size(); ++i)
      out(i, j) = whole(rows[i], columns[j]);
  return out;
}

}  // namespace

EmFit fit_em(const MatrixXd& answers, const double* weights, double tolerance, int max_iterations,
             const Watch& watch, Status& status) {
  const int p = static_cast<int>(answers.cols());
  const std::vector<Pattern> patterns = patterns_of(answers, weights);
  EmFit fit;
  fit.converged = fit.singular = false;
  fit.means = VectorXd::Zero(p);
  VectorXd squares = VectorXd::Zero(p), count = VectorXd::Zero(p);
  double n = 0;
  for (const Pattern& x : patterns) {  // start: each item's own mean and variance
    n += x.weight;
    for (std::size_t j = 0; j < x.seen.size(); ++j) {
      fit.means[x.seen[j]] += x.weight * x.mean[j];
      count[x.seen[j]] += x.weight;
    }
  }
  fit.means.array() /= count.array();
  for (const Pattern& x : patterns)
    for (std::size_t j = 0; j < x.seen.size(); ++j)
      squares[x.seen[j]] +=
          x.cross(j, j) + x.weight * std::pow(x.mean[j] - fit.means[x.seen[j]], 2);
  fit.covariances = (squares.array() / count.array()).matrix().asDiagonal();

  const double log_two_pi = std::log(8.0 * std::atan(1.0));
  double before = 0;
  status = Status::done;
  auto last = std::chrono::steady_clock::now();
  for (fit.iterations = 0;; ++fit.iterations) {
    VectorXd sum = VectorXd::Zero(p);
    MatrixXd product = MatrixXd::Zero(p, p);  // about the current means
    fit.log_likelihood = 0;
    for (const Pattern& x : patterns) {
      const int o = static_cast<int>(x.seen.size()), m = p - o;
      Eigen::LLT<MatrixXd> root(part(fit.covariances, x.seen, x.seen));
      if (root.info() != Eigen::Success) {
        fit.singular = true;
        return fit;
      }
      VectorXd away(o);
      for (int j = 0; j < o; ++j)
        away[j] = x.mean[j] - fit.means[x.seen[j]];
      const MatrixXd cross = x.cross + x.weight * away * away.transpose();
      const double log_determinant = 2.0 * root.matrixLLT().diagonal().array().log().sum();
      fit.log_likelihood -=
          0.5 * (x.weight * (o * log_two_pi + log_determinant) + root.solve(cross).trace());
      // fill(j, :) predicts item j from what was seen: itself where it was
      MatrixXd fill = MatrixXd::Zero(p, o);
      for (int j = 0; j < o; ++j)
        fill(x.seen[j], j) = 1.0;
      if (m > 0) {
        const MatrixXd between = part(fit.covariances, x.seen, x.gap);
        const MatrixXd slopes = root.solve(between).transpose();
        const MatrixXd left = part(fit.covariances, x.gap, x.gap) - slopes * between;
        for (int j = 0; j < m; ++j) {
          fill.row(x.gap[j]) = slopes.row(j);
          for (int i = 0; i < m; ++i)
            product(x.gap[i], x.gap[j]) += x.weight * left(i, j);
        }
      }
      sum += x.weight * (fill * away);
      product += fill * cross * fill.transpose();
    }
    const double rise = fit.log_likelihood - before;
    const bool settled =
        fit.iterations > 0 && rise <= std::max(tolerance, 1e-14 * std::fabs(fit.log_likelihood));
    if (settled || fit.iterations == max_iterations) {
      fit.converged = settled;
      return fit;
    }
    before = fit.log_likelihood;
    const VectorXd shift = sum / n;
    fit.means += shift;
    fit.covariances = product / n - shift * shift.transpose();
    if (std::chrono::steady_clock::now() - last < std::chrono::milliseconds(100)) continue;
    last = std::chrono::steady_clock::now();
    if (!watch(static_cast<std::size_t>(fit.iterations))) {
      status = Status::stopped;
      return fit;
    }
  }
}

}  // namespace softsieve
