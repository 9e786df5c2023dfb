// A factor solution of people drawn again: each draw is extracted and rotated as the solution was,
// and its factors are matched with the solution's.
#ifndef SOFTSIEVE_CORE_STABILITY_H
#define SOFTSIEVE_CORE_STABILITY_H

#include "core_criteria.h"
#include "core_drawing.h"
#include "core_resample_people.h"
#include "core_rotation.h"
#include "core_spectrum.h"
#include "core_threads.h"
#include "core_uniqueness.h"

#include <Eigen/Core>
#include <cstdint>
#include <memory>
#include <vector>

namespace softsieve {

// How a solution is found from correlations r and standard deviations.
struct SolutionPlan {
  bool components;          // eigenvectors; otherwise a search for uniquenesses
  Discrepancy discrepancy;  // what the search makes small
  bool covariances;         // of covariances, loadings for items of variance 1 all the same
  double lowest;            // least share of an item's variance that is unique
  Eigen::VectorXd start;    // p uniquenesses (as shares) of the solution of all people
  bool turned;              // is it rotated at all?
  Turning turning;
  Criterion criterion;
  int starts;              // of rotation: from where the target is nearest, the rest random
  Eigen::MatrixXd target;  // p x k, the loadings of the solution of all people
  Basis basis;             // of the eigenvalues that are told
  bool many = false;       // people are many: draws lie near the solution of all people
};

// What one draw gives, column-major: aligned loadings (p x k), factor correlations (k x k),
// communalities (p), congruences of the factors with the target's (k), eigenvalues (p), and 1 when
// a uniqueness is at its bound. All NaN where there is no solution (an item without variance, a
// matrix that the method cannot take, a search that did not end).
std::size_t numbers_of_solution(Eigen::Index items, Eigen::Index factors);

// The solution of one matrix. Uniquenesses are sought from those of all people and (unless people
// are many) from the usual start; where that ends at a bound or does not end, from several more
// (core_search.h).
void solve_alike(const Eigen::MatrixXd& r, const Eigen::VectorXd& sds, const SolutionPlan& plan,
                 std::uint64_t seed, double* out);

struct DrawnPeople {
  Eigen::MatrixXd answers;      // people x items; NaN where missing
  std::vector<double> weights;  // one for each person, or empty
  Units units;
  std::shared_ptr<const DealtCounts> dealt;  // instead of answers: then the units are the deals
};

// `replicates` draws, then `halves` pairs of halves: numbers_of_solution() rows, a column for each
// of `range`. With more than `most_single` people sums over units
// are made once, and all draws are one matrix product; with more than twice `parts` units, these
// are first dealt into as many parts. The same on any number of threads.
Status resample_solution(const DrawnPeople& drawn, const SolutionPlan& plan, std::size_t replicates,
                         const ColumnRange& range, int most_single, int parts, std::uint64_t seed,
                         int threads, double* out, const Watch& watch);

}  // namespace softsieve

#endif
