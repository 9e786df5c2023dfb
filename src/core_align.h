// Factors of two solutions matched with each other: which is which, and with which sign.
#ifndef SOFTSIEVE_CORE_ALIGN_H
#define SOFTSIEVE_CORE_ALIGN_H

#include <Eigen/Core>
#include <vector>

namespace softsieve {

// Coefficients of congruence (Tucker 1951) of every column of a with every column of b,
// a'b / sqrt(a'a b'b); 0 for a column of zeros.
Eigen::MatrixXd congruences(const Eigen::MatrixXd& a, const Eigen::MatrixXd& b);

// For each row of a square matrix the column it is given, no column twice, so that the sum of what
// is given is as large as can be: shortest augmenting paths (Kuhn 1955, Nav. Res. Logist. Q. 2,
// 83-97; Munkres 1957), O(k^3). Of equal sums always the same one.
std::vector<int> best_assignment(const Eigen::MatrixXd& gain);

// For each column of `target` the column of `loadings` that stands for it, so that congruences in
// size add up to the most; the sign that makes the congruence positive, and the congruence. Both
// p x k. Columns that are left out stand at -1 where `loadings` has fewer than `target`.
struct Alignment {
  std::vector<int> column;
  Eigen::VectorXd sign, congruence;
};
Alignment align_factors(const Eigen::MatrixXd& loadings, const Eigen::MatrixXd& target);

// Columns in the alignment's order and sign, and correlations of the factors with them.
Eigen::MatrixXd align_columns(const Eigen::MatrixXd& loadings, const Alignment& alignment);
Eigen::MatrixXd align_square(const Eigen::MatrixXd& correlations, const Alignment& alignment);

}  // namespace softsieve

#endif
