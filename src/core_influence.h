// How much each person moves each correlation: what the sampling theory of correlations rests on
// where answers are not normal, have gaps or weights, or come in clusters.
#ifndef SOFTSIEVE_CORE_INFLUENCE_H
#define SOFTSIEVE_CORE_INFLUENCE_H

#include "core_coding.h"
#include "core_threads.h"

#include <Eigen/Core>
#include <functional>
#include <vector>

namespace softsieve {

// Correlations stand in the order of the upper triangle, column by column: pair (i, j), i < j, at
// j (j - 1) / 2 + i. With q = p (p - 1) / 2 of them, one person's influences are q numbers whose
// mean over people is 0 and whose mean square is n times the variance of the correlation.

// Fills a person's numbers [0, end): adds them to `out`, so that people of one unit can be summed.
using RowFiller = std::function<void(std::size_t person, std::size_t end, double* out)>;

// What is known of people: how many, how many numbers each has, and how they are made.
struct Influences {
  std::size_t people = 0, length = 0;
  RowFiller add;
};

// Pearson, pairwise: w (z_i z_j - r (z_i^2 + z_j^2) / 2) n / n_ij, standardised over the people who
// answered both (Hampel 1974, J. Am. Stat. Assoc. 69, 383-393). answers: people x items, NaN where
// missing; weights with mean 1, or null. `answers` must outlive what is returned.
Influences pearson_influences(const Eigen::MatrixXd& answers, const double* weights);

// Polychoric, in two steps: the score of the person's cell over its information, less what the
// person does through both items' thresholds (Olsson 1979, Psychometrika 44, 443-460; Muthen 1984,
// Psychometrika 49, 115-132). thresholds: of each item. `coding` must outlive what is returned.
Influences polychoric_influences(const Coding& coding, const Eigen::MatrixXd& correlations,
                                 const std::vector<std::vector<double>>& thresholds,
                                 const double* weights);

// Maximum likelihood of normal answers with gaps (EM): the person's score by the inverse of the
// observed information (Yuan & Bentler 2000, Sociol. Methodol. 30, 165-200; Savalei & Bentler 2009,
// Struct. Equ. Modeling 16, 477-497), taken on to correlations. `covariances` are those of maximum
// likelihood. singular: the information has no inverse.
struct LikelihoodInfluences {
  Influences scores;        // p means, then p (p + 1) / 2 covariances (vech, by columns)
  Eigen::MatrixXd carried;  // scores to correlations: length x q
  bool singular = false;
};
LikelihoodInfluences likelihood_influences(const Eigen::MatrixXd& answers, const double* weights,
                                           const Eigen::VectorXd& means,
                                           const Eigen::MatrixXd& covariances);

// Sum over units of x x', x the sum of the influences of a unit's people. first_of: where each
// unit's people begin, and one more for the end. length x length; the same bits for any number of
// threads. O(people length^2 / 2).
Status cross_products(const Influences& influences, const std::vector<std::size_t>& first_of,
                      int threads, const Watch& watch, Eigen::MatrixXd& out);

// Its diagonal alone.
Status sums_of_squares(const Influences& influences, const std::vector<std::size_t>& first_of,
                       int threads, const Watch& watch, Eigen::VectorXd& out);

// The units named in `chosen`, as rows.
Eigen::MatrixXd unit_rows(const Influences& influences, const std::vector<std::size_t>& first_of,
                          const std::vector<std::size_t>& chosen);

// m D for the slopes D of loadings (p x k): d rho_ij / d l_im = l_jm, columns by item, then factor.
// m has a column for each pair; `out`, rows x pk, begins as zeros. O(rows q k).
void times_slopes(const Eigen::Ref<const Eigen::MatrixXd>& m, const Eigen::MatrixXd& loadings,
                  Eigen::Ref<Eigen::MatrixXd> out);

// V m for the weight V of maximum likelihood, which nobody needs to hold: with X the symmetric
// matrix of a column of m (0 in its diagonal), A the inverse of the correlations and S that of I +
// R o A, the pair i, j gets (A X A)_ij - a_ij (y_i + y_j), y = S (A o X) 1. A column costs O(p^3),
// not O(p^4).
void weigh_pairs(const Eigen::MatrixXd& inverse, const Eigen::MatrixXd& spreads,
                 const Eigen::Ref<const Eigen::MatrixXd>& m, Eigen::Ref<Eigen::MatrixXd> out);

}  // namespace softsieve

#endif
