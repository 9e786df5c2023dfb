// Factor extraction by least squares in which every correlation has a weight of its own.
#ifndef SOFTSIEVE_CORE_WEIGHTED_H
#define SOFTSIEVE_CORE_WEIGHTED_H

#include <Eigen/Core>

namespace softsieve {

struct WeightedFit {
  Eigen::MatrixXd loadings;  // p x k, turned to principal axes
  double discrepancy;
  double gradient;  // largest element, in size, of the gradient that the bound leaves free
  int iterations;   // cycles through all items
  bool converged;   // gradient <= tolerance
};

// Minimises f(L) = sum_{i < j} w_ij (r_ij - l_i' l_j)^2 subject to l_i' l_i <= most_i. Given the
// other rows, f is a quadratic in row i, with its minimum at A_i l = b_i,
//   A_i = sum_{j != i} w_ij l_j l_j', b_i = sum_{j != i} w_ij r_ij l_j,
// or, where that breaks the bound, at (A_i + lambda I) l = b_i with the lambda that meets it (the
// step of Harman & Jones 1966, Psychometrika 31, 351-368, bounded after Harman & Fukuda 1966,
// Psychometrika 31, 563-571, with weights). Rows are taken in turn; two cycles are extrapolated
// (Varadhan & Roland 2008, Scand. J. Stat. 35, 335-353) when that lowers f.
//
// correlations, weights: p x p, symmetric, weights positive, diagonals unused; start: p x k; most:
// p, the largest communality of each item, above 0. O(p^2 k^2) a cycle, O(p^2 k) where all weights
// are 1. Threads may call it.
WeightedFit fit_weighted(const Eigen::MatrixXd& correlations, const Eigen::MatrixXd& weights,
                         const Eigen::MatrixXd& start, const Eigen::VectorXd& most,
                         double tolerance, int max_iterations);

}  // namespace softsieve

#endif
