// Simulated answers with a known number of factors. Two makes: the training make, on which the
// model of count_factors() is trained, and the test make, built from other patterns and other noise,
// which it never sees. Set i of seed s is the same whatever the number of threads.
#ifndef SOFTSIEVE_MAKE_H
#define SOFTSIEVE_MAKE_H

#include "core_random.h"

#include <Eigen/Cholesky>
#include <Eigen/Core>
#include <algorithm>
#include <cmath>
#include <vector>

namespace softsieve {

using Eigen::MatrixXd;
using Eigen::VectorXd;

// What is known of a set of answers: the truth, and the conditions that results are told by.
struct Conditions {
  int factors, people, items, categories;  // categories: 0 when continuous
  double loading;      // mean size of the main loadings
  double correlation;  // mean correlation of the factors
  double nuisance;     // training make: mean share of variance of what is common but no factor; test make: RMSEA of the population
  int smallest;        // fewest items on a factor
  int tails;           // 0 normal, 1 not normal
  int crossing;        // 1 with cross-loadings
};

struct Simulated {
  MatrixXd answers;  // people x items
  Conditions truth;
};

// Numbers of one set, by name.
class Dice {
 public:
  Dice(std::uint64_t seed, std::uint64_t set) : stream_(seed, set) {}
  double normal() { return stream_.normal(); }
  double between(double low, double high) { return low + (high - low) * stream_.uniform(); }
  int whole(int low, int high) { return low + static_cast<int>((high - low + 1) * stream_.uniform()); }
  bool chance(double p) { return stream_.uniform() < p; }
  double chi(int df) { return stream_.chi(df); }
  double sign() { return chance(0.5) ? 1.0 : -1.0; }
  template <class T, std::size_t N>
  T of(const T (&choices)[N]) { return choices[whole(0, static_cast<int>(N) - 1)]; }

 private:
  Stream stream_;
};

inline double mean_off_diagonal(const MatrixXd& m) {
  const double k = static_cast<double>(m.rows());
  return k < 2 ? 0.0 : (m.sum() - m.trace()) / (k * (k - 1.0));
}

// The correlation matrix of complete answers; false when an item does not vary.
inline bool correlate(const MatrixXd& answers, MatrixXd& r) {
  const MatrixXd centred = answers.rowwise() - answers.colwise().mean();
  const VectorXd spread = centred.colwise().norm();
  if (spread.minCoeff() < 1e-9) return false;
  const VectorXd scale = spread.cwiseInverse();
  r = scale.asDiagonal() * (centred.transpose() * centred) * scale.asDiagonal();
  r.diagonal().setOnes();
  return r.llt().info() == Eigen::Success && r.llt().matrixLLT().diagonal().minCoeff() > 1e-4;
}

}  // namespace softsieve

#endif
