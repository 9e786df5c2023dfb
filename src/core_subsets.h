// The best items of a scale: subsets of a given size, by branch and bound.
#ifndef SOFTSIEVE_CORE_SUBSETS_H
#define SOFTSIEVE_CORE_SUBSETS_H

#include <Eigen/Core>
#include <vector>

namespace softsieve {

enum class SubsetMeasure {
  omega,     // (sum l)^2 / ((sum l)^2 + sum u) over the subset, from one factor of the whole scale
             // (McDonald 1999)
  fidelity,  // correlation of the subset's sum with the whole sum of another occasion:
             // sum_S (C* 1)_i / sqrt(1_S' C 1_S 1'C 1), where C* is C with each variance replaced
             // by its common part, so that shared errors do not count (Levy 1967, Br. J. Math.
             // Stat. Psychol. 20, 25-32)
};

// covariances C: p x p; loadings l and uniquenesses u: p, in the items' units (the common part of a
// variance is l^2). forced: must be in; facet: from 0, or -1; least: of each facet that there is.
struct SubsetPlan {
  Eigen::MatrixXd covariances;
  Eigen::VectorXd loadings, uniquenesses;
  std::vector<bool> forced;
  std::vector<int> facet;
  int least = 0;
  int size = 0;
  int best = 1;  // how many sets are wanted
  SubsetMeasure measure = SubsetMeasure::omega;
};

struct Subset {
  std::vector<int> items;  // from 0, rising
  double value;
};

// The best sets, best first; fewer where there are not as many. Sets of equal value (to 1e-12): the
// one that comes first in the order of items. Exact: a branch is left only when a bound on all it
// holds is below the last of the best. `count`: how many sets were looked at to the end.
std::vector<Subset> best_subsets(const SubsetPlan& plan, double& count);

}  // namespace softsieve

#endif
