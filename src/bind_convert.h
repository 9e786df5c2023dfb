// Matrices and vectors between R and the core: copies, so that R's memory is never changed.
#ifndef SOFTSIEVE_BIND_CONVERT_H
#define SOFTSIEVE_BIND_CONVERT_H

#include <Eigen/Core>
#include <Rcpp.h>

namespace softsieve {

inline Eigen::MatrixXd to_core(const Rcpp::NumericMatrix& x) {
  return Eigen::Map<const Eigen::MatrixXd>(x.begin(), x.nrow(), x.ncol());
}

inline Eigen::VectorXd to_core(const Rcpp::NumericVector& x) {
  return Eigen::Map<const Eigen::VectorXd>(x.begin(), x.size());
}

inline Rcpp::NumericVector to_r(const Eigen::VectorXd& x) {
  return Rcpp::NumericVector(x.data(), x.data() + x.size());
}

inline Rcpp::NumericMatrix to_r(const Eigen::MatrixXd& x) {
  return Rcpp::NumericMatrix(static_cast<int>(x.rows()), static_cast<int>(x.cols()), x.data());
}

}  // namespace softsieve

#endif
