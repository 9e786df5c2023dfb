#include "core_criteria.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

namespace softsieve {

using Eigen::ArrayXd;
using Eigen::MatrixXd;

namespace {

constexpr double infinite = std::numeric_limits<double>::infinity();

double x_log_x(double x) {
  return x > 0.0 ? x * std::log(x) : 0.0;
}
double log_or_0(double x) {
  return x > 0.0 ? std::log(x) : 0.0;
}

// f = 1/4 [(1 - kappa) sum_i sum_{j != m} l_ij^2 l_im^2 + kappa sum_j sum_{i != n} l_ij^2 l_nj^2]
// (Crawford & Ferguson 1970, Psychometrika 35, 321-332): kappa = 0 is quartimax (quartimin when
// oblique), 1/p varimax, k/(2p) equamax, (k - 1)/(p + k - 2) parsimax, 1 factor parsimony.
Criterion crawford_ferguson(const CriterionRequest& asked) {
  const double kappa = asked.parameter;
  return [kappa](const MatrixXd& loadings, MatrixXd& gradient) {
    const Eigen::ArrayXXd squares = loadings.array().square();
    const ArrayXd rows = (1.0 - kappa) * squares.rowwise().sum();
    gradient.resize(loadings.rows(), loadings.cols());
    double value = 0.0;
    for (Eigen::Index j = 0; j < loadings.cols(); ++j) {
      const ArrayXd mixed = rows - squares.col(j) + kappa * squares.col(j).sum();
      gradient.col(j) = loadings.col(j).array() * mixed;
      value += (squares.col(j) * mixed).sum();
    }
    return 0.25 * value;
  };
}

// f = 1/4 sum_{j != m} [sum_i l_ij^2 l_im^2 - gamma / p sum_i l_ij^2 sum_i l_im^2] (direct oblimin,
// Jennrich & Sampson 1966, Psychometrika 31, 313-323): gamma = 0 is quartimin, 1/2 biquartimin, 1
// covarimin.
Criterion oblimin(const CriterionRequest& asked) {
  const double gamma = asked.parameter;
  const int items = asked.items;
  return [gamma, items](const MatrixXd& loadings, MatrixXd& gradient) {
    const Eigen::ArrayXXd squares = loadings.array().square();
    const ArrayXd rows = squares.rowwise().sum();
    const double whole = rows.sum();
    gradient.resize(loadings.rows(), loadings.cols());
    double value = 0.0;
    for (Eigen::Index j = 0; j < loadings.cols(); ++j) {
      const ArrayXd across = rows - squares.col(j) - gamma / items * (whole - squares.col(j).sum());
      gradient.col(j) = loadings.col(j).array() * across;
      value += (squares.col(j) * across).sum();
    }
    return 0.25 * value;
  };
}

// f = sum_i (prod_j (l_ij^2 + delta))^(1/k) (Yates 1987; Browne 2001, Multivariate Behav. Res. 36,
// 111-150).
Criterion geomin(const CriterionRequest& asked) {
  const double delta = asked.parameter;
  return [delta](const MatrixXd& loadings, MatrixXd& gradient) {
    const double k = static_cast<double>(loadings.cols());
    const MatrixXd raised = (loadings.array().square() + delta).matrix();
    const ArrayXd means = (raised.array().log().rowwise().sum() / k).exp();
    gradient = (2.0 / k * loadings.array() / raised.array()).colwise() * means;
    return means.sum();
  };
}

// f = ln k + sum e ln-terms: the entropy of the squared loadings, as shares of their sum, given
// rows and columns (McKeon 1968; Browne 2001): Q(S) - Q(row sums) - Q(column sums) + ln k, Q(x) = -
// sum x ln x.
Criterion infomax(const CriterionRequest&) {
  return [](const MatrixXd& loadings, MatrixXd& gradient) {
    const MatrixXd squares = loadings.array().square().matrix();
    const double total = squares.sum();
    const MatrixXd shares = squares / total;
    const Eigen::VectorXd rows = shares.rowwise().sum(),
                          columns = shares.colwise().sum().transpose();
    const double whole = -shares.unaryExpr(&x_log_x).sum();
    const double f = std::log(static_cast<double>(loadings.cols())) + whole +
                     rows.unaryExpr(&x_log_x).sum() + columns.unaryExpr(&x_log_x).sum();
    // df/ds_ij before and after the division by the total
    MatrixXd slope = -(shares.unaryExpr(&log_or_0).array() + 1.0).matrix();
    slope.colwise() += (rows.unaryExpr(&log_or_0).array() + 1.0).matrix();
    slope.rowwise() += (columns.unaryExpr(&log_or_0).array() + 1.0).matrix().transpose();
    const double mean = slope.cwiseProduct(shares).sum();
    gradient = 2.0 / total * loadings.cwiseProduct((slope.array() - mean).matrix());
    return f;
  };
}

// f = - 1/2 sum l_ij^2 ln l_ij^2 (Jennrich 2004, Psychometrika 69, 257-273); orthogonal only.
Criterion entropy(const CriterionRequest&) {
  return [](const MatrixXd& loadings, MatrixXd& gradient) {
    const MatrixXd squares = loadings.array().square().matrix();
    gradient = -loadings.cwiseProduct((squares.unaryExpr(&log_or_0).array() + 1.0).matrix());
    return -0.5 * squares.unaryExpr(&x_log_x).sum();
  };
}

// f = the sum of the `parameter` smallest squared loadings (Kiers 1994, Psychometrika 59, 567-579).
Criterion simplimax(const CriterionRequest& asked) {
  const auto zeros = static_cast<std::size_t>(asked.parameter);
  return [zeros](const MatrixXd& loadings, MatrixXd& gradient) {
    const MatrixXd squares = loadings.array().square().matrix();
    std::vector<double> sorted(squares.data(), squares.data() + squares.size());
    std::nth_element(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(zeros - 1),
                     sorted.end());
    const double limit = sorted[zeros - 1];
    gradient = (squares.array() <= limit).select(2.0 * loadings, 0.0);
    return (squares.array() <= limit).select(squares, 0.0).sum();
  };
}

// f = 1/4 [ln |diag(S'S)| - ln |S'S|], S the squared loadings: 0 when no item loads twice
// (invariant pattern simplicity, Bentler 1977, Psychometrika 42, 277-295).
Criterion pattern_simplicity(const CriterionRequest&) {
  return [](const MatrixXd& loadings, MatrixXd& gradient) {
    const MatrixXd squares = loadings.array().square().matrix();
    const MatrixXd m = squares.transpose() * squares;
    const Eigen::LLT<MatrixXd> cholesky(m);
    if (cholesky.info() != Eigen::Success) {
      gradient.setZero(loadings.rows(), loadings.cols());
      return infinite;
    }
    const Eigen::Index k = m.rows();
    MatrixXd inner = -cholesky.solve(MatrixXd::Identity(k, k));
    inner.diagonal() += m.diagonal().cwiseInverse();
    gradient = loadings.cwiseProduct(squares * inner);
    const double log_determinant = 2.0 * cholesky.matrixLLT().diagonal().array().log().sum();
    return 0.25 * (m.diagonal().array().log().sum() - log_determinant);
  };
}

// f = 2 ln sum l^2 - ln sum l^4 (Saunders 1961, Psychometrika 26, 317-324).
Criterion oblimax(const CriterionRequest&) {
  return [](const MatrixXd& loadings, MatrixXd& gradient) {
    const double second = loadings.squaredNorm(), fourth = loadings.array().square().square().sum();
    gradient = 4.0 * loadings / second - 4.0 / fourth * loadings.array().cube().matrix();
    return 2.0 * std::log(second) - std::log(fourth);
  };
}

// The criterion `inner` on all columns but the first, which is free to be general (Jennrich &
// Bentler 2011, Psychometrika 76, 537-549).
Criterion but_first(const CriterionRequest& asked, Criterion (*make)(const CriterionRequest&)) {
  const Criterion inner = make(asked);
  return [inner](const MatrixXd& loadings, MatrixXd& gradient) {
    MatrixXd part;
    const double f = inner(loadings.rightCols(loadings.cols() - 1), part);
    gradient = MatrixXd::Zero(loadings.rows(), loadings.cols());
    gradient.rightCols(loadings.cols() - 1) = part;
    return f;
  };
}
Criterion bifactor_quartimin(const CriterionRequest& asked) {
  return but_first(asked, oblimin);
}
Criterion bifactor_geomin(const CriterionRequest& asked) {
  return but_first(asked, geomin);
}

// f = sum w_ij (l_ij - t_ij)^2 (partially specified where w = 0; Browne 1972, Br. J. Math. Stat.
// Psychol. 25, 207-212).
Criterion target(const CriterionRequest& asked) {
  const MatrixXd goal = asked.target, weights = asked.weights;
  return [goal, weights](const MatrixXd& loadings, MatrixXd& gradient) {
    const MatrixXd away = loadings - goal;
    gradient = 2.0 * weights.cwiseProduct(away);
    return weights.cwiseProduct(away).cwiseProduct(away).sum();
  };
}

struct Entry {
  const char* name;
  Criterion (*make)(const CriterionRequest&);
};
const Entry criteria[] = {{"crawford-ferguson", crawford_ferguson},
                          {"oblimin", oblimin},
                          {"geomin", geomin},
                          {"infomax", infomax},
                          {"entropy", entropy},
                          {"simplimax", simplimax},
                          {"pattern-simplicity", pattern_simplicity},
                          {"oblimax", oblimax},
                          {"bifactor-quartimin", bifactor_quartimin},
                          {"bifactor-geomin", bifactor_geomin},
                          {"target", target}};

}  // namespace

Criterion make_criterion(const CriterionRequest& request) {
  for (const Entry& entry : criteria)
    if (request.name == entry.name) return entry.make(request);
  return Criterion();
}

}  // namespace softsieve
