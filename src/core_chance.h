// Eigenvalues of correlation matrices of unrelated normal items: the chance levels of parallel
// analysis (Horn 1965).
#ifndef SOFTSIEVE_CORE_CHANCE_H
#define SOFTSIEVE_CORE_CHANCE_H

#include "core_random.h"
#include "core_threads.h"

#include <Eigen/Core>

namespace softsieve {

// A lower trapezoid whose rows have length 1: row-major, so that a row is contiguous.
using RowMatrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

// Draws the correlation matrix of `people` independent people on unrelated normal items, without
// drawing the people, into the lower triangle of `correlations` (p x p, ones on the diagonal).
//
// The matrix of cross-products about the means is Wishart with m = people - 1 degrees of freedom.
// It is A A' with A (p x min(p, m)) lower trapezoidal, a_jj ~ chi(m - j) for j = 0, 1, ..., all
// elements below the diagonal standard normal, all independent (Bartlett 1933, "On the theory of
// statistical regression", Proc. R. Soc. Edinburgh 53, 260-283; the A of the QR decomposition of
// the data). That holds for m < p too: A then has only m columns. Rows scaled to length 1 turn
// cross-products into correlations. Cost: p(p-1)/2 normals and about p^3/6 multiplications,
// whatever the number of people.
// people >= 2; `scratch` is p x p. Threads may call it with scratch and stream of their own.
void draw_chance_correlations(int people, Stream& stream, RowMatrix& scratch,
                              Eigen::MatrixXd& correlations);

// Eigenvalues, largest first, of `replicates` such matrices. `out` has items x replicates
// elements, one column a replicate; column i depends on (seed, i, people, items) alone. Of a
// stopped run nothing in `out` is to be used. people >= 2, items >= 2, replicates >= 1.
Status chance_eigenvalues(int people, int items, int replicates, std::uint64_t seed, int threads,
                          double* out, const Watch& watch);

}  // namespace softsieve

#endif
