// People drawn again: with replacement, or halved; one by one, in clusters, within strata.
#ifndef SOFTSIEVE_CORE_DRAWING_H
#define SOFTSIEVE_CORE_DRAWING_H

#include <Eigen/Core>
#include <cstdint>
#include <vector>

namespace softsieve {

// What is drawn together: `unit_of` has for each person its unit from 0, `stratum_of` for each unit
// its stratum from 0. Units are drawn within their stratum, as many as it has.
struct Units {
  std::vector<int> unit_of, stratum_of;
  int count() const { return static_cast<int>(stratum_of.size()); }
};

// The same with units dealt at random into about `parts` larger ones, each within a stratum (two at
// least in each that has two units): the more units there are, the less the parts' draws differ
// from theirs.
Units deal_units(const Units& units, int parts, std::uint64_t seed);

// How often each unit counts in draw number `column` of stream (seed, column).
Eigen::VectorXd draw_units(const Units& units, std::uint64_t seed, std::uint64_t column);

// 1 for the units of one random half, 0 for those of the other; of an odd stratum one more falls to
// either side in turn. Replicate `number` has a stream of its own.
Eigen::VectorXd halve_units(const Units& units, std::uint64_t seed, std::uint64_t number);

// What units count, for each person.
Eigen::VectorXd spread_over_people(const Units& units, const Eigen::VectorXd& counts);

}  // namespace softsieve

#endif
