// Everything that moments and tables of categories need of people, summed over parts of the people,
// so that any weighting of the parts costs one matrix product.
#ifndef SOFTSIEVE_CORE_PEOPLE_SUMS_H
#define SOFTSIEVE_CORE_PEOPLE_SUMS_H

#include "core_resample_people.h"

#include <Eigen/Core>
#include <cstdint>
#include <vector>

namespace softsieve {

// What does not change from draw to draw: answers about their means with 0 for a gap, who answered,
// and the categories of items that have few.
struct People {
  explicit People(const PeoplePlan& plan);
  const PeoplePlan& plan;
  Eigen::MatrixXd centred, squared, seen;  // people x items
  bool gaps;
  std::vector<std::vector<int>> members;        // items of each scale
  std::vector<std::vector<double>> values;      // of each item's categories; empty: too many
  std::vector<std::vector<std::int8_t>> codes;  // -1: missing
};

// Where in a column of sums each thing stands. Pairs i <= j over all items have `pair_rows` numbers
// each: with gaps n, sum_i, sum_j, sum_ii, sum_jj and sum_ij of those who answered both, without
// them sum_ij alone (then the items' own sums and n serve every pair). Tables are of the pairs of
// items of one scale that both have few categories.
struct SumRows {
  explicit SumRows(const People& people);
  int items, pair_rows, count;
  int people_at;                     // n of everybody
  std::vector<int> item_at;          // sum of an item (without gaps)
  std::vector<int> margin_at;        // an item's categories; -1: none
  std::vector<int> table_at;         // i * items + j, i < j: rows x columns cells; -1: none
  int pair_at(int i, int j) const {  // i <= j
    return pairs_at_ + pair_rows * (i * items - i * (i - 1) / 2 + (j - i));
  }

 private:
  int pairs_at_;
};

// count x parts: the sums over the people of each part (part_of: one for each person, from 0).
Eigen::MatrixXd sum_parts(const People& people, const SumRows& rows,
                          const std::vector<int>& part_of, int parts,
                          const Eigen::VectorXd& weights);

// The same where only counts were kept: a column for each deal.
Eigen::MatrixXd sum_deals(const People& people, const SumRows& rows);

// Standard deviations from all who answered an item, correlations from all who answered both: with
// weights of the people, or from one column of sums.
void moments_of_weights(const People& people, const Eigen::VectorXd& w, Eigen::MatrixXd& r,
                        Eigen::VectorXd& sds);
void moments_of_sums(const People& people, const SumRows& rows, const double* sums,
                     Eigen::MatrixXd& r, Eigen::VectorXd& sds);

}  // namespace softsieve

#endif
