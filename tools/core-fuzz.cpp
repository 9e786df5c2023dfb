// Random shapes and numbers for what the core takes from outside, under libFuzzer and the
// sanitizers: bash tools/fuzz-core.sh. ENTRY names the one that is built. Inputs keep what the
// doors (src/bind_check.h) hold: shapes that go together, finite numbers, positive variances.
#include "core_align.h"
#include "core_cells.h"
#include "core_coding.h"
#include "core_em.h"
#include "core_evidence.h"
#include "core_features.h"
#include "core_minrank.h"
#include "core_polychoric.h"
#include "core_prediction.h"
#include "core_reliability.h"
#include "core_resample_people.h"
#include "core_rotation.h"
#include "core_search.h"
#include "core_subsets.h"
#include "core_tables.h"
#include "core_tally.h"
#include "core_weighted.h"

#include <Eigen/Cholesky>
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <limits>
#include <string>

using namespace softsieve;

namespace {

const Watch nobody = [](std::size_t) { return true; };

// Numbers taken from the fuzzer's bytes; zeros when they are used up.
class Bytes {
 public:
  Bytes(const std::uint8_t* data, std::size_t size) : at_(data), end_(data + size) {}
  std::uint8_t byte() { return at_ < end_ ? *at_++ : 0; }
  int whole(int least, int most) { return least + byte() % (most - least + 1); }
  // small numbers, and now and then very large, very small and equal ones
  double number() {
    const std::uint8_t kind = byte();
    const double x = (byte() - 128) / 32.0;
    if (kind < 8) return x * 1e150;
    if (kind < 16) return x * 1e-150;
    return kind < 24 ? 0.0 : x;
  }
  double share() { return byte() / 256.0; }
  Eigen::MatrixXd matrix(int rows, int columns) {
    Eigen::MatrixXd m(rows, columns);
    for (Eigen::Index i = 0; i < m.size(); ++i)
      m.data()[i] = number();
    return m;
  }
  // answers with gaps
  Eigen::MatrixXd answers(int rows, int columns, double gaps) {
    Eigen::MatrixXd m(rows, columns);
    for (Eigen::Index i = 0; i < m.size(); ++i)
      m.data()[i] = share() < gaps ? std::numeric_limits<double>::quiet_NaN() : whole(1, 6);
    return m;
  }
  // symmetric, ones on the diagonal, values from -1 to 1; positive definite where asked for
  Eigen::MatrixXd correlations(int p, bool definite) {
    Eigen::MatrixXd r = Eigen::MatrixXd::Identity(p, p);
    if (definite) {
      Eigen::MatrixXd a(p, p + 1);
      for (Eigen::Index i = 0; i < a.size(); ++i)
        a.data()[i] = (byte() - 128) / 64.0;
      r = a * a.transpose() + 1e-3 * Eigen::MatrixXd::Identity(p, p);
      const Eigen::VectorXd d = r.diagonal().cwiseSqrt().cwiseInverse();
      r = d.asDiagonal() * r * d.asDiagonal();
      r.diagonal().setOnes();
      return r;
    }
    for (int i = 0; i < p; ++i)
      for (int j = 0; j < i; ++j)
        r(i, j) = r(j, i) = 2 * share() - 1;
    return r;
  }

 private:
  const std::uint8_t* at_;
  const std::uint8_t* end_;
};

void fuzz_coding(Bytes& in) {
  const int people = in.whole(1, 130), items = in.whole(1, 5), threads = in.whole(1, 3);
  std::vector<double> numbers(people * items);
  std::vector<int> wholes(people * items);
  for (int i = 0; i < people * items; ++i) {
    numbers[i] = in.share() < 0.1 ? NAN : in.number();
    wholes[i] = in.share() < 0.1 ? std::numeric_limits<int>::min()
                : in.byte() < 10 ? std::numeric_limits<int>::max() - in.byte()
                                 : in.whole(-3, 9);
  }
  for (const Coding& coding : {code_answers(numbers.data(), people, items, threads),
                               code_answers(wholes.data(), people, items, threads)}) {
    CodedAnswers coded{coding.codes.data(), static_cast<std::size_t>(people), {}};
    for (const auto& values : coding.values)
      coded.categories.push_back(std::max<int>(1, static_cast<int>(values.size())));
    std::vector<double> weights(people);
    for (double& w : weights)
      w = in.byte() / 32.0;
    const PairVisitor look = [](int, int, const PairTable& table) {
      std::vector<double> a(most_categories), b(most_categories);
      midranks_of(table, a, b);
      moments_of(table, a.data(), b.data());
      chi_square_of(table);
    };
    AnswerPlanes(coded, threads).visit_pairs(threads, look, nobody);
    visit_weighted_pairs(coded, weights.data(), threads, look, nobody);
  }
}

void fuzz_polychoric(Bytes& in) {
  const int rows = in.whole(2, 5), columns = in.whole(2, 5);
  std::vector<double> cells(rows * columns), first(rows, 0), second(columns, 0);
  double people = 0;
  for (int i = 0; i < rows * columns; ++i) {
    cells[i] = in.byte() < 80 ? 0 : in.byte() * (in.byte() < 8 ? 1e6 : 1);
    people += cells[i];
    first[i / columns] += cells[i];
    second[i % columns] += cells[i];
  }
  if (people <= 0) return;
  const std::vector<double> a = thresholds_from(first), b = thresholds_from(second);
  polychoric({rows, columns, people, cells.data()}, a.data(), b.data(), in.whole(0, 1) == 1);
  std::vector<double> z(40);
  std::vector<std::int8_t> codes(40);
  for (int i = 0; i < 40; ++i) {
    z[i] = in.share() < 0.1 ? NAN : (in.byte() - 128) / 40.0;
    codes[i] = static_cast<std::int8_t>(in.whole(-1, rows - 1));
  }
  polyserial(z.data(), codes.data(), 40, nullptr, rows, a.data());
}

void fuzz_em(Bytes& in) {
  const int people = in.whole(2, 40), items = in.whole(1, 5);
  const Eigen::MatrixXd x = in.answers(people, items, 0.3);
  std::vector<double> weights(people);
  for (double& w : weights)
    w = 0.01 + in.share();
  Status status;
  fit_em(x, in.whole(0, 1) ? weights.data() : nullptr, 1e-8, 60, nobody, status);
}

void fuzz_search(Bytes& in) {
  const int p = in.whole(3, 8), k = in.whole(1, p - 1);
  const Eigen::MatrixXd r = in.correlations(p, true);
  const Eigen::VectorXd lowest = Eigen::VectorXd::Constant(p, in.whole(0, 1) ? .005 : 0.0);
  const Discrepancy method[] = {Discrepancy::least_squares, Discrepancy::generalised,
                                Discrepancy::maximum_likelihood};
  search_discrepancy(r, k, method[in.whole(0, 2)], lowest, 1e-8, 60, {1, false, 8});
  Eigen::MatrixXd weights(p, p);
  for (int i = 0; i < p; ++i)
    for (int j = 0; j <= i; ++j)
      weights(i, j) = weights(j, i) = 0.01 + in.byte();
  search_weighted(r, weights, k, Eigen::VectorXd::Constant(p, .005), 1e-8, 60, {1, false, 4});
}

void fuzz_rotation(Bytes& in) {
  const char* names[] = {"oblimin",
                         "geomin",
                         "infomax",
                         "entropy",
                         "simplimax",
                         "oblimax",
                         "pattern-simplicity",
                         "bifactor-quartimin",
                         "bifactor-geomin"};
  const int p = in.whole(2, 8), k = in.whole(2, p);
  Eigen::MatrixXd loadings(p, k);
  for (Eigen::Index i = 0; i < loadings.size(); ++i)
    loadings.data()[i] = in.byte() < 30 ? 0.0 : (in.byte() - 128) / 128.0;
  const std::string name = names[in.whole(0, 8)];
  const Criterion rule = make_criterion(
      {name, name == "simplimax" ? double(in.whole(1, p * k)) : in.share(), p, k, {}, {}});
  const Turning turning[] = {Turning::orthogonal, Turning::oblique, Turning::reference};
  Rotation best, second;
  std::vector<double> values;
  rotate_best(loadings, turning[in.whole(0, 2)], rule, 2, in.byte(), 2, 1e-6, 40, nobody, best,
              second, values);
}

void fuzz_prediction(Bytes& in) {
  const int people = in.whole(0, 30), p = in.whole(1, 7), q = in.whole(1, 4);
  const Eigen::MatrixXd z = in.answers(people, p, 0.3);
  const Eigen::MatrixXd r = in.correlations(p, in.whole(0, 3) > 0), with = in.matrix(p, q);
  Eigen::MatrixXd out(people, q);
  predict_from_answers(z, r, with, out, in.whole(1, 3), nobody);
}

void fuzz_subsets(Bytes& in) {
  const int p = in.whole(1, 9);
  SubsetPlan plan;
  plan.covariances = in.correlations(p, true);
  plan.loadings = Eigen::VectorXd(p);
  plan.uniquenesses = Eigen::VectorXd(p);
  int forced = 0;
  for (int i = 0; i < p; ++i) {
    plan.loadings[i] = 2 * in.share() - 1;
    plan.uniquenesses[i] = 0.001 + in.share();
    plan.forced.push_back(in.byte() < 40);
    forced += plan.forced[i];
    plan.facet.push_back(in.whole(-1, 2));
  }
  plan.size = in.whole(std::max(1, forced), p);
  plan.least = in.whole(0, 2);
  plan.best = in.whole(1, 5);
  plan.measure = in.whole(0, 1) ? SubsetMeasure::omega : SubsetMeasure::fidelity;
  double count;
  best_subsets(plan, count);
}

void fuzz_evidence(Bytes& in) {
  const int p = in.whole(2, 9);
  const Eigen::MatrixXd r = in.correlations(p, in.whole(0, 7) > 0);
  int most = 0;  // factors that leave degrees of freedom
  while ((p - most - 1) * (p - most - 1) >= p + most + 1 && most + 1 < p)
    ++most;
  const int reach = in.whole(0, most);
  if (r.llt().info() == Eigen::Success) {
    const Evidence evidence = gather_evidence(r, reach);
    if (reach > 0 && p >= reach + 2)
      features_of(evidence, p + in.whole(1, 255), in.whole(0, 1) == 1, reach - 1);
  }
  Eigen::VectorXd costs(p);
  for (int i = 0; i < p; ++i)
    costs[i] = 0.01 + in.share();
  minimum_rank(r, costs, 1e-6);
}

void fuzz_reliability(Bytes& in) {
  const int p = in.whole(2, 9);
  const Eigen::MatrixXd s = in.correlations(p, in.whole(0, 3) > 0);
  greatest_split(s, in.byte());
  bool all;
  split_halves(s, 40, in.byte(), all);
  discriminations(in.answers(in.whole(4, 40), p, 0.2), 0.27);
}

// Text of the letters that matter, against a plain reading of its lines.
void fuzz_cells(Bytes& in) {
  static const char letters[] = "0123456789;;;;;\n\n\n\n--NAx \"\r\t\xc3";
  std::string text;
  const int size = in.whole(0, 255) * in.whole(0, 40);
  for (int i = 0; i < size; ++i)
    text.push_back(letters[in.byte() % (sizeof letters - 1)]);
  const std::vector<std::string> missing{"NA", "-"};
  const auto scan = [&](int threads) {
    return scan_cells(reinterpret_cast<const std::uint8_t*>(text.data()), text.size(), ';', missing,
                      threads);
  };
  const PlainCells found = scan(1);
  if (!found.lines) return;
  const auto ends = static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n'));
  const auto marks = static_cast<std::size_t>(std::count(text.begin(), text.end(), ';'));
  const std::size_t lines = ends + (text.back() != '\n');
  if (found.lines != lines || marks != lines * (found.kinds.size() - 1)) std::abort();
  if (text.find_first_of("\"\t\xc3") != std::string::npos) std::abort();
}

// Blocks of any size, items with and without categories, weights, and draws of the deals.
void fuzz_tally(Bytes& in) {
  const int p = in.whole(1, 6), deals = in.whole(1, 7);
  auto counts = std::make_shared<DealtCounts>();
  counts->shape = {{}, deals, in.whole(0, 1) == 1, in.whole(0, 1) == 1};
  bool sums = counts->shape.weighted;
  for (int i = 0; i < p; ++i) {
    counts->shape.categories.push_back(in.whole(0, 3) ? in.whole(1, most_categories) : 0);
    sums = sums || !counts->shape.categories.back();
    counts->values.emplace_back();
    for (int c = 0; c < counts->shape.categories.back(); ++c)
      counts->values.back().push_back(c + 1.0);
  }
  Tally tally(counts->shape);
  std::uint64_t first = 0;
  for (int block = in.whole(0, 3); block > 0; --block) {
    const auto people =
        static_cast<std::size_t>(in.whole(0, 1) ? in.whole(0, 255) * 9 : in.whole(0, 5));
    std::vector<std::int8_t> codes(people * static_cast<std::size_t>(p));
    std::vector<double> values(sums ? codes.size() : 0), weights(people);
    for (std::size_t cell = 0; cell < codes.size(); ++cell) {
      const int categories = counts->shape.categories[cell / people];
      codes[cell] = static_cast<std::int8_t>(categories ? in.whole(-1, categories - 1) : -1);
      if (sums)
        values[cell] = in.whole(0, 5) ? in.number() : std::numeric_limits<double>::quiet_NaN();
    }
    for (double& w : weights)
      w = in.share();
    tally.add({codes.data(), sums ? values.data() : nullptr,
               counts->shape.weighted ? weights.data() : nullptr, people},
              first, in.whole(1, 3));
    first += people;
  }
  tally.settle(2);
  counts->cells.resize(static_cast<Eigen::Index>(tally.cells(0).size()), deals);
  for (int d = 0; d < deals; ++d) {
    for (Eigen::Index cell = 0; cell < counts->cells.rows(); ++cell)
      counts->cells(cell, d) = tally.cells(d)[static_cast<std::size_t>(cell)];
    if (sums) counts->sums.push_back(tally.sums(d));
  }
  PeoplePlan plan;
  plan.answers.resize(0, p);
  plan.scale_of.assign(static_cast<std::size_t>(p), 0);
  plan.scales = 1;
  plan.splits = {{}};
  plan.ordinal = true;
  plan.dealt = counts;
  std::vector<double> out(measures_of(plan) * static_cast<std::size_t>(3 + deals));
  resample_people(plan, 3, static_cast<std::size_t>(deals),
                  {0, static_cast<std::size_t>(3 + deals)}, 10, in.byte(), 2, out.data(), nobody);
}

void fuzz_align(Bytes& in) {
  const int p = in.whole(1, 8), k = in.whole(1, 5), target = in.whole(k, 6);
  const Alignment found = align_factors(in.matrix(p, k), in.matrix(p, target));
  if (k == target) align_square(in.correlations(k, false), found);
  best_assignment(in.matrix(k, k));
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  Bytes in(data, size);
  ENTRY(in);
  return 0;
}
