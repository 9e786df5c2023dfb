// Eigenvalues of sample correlation matrices of normal items with a known population: unrelated for
// the chance levels of parallel analysis (Horn 1965), or with the factors already kept.
#ifndef SOFTSIEVE_CORE_CHANCE_H
#define SOFTSIEVE_CORE_CHANCE_H

#include "core_random.h"
#include "core_spectrum.h"
#include "core_threads.h"

#include <Eigen/Core>

#include <vector>

namespace softsieve {

// A lower trapezoid whose rows have length 1: row-major, so that a row is contiguous.
using RowMatrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

// People who count alike: how many, and how much each item's cross-products among them count.
struct Part {
  int people;
  Eigen::VectorXd scale;  // p
};

struct Population {
  int people, items;
  RowMatrix
      root;  // p x p: the lower Cholesky factor of the population matrix; empty: unrelated items
  // p x p, lower triangle: the standard deviation of an error that each correlation has of its own,
  // as pairwise deletion gives; empty: none. Eigenvalues may be below 0 then.
  RowMatrix own_error = {};
  // p, or empty: how much further from 0 an item's correlations are than those of a whole normal
  // variable, as polychoric ones of items with few answers; each goes by the product of two.
  Eigen::VectorXd further = {};
  // Weights, and people in clusters: the cross-products of unrelated items are the sum of those of
  // the parts, with as many degrees of freedom as people. Empty: all count alike.
  std::vector<Part> parts = {};
};

// Draws the correlation matrix of a sample without drawing its people, into the lower triangle of
// `correlations` (p x p, ones on the diagonal).
//
// The matrix of cross-products about the means is Wishart with m = people - 1 degrees of freedom.
// For unrelated items it is A A' with A (p x min(p, m)) lower trapezoidal, a_jj ~ chi(m - j) for
// j = 0, 1, ..., all elements below the diagonal standard normal, all independent (Bartlett 1933,
// "On the theory of statistical regression", Proc. R. Soc. Edinburgh 53, 260-283; the A of the QR
// decomposition of the data). That holds for m < p too: A then has only m columns. With a root C
// it is (C A)(C A)' (Odell & Feiveson 1966, J. Am. Stat. Assoc. 61, 199-203). Rows scaled to length
// 1 turn cross-products into correlations. Cost: p(p-1)/2 normals and about p^3/6 multiplications
// (p^3/3 with a root), whatever the number of people.
// Errors of its own are added to each correlation last, and `further` applied to both.
// people >= 2; `scratch` is p x p. Threads may call it with scratch and stream of their own.
void draw_sample_correlations(const Population& population, Stream& stream, RowMatrix& scratch,
                              Eigen::MatrixXd& correlations);

// Eigenvalues, largest first, of samples first..first + replicates - 1. `out` has items x
// replicates elements, one column a replicate; the column of sample i depends on (seed, i,
// population, basis) alone. Of a stopped run nothing in `out` is to be used. items >= 2, replicates
// >= 1.
Status sample_eigenvalues(const Population& population, Basis basis, std::size_t first,
                          std::size_t replicates, std::uint64_t seed, int threads, double* out,
                          const Watch& watch);

}  // namespace softsieve

#endif
