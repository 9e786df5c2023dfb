// Pairwise tables of counts: the one thing that is computed from categorical answers. Everything
// else (pairwise n, means, products, rank and polychoric correlations) follows from them.
#ifndef SOFTSIEVE_CORE_TABLES_H
#define SOFTSIEVE_CORE_TABLES_H

#include "core_threads.h"

#include <cstddef>
#include <cstdint>
#include <functional>
#include <vector>

namespace softsieve {

// The most categories an item may have to be held as planes.
constexpr int most_categories = 16;

// Answers as the core takes them: column-major people x items; an answer is the rank of its
// category among the item's, 0, 1, ..., and a negative number when it is missing.
// `categories[i]` is how many the item has, 1 to most_categories.
struct CodedAnswers {
  const std::int8_t* codes;
  std::size_t people;
  std::vector<int> categories;
};

// The table of one pair of items over the people who answered both: rows are the categories of
// the first item, columns those of the second, row-major. Weighted tables hold sums of weights.
struct PairTable {
  int rows, columns;
  double people;  // how many answered both, whatever their weights
  const double* cells;
  double at(int row, int column) const { return cells[row * columns + column]; }
};

// Called for every pair first < second, from any thread, each pair once. It may write to places
// that belong to the pair.
using PairVisitor = std::function<void(int first, int second, const PairTable& table)>;

// Holds the answers as bit planes, one for each category, 64 people a word.
class AnswerPlanes {
 public:
  // Memory: people / 8 bytes for each category of each item. Threads split the items.
  AnswerPlanes(const CodedAnswers& answers, int threads);

  // Counts all pairs by popcount over the planes, a tile of items and a stretch of people at a
  // time, so that both stay in the cache. O(pairs x rows x columns x people / 64).
  Status visit_pairs(int threads, const PairVisitor& visitor, const Watch& watch) const;

  // How many people gave each answer to an item.
  std::vector<double> margin(int item) const;

 private:
  const std::uint64_t* plane(int item, int category) const {
    return planes_.data() + (first_plane_[item] + category) * words_;
  }
  std::vector<int> categories_;
  std::vector<std::size_t> first_plane_;
  std::size_t words_;
  std::vector<std::uint64_t> planes_;
};

// The same tables with a weight for each person (finite, at least 0), by a plain loop over people.
Status visit_weighted_pairs(const CodedAnswers& answers, const double* weights, int threads,
                            const PairVisitor& visitor, const Watch& watch);

// Which counting code this processor runs: "avx2", "popcnt" or "portable".
const char* popcount_in_use();

// Moments of the two items' values over a table: n (or sum of weights), means, and sums of squared
// deviations and of products about the means. values: one number for each category.
struct PairMoments {
  double n, mean_first, mean_second, square_first, square_second, product;
};
PairMoments moments_of(const PairTable& table, const double* first, const double* second);

// Pearson's chi-square of independence over rows and columns that anybody is in, and its degrees of
// freedom.
struct ChiSquare {
  double statistic, df;
};
ChiSquare chi_square_of(const PairTable& table);

// Midranks of a table's row or column margin: the values that make Pearson's formula Spearman's.
void midranks_of(const PairTable& table, std::vector<double>& first, std::vector<double>& second);

}  // namespace softsieve

#endif
