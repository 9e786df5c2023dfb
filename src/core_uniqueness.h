// Factor extraction as a search over the uniquenesses: given them, the loadings that minimise the
// discrepancy follow from eigenvectors, so that p numbers are sought and not p x k.
#ifndef SOFTSIEVE_CORE_UNIQUENESS_H
#define SOFTSIEVE_CORE_UNIQUENESS_H

#include <Eigen/Core>

namespace softsieve {

enum class Discrepancy {
  least_squares,  // 1/2 tr (R - LL' - Psi)^2 (minres, Harman & Jones 1966, Psychometrika 31,
                  // 351-368)
  generalised,    // 1/2 tr (I - R^-1 (LL' + Psi))^2 (Joreskog & Goldberger 1972, Psychometrika 37,
                  // 243-260)
  maximum_likelihood,  // ln |LL' + Psi| - ln |R| + tr R (LL' + Psi)^-1 - p (Joreskog 1967,
                       // Psychometrika 32, 443-482)
};

struct UniquenessFit {
  Eigen::MatrixXd loadings;      // p x k, by falling eigenvalue, signs arbitrary
  Eigen::VectorXd uniquenesses;  // p, at least `lowest`
  Eigen::VectorXd residual;  // p - k eigenvalues that the factors leave, falling: of R - Psi, or
                             // of Psi^-1/2 R Psi^-1/2 for the other two
  Eigen::VectorXd next;      // p, the eigenvector of the first of them
  double discrepancy;
  double gradient;  // largest element, in size, of the gradient that the bound leaves free
  int iterations;
  bool converged;  // gradient <= tolerance
};

// Newton steps with exact second derivatives, on uniquenesses off their bound, halved until the
// discrepancy falls; where the Hessian is not positive definite its first, always semidefinite,
// part stands in with a ridge. With theta the eigenvalues, omega the eigenvectors, M the p - k
// smallest and N the k largest of them:
//
// least squares, in psi; theta of R - Psi:
//   f = 1/2 sum_M theta_m^2, df/dpsi_i = - sum_M theta_m omega_im^2
//   d2f/dpsi_i dpsi_j = (sum_M omega_im omega_jm)^2
//     + 2 sum_M sum_N theta_m / (theta_m - theta_n) omega_im omega_jm omega_in omega_jn
//   (Joreskog & Goldberger 1972, Psychometrika 37, 243-260, for least squares)
//
// maximum likelihood, in x = ln psi; theta of Psi^-1/2 R Psi^-1/2:
//   f = sum_M (theta_m - ln theta_m - 1), df/dx_i = sum_M (1 - theta_m) omega_im^2
//   d2f/dx_i dx_j = sum_M theta_m omega_im omega_jm sum_M omega_im omega_jm
//     + sum_M sum_N (theta_m - 1) (theta_m + theta_n) / (theta_m - theta_n) omega_im omega_jm
//     omega_in omega_jn
//   (Joreskog 1967, with Clarke's (1970, Br. J. Math. Stat. Psychol. 23, 43-52) exact derivatives)
//
// generalised least squares, in x = ln psi, theta as for maximum likelihood, s = (1/theta -
// 1)/theta:
//   f = 1/2 sum_M (1/theta_m - 1)^2, df/dx_i = sum_M s_m omega_im^2
//   d2f/dx_i dx_j = sum_M s_m omega_im omega_jm sum_M omega_im omega_jm + (sum_M omega_im omega_jm
//   / theta_m)^2
//     - sum_M sum_N s_m (theta_m + theta_n) / (theta_m - theta_n) omega_im omega_jm omega_in
//     omega_jn
//
// correlations (or covariances): p x p, symmetric, positive definite but for least squares; 0 <= k
// < p; start, lowest: p uniquenesses; lowest >= 0 (> 0 but for least squares). O(p^3) an iteration.
// Threads may call it. Least squares that end with a uniqueness at its bound go on in
// core_bounded.h, which holds the communality, too.
UniquenessFit fit_uniquenesses(const Eigen::MatrixXd& correlations, int k, Discrepancy discrepancy,
                               const Eigen::VectorXd& start, const Eigen::VectorXd& lowest,
                               double tolerance, int max_iterations);

// f at given uniquenesses, and its gradient: in psi for least squares, in ln psi for the other two.
// For searches that need no second derivatives.
double discrepancy_at(const Eigen::MatrixXd& correlations, int k, Discrepancy discrepancy,
                      const Eigen::VectorXd& psi, Eigen::VectorXd& gradient);

// The Hessian of f for least squares in psi, its gradient (psi less what the k leading loadings
// leave of the variance), and these loadings.
Eigen::MatrixXd least_squares_hessian(const Eigen::MatrixXd& correlations, int k,
                                      const Eigen::VectorXd& psi, Eigen::VectorXd& gradient,
                                      Eigen::MatrixXd& loadings);

}  // namespace softsieve

#endif
