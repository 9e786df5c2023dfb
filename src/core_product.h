// Products of large matrices, by the widest registers that the machine has.
#ifndef SOFTSIEVE_CORE_PRODUCT_H
#define SOFTSIEVE_CORE_PRODUCT_H

#include <Eigen/Core>

namespace softsieve {

// Adds a b to c. a: m x k and c: m x n, column-major with `a_stride` and `c_stride` from one column
// to the next; b: k x n, element (l, j) at b[l * down + j * across]. Each element of c is summed in
// the same order whatever m, n and the threads that share the work.
struct Product {
  Eigen::Index m, n, k;
  const double* a;
  Eigen::Index a_stride;
  const double* b;
  Eigen::Index down, across;
  double* c;
  Eigen::Index c_stride;
};
void add_product(const Product& what);

// The same where registers are narrow: a driver holds the two against each other.
void add_product_plainly(const Product& what);

// a b.
Eigen::MatrixXd product_of(const Eigen::MatrixXd& a, const Eigen::MatrixXd& b);

}  // namespace softsieve

#endif
