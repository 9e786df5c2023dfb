// The uniquenesses that leave the least common variance and no negative eigenvalue.
#ifndef SOFTSIEVE_CORE_MINRANK_H
#define SOFTSIEVE_CORE_MINRANK_H

#include <Eigen/Core>

namespace softsieve {

struct MinimumRank {
  Eigen::VectorXd uniquenesses;  // p
  double gap;                    // bound on how far c' psi is from its maximum
  int iterations;                // Newton steps
};

// Maximises sum c_i psi_i subject to R - diag(psi) positive semidefinite and psi >= 0. With c = 1
// it is the minimum trace problem (Bentler 1972, Soc. Sci. Res. 1, 343-357), the case of minimum
// rank factor analysis (ten Berge & Kiers 1991, Psychometrika 56, 309-315) in which no factor is
// set apart. The problem is convex: the maximum is found, by Newton steps on
//   - c' psi - mu ln |R - diag(psi)| - mu sum ln psi
// for falling mu (an interior point method; the gap to the maximum is 2 p mu).
// correlations: p x p, positive definite (else uniquenesses of 0 come back, with a gap of sum c);
// costs: p, positive. About 40 O(p^3) steps. Threads may call it.
MinimumRank minimum_rank(const Eigen::MatrixXd& correlations, const Eigen::VectorXd& costs,
                         double gap);

}  // namespace softsieve

#endif
