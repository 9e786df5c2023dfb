// Counts that add up over people: what is kept of answers that come a block at a time.
#ifndef SOFTSIEVE_CORE_TALLY_H
#define SOFTSIEVE_CORE_TALLY_H

#include "core_tables.h"

#include <Eigen/Core>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace softsieve {

// What is counted. `categories[i]`: how many item i has, 1 to most_categories, or 0 when it has
// more than can be counted: of its pairs only sums are kept.
struct TallyShape {
  std::vector<int> categories;
  int deals;      // groups that people are dealt into by their number, at least 1
  bool weighted;  // does each person come with a weight?
  bool complete;  // are people left out who did not answer every item?
};

// Answers of a block, people x items, column-major. codes: ranks of categories, negative where
// missing (always negative for items that are not counted). values: the answers less each item's
// origin, NaN where missing; null unless the shape asks for sums. weights: null unless weighted.
struct TallyBlock {
  const std::int8_t* codes;
  const double* values;
  const double* weights;
  std::size_t people;
  // the number of each person, or nullptr where they are numbered one after the other
  const std::uint64_t* numbers = nullptr;
};

// Sums over the people who answered both items of a pair: items x items, the entry (i, j) being of
// item i over those who answered j. Whole numbers are summed exactly up to 2^53.
struct PairSums {
  Eigen::MatrixXd people, weight, sum, square, product;  // product: of both items
  Eigen::VectorXd cube;                                  // of each item, over all who answered it
};

// Of each deal: how many people came, gave an answer, answered all; sums of weights and their
// squares.
struct DealtPeople {
  double people = 0, answering = 0, whole = 0, weight = 0, weight_square = 0;
};

// Memory depends on items, categories and deals, not on people.
class Tally {
 public:
  explicit Tally(const TallyShape& shape);

  // Adds a block whose first person has the number `first`, people being numbered throughout
  // (unless the block has their numbers). Who belongs to which deal depends on the number alone.
  void add(const TallyBlock& block, std::uint64_t first, int threads);

  // Counts everybody who still waits. To be called before anything is read.
  void settle(int threads);

  // The tables of deal d: those of all pairs first < second of counted items, in that order, the
  // table row-major; then each counted item's own counts.
  const std::vector<double>& cells(int d) const {
    return deals_[static_cast<std::size_t>(d)].cells;
  }
  const PairSums& sums(int d) const { return deals_[static_cast<std::size_t>(d)].sums; }
  const DealtPeople& people(int d) const { return deals_[static_cast<std::size_t>(d)].people; }
  const TallyShape& shape() const { return shape_; }
  bool has_sums() const { return sums_; }

  // Where the table of a pair, or an item's own counts, begin.
  std::size_t place(int first, int second) const;
  std::size_t own_place(int item) const { return own_[static_cast<std::size_t>(item)]; }

 private:
  struct Deal {
    std::vector<double> cells;
    PairSums sums;
    DealtPeople people;
    // those who wait: column-major, of counted items; values of all items
    std::vector<std::int8_t> codes;
    std::vector<double> values, weights;
    std::size_t waiting = 0;
  };
  void take(Deal& deal, const TallyBlock& sorted, std::size_t from, std::size_t people) const;
  void count(Deal& deal) const;
  void count_tables(Deal& deal) const;
  void count_sums(Deal& deal) const;

  TallyShape shape_;
  bool sums_;
  std::size_t items_, most_waiting_, size_;
  std::vector<std::size_t> place_, own_;
  std::vector<int> counted_;  // which items are
  std::vector<Deal> deals_;
};

// The deal that a person belongs to, 0 to deals - 1.
int deal_of(std::uint64_t person, int deals);

}  // namespace softsieve

#endif
