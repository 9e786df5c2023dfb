// From the evidence of a correlation matrix to the features on which the probabilities of each
// number of factors rest.
#ifndef SOFTSIEVE_CORE_FEATURES_H
#define SOFTSIEVE_CORE_FEATURES_H

#include "core_evidence.h"

#include <Eigen/Core>
#include <string>
#include <vector>

namespace softsieve {

// The eigenvalues, falling, that `people` answers to `items` unrelated items have on average: the
// quantiles at (i - 1/2) / items of the law of Marchenko & Pastur (1967, Math. USSR Sb. 1,
// 457-483). people > items >= 1.
Eigen::VectorXd chance_spectrum(int people, int items);

// How far an eigenvalue lies beyond the largest of noise of variance 1 in `items` dimensions, in
// units of its spread there (Johnstone 2001, Ann. Stat. 29, 295-327): chance exceeds 0.98 in five
// of a hundred. people, items >= 2.
double beyond_noise(double eigenvalue, int people, int items);

// The features of "is there a factor more than j?", one row for each j = 0..most. Row j looks at
// rungs up to j + 2: `evidence.ladder` must reach most + 1; where it ends there, the last stands
// in. None tells how many items there are. latent: do the correlations come from ordered categories
// (polychoric)? p >= most + 3; n > p.
struct Features {
  std::vector<std::string> names;  // those of the columns, as in inst/retention/model.json.xz
  Eigen::MatrixXd values;
};
Features features_of(const Evidence& evidence, int n, bool latent, int most);

}  // namespace softsieve

#endif
