// All eigenvalues, and no eigenvectors, of a real symmetric matrix.
#ifndef SOFTSIEVE_CORE_EIGENVALUES_H
#define SOFTSIEVE_CORE_EIGENVALUES_H

#include "core_linear.h"

namespace softsieve {

// Householder's reduction to tridiagonal form, then QL steps with Wilkinson's shift in the form
// without square roots of Pal, Walker and Kahan (Parlett 1998, "The symmetric eigenvalue
// problem", section 8.15), which works on the squares of the off-diagonal elements. Twice as fast
// as rotations for matrices of questionnaire size. The error is a small multiple of the machine
// precision times the largest eigenvalue. Each thread needs a solver of its own.
class EigenvalueSolver {
 public:
  explicit EigenvalueSolver(int size) : tridiagonal_(size), diagonal_(size), squares_(size) {}

  // Writes the eigenvalues of `matrix` (p x p, p >= 2; its lower triangle is read), largest
  // first, to out[0..p-1]. O(p^3).
  void compute(const Eigen::MatrixXd& matrix, double* out);

 private:
  bool iterate();
  Eigen::Tridiagonalization<Eigen::MatrixXd> tridiagonal_;
  Eigen::VectorXd diagonal_, squares_;  // squares_[i] belongs to rows i and i + 1
};

}  // namespace softsieve

#endif
