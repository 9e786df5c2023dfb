// Reliability of the sum of a scale's items, from their covariances.
#ifndef SOFTSIEVE_CORE_RELIABILITY_H
#define SOFTSIEVE_CORE_RELIABILITY_H

#include "core_search.h"

#include <Eigen/Core>
#include <cstdint>
#include <vector>

namespace softsieve {

// Places in a scale's row of measures. Those from `categorical` on need the answers' tables.
namespace measure {
enum Place {
  alpha,
  standardised,
  lambda1,
  lambda2,
  lambda4,
  lambda5,
  lambda6,
  glb,
  omega,
  composite,
  maximal,
  extracted,
  mean_correlation,
  categorical,
  ordinal,
  count
};
// In the same order.
constexpr const char* names[count] = {"alpha",
                                      "standardised_alpha",
                                      "lambda1",
                                      "lambda2",
                                      "lambda4",
                                      "lambda5",
                                      "lambda6",
                                      "greatest_lower_bound",
                                      "omega",
                                      "composite",
                                      "coefficient_h",
                                      "variance_extracted",
                                      "mean_correlation",
                                      "categorical_omega",
                                      "ordinal_alpha"};
}  // namespace measure

// With s_ij the covariances of k items, V their sum and C = V - trace:
//   lambda1 = C / V, lambda2 = lambda1 + sqrt(k/(k-1) sum s_ij^2) / V (i != j), lambda4 the
//   greatest split half, lambda5 = lambda1 + 2 sqrt(max_i sum_j s_ij^2) / V, lambda6 = 1 - sum
//   (1/s^ii) / V (Guttman 1945, Psychometrika 10, 255-282); alpha = lambda3 = k/(k-1) lambda1
//   (Cronbach 1951); glb = 1 - max sum psi / V with S - diag(psi) semidefinite and psi >= 0
//   (Jackson & Agunwamba 1977, Psychometrika 42, 567-578); of one factor of the correlations by
//   minres (loadings l, standard deviations s): omega = (sum s l)^2 / ((sum s l)^2 + sum s^2 (1 -
//   l^2)) (McDonald 1999), composite the same with s = 1 (Joreskog 1971), maximal 1/(1 + 1/sum
//   l^2/(1 - l^2)) (Hancock & Mueller 2001), extracted the mean of l^2 (Fornell & Larcker 1981).
// What needs more items (two; three for omega and what comes of it) or a positive definite matrix
// is NaN without. `split`: the greatest split half's signs, +1 or -1 for each item: climbed from
// there when given, searched by greatest_split() when empty. `out` has measure::count places.
// Threads may call it. `one_factor`: a memory of that model's fit (core_search.h); `gap`: how near
// the greatest lower bound is brought.
void measure_covariances(const Eigen::MatrixXd& covariances, const std::vector<int>& split,
                         double* out, OneFactor* one_factor = nullptr, double gap = 1e-7);

struct Split {
  double value;            // 4 cov(A, B) / V
  std::vector<int> signs;  // +1 for the first half, -1 for the second
  bool exact;
};

constexpr int most_exact = 24;

// The split into two parts of any size with the greatest 4 cov(A, B) / V. Up to 24 items: all
// 2^(k-1) of them, one flip after the other (Gray code), each in O(k). Above: single flips and
// swaps until none helps, from 200 random starts of stream (seed, start).
Split greatest_split(const Eigen::MatrixXd& covariances, std::uint64_t seed);

// 4 cov(A, B) / V over halves that differ in size by at most one: all of them while there are no
// more than `most`, in the order of the Gray code, else `most` random ones. k >= 2.
std::vector<double> split_halves(const Eigen::MatrixXd& covariances, std::size_t most,
                                 std::uint64_t seed, bool& all);

// For each item (column of x; NaN where missing) the difference of its mean between the people in
// the upper and in the lower `share` by the mean of their other items (Kelley 1939, J. Educ.
// Psychol. 30, 17-24), as a share of the item's range. Ties at an end count with it. NaN with fewer
// than ten people, or one item.
std::vector<double> discriminations(const Eigen::MatrixXd& x, double share);

// Omega of one factor by minimum residuals (McDonald 1999), (sum s l)^2 / ((sum s l)^2 + sum s^2 (1
// - l^2)), from the usual start alone; of two items alpha. `each`: then without each item in turn
// (k >= 3). covariances: k x k, k >= 2, positive variances. O(k^3), or O(k^4). Threads may call it.
Eigen::VectorXd one_factor_omegas(const Eigen::MatrixXd& covariances, bool each);

}  // namespace softsieve

#endif
