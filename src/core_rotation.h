// Rotation of a loading matrix by gradient projection from many random starts.
#ifndef SOFTSIEVE_CORE_ROTATION_H
#define SOFTSIEVE_CORE_ROTATION_H

#include "core_criteria.h"
#include "core_random.h"
#include "core_threads.h"

#include <Eigen/Core>
#include <cstdint>
#include <vector>

namespace softsieve {

// What turns, and under which constraint: factors that stay orthogonal, f(A T), T'T = I; factors
// that may correlate, f(A inv(T)'), columns of T of length 1; or the reference axes of correlated
// factors, f(A T), columns of T of length 1 (Harman 1976, Modern factor analysis, chapter 14).
enum class Turning { orthogonal, oblique, reference };

struct Rotation {
  Eigen::MatrixXd transformation;  // T, k x k
  Eigen::MatrixXd loadings;        // what the criterion is of, p x k
  double value, gradient;          // the criterion, and the length of its projected gradient
  int iterations;
  bool converged;
};

// One start. Orthogonal: Jennrich (2001, Psychometrika 66, 289-306), minimises f(A T) over T'T = I.
// Oblique: Jennrich (2002, Psychometrika 67, 7-19), minimises f(A inv(T)') over T with columns of
// length 1; the factor correlations are T'T. Reference axes likewise. A step is as long as the last
// two gradients suggest (Barzilai & Borwein 1988, IMA J. Numer. Anal. 8, 141-148) and halved until
// f is below the highest of its last five values (Grippo, Lampariello & Lucidi 1986, SIAM J. Numer.
// Anal. 23, 707-716). O(p k^2) an iteration. Threads may call it.
Rotation rotate_from(const Eigen::MatrixXd& loadings, const Eigen::MatrixXd& start, Turning turning,
                     const Criterion& criterion, double tolerance, int max_iterations);

// A random orthogonal matrix, k x k, uniform over both determinants.
Eigen::MatrixXd random_orthogonal(int k, Stream stream);

// Start 0 is the identity; start i > 0 a random orthogonal matrix (of either determinant) from
// stream (seed, i), so that the outcome does not depend on the number of threads. Returns all
// starts' criterion values in `values`, the best rotation, run on until its gradient is below
// `tolerance`, and in `second` the best that ended elsewhere (without loadings when all ended in
// one place). k >= 2.
Status rotate_best(const Eigen::MatrixXd& loadings, Turning turning, const Criterion& criterion,
                   int starts, std::uint64_t seed, int threads, double tolerance,
                   int max_iterations, const Watch& watch, Rotation& best, Rotation& second,
                   std::vector<double>& values);

}  // namespace softsieve

#endif
