// Comparison data (Ruscio & Roche 2012, Psychol. Assess. 24, 282-292): samples with a known number
// of factors and the answers' own distributions.
#ifndef SOFTSIEVE_CORE_COMPARISON_H
#define SOFTSIEVE_CORE_COMPARISON_H

#include "core_random.h"
#include "core_threads.h"

#include <Eigen/Core>
#include <vector>

namespace softsieve {

// An item's answers as a function of a standard normal variable: the lowest value up to the first
// threshold, and so on. Thresholds rise; one value more than thresholds.
struct Cutting {
  std::vector<double> thresholds, values;
};

// The correlation of two items cut from normal variables that correlate by rho:
//   cov = sum_ab (v_a+1 - v_a) (w_b+1 - w_b) [Phi2(t_a, u_b; rho) - Phi(t_a) Phi(u_b)].
double correlation_when_cut(const Cutting& first, const Cutting& second, double rho);

// The rho whose correlation_when_cut() is r (it rises with rho), or the nearest within +-0.99.
double latent_correlation(const Cutting& first, const Cutting& second, double r);

// latent_correlation() of every pair; the result need not be positive definite.
Eigen::MatrixXd latent_correlations(const std::vector<Cutting>& items,
                                    const Eigen::MatrixXd& correlations, int threads);

// For each of `replicates` samples of `people` from the population with these loadings (p x k) on
// uncorrelated factors and these uniquenesses, cut as `items` says: the root mean square difference
// between its eigenvalues and `observed`. Element i depends on (seed, first + i) and what is given.
Status comparison_misfits(const Eigen::MatrixXd& loadings, const Eigen::VectorXd& uniquenesses,
                          const std::vector<Cutting>& items, int people,
                          const Eigen::VectorXd& observed, std::size_t first,
                          std::size_t replicates, std::uint64_t seed, int threads, double* out,
                          const Watch& watch);

}  // namespace softsieve

#endif
