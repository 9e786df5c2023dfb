#include "core_resample_people.h"

#include "core_ordinal.h"
#include "core_polychoric.h"
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

// What does not change from draw to draw: answers about their means with 0 for a gap, who answered, and the
// categories of items that have few.
struct People {
  explicit People(const PeoplePlan& plan);
  const PeoplePlan& plan;
  MatrixXd centred, squared, seen;
  bool gaps;
  std::vector<std::vector<int>> members;           // items of each scale
  std::vector<std::vector<double>> values;         // of each item's categories; empty: too many
  std::vector<std::vector<std::int8_t>> codes;     // -1: missing
};

People::People(const PeoplePlan& given) : plan(given), gaps(false), members(static_cast<std::size_t>(given.scales)) {
  const Eigen::Index n = given.answers.rows(), p = given.answers.cols();
  centred = MatrixXd::Zero(n, p);
  seen = MatrixXd::Zero(n, p);
  values.resize(static_cast<std::size_t>(p));
  codes.resize(static_cast<std::size_t>(p));
  for (Eigen::Index j = 0; j < p; ++j) {
    const auto item = static_cast<std::size_t>(j);
    double sum = 0.0, count = 0.0;
    std::vector<double>& found = values[item];
    bool few = given.ordinal;
    for (Eigen::Index i = 0; i < n; ++i) {
      const double x = given.answers(i, j);
      if (std::isnan(x)) {
        gaps = true;
        continue;
      }
      sum += x;
      ++count;
      seen(i, j) = 1.0;
      if (!few || std::find(found.begin(), found.end(), x) != found.end()) continue;
      found.push_back(x);
      few = found.size() <= static_cast<std::size_t>(most_categories);
    }
    for (Eigen::Index i = 0; i < n; ++i)
      if (seen(i, j) > 0) centred(i, j) = given.answers(i, j) - sum / count;
    if (!few) {
      found.clear();
      continue;
    }
    std::sort(found.begin(), found.end());
    for (Eigen::Index i = 0; i < n; ++i)
      codes[item].push_back(seen(i, j) > 0 ? static_cast<std::int8_t>(std::lower_bound(found.begin(), found.end(), given.answers(i, j)) - found.begin())
                                           : std::int8_t{-1});
  }
  squared = centred.cwiseAbs2();
  for (std::size_t j = 0; j < given.scale_of.size(); ++j)
    if (given.scale_of[j] >= 0) members[static_cast<std::size_t>(given.scale_of[j])].push_back(static_cast<int>(j));
}

// Standard deviations from all who answered an item, correlations from all who answered both.
void moments(const People& people, const VectorXd& w, MatrixXd& r, VectorXd& sds) {
  const MatrixXd weighted = w.asDiagonal() * people.centred;
  MatrixXd products = weighted.transpose() * people.centred;
  if (!people.gaps) {
    const double n = w.sum();
    const VectorXd mean = weighted.colwise().sum().transpose() / n;
    products -= n * mean * mean.transpose();
    sds = (products.diagonal() / (n - 1.0)).cwiseMax(0.0).cwiseSqrt();
    const VectorXd root = products.diagonal().cwiseMax(0.0).cwiseSqrt();
    r = products.cwiseQuotient(root * root.transpose());
    return;
  }
  const MatrixXd seen = w.asDiagonal() * people.seen;
  const MatrixXd n = seen.transpose() * people.seen, sums = weighted.transpose() * people.seen;
  const MatrixXd squares = people.squared.transpose() * seen - MatrixXd(sums.cwiseAbs2().cwiseQuotient(n));
  products -= MatrixXd(sums.cwiseProduct(sums.transpose()).cwiseQuotient(n));
  r = products.cwiseQuotient(squares.cwiseProduct(squares.transpose()).cwiseMax(0.0).cwiseSqrt());
  sds = (squares.diagonal().array() / (n.diagonal().array() - 1.0)).max(0.0).sqrt();
}

// Polychoric correlations of one scale's items, and what they give. Categories that nobody drew go.
OrdinalMeasures ordinal_of(const People& people, const std::vector<int>& items, const VectorXd& w) {
  const std::size_t k = items.size();
  std::vector<std::vector<double>> margins(k), thresholds(k), steps(k);
  std::vector<std::vector<int>> place(k);
  for (std::size_t a = 0; a < k; ++a) {
    const auto item = static_cast<std::size_t>(items[a]);
    if (people.values[item].empty()) return {nothing, nothing};
    std::vector<double> margin(people.values[item].size(), 0.0);
    for (std::size_t i = 0; i < people.codes[item].size(); ++i)
      if (people.codes[item][i] >= 0) margin[static_cast<std::size_t>(people.codes[item][i])] += w[static_cast<Eigen::Index>(i)];
    double last = 0.0;
    for (std::size_t c = 0; c < margin.size(); ++c) {
      place[a].push_back(static_cast<int>(margins[a].size()));
      if (margin[c] <= 0.0) continue;
      if (!margins[a].empty()) steps[a].push_back(people.values[item][c] - last);
      last = people.values[item][c];
      margins[a].push_back(margin[c]);
    }
    if (margins[a].size() < 2) return {nothing, nothing};
    thresholds[a] = thresholds_from(margins[a]);
  }
  MatrixXd r = MatrixXd::Identity(static_cast<Eigen::Index>(k), static_cast<Eigen::Index>(k));
  std::vector<double> cells;
  for (std::size_t a = 0; a < k; ++a)
    for (std::size_t b = 0; b < a; ++b) {
      const std::size_t rows = margins[a].size(), columns = margins[b].size();
      cells.assign(rows * columns, 0.0);
      double n = 0.0;
      const auto& first = people.codes[static_cast<std::size_t>(items[a])];
      const auto& second = people.codes[static_cast<std::size_t>(items[b])];
      for (std::size_t i = 0; i < first.size(); ++i) {
        const double weight = w[static_cast<Eigen::Index>(i)];
        if (first[i] < 0 || second[i] < 0 || weight <= 0.0) continue;
        cells[static_cast<std::size_t>(place[a][static_cast<std::size_t>(first[i])]) * columns +
              static_cast<std::size_t>(place[b][static_cast<std::size_t>(second[i])])] += weight;
        n += weight;
      }
      const PairTable table{static_cast<int>(rows), static_cast<int>(columns), n, cells.data()};
      const double rho = polychoric(table, thresholds[a].data(), thresholds[b].data(), true).rho;
      r(static_cast<Eigen::Index>(a), static_cast<Eigen::Index>(b)) = r(static_cast<Eigen::Index>(b), static_cast<Eigen::Index>(a)) = rho;
    }
  return measure_ordinal(r, thresholds, steps);
}

void measure_weighted(const People& people, const VectorXd& w, double* out) {
  const PeoplePlan& plan = people.plan;
  MatrixXd r;
  VectorXd sds;
  moments(people, w, r, sds);
  r.diagonal().setOnes();
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
    measure_covariances(s, plan.splits[static_cast<std::size_t>(scale)], here);
    if (!plan.ordinal) continue;
    const OrdinalMeasures found = ordinal_of(people, items, w);
    here[measure::categorical] = found.omega;
    here[measure::ordinal] = found.alpha;
  }
  double* whole = out + plan.scales * measure::count;
  std::fill(whole, out + measures_of(plan), nothing);
  if (plan.hierarchy.pattern.cols() >= 2 && r.allFinite()) measure_hierarchy(r, sds, plan.scale_of, plan.scales, plan.hierarchy, whole);
}

VectorXd base_weights(const PeoplePlan& plan) {
  if (plan.weights.empty()) return VectorXd::Ones(plan.answers.rows());
  return Eigen::Map<const VectorXd>(plan.weights.data(), static_cast<Eigen::Index>(plan.weights.size()));
}

}  // namespace

std::size_t measures_of(const PeoplePlan& plan) {
  return static_cast<std::size_t>(plan.scales * measure::count + 6 * (plan.scales + 1));
}

std::vector<double> measure_people(const PeoplePlan& plan) {
  std::vector<double> out(measures_of(plan));
  measure_weighted(People(plan), base_weights(plan), out.data());
  return out;
}

Status resample_people(const PeoplePlan& plan, std::size_t replicates, std::size_t groups, std::uint64_t seed, int threads,
                       double* out, const Watch& watch) {
  const People people(plan);
  const VectorXd base = base_weights(plan);
  const Eigen::Index n = plan.answers.rows();
  auto make_worker = [&] {
    return [&](std::size_t column) {
      VectorXd w = VectorXd::Zero(n);
      if (column < replicates) {
        Stream stream(seed, column);
        for (Eigen::Index i = 0; i < n; ++i) w[static_cast<Eigen::Index>(stream.uniform() * static_cast<double>(n))] += 1.0;
        w = w.cwiseProduct(base);
      } else {
        w = base;
        for (Eigen::Index i = static_cast<Eigen::Index>(column - replicates); i < n; i += static_cast<Eigen::Index>(groups)) w[i] = 0.0;
      }
      measure_weighted(people, w, out + column * measures_of(plan));
    };
  };
  return run_replicates(replicates + groups, threads, make_worker, watch);
}

}  // namespace softsieve
