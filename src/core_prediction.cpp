#include "core_prediction.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <limits>
#include <numeric>
#include <vector>

namespace softsieve {

using Eigen::MatrixXd;
using Eigen::VectorXd;

namespace {

using Pattern = std::vector<bool>;  // which items were answered

// People with the same pattern, by their numbers.
struct Alike {
  Pattern answered;
  std::vector<Eigen::Index> people;
};

std::vector<Alike> people_alike(const Eigen::Ref<const MatrixXd>& answers) {
  const auto n = static_cast<std::size_t>(answers.rows());
  const auto p = static_cast<std::size_t>(answers.cols());
  std::vector<Pattern> patterns(n, Pattern(p));
  for (std::size_t j = 0; j < p; ++j)
    for (std::size_t i = 0; i < n; ++i)
      patterns[i][j] =
          !std::isnan(answers(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(j)));
  std::vector<std::size_t> order(n);
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
    return patterns[a] == patterns[b] ? a < b : patterns[a] < patterns[b];
  });
  std::vector<Alike> found;
  for (const std::size_t i : order) {
    if (found.empty() || found.back().answered != patterns[i]) found.push_back({patterns[i], {}});
    found.back().people.push_back(static_cast<Eigen::Index>(i));
  }
  return found;
}

MatrixXd solve_shortest(const MatrixXd& r, const MatrixXd& right) {
  const Eigen::SelfAdjointEigenSolver<MatrixXd> parts(r);
  const VectorXd& values = parts.eigenvalues();
  VectorXd inverse = VectorXd::Zero(values.size());
  for (Eigen::Index i = 0; i < values.size(); ++i)
    if (values[i] > 1e-10 * values.maxCoeff()) inverse[i] = 1.0 / values[i];
  return parts.eigenvectors() *
         (inverse.asDiagonal() * (parts.eigenvectors().transpose() * right)).eval();
}

MatrixXd solve_weights(const MatrixXd& r, const MatrixXd& right) {
  const Eigen::LLT<MatrixXd> root(r);
  if (root.info() == Eigen::Success) {
    const VectorXd pivots = root.matrixLLT().diagonal().cwiseAbs2();
    if (pivots.minCoeff() > 1e-10 * pivots.maxCoeff()) return root.solve(right);
  }
  return solve_shortest(r, right);
}

}  // namespace

Status predict_from_answers(const Eigen::Ref<const MatrixXd>& answers,
                            const Eigen::Ref<const MatrixXd>& correlations,
                            const Eigen::Ref<const MatrixXd>& with_items, Eigen::Ref<MatrixXd> out,
                            int threads, const Watch& watch) {
  const std::vector<Alike> groups = people_alike(answers);
  const Eigen::Index q = with_items.cols();
  const auto make_worker = [&] {
    return [&](std::size_t g) {
      const Alike& alike = groups[g];
      std::vector<Eigen::Index> has;
      for (std::size_t j = 0; j < alike.answered.size(); ++j)
        if (alike.answered[j]) has.push_back(static_cast<Eigen::Index>(j));
      const auto m = static_cast<Eigen::Index>(has.size());
      if (m == 0) {
        for (const Eigen::Index i : alike.people)
          out.row(i).setConstant(std::numeric_limits<double>::quiet_NaN());
        return;
      }
      MatrixXd r(m, m), c(m, q);
      for (Eigen::Index a = 0; a < m; ++a) {
        const Eigen::Index at = has[static_cast<std::size_t>(a)];
        c.row(a) = with_items.row(at);
        for (Eigen::Index b = 0; b < m; ++b)
          r(b, a) = correlations(has[static_cast<std::size_t>(b)], at);
      }
      const MatrixXd weights = solve_weights(r, c);
      VectorXd z(m);
      for (const Eigen::Index i : alike.people) {
        for (Eigen::Index a = 0; a < m; ++a)
          z[a] = answers(i, has[static_cast<std::size_t>(a)]);
        out.row(i).noalias() = z.transpose() * weights;
      }
    };
  };
  return run_replicates(groups.size(), threads, make_worker, watch);
}

}  // namespace softsieve
