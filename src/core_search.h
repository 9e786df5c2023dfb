// Which of many searches for loadings ended lowest: starts that differ in kind, and more only while
// there is doubt.
#ifndef SOFTSIEVE_CORE_SEARCH_H
#define SOFTSIEVE_CORE_SEARCH_H

#include "core_uniqueness.h"

#include <functional>
#include <vector>

namespace softsieve {

// One search with k factors: from the uniquenesses `start`, near enough to its end to tell ends
// apart; or, where such an end is given, from there to the last digit.
using FitFrom = std::function<UniquenessFit(int k, const Eigen::VectorXd& start,
                                            const UniquenessFit* near_end)>;

struct SearchPlan {
  int random;  // random starts of the first round, always the same ones; below 0: the usual start
               // alone
  bool thorough;  // is a second round made where the first leaves doubt?
  int most = 0;   // searches at most; 0: as many as the number of items allows (below)
};

struct SearchEnd {
  UniquenessFit best;
  int starts;  // searches made
  int apart;   // of these, how many ended higher than the best
};

// Round 1 starts from `usual`; from `others` (ends of other methods); from the solution with one
// factor less, the next eigenvector's part taken from its uniquenesses; and from `random` draws
// between a tenth and nine tenths of each variance. That is all where they end in one place, no
// uniqueness is at its bound, and the last factor is much larger than what is left. Else there is
// doubt, and round 2 puts each item in turn near its bound (those with the smallest uniquenesses
// first), then exchanges: from the best end, each item at its bound is set free and each other one
// is put there, as long as that lowers the best, and then draws, spread evenly in logarithms from
// the bound to the variance, until a batch of ten brings nothing lower and the best was met five
// times, or 250 searches are made; of more than 30 items 250 (30 / p)^2, but 12 at least. Searches
// are coarse; from the three lowest ends the search goes on to its end, and the lowest of these is
// given.
//
// correlations (or covariances): p x p; lowest, usual, others: p each. Ends within 1e-6 (1 + f) are
// one place. Threads may call it.
SearchEnd search_uniquenesses(const FitFrom& fit, const Eigen::MatrixXd& correlations, int k,
                              const Eigen::VectorXd& lowest, const Eigen::VectorXd& usual,
                              const std::vector<Eigen::VectorXd>& others, const SearchPlan& plan);

// One factor by minimum residuals, uniquenesses at least .005. Without a memory the whole search is
// made; with one that is not empty a single search goes on from the loadings it holds (of much the
// same matrix); an empty one is filled.
constexpr double one_factor_lowest = 0.005;
struct OneFactor {
  Eigen::VectorXd loadings;
};
UniquenessFit fit_one_factor(const Eigen::MatrixXd& correlations, OneFactor* memory);

// 1 - squared multiple correlation of each item times its variance; of a singular matrix 1 less its
// largest correlation in size.
Eigen::VectorXd usual_uniquenesses(const Eigen::MatrixXd& correlations);

// The whole search for one of the three discrepancies: maximum likelihood and generalised least
// squares also start from where minimum residuals end, and these from where generalised least
// squares do (of a definite matrix).
SearchEnd search_discrepancy(const Eigen::MatrixXd& correlations, int k, Discrepancy discrepancy,
                             const Eigen::VectorXd& lowest, double tolerance, int max_iterations,
                             const SearchPlan& plan);

// The same for weighted least squares (core_weighted.h): from where minimum residuals end.
SearchEnd search_weighted(const Eigen::MatrixXd& correlations, const Eigen::MatrixXd& weights,
                          int k, const Eigen::VectorXd& lowest, double tolerance,
                          int max_iterations, const SearchPlan& plan);

}  // namespace softsieve

#endif
