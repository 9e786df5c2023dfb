// How much of a sum of items is due to what all of them share, and how much to their groups.
#ifndef SOFTSIEVE_CORE_HIERARCHY_H
#define SOFTSIEVE_CORE_HIERARCHY_H

#include "core_search.h"

#include <Eigen/Core>
#include <vector>

namespace softsieve {

// Where the searches of a resampled matrix begin: at what the whole sample's ended with.
struct HierarchyStart {
  Eigen::MatrixXd pattern;       // p x k, oblique (quartimin)
  Eigen::MatrixXd bifactor;      // p x (k + 1), orthogonal (bifactor quartimin), the general factor
                                 // first; 0 x 0: left out
  Eigen::VectorXd uniquenesses;  // p, of the k factors
  Eigen::VectorXd bifactor_uniquenesses;  // p, of the k + 1 factors
  Eigen::MatrixXd unrotated;              // p x k, of the k factors; for `quick` alone
};

// The six numbers of a sum, in their order: what is said, and by which form.
constexpr int hierarchy_count = 6;
constexpr const char* hierarchy_names[hierarchy_count] = {
    "general.schmid_leiman", "groups.schmid_leiman", "total.schmid_leiman",
    "general.bifactor",      "groups.bifactor",      "total.bifactor"};

// For every sum (each scale, then all items) three numbers by the Schmid-Leiman form, then three by
// the direct bifactor (NaN when left out): the shares of its variance that are general, of groups,
// and both (one less the uniquenesses' share).
//   general (sum_i s_i g_i)^2 / V, groups sum_j (sum_i s_i b_ij)^2 / V, total 1 - sum_i s_i^2 u_i /
//   V
// (McDonald 1999; Zinbarg, Revelle, Yovel & Li 2005, Psychometrika 70, 123-133), with s standard
// deviations, V the sum's variance, factors by minres, a k x k one-factor minres on top (Schmid &
// Leiman 1957), or k + 1 factors turned by bifactor quartimin (Jennrich & Bentler 2011). `quick`,
// for matrices near the one that `start` comes from: loadings row by row to a gradient of 1e-4, and
// rotations to 1e-4. `higher`: a memory of the factor that the factors share (core_search.h).
// scale_of: for each item its scale from 0. k >= 2. `out`: 6 x (scales + 1). Threads may call it.
void measure_hierarchy(const Eigen::MatrixXd& correlations, const Eigen::VectorXd& sds,
                       const std::vector<int>& scale_of, int scales, const HierarchyStart& start,
                       double* out, OneFactor* higher = nullptr, bool quick = false);

}  // namespace softsieve

#endif
