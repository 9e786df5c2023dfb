// Least squares in which no communality may pass its bound.
#ifndef SOFTSIEVE_CORE_BOUNDED_H
#define SOFTSIEVE_CORE_BOUNDED_H

#include "core_uniqueness.h"

namespace softsieve {

// Minimises f(L) = sum_{i < j} (r_ij - l_i' l_j)^2 subject to l_i' l_i <= r_ii - lowest_i, from the
// loadings of `fit`, which are shortened to the bound first, and puts the end in their place:
// uniquenesses are r_ii - l_i' l_i, so that communality and uniqueness add up to the variance.
//
// At a minimum L are the leading eigenvectors of R - D with D diagonal; with g = D - (r_ii - l_i'
// l_i), the pull on the bound, and b = r_ii - l_i' l_i - lowest, the room under it, g >= 0, b >= 0
// and g b = 0 for every item. Rows are brought to their minimum in turn (core_weighted.h, all
// weights 1) until the gradient is small, and then min(g, b) = 0 is solved by Newton steps with the
// exact derivatives of core_uniqueness.h (a semismooth Newton method: Qi & Sun 1993, Mathematical
// Programming 58, 353-367). Where these do not converge the rows go on to the end.
//
// correlations (or covariances), lowest: as for fit_uniquenesses(). O(p^2 k) a cycle, O(p^3) a
// Newton step. Threads may call it.
void hold_communalities(const Eigen::MatrixXd& correlations, const Eigen::VectorXd& lowest,
                        double tolerance, UniquenessFit& fit);

}  // namespace softsieve

#endif
