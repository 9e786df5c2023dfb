// What can be said of variables (factors, components, the items themselves) from answers with gaps.
#ifndef SOFTSIEVE_CORE_PREDICTION_H
#define SOFTSIEVE_CORE_PREDICTION_H

#include "core_threads.h"

#include <Eigen/Core>

namespace softsieve {

// The best linear prediction of q variables from p standardised answers, person by person
// (Thurstone 1935): with o the items that a person answered,
//
//   c[o, ]' inv(R[o, o]) z[o]
//
// answers: n x p standardised, NaN for a gap; correlations R: p x p, positive semidefinite;
// with_items c: p x q, correlations of items with what is predicted; out: n x q, written row by
// row. People with the same gaps share one solution of the equations. Where R[o, o] is singular (a
// pivot below 1e-10 of the largest) the weights of least length are taken, from its eigenvectors;
// who answered nothing gets NaN.
// O(n p q) and, for each pattern of gaps, O(p^3 / 3 + p^2 q). Threads share out the patterns: the
// numbers do not hang on how many there are.
Status predict_from_answers(const Eigen::Ref<const Eigen::MatrixXd>& answers,
                            const Eigen::Ref<const Eigen::MatrixXd>& correlations,
                            const Eigen::Ref<const Eigen::MatrixXd>& with_items,
                            Eigen::Ref<Eigen::MatrixXd> out, int threads, const Watch& watch);

}  // namespace softsieve

#endif
