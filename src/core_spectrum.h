// The eigenvalues that parallel analysis compares: of the correlation matrix, or of a matrix with
// communalities on its diagonal.
#ifndef SOFTSIEVE_CORE_SPECTRUM_H
#define SOFTSIEVE_CORE_SPECTRUM_H

#include "core_eigenvalues.h"

namespace softsieve {

enum class Basis {
  components,    // ones on the diagonal
  factors,       // squared multiple correlations
  minimum_rank,  // the communalities of the least common variance (core_minrank.h)
};

// Each thread needs one of its own.
class SpectrumSolver {
 public:
  SpectrumSolver(int size, Basis basis) : basis_(basis), reduced_(size, size), solver_(size) {}

  // Writes the eigenvalues, largest first, to out[0..p-1]; its lower triangle is read. A matrix
  // that is not positive definite has no squared multiple correlations: each item's largest
  // correlation in size stands in. For minimum rank they are divided by their sum, the common
  // variance.
  void compute(const Eigen::MatrixXd& correlations, double* out);

 private:
  Basis basis_;
  Eigen::MatrixXd reduced_;
  EigenvalueSolver solver_;
};

// 1 / r^ii for each item: the share of its variance that the others do not predict. False when the
// matrix is not positive definite. The lower triangle is read.
bool unique_shares(const Eigen::MatrixXd& correlations, Eigen::VectorXd& shares);

}  // namespace softsieve

#endif
