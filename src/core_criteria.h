// Rotation criteria: small pairs of a value, which rotation makes as small as it can, and its
// gradient.
#ifndef SOFTSIEVE_CORE_CRITERIA_H
#define SOFTSIEVE_CORE_CRITERIA_H

#include <Eigen/Core>
#include <functional>
#include <string>

namespace softsieve {

// A criterion's value at a loading matrix (p x k); its gradient (p x k) goes into the second.
using Criterion = std::function<double(const Eigen::MatrixXd& loadings, Eigen::MatrixXd& gradient)>;

// What a criterion is made from; each uses what it needs.
struct CriterionRequest {
  std::string name;         // see the table in core_criteria.cpp
  double parameter;         // kappa, gamma, delta or the number of zeros
  int items, factors;       // p and k
  Eigen::MatrixXd target;   // p x k, for "target"
  Eigen::MatrixXd weights;  // p x k: how much each element of the target counts; 0 leaves it free
};

// The criterion asked for, or an empty function when there is none of that name.
Criterion make_criterion(const CriterionRequest& request);

}  // namespace softsieve

#endif
