// Means and covariances of normal data with gaps, by maximum likelihood.
#ifndef SOFTSIEVE_CORE_EM_H
#define SOFTSIEVE_CORE_EM_H

#include "core_threads.h"

#include <Eigen/Core>

namespace softsieve {

struct EmFit {
  Eigen::VectorXd means;
  Eigen::MatrixXd covariances;  // divided by n, as maximum likelihood has it
  double log_likelihood;        // of the observed answers
  int iterations;
  bool converged, singular;
};

// The EM algorithm under missing at random (Dempster, Laird & Rubin 1977, JRSS B 39, 1-38; Little &
// Rubin 2020, section 11.2). answers: people x p, NaN where missing; people without any answer are
// left out. weights: one for each person, or null. Stops when the log-likelihood rises by at most
// `tolerance`. People with the same gaps share one factorisation. singular:
// the covariances of what some people answered are not positive definite.
// O(patterns p^3 + people p^2) an iteration.
EmFit fit_em(const Eigen::MatrixXd& answers, const double* weights, double tolerance,
             int max_iterations, const Watch& watch, Status& status);

}  // namespace softsieve

#endif
