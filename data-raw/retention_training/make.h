// Simulated answers with a known number of factors: what every make is built from. A make says how
// a population and its answers are drawn; set i of a seed is the same whatever the number of threads.
#ifndef SOFTSIEVE_MAKE_H
#define SOFTSIEVE_MAKE_H

#include "core_random.h"
#include "core_uniqueness.h"

#include <Eigen/Cholesky>
#include <Eigen/Core>
#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

namespace softsieve {

using Eigen::MatrixXd;
using Eigen::VectorXd;

// What is known of a set of answers: the truth, and the conditions that results are told by.
struct Conditions {
  int factors, people, items, categories;  // categories: 0 when continuous
  double loading;      // mean size of the main loadings
  double correlation;  // mean size of the factors' correlations
  double closest;      // the largest of them, in size
  double nuisance;     // mean share of variance of what is common but no factor
  int smallest;        // fewest items on a factor
  int tails;           // 0 normal, 1 not normal, or careless people
  double gain;         // of the last factor, see last_gain()
};

struct Simulated {
  MatrixXd answers;       // people x items, NaN where missing; empty when only `correlations` are drawn
  MatrixXd correlations;  // empty when they are to be computed from the answers
  Conditions truth;
};

// Numbers of one set, by name.
class Dice {
 public:
  Dice(std::uint64_t seed, std::uint64_t set) : stream_(seed, set) {}
  double normal() { return stream_.normal(); }
  double between(double low, double high) { return low + (high - low) * stream_.uniform(); }
  double evenly_by_size(double low, double high) { return std::exp(between(std::log(low), std::log(high))); }
  int whole(int low, int high) { return low + static_cast<int>((high - low + 1) * stream_.uniform()); }
  bool chance(double p) { return stream_.uniform() < p; }
  double chi(int df) { return stream_.chi(df); }
  double sign() { return chance(0.5) ? 1.0 : -1.0; }
  template <class T, std::size_t N>
  T of(const T (&choices)[N]) { return choices[whole(0, static_cast<int>(N) - 1)]; }
  // standardised, of a gamma distribution of whole shape
  double skewed(int shape) {
    double sum = 0.0;
    for (int i = 0; i < shape; ++i) sum -= std::log(between(0.0, 1.0));
    return (sum - shape) / std::sqrt(static_cast<double>(shape));
  }

 private:
  Stream stream_;
};

struct OffDiagonal {
  double mean_size = 0.0, largest = 0.0;
};

inline OffDiagonal off_diagonal(const MatrixXd& m) {
  OffDiagonal found;
  const double k = static_cast<double>(m.rows());
  if (k < 2) return found;
  const MatrixXd off = (m - MatrixXd(m.diagonal().asDiagonal())).cwiseAbs();
  found.mean_size = off.sum() / (k * (k - 1.0));
  found.largest = off.maxCoeff();
  return found;
}

// What the last factor gains in the population, in standard deviations of what chance gains: the
// noncentrality of one factor less (n times the maximum likelihood discrepancy) over sqrt(2 df), df =
// p - k + 1. Below 1.645 not even the test of this one question, at 5 %, finds it in half of all samples
// of normal answers. 99 without factors.
inline double last_gain(const MatrixXd& loadings, const MatrixXd& phi, int people) {
  const int p = static_cast<int>(loadings.rows()), k = static_cast<int>(loadings.cols());
  MatrixXd sigma = loadings * phi * loadings.transpose();
  const VectorXd unique = (1.0 - sigma.diagonal().array()).max(0.02);
  sigma.diagonal().setOnes();
  const double fit = fit_uniquenesses(sigma, k - 1, Discrepancy::maximum_likelihood,
                                      k == 1 ? VectorXd(VectorXd::Ones(p)) : unique, VectorXd::Constant(p, 0.005), 1e-5, k == 1 ? 0 : 60)
                         .discrepancy;
  return (people - 1) * fit / std::sqrt(2.0 * (p - k + 1));
}

// A correlation matrix that the evidence can be gathered from?
inline bool usable(const MatrixXd& r) {
  const Eigen::LLT<MatrixXd> root(r);
  return root.info() == Eigen::Success && root.matrixLLT().diagonal().minCoeff() > 1e-3;
}

// Pearson correlations, of the people who answered both items; false when an item does not vary.
inline bool correlate(const MatrixXd& answers, MatrixXd& r) {
  const Eigen::Index p = answers.cols();
  const MatrixXd there = answers.array().isNaN().select(0.0, MatrixXd::Ones(answers.rows(), p));
  const bool gaps = there.minCoeff() == 0.0;
  MatrixXd x = gaps ? MatrixXd(answers.array().isNaN().select(0.0, answers)) : answers;
  const VectorXd means = x.colwise().sum().cwiseQuotient(there.colwise().sum());
  x.rowwise() -= means.transpose();
  if (gaps) x = x.cwiseProduct(there);
  const MatrixXd products = x.transpose() * x;
  if (products.diagonal().minCoeff() < 1e-9) return false;
  if (!gaps) {
    const VectorXd scale = products.diagonal().cwiseSqrt().cwiseInverse();
    r = scale.asDiagonal() * products * scale.asDiagonal();
    r.diagonal().setOnes();
    return true;
  }
  const MatrixXd squares = x.cwiseAbs2();
  r = MatrixXd::Identity(p, p);
  for (Eigen::Index a = 0; a < p; ++a)
    for (Eigen::Index b = 0; b < a; ++b) {
      const double n = there.col(a).dot(there.col(b));
      if (n < 3) return false;
      const double of_a = x.col(a).dot(there.col(b)), of_b = x.col(b).dot(there.col(a));
      const double v = (squares.col(a).dot(there.col(b)) - of_a * of_a / n) * (squares.col(b).dot(there.col(a)) - of_b * of_b / n);
      if (v < 1e-12) return false;
      r(a, b) = r(b, a) = (products(a, b) - of_a * of_b / n) / std::sqrt(v);
    }
  return true;
}

}  // namespace softsieve

#endif
