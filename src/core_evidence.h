// What a correlation matrix tells about the number of factors: eigenvalues, average partial
// correlations, and a ladder of maximum likelihood fits.
#ifndef SOFTSIEVE_CORE_EVIDENCE_H
#define SOFTSIEVE_CORE_EVIDENCE_H

#include <Eigen/Core>
#include <vector>

namespace softsieve {

// One rung: maximum likelihood with k factors, and its varimax rotation.
struct Rung {
  double discrepancy;      // the minimum of the fit function
  double gradient;         // its largest free element
  bool converged, proper;  // proper: no uniqueness at its bound
  double next, second;    // the first two eigenvalues of Psi^-1/2 R Psi^-1/2 that the factors leave
  double spread;          // on how many items the first of them lies, in effect: 1 / sum omega^4
  double weakest;         // sum of squared loadings of the smallest varimax factor (0 when k = 0)
  double weakest_mean;    // mean size of the loadings of the items that belong to it
  int weakest_items;      // how many items load on it most of all factors
  double weakest_top[3];  // the three largest loadings on it, in size
  double weakest_own;     // what the items that belong to it have of its sum of squares
  double weakest_elsewhere;  // mean size of the next loading of its three largest items
  double residual;           // root mean square residual correlation
  double peak;               // the largest residual correlation, in size
};

struct Evidence {
  Eigen::VectorXd eigenvalues;  // p, falling
  Eigen::VectorXd reduced;      // p, falling: with squared multiple correlations on the diagonal
  Eigen::VectorXd partial_squares;  // p: average squared partial correlation with 0..p-1 components
  Eigen::VectorXd partial_fourths;  // p: the same to the fourth power
  double squared_multiple;          // mean squared multiple correlation
  std::vector<Rung> ladder;         // k = 0..most
};

// correlations: p x p, positive definite. 0 <= most, and most must leave degrees of freedom.
// Uniquenesses are bounded by .005. Each rung is one search, as when the features were learned.
// O(most p^3). Threads may call it.
Evidence gather_evidence(const Eigen::MatrixXd& correlations, int most);

// Velicer's (1976, Psychometrika 41, 321-327) average squared partial correlation after 0..p-1
// components, and with fourth powers (Velicer, Eaton & Fava 2000).
void average_partials(const Eigen::MatrixXd& correlations, Eigen::VectorXd& squares,
                      Eigen::VectorXd& fourths);

// Raw varimax (Kaiser 1958, Psychometrika 23, 187-200) by plane rotations.
Eigen::MatrixXd varimax_planes(Eigen::MatrixXd loadings);

}  // namespace softsieve

#endif
