// Coefficients of reliability over resampled people.
#ifndef SOFTSIEVE_CORE_RESAMPLE_PEOPLE_H
#define SOFTSIEVE_CORE_RESAMPLE_PEOPLE_H

#include "core_hierarchy.h"
#include "core_reliability.h"
#include "core_tally.h"
#include "core_threads.h"

#include <Eigen/Core>
#include <cstdint>
#include <memory>
#include <vector>

namespace softsieve {

// People of whom only counts were kept, dealt into groups (core_tally.h): the groups are drawn.
struct DealtCounts {
  TallyShape shape;
  std::vector<std::vector<double>> values;  // of each item's categories; empty: too many
  Eigen::MatrixXd cells;                    // as Tally has them, a column for each deal
  std::vector<PairSums> sums;               // one for each deal, or none
};

struct PeoplePlan {
  Eigen::MatrixXd answers;      // people x items; NaN where missing; no rows where there are counts
  std::vector<double> weights;  // one for each person, or empty
  std::vector<int> scale_of;    // for each item its scale from 0, or -1
  int scales;
  std::vector<std::vector<int>>
      splits;    // for each scale the signs of its greatest split half, or none
  bool ordinal;  // measures from tables of categories too; items with more than 16 give NaN
  HierarchyStart hierarchy;  // pattern of 0 columns: left out
  std::shared_ptr<const DealtCounts> dealt;
};

constexpr int people_parts = 500;

// Which columns of the draws are made: first to last - 1. What a column holds does not depend on
// it, as long as ranges begin at multiples of columns_at_once (columns that are made by one matrix
// product).
struct ColumnRange {
  std::size_t first, last;
};
constexpr std::size_t columns_at_once = 24;

// How many numbers one set of people gives: measure::count for each scale, then 6 for each scale
// and all.
std::size_t measures_of(const PeoplePlan& plan);

// Draws people with replacement `replicates` times (replicate i from stream (seed, i)), then leaves
// out one of `groups` parts of the people after the other (person i is in part i mod groups). Row r
// of `out` (column-major, measures_of() rows, a column for each of `range`) holds all measures:
// column 0 .. replicates - 1 the draws, the rest the parts. Of more than `most_single` people,
// people_parts shuffled parts of equal size are drawn and left out instead of single ones: sums
// over parts are made once, and all draws are one matrix product; where there are counts, their
// deals are drawn and left out. Moments are those of all who answered both items of a pair. The
// same on any number of threads.
Status resample_people(const PeoplePlan& plan, std::size_t replicates, std::size_t groups,
                       const ColumnRange& range, int most_single, std::uint64_t seed, int threads,
                       double* out, const Watch& watch);

// The measures with every person counted as `plan` says.
std::vector<double> measure_people(const PeoplePlan& plan);

}  // namespace softsieve

#endif
