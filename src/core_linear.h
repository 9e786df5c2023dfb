// Eigen's decompositions and products of large matrices, compiled once (core_linear.cpp): every
// other file that uses one takes what stands there, which halves the time the core takes to
// compile and keeps a hundred kilobytes of copies out of the library. Only what the core calls
// is named: whole classes would bring what nobody calls.
#ifndef SOFTSIEVE_CORE_LINEAR_H
#define SOFTSIEVE_CORE_LINEAR_H

#include <Eigen/Cholesky>
#include <Eigen/Core>
#include <Eigen/Eigenvalues>
#include <Eigen/LU>
#include <Eigen/QR>
#include <Eigen/SVD>

// clang-format off
#define SOFTSIEVE_DECOMPOSITION(PREFIX, KIND) \
  PREFIX template KIND<MatrixXd>& KIND<MatrixXd>::compute(const EigenBase<MatrixXd>&)

#define SOFTSIEVE_PRODUCT(PREFIX, LEFT, RIGHT)                                            \
  PREFIX template struct general_matrix_matrix_product<Index, double, LEFT, false, double, \
                                                       RIGHT, false, ColMajor, 1>

#define SOFTSIEVE_PRODUCT_OF_VECTOR(PREFIX, LEFT, RIGHT)                                       \
  PREFIX template struct general_matrix_vector_product<                                       \
      Index, double, const_blas_data_mapper<double, Index, LEFT>, LEFT, false, double,        \
      const_blas_data_mapper<double, Index, RIGHT>, false>

#define SOFTSIEVE_TRIANGULAR(PREFIX, SHAPE, ORDER)                                            \
  PREFIX template struct triangular_solve_matrix<double, Index, OnTheLeft, SHAPE, false, ORDER, \
                                                 ColMajor, 1>

#define SOFTSIEVE_LINEAR(PREFIX)                                                              \
  namespace Eigen {                                                                           \
  PREFIX template SelfAdjointEigenSolver<MatrixXd>&                                           \
  SelfAdjointEigenSolver<MatrixXd>::compute(const EigenBase<MatrixXd>&, int);                 \
  PREFIX template JacobiSVD<MatrixXd>& JacobiSVD<MatrixXd>::compute(const MatrixXd&,           \
                                                                    unsigned int);            \
  PREFIX template void JacobiSVD<MatrixXd>::allocate(Index, Index, unsigned int);              \
  SOFTSIEVE_DECOMPOSITION(PREFIX, LLT);                                                       \
  SOFTSIEVE_DECOMPOSITION(PREFIX, LDLT);                                                      \
  SOFTSIEVE_DECOMPOSITION(PREFIX, PartialPivLU);                                              \
  SOFTSIEVE_DECOMPOSITION(PREFIX, HouseholderQR);                                             \
  PREFIX template void PartialPivLU<MatrixXd>::compute();                                     \
  PREFIX template void HouseholderQR<MatrixXd>::computeInPlace();                             \
  namespace internal {                                                                        \
  PREFIX template struct gebp_kernel<double, double, Index,                                   \
                                     blas_data_mapper<double, Index, ColMajor>,               \
                                     gebp_traits<double, double>::mr,                         \
                                     gebp_traits<double, double>::nr, false, false>;          \
  SOFTSIEVE_PRODUCT_OF_VECTOR(PREFIX, ColMajor, RowMajor);                                    \
  SOFTSIEVE_PRODUCT_OF_VECTOR(PREFIX, ColMajor, ColMajor);                                    \
  SOFTSIEVE_PRODUCT_OF_VECTOR(PREFIX, RowMajor, ColMajor);                                    \
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
