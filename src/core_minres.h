// Minimum residual (unweighted least squares) factor extraction (Harman & Jones 1966,
// Psychometrika 31, 351-368).
#ifndef SOFTSIEVE_CORE_MINRES_H
#define SOFTSIEVE_CORE_MINRES_H

#include <Eigen/Core>

namespace softsieve {

struct MinresFit {
  Eigen::MatrixXd loadings;      // p x k, by falling eigenvalue, signs arbitrary
  Eigen::VectorXd uniquenesses;  // p, at least `lowest`
  double discrepancy;            // half the sum of squared residuals, diagonal included
  double gradient;               // largest element of the gradient that the bound leaves free
  int iterations;
  bool converged;                // gradient <= tolerance
};

// Minimises f(psi) = 1/2 sum_{m > k} theta_m^2 over uniquenesses psi >= lowest, where theta are
// the eigenvalues, falling, of R - diag(psi) and omega its eigenvectors. Newton steps with
//   df/dpsi_i       = - sum_{m > k} theta_m omega_im^2
//   d2f/dpsi_i dpsi_j = (sum_{m > k} omega_im omega_jm)^2
//        + 2 sum_{m > k} sum_{n <= k} theta_m / (theta_m - theta_n) omega_im omega_jm omega_in omega_jn
// (the second derivatives of Joreskog & Goldberger 1972 for least squares), on the uniquenesses
// that are off their bound, halved until f falls; where the Hessian is not positive definite its
// first, always semidefinite, part stands in with a ridge.
// correlations: p x p, symmetric; 1 <= k < p; start: p uniquenesses; lowest >= 0.
// O(p^3) an iteration. Threads may call it.
MinresFit fit_minres(const Eigen::MatrixXd& correlations, int k, const Eigen::VectorXd& start,
                     double lowest, double tolerance, int max_iterations);

}  // namespace softsieve

#endif
