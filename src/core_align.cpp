#include "core_align.h"

#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace softsieve {

using Eigen::Index;
using Eigen::MatrixXd;
using Eigen::VectorXd;

MatrixXd congruences(const MatrixXd& a, const MatrixXd& b) {
  const VectorXd in_a = a.colwise().norm().transpose(), in_b = b.colwise().norm().transpose();
  MatrixXd out = a.transpose() * b;
  for (Index j = 0; j < out.cols(); ++j)
    for (Index i = 0; i < out.rows(); ++i) {
      const double size = in_a[i] * in_b[j];
      out(i, j) = size > 0.0 ? out(i, j) / size : 0.0;
    }
  return out;
}

std::vector<int> best_assignment(const MatrixXd& gain) {
  const auto k = static_cast<std::size_t>(gain.rows());
  constexpr double far = std::numeric_limits<double>::infinity();
  // prices of rows and columns; place 0 is no column, and stands for the row that is placed
  std::vector<double> row_price(k + 1, 0.0), column_price(k + 1, 0.0);
  std::vector<std::size_t> row_at(k + 1, 0), before(k + 1, 0);
  for (std::size_t row = 1; row <= k; ++row) {
    row_at[0] = row;
    std::vector<double> least(k + 1, far);
    std::vector<bool> done(k + 1, false);
    std::size_t at = 0;
    while (row_at[at]) {
      done[at] = true;
      const std::size_t here = row_at[at];
      double step = far;
      std::size_t next = 0;
      for (std::size_t j = 1; j <= k; ++j) {
        if (done[j]) continue;
        const double cost = -gain(static_cast<Index>(here - 1), static_cast<Index>(j - 1)) -
                            row_price[here] - column_price[j];
        if (cost < least[j]) {
          least[j] = cost;
          before[j] = at;
        }
        if (least[j] < step) {
          step = least[j];
          next = j;
        }
      }
      for (std::size_t j = 0; j <= k; ++j) {
        if (done[j]) {
          row_price[row_at[j]] += step;
          column_price[j] -= step;
        } else {
          least[j] -= step;
        }
      }
      at = next;
    }
    while (at) {
      row_at[at] = row_at[before[at]];
      at = before[at];
    }
  }
  std::vector<int> out(k);
  for (std::size_t j = 1; j <= k; ++j)
    out[row_at[j] - 1] = static_cast<int>(j - 1);
  return out;
}

Alignment align_factors(const MatrixXd& loadings, const MatrixXd& target) {
  const MatrixXd all = congruences(target, loadings);
  const Index wanted = all.rows(), there = all.cols(), k = std::max(wanted, there);
  MatrixXd gain = MatrixXd::Zero(k, k);
  gain.topLeftCorner(wanted, there) = all.cwiseAbs();
  const std::vector<int> given = best_assignment(gain);
  Alignment out{{}, VectorXd::Ones(wanted), VectorXd::Zero(wanted)};
  for (Index j = 0; j < wanted; ++j) {
    const int column = given[static_cast<std::size_t>(j)];
    out.column.push_back(column < there ? column : -1);
    if (column >= there) continue;
    out.sign[j] = all(j, column) < 0.0 ? -1.0 : 1.0;
    out.congruence[j] = std::fabs(all(j, column));
  }
  return out;
}

MatrixXd align_columns(const MatrixXd& loadings, const Alignment& alignment) {
  MatrixXd out = MatrixXd::Zero(loadings.rows(), static_cast<Index>(alignment.column.size()));
  for (std::size_t j = 0; j < alignment.column.size(); ++j)
    if (alignment.column[j] >= 0)
      out.col(static_cast<Index>(j)) =
          alignment.sign[static_cast<Index>(j)] * loadings.col(alignment.column[j]);
  return out;
}

MatrixXd align_square(const MatrixXd& correlations, const Alignment& alignment) {
  const MatrixXd columns = align_columns(correlations, alignment);
  return align_columns(columns.transpose(), alignment).transpose();
}

}  // namespace softsieve
