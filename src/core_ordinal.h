// Reliability of the sum of ordered categories, cut from normal variables that share one factor.
#ifndef SOFTSIEVE_CORE_ORDINAL_H
#define SOFTSIEVE_CORE_ORDINAL_H

#include "core_search.h"

#include <Eigen/Core>
#include <vector>

namespace softsieve {

struct OrdinalMeasures {
  double omega;  // of the sum of the categories as scored (Green & Yang 2009, Psychometrika 74,
                 // 155-167)
  double alpha;  // standardised alpha of the polychoric correlations: of the normal variables, not
                 // of the answers
};

// With thresholds t_ic, scores that rise by d_ic at them, loadings l of one factor (minres) of the
// polychoric correlations r, and h(i, j, rho) = sum_c sum_e d_ic d_je (Phi2(t_ic, t_je; rho) -
// Phi(t_ic) Phi(t_je)), the covariance of items i and j (Hoeffding): omega = sum_ij h(i, j, l_i
// l_j) / sum_ij h(i, j, r_ij), r_ii = 1. Fewer than three items: NaN. Threads may call it.
OrdinalMeasures measure_ordinal(const Eigen::MatrixXd& polychoric,
                                const std::vector<std::vector<double>>& thresholds,
                                const std::vector<std::vector<double>>& steps,
                                OneFactor* one_factor = nullptr);

}  // namespace softsieve

#endif
