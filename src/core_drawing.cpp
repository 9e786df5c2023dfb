#include "core_drawing.h"

#include "core_random.h"

#include <algorithm>
#include <utility>

namespace softsieve {

using Eigen::Index;
using Eigen::VectorXd;

namespace {

// Streams beside those of the draws, which are numbered from 0.
constexpr std::uint64_t dealing = std::uint64_t{1} << 40, halving = std::uint64_t{1} << 41;

std::vector<std::vector<int>> members_of(const Units& units) {
  std::vector<std::vector<int>> members;
  for (int unit = 0; unit < units.count(); ++unit) {
    const auto stratum = static_cast<std::size_t>(units.stratum_of[static_cast<std::size_t>(unit)]);
    if (stratum >= members.size()) members.resize(stratum + 1);
    members[stratum].push_back(unit);
  }
  return members;
}

std::size_t pick(Stream& stream, std::size_t of) {
  return static_cast<std::size_t>(stream.uniform() * static_cast<double>(of));
}

void shuffle(std::vector<int>& x, Stream& stream) {
  for (std::size_t i = x.size(); i > 1; --i)
    std::swap(x[i - 1], x[pick(stream, i)]);
}

}  // namespace

Units deal_units(const Units& units, int parts, std::uint64_t seed) {
  Stream stream(seed, dealing);
  Units out;
  std::vector<int> part_of(units.stratum_of.size());
  int stratum = 0;
  for (std::vector<int>& own : members_of(units)) {
    shuffle(own, stream);
    const double share = static_cast<double>(own.size()) / units.count();
    const int wanted = std::max(2, static_cast<int>(share * parts + 0.5));
    const int count = std::min(wanted, static_cast<int>(own.size()));
    const int from = out.count();
    for (std::size_t i = 0; i < own.size(); ++i)
      part_of[static_cast<std::size_t>(own[i])] =
          from + static_cast<int>(i % static_cast<std::size_t>(std::max(1, count)));
    out.stratum_of.insert(out.stratum_of.end(), static_cast<std::size_t>(count), stratum);
    ++stratum;
  }
  for (const int unit : units.unit_of)
    out.unit_of.push_back(part_of[static_cast<std::size_t>(unit)]);
  return out;
}

VectorXd draw_units(const Units& units, std::uint64_t seed, std::uint64_t column) {
  VectorXd counts = VectorXd::Zero(units.count());
  Stream stream(seed, column);
  for (const std::vector<int>& own : members_of(units))
    for (std::size_t i = 0; i < own.size(); ++i)
      counts[own[pick(stream, own.size())]] += 1.0;
  return counts;
}

VectorXd halve_units(const Units& units, std::uint64_t seed, std::uint64_t number) {
  VectorXd half = VectorXd::Zero(units.count());
  Stream stream(seed, halving + number);
  bool more = stream.uniform() < 0.5;
  for (std::vector<int>& own : members_of(units)) {
    shuffle(own, stream);
    const std::size_t take = own.size() / 2 + (own.size() % 2 && more ? 1 : 0);
    if (own.size() % 2) more = !more;
    for (std::size_t i = 0; i < take; ++i)
      half[own[i]] = 1.0;
  }
  return half;
}

VectorXd spread_over_people(const Units& units, const VectorXd& counts) {
  VectorXd out(static_cast<Index>(units.unit_of.size()));
  for (std::size_t i = 0; i < units.unit_of.size(); ++i)
    out[static_cast<Index>(i)] = counts[units.unit_of[i]];
  return out;
}

}  // namespace softsieve
