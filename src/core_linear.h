// Eigen's decompositions and products of large matrices, compiled once (core_linear.cpp): every
// other file that uses one takes what stands there, which halves the time the core takes to
// compile.
#ifndef SOFTSIEVE_CORE_LINEAR_H
#define SOFTSIEVE_CORE_LINEAR_H

#include <Eigen/Cholesky>
#include <Eigen/Core>
#include <Eigen/Eigenvalues>
#include <Eigen/LU>
#include <Eigen/QR>
#include <Eigen/SVD>

// clang-format off
#define SOFTSIEVE_DECOMPOSITION(PREFIX, KIND)                 \
  PREFIX template class KIND<MatrixXd>;                       \
  PREFIX template KIND<MatrixXd>& KIND<MatrixXd>::compute(const EigenBase<MatrixXd>&)

#define SOFTSIEVE_PRODUCT(PREFIX, LEFT, RIGHT)                                            \
  PREFIX template struct general_matrix_matrix_product<Index, double, LEFT, false, double, \
                                                       RIGHT, false, ColMajor, 1>

#define SOFTSIEVE_TRIANGULAR(PREFIX, SHAPE, ORDER)                                            \
  PREFIX template struct triangular_solve_matrix<double, Index, OnTheLeft, SHAPE, false, ORDER, \
                                                 ColMajor, 1>

#define SOFTSIEVE_LINEAR(PREFIX)                                                              \
  namespace Eigen {                                                                           \
  PREFIX template class SelfAdjointEigenSolver<MatrixXd>;                                     \
  PREFIX template SelfAdjointEigenSolver<MatrixXd>&                                           \
  SelfAdjointEigenSolver<MatrixXd>::compute(const EigenBase<MatrixXd>&, int);                 \
  PREFIX template class JacobiSVD<MatrixXd>;                                                  \
  SOFTSIEVE_DECOMPOSITION(PREFIX, LLT);                                                       \
  SOFTSIEVE_DECOMPOSITION(PREFIX, LDLT);                                                      \
  SOFTSIEVE_DECOMPOSITION(PREFIX, PartialPivLU);                                              \
  SOFTSIEVE_DECOMPOSITION(PREFIX, HouseholderQR);                                             \
  namespace internal {                                                                        \
  SOFTSIEVE_PRODUCT(PREFIX, ColMajor, ColMajor);                                              \
  SOFTSIEVE_PRODUCT(PREFIX, RowMajor, ColMajor);                                              \
  SOFTSIEVE_PRODUCT(PREFIX, ColMajor, RowMajor);                                              \
  SOFTSIEVE_PRODUCT(PREFIX, RowMajor, RowMajor);                                              \
  SOFTSIEVE_TRIANGULAR(PREFIX, Lower, ColMajor);                                              \
  SOFTSIEVE_TRIANGULAR(PREFIX, Upper, ColMajor);                                              \
  SOFTSIEVE_TRIANGULAR(PREFIX, Upper, RowMajor);                                              \
  SOFTSIEVE_TRIANGULAR(PREFIX, UnitLower, ColMajor);                                          \
  SOFTSIEVE_TRIANGULAR(PREFIX, UnitUpper, RowMajor);                                          \
  }                                                                                           \
  }
// clang-format on

SOFTSIEVE_LINEAR(extern)

#endif
