#include "core_resample_people.h"

#include "core_linear.h"
#include "core_ordinal.h"
#include "core_people_sums.h"
#include "core_polychoric.h"
#include "core_product.h"
#include "core_random.h"
#include "core_tables.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr double nothing = std::numeric_limits<double>::quiet_NaN();

// A Newton step for a polychoric correlation that is shorter than this is the last: what it leaves
// is far below what draws differ by.
constexpr double near_step = 0.02;

// The categories of one item that anybody is in.
struct Kept {
  std::vector<double> margin, thresholds, steps;
  std::vector<int> place;  // of each category among those kept
};

Kept keep_categories(const std::vector<double>& values, const std::vector<double>& margin) {
  Kept kept;
  double last = 0.0;
  for (std::size_t c = 0; c < margin.size(); ++c) {
    kept.place.push_back(static_cast<int>(kept.margin.size()));
    if (margin[c] <= 0.0) continue;
    if (!kept.margin.empty()) kept.steps.push_back(values[c] - last);
    last = values[c];
    kept.margin.push_back(margin[c]);
  }
  if (kept.margin.size() > 1) kept.thresholds = thresholds_from(kept.margin);
  return kept;
}

// How many (or what weight of) people are in each category, and in each two of a pair: counted for
// these weights of people, or taken from sums of parts.
struct Tables {
  virtual ~Tables() = default;
  virtual std::vector<double> margin(int item) const = 0;
  virtual void cells(int first, int second,
                     std::vector<double>& out) const = 0;  // first < second, row-major
};

struct CountedTables : Tables {
  const People& people;
  const VectorXd& w;
  CountedTables(const People& all, const VectorXd& weights) : people(all), w(weights) {}
  std::vector<double> margin(int item) const override {
    const auto& codes = people.codes[static_cast<std::size_t>(item)];
    std::vector<double> out(people.values[static_cast<std::size_t>(item)].size(), 0.0);
    for (std::size_t i = 0; i < codes.size(); ++i)
      if (codes[i] >= 0) out[static_cast<std::size_t>(codes[i])] += w[static_cast<Eigen::Index>(i)];
    return out;
  }
  void cells(int first, int second, std::vector<double>& out) const override {
    const auto &a = people.codes[static_cast<std::size_t>(first)],
               &b = people.codes[static_cast<std::size_t>(second)];
    const std::size_t columns = people.values[static_cast<std::size_t>(second)].size();
    out.assign(people.values[static_cast<std::size_t>(first)].size() * columns, 0.0);
    for (std::size_t i = 0; i < a.size(); ++i)
      if (a[i] >= 0 && b[i] >= 0)
        out[static_cast<std::size_t>(a[i]) * columns + static_cast<std::size_t>(b[i])] +=
            w[static_cast<Eigen::Index>(i)];
  }
};

struct SummedTables : Tables {
  const People& people;
  const SumRows& rows;
  const double* sums;
  SummedTables(const People& all, const SumRows& where, const double* column)
      : people(all), rows(where), sums(column) {}
  std::vector<double> margin(int item) const override {
    const double* from = sums + rows.margin_at[static_cast<std::size_t>(item)];
    return std::vector<double>(from, from + people.values[static_cast<std::size_t>(item)].size());
  }
  void cells(int first, int second, std::vector<double>& out) const override {
    const double* from =
        sums + rows.table_at[static_cast<std::size_t>(first * rows.items + second)];
    const std::size_t size = people.values[static_cast<std::size_t>(first)].size() *
                             people.values[static_cast<std::size_t>(second)].size();
    out.assign(from, from + size);
  }
};

// What was found for all people, from which draws of them go on: it makes each of them several
// times cheaper. Empty at first, and filled by the first to measure with it.
struct Anchor {
  bool filled = false;
  MatrixXd latent;                        // polychoric correlations, items x items
  std::vector<OneFactor> plain, ordinal;  // of each scale
  std::vector<OneFactor> higher;          // one: of the factors' correlations
  explicit Anchor(const PeoplePlan& plan)
      : latent(MatrixXd::Zero(plan.answers.cols(), plan.answers.cols())),
        plain(static_cast<std::size_t>(plan.scales)),
        ordinal(static_cast<std::size_t>(plan.scales)),
        higher(1) {}
  // Once filled it is only read, by all threads: what could not be found for all people is none.
  OneFactor* memory(std::vector<OneFactor>& of, int scale) const {
    OneFactor& one = of[static_cast<std::size_t>(scale)];
    return filled && one.loadings.size() == 0 ? nullptr : &one;
  }
};

// Polychoric correlations of one scale's items, and what they give. Categories that nobody is in
// go.
OrdinalMeasures ordinal_of(const People& people, int scale, const Tables& tables, Anchor& anchor) {
  const std::vector<int>& items = people.members[static_cast<std::size_t>(scale)];
  const std::size_t k = items.size();
  std::vector<Kept> kept;
  std::vector<std::vector<double>> thresholds, steps;
  for (const int item : items) {
    const auto& values = people.values[static_cast<std::size_t>(item)];
    if (values.empty()) return {nothing, nothing};
    kept.push_back(keep_categories(values, tables.margin(item)));
    if (kept.back().margin.size() < 2) return {nothing, nothing};
    thresholds.push_back(kept.back().thresholds);
    steps.push_back(kept.back().steps);
  }
  MatrixXd r = MatrixXd::Identity(static_cast<Eigen::Index>(k), static_cast<Eigen::Index>(k));
  std::vector<double> whole, cells;
  for (std::size_t b = 0; b < k; ++b)
    for (std::size_t a = 0; a < b; ++a) {
      tables.cells(items[a], items[b], whole);
      const std::size_t rows = kept[a].margin.size(), columns = kept[b].margin.size();
      const std::size_t all_columns = kept[b].place.size();
      cells.assign(rows * columns, 0.0);
      double n = 0.0;
      for (std::size_t i = 0; i < whole.size(); ++i) {
        if (whole[i] <= 0.0) continue;
        const auto row = static_cast<std::size_t>(kept[a].place[i / all_columns]);
        cells[row * columns + static_cast<std::size_t>(kept[b].place[i % all_columns])] += whole[i];
        n += whole[i];
      }
      const PairTable table{static_cast<int>(rows), static_cast<int>(columns), n, cells.data()};
      double& known = anchor.latent(items[a], items[b]);
      const PolychoricStart start =
          anchor.filled ? PolychoricStart{known, near_step} : PolychoricStart{};
      const double rho =
          polychoric(table, thresholds[a].data(), thresholds[b].data(), true, start).rho;
      if (!anchor.filled) known = rho;
      r(static_cast<Eigen::Index>(a), static_cast<Eigen::Index>(b)) = rho;
      r(static_cast<Eigen::Index>(b), static_cast<Eigen::Index>(a)) = rho;
    }
  return measure_ordinal(r, thresholds, steps, anchor.memory(anchor.ordinal, scale));
}

// `quick`: where people are many, draws differ little, and what iterates need not go on to the last
// digit.
void measure_from(const People& people, const MatrixXd& r, const VectorXd& sds,
                  const Tables& tables, Anchor& anchor, bool quick, double* out) {
  const PeoplePlan& plan = people.plan;
  for (int scale = 0; scale < plan.scales; ++scale) {
    const auto& items = people.members[static_cast<std::size_t>(scale)];
    const Eigen::Index k = static_cast<Eigen::Index>(items.size());
    MatrixXd s(k, k);
    for (Eigen::Index a = 0; a < k; ++a)
      for (Eigen::Index b = 0; b < k; ++b) {
        const int i = items[static_cast<std::size_t>(a)], j = items[static_cast<std::size_t>(b)];
        s(a, b) = r(i, j) * sds[i] * sds[j];
      }
    double* here = out + scale * measure::count;
    measure_covariances(s, plan.splits[static_cast<std::size_t>(scale)], here,
                        anchor.memory(anchor.plain, scale), quick ? 1e-3 : 1e-7);
    if (!plan.ordinal) continue;
    const OrdinalMeasures found = ordinal_of(people, scale, tables, anchor);
    here[measure::categorical] = found.omega;
    here[measure::ordinal] = found.alpha;
  }
  double* whole = out + plan.scales * measure::count;
  std::fill(whole, out + measures_of(plan), nothing);
  if (plan.hierarchy.pattern.cols() >= 2 && r.allFinite())
    measure_hierarchy(r, sds, plan.scale_of, plan.scales, plan.hierarchy, whole,
                      anchor.memory(anchor.higher, 0), quick);
}

void measure_weighted(const People& people, const VectorXd& w, Anchor& anchor, double* out) {
  MatrixXd r;
  VectorXd sds;
  moments_of_weights(people, w, r, sds);
  r.diagonal().setOnes();
  measure_from(people, r, sds, CountedTables(people, w), anchor, false, out);
}

VectorXd base_weights(const PeoplePlan& plan) {
  if (plan.weights.empty()) return VectorXd::Ones(plan.answers.rows());
  return Eigen::Map<const VectorXd>(plan.weights.data(),
                                    static_cast<Eigen::Index>(plan.weights.size()));
}

}  // namespace

std::size_t measures_of(const PeoplePlan& plan) {
  return static_cast<std::size_t>(plan.scales * measure::count +
                                  hierarchy_count * (plan.scales + 1));
}

std::vector<double> measure_people(const PeoplePlan& plan) {
  std::vector<double> out(measures_of(plan));
  Anchor anchor(plan);
  measure_weighted(People(plan), base_weights(plan), anchor, out.data());
  return out;
}

namespace {

// One person after the other is a part of its own while they are few; many are shuffled into parts
// of (nearly) equal size.
std::vector<int> parts_of_people(Eigen::Index n, int parts, std::uint64_t seed) {
  std::vector<int> part(static_cast<std::size_t>(n));
  for (std::size_t i = 0; i < part.size(); ++i)
    part[i] = static_cast<int>(i % static_cast<std::size_t>(parts));
  Stream stream(seed, std::uint64_t{1} << 40);  // no replicate's
  for (std::size_t i = part.size(); i > 1; --i)
    std::swap(part[i - 1],
              part[static_cast<std::size_t>(stream.uniform() * static_cast<double>(i))]);
  return part;
}

// How often each of n units counts in column c: drawn with replacement, or all but one of `groups`
// parts of them.
VectorXd unit_weights(Eigen::Index n, std::size_t column, std::size_t replicates,
                      std::size_t groups, std::uint64_t seed) {
  if (column >= replicates) {
    VectorXd w = VectorXd::Ones(n);
    for (Eigen::Index i = static_cast<Eigen::Index>(column - replicates); i < n;
         i += static_cast<Eigen::Index>(groups))
      w[i] = 0.0;
    return w;
  }
  VectorXd w = VectorXd::Zero(n);
  Stream stream(seed, column);
  for (Eigen::Index i = 0; i < n; ++i)
    w[static_cast<Eigen::Index>(stream.uniform() * static_cast<double>(n))] += 1.0;
  return w;
}

// Draws of parts of the people whose sums are there, and all parts but some.
Status resample_sums(const People& people, const SumRows& rows, const MatrixXd& sums,
                     Anchor& anchor, std::size_t replicates, std::size_t groups,
                     const ColumnRange& range, std::uint64_t seed, int threads, double* out,
                     const Watch& watch) {
  const PeoplePlan& plan = people.plan;
  if (!anchor.filled) {
    const VectorXd all = sums.rowwise().sum();
    std::vector<double> measured(measures_of(plan));
    MatrixXd r;
    VectorXd sds;
    moments_of_sums(people, rows, all.data(), r, sds);
    measure_from(people, r, sds, SummedTables(people, rows, all.data()), anchor, false,
                 measured.data());
    anchor.filled = true;
  }
  auto make_worker = [&] {
    return [&](std::size_t batch) {
      const std::size_t from = range.first + batch * columns_at_once,
                        to = std::min(range.last, from + columns_at_once);
      MatrixXd w(sums.cols(), static_cast<Eigen::Index>(to - from));
      for (std::size_t column = from; column < to; ++column)
        w.col(static_cast<Eigen::Index>(column - from)) =
            unit_weights(sums.cols(), column, replicates, groups, seed);
      const MatrixXd all = product_of(sums, w);
      MatrixXd r;
      VectorXd sds;
      for (std::size_t column = from; column < to; ++column) {
        const double* here = all.col(static_cast<Eigen::Index>(column - from)).data();
        moments_of_sums(people, rows, here, r, sds);
        measure_from(people, r, sds, SummedTables(people, rows, here), anchor, true,
                     out + (column - range.first) * measures_of(plan));
      }
    };
  };
  const std::size_t columns = range.last - range.first;
  const Watch count = [&](std::size_t done) {
    return watch(std::min(done * columns_at_once, columns));
  };
  return run_replicates((columns + columns_at_once - 1) / columns_at_once, threads, make_worker,
                        count);
}

}  // namespace

Status resample_people(const PeoplePlan& plan, std::size_t replicates, std::size_t groups,
                       const ColumnRange& range, int most_single, std::uint64_t seed, int threads,
                       double* out, const Watch& watch) {
  const People people(plan);
  const Eigen::Index n = plan.answers.rows();
  Anchor anchor(plan);
  if (plan.dealt) {
    const SumRows rows(people);
    return resample_sums(people, rows, sum_deals(people, rows), anchor, replicates, groups, range,
                         seed, threads, out, watch);
  }
  const VectorXd base = base_weights(plan);
  std::vector<double> all_people(measures_of(plan));
  measure_weighted(people, base, anchor, all_people.data());
  anchor.filled = true;
  if (n <= std::max(most_single, people_parts)) {
    auto make_worker = [&] {
      return [&](std::size_t i) {
        const VectorXd w =
            unit_weights(n, range.first + i, replicates, groups, seed).cwiseProduct(base);
        measure_weighted(people, w, anchor, out + i * measures_of(plan));
      };
    };
    return run_replicates(range.last - range.first, threads, make_worker, watch);
  }
  const SumRows rows(people);
  const MatrixXd sums =
      sum_parts(people, rows, parts_of_people(n, people_parts, seed), people_parts, base);
  return resample_sums(people, rows, sums, anchor, replicates, groups, range, seed, threads, out,
                       watch);
}

}  // namespace softsieve
