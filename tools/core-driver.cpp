// Drives the core without R, for the sanitizers: every routine, small and awkward sizes, threads.
// Prints nothing and returns 0 when the numbers are what they must be.
#include "core_cells.h"
#include "core_chance.h"
#include "core_coding.h"
#include "core_comparison.h"
#include "core_eigenvalues.h"
#include "core_em.h"
#include "core_influence.h"
#include "core_evidence.h"
#include "core_features.h"
#include "core_minrank.h"
#include "core_polychoric.h"
#include "core_popcount.h"
#include "core_hierarchy.h"
#include "core_ordinal.h"
#include "core_reliability.h"
#include "core_resample.h"
#include "core_resample_people.h"
#include "core_align.h"
#include "core_rotation.h"
#include "core_stability.h"
#include "core_prediction.h"
#include "core_product.h"
#include "core_search.h"
#include "core_subsets.h"
#include "core_uniqueness.h"
#include "core_weighted.h"

#include <Eigen/Cholesky>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <limits>
#include <stdexcept>

using namespace softsieve;

static void must(bool holds, const char* what) {
  if (holds) return;
  std::fprintf(stderr, "core-driver: %s\n", what);
  std::exit(1);
}

// Tables, what follows from them, and EM: sizes around a word's edges, gaps, an item with too many
// categories, weights that are all 1.
static void drive_tables() {
  const Watch nobody = [](std::size_t) { return true; };
  for (int people : {1, 63, 64, 65, 300, 3000}) {
    const int items = 11;
    std::vector<double> answers(static_cast<std::size_t>(people * items));
    Stream stream(7, static_cast<std::uint64_t>(people));
    for (double& x : answers)
      x = stream.uniform() < 0.1 ? NAN : std::floor(4 * stream.uniform());
    Coding coding = code_answers(answers.data(), people, items, 3);
    std::vector<double> sliders(answers);
    for (int i = 0; i < people; ++i)
      sliders[i] = i;
    const Coding many = code_answers(sliders.data(), people, items, 2);
    must(many.too_many.size() == (people > most_categories ? 1u : 0u), "too many categories");
    CodedAnswers coded{coding.codes.data(), static_cast<std::size_t>(people), {}};
    for (const auto& values : coding.values)
      coded.categories.push_back(std::max<int>(1, static_cast<int>(values.size())));
    std::vector<double> sums(items * items), weighted(items * items), ones(people, 1.0);
    const auto into = [&](std::vector<double>& out) {
      return [&out, items](int i, int j, const PairTable& table) {
        std::vector<double> a(most_categories), b(most_categories), t{-0.5, 0.0, 0.5};
        for (int c = 0; c < most_categories; ++c)
          a[c] = b[c] = c;
        out[i * items + j] =
            table.people + moments_of(table, a.data(), b.data()).product + chi_square_of(table).df;
        midranks_of(table, a, b);
        if (table.rows <= 4 && table.columns <= 4) polychoric(table, t.data(), t.data(), true);
      };
    };
    AnswerPlanes(coded, 3).visit_pairs(3, into(sums), nobody);
    visit_weighted_pairs(coded, ones.data(), 2, into(weighted), nobody);
    for (int i = 0; i < items * items; ++i)
      must(std::fabs(sums[i] - weighted[i]) < 1e-9 * (1 + std::fabs(sums[i])), "weighted tables");
    // whole numbers are coded as the same numbers are, also far ones and too many of them
    std::vector<int> wholes(people * items);
    std::vector<double> numbers(people * items);
    for (int i = 0; i < people * items; ++i) {
      const double u = stream.uniform();
      wholes[i] = u < 0.05   ? std::numeric_limits<int>::min()
                  : u < 0.06 ? std::numeric_limits<int>::max()
                  : u < 0.07 ? -std::numeric_limits<int>::max()
                             : static_cast<int>(9 * stream.uniform());
      if (i < people && people > most_categories) wholes[i] = 1000 * i;
      const bool gone = wholes[i] == std::numeric_limits<int>::min();
      numbers[i] = gone ? std::nan("") : static_cast<double>(wholes[i]);
    }
    const Coding as_whole = code_answers(wholes.data(), people, items, 3);
    const Coding as_number = code_answers(numbers.data(), people, items, 1);
    must(as_whole.codes == as_number.codes && as_whole.values == as_number.values &&
             as_whole.too_many == as_number.too_many,
         "whole numbers are coded otherwise");
    // weights other than 1: a table of people who count twice or not at all
    std::vector<double> weights(people), twice(items * items);
    for (int i = 0; i < people; ++i)
      weights[i] = i % 3 == 0 ? 0.0 : 2.0;
    const auto total = [items](std::vector<double>& out) {
      return [&out, items](int i, int j, const PairTable& table) {
        double sum = 0;
        for (int cell = 0; cell < table.rows * table.columns; ++cell)
          sum += (1 + cell) * table.cells[cell];
        out[i * items + j] = sum;
      };
    };
    visit_weighted_pairs(coded, weights.data(), 2, total(twice), nobody);
    std::vector<std::int8_t> kept(coding.codes);
    for (int i = 0; i < people * items; ++i)
      if (i % people % 3 == 0) kept[i] = -1;
    std::vector<double> once(items * items);
    AnswerPlanes({kept.data(), static_cast<std::size_t>(people), coded.categories}, 2)
        .visit_pairs(2, total(once), nobody);
    for (int i = 0; i < items * items; ++i)
      must(std::fabs(twice[i] - 2 * once[i]) < 1e-9 * (1 + twice[i]), "weights of 2 and 0");
    int how_many;
    const Counter* counters = counters_available(&how_many);
    std::vector<std::uint64_t> a(512), b(3 * 512);
    for (auto& word : a)
      word = stream.bits();
    for (auto& word : b)
      word = stream.bits();
    for (int c = 1; c < how_many; ++c) {
      std::uint64_t first[3] = {0, 0, 0}, other[3] = {0, 0, 0};
      counters[0].count(a.data(), b.data(), 512, 3, 512, first);
      counters[c].count(a.data(), b.data(), 512, 3, 512, other);
      for (int j = 0; j < 3; ++j)
        must(first[j] == other[j], "counting codes differ");
    }
    if (people < 300) continue;
    Status status;
    const EmFit em = fit_em(Eigen::Map<Eigen::MatrixXd>(answers.data(), people, items), nullptr,
                            1e-8, 500, nobody, status);
    must(em.converged && !em.singular, "EM");
    const double threshold[3] = {-0.6, 0.0, 0.6};
    std::vector<double> z(people);
    for (double& x : z)
      x = stream.normal();
    polyserial(z.data(), coding.codes.data(), people, nullptr, 4, threshold);
  }
  for (double rho : {-1.0, -0.95, -0.5, 0.0, 0.5, 0.95, 1.0})
    must(std::fabs(bivariate_below(0, 0, rho) - (0.25 + std::asin(rho) / (8 * std::atan(1.0)))) <
             1e-14,
         "bivariate normal at 0");
}

// How much each person moves each correlation: of answers with gaps and weights, one by one and in
// clusters; the same bits on any number of threads, and sums that vanish.
static void drive_influences() {
  const Watch nobody = [](std::size_t) { return true; };
  Stream stream(8, 1);
  for (int items : {2, 3, 17}) {
    const int people = 400;
    Eigen::MatrixXd x(people, items);
    std::vector<double> weights(people);
    for (int i = 0; i < people; ++i) {
      weights[i] = i % 2 ? 0.5 : 1.5;
      const double common = stream.normal();
      for (int j = 0; j < items; ++j) {
        const double value = common + stream.normal();
        const bool gap = stream.uniform() < 0.1 && j > 0;
        x(i, j) = gap ? std::nan("") : std::round(value);
      }
    }
    std::vector<std::size_t> alone, clusters;
    for (std::size_t i = 0; i <= static_cast<std::size_t>(people); ++i) {
      alone.push_back(i);
      if (i % 8 == 0) clusters.push_back(i);
    }
    Status status;
    const EmFit em = fit_em(x, weights.data(), 1e-12, 5000, nobody, status);
    const LikelihoodInfluences by_em =
        likelihood_influences(x, weights.data(), em.means, em.covariances);
    must(!by_em.singular, "information under EM");
    Coding coding = code_answers(x.data(), people, static_cast<std::size_t>(items), 2);
    std::vector<std::vector<double>> thresholds;
    for (const auto& values : coding.values) {
      std::vector<double> margin(values.size(), 1.0);
      thresholds.push_back(thresholds_from(margin));
    }
    const Eigen::MatrixXd r = Eigen::MatrixXd::Identity(items, items);
    for (const Influences& one : {pearson_influences(x, weights.data()), by_em.scores,
                                  polychoric_influences(coding, r, thresholds, nullptr)}) {
      Eigen::MatrixXd first, other;
      Eigen::VectorXd squares;
      must(cross_products(one, clusters, 1, nobody, first) == Status::done, "done");
      must(cross_products(one, clusters, 3, nobody, other) == Status::done, "done");
      must(first == other, "threads change the sums");
      must(sums_of_squares(one, clusters, 2, nobody, squares) == Status::done, "done");
      must((squares - first.diagonal()).norm() < 1e-8 * (1 + squares.norm()), "the diagonal");
      must(unit_rows(one, alone, {0, 5, 399}).rows() == 3, "rows");
    }
    const Eigen::MatrixXd all = unit_rows(pearson_influences(x, weights.data()), {0, 400}, {0});
    must(all.norm() < 1e-8, "influences of everybody vanish");
  }
}

// Products at every edge of a tile, with steps between columns, b as it stands and turned over.
static void drive_products() {
  for (const Eigen::Index m : {1, 8, 9, 96, 103})
    for (const Eigen::Index n : {1, 6, 7})
      for (const Eigen::Index k : {1, 256, 259}) {
        const Eigen::MatrixXd a = Eigen::MatrixXd::Random(m + 2, k),
                              b = Eigen::MatrixXd::Random(k, n), turned = b.transpose(),
                              start = Eigen::MatrixXd::Random(m, n);
        Eigen::MatrixXd wide = start, plain = start, other = start;
        add_product({m, n, k, a.data(), m + 2, b.data(), 1, k, wide.data(), m});
        add_product_plainly({m, n, k, a.data(), m + 2, b.data(), 1, k, plain.data(), m});
        add_product({m, n, k, a.data(), m + 2, turned.data(), n, 1, other.data(), m});
        must((wide - start - a.topRows(m) * b).norm() < 1e-10, "a product");
        must((plain - wide).norm() < 1e-10, "wide and narrow registers");
        must(other == wide, "a factor turned over");
      }
}

// What the number of factors is judged by: every basis and kind of chance data, evidence at awkward
// sizes, comparison data.
static void drive_retention() {
  const Watch nobody = [](std::size_t) { return true; };
  Stream stream(3, 3);
  const int people = 70;
  for (int items : {2, 3, 7}) {
    ChanceAnswers answers{
        people, {}, {}, {}, {}, Eigen::MatrixXd(people, 2), {}, TableCorrelation::pearson, false};
    for (int i = 0; i < items; ++i) {
      answers.coded.push_back(i);
      answers.values.push_back({1, 2, 3});
      for (int person = 0; person < people; ++person)
        answers.codes.push_back(
            stream.uniform() < 0.2 ? -1 : static_cast<std::int8_t>(3 * stream.uniform()));
    }
    answers.plain = {items, items + 1};
    for (Eigen::Index i = 0; i < answers.numbers.size(); ++i)
      answers.numbers.data()[i] = stream.uniform() < 0.2 ? NAN : stream.normal();
    for (const bool weighted : {false, true}) {
      if (weighted) answers.weights.assign(people, 1.0);
      for (const TableCorrelation kind :
           {TableCorrelation::pearson, TableCorrelation::spearman, TableCorrelation::polychoric}) {
        answers.kind = kind;
        for (const bool redraw : {false, true}) {
          answers.redraw = redraw;
          for (const Basis basis : {Basis::components, Basis::factors, Basis::minimum_rank}) {
            std::vector<double> one((items + 2) * 5), many(one);
            must(resampled_eigenvalues(answers, basis, 0, 5, 1, 1, one.data(), nobody) ==
                     Status::done,
                 "resampled");
            resampled_eigenvalues(answers, basis, 0, 5, 1, 3, many.data(), nobody);
            must(one == many, "threads change the shuffles");
          }
        }
      }
    }
  }
  Eigen::MatrixXd r = Eigen::MatrixXd::Constant(9, 9, 0.3);
  r.diagonal().setOnes();
  const RowMatrix root = r.llt().matrixL();
  std::vector<double> out(9 * 20);
  for (int n : {3, 9, 40})
    sample_eigenvalues({n, 9, root}, Basis::factors, 5, 20, 1, 2, out.data(), nobody);
  const Evidence evidence = gather_evidence(r, 5);
  must(evidence.ladder[1].discrepancy < 1e-10, "one factor fits");
  must(features_of(evidence, 200, true, 4).values.allFinite(), "features");
  must(std::fabs(chance_spectrum(200, 9).mean() - 1.0) < 0.01, "chance spectrum");
  gather_evidence(r.topLeftCorner(2, 2), 0);
  must((minimum_rank(r, Eigen::VectorXd::Ones(9), 1e-9).uniquenesses.array() - 0.7)
               .abs()
               .maxCoeff() < 1e-5,
       "minimum rank");
  const Cutting half{{0.0}, {0, 1}};
  must(std::fabs(latent_correlation(half, half, 0.5) - std::sin(std::acos(-1.0) / 4)) < 1e-7,
       "latent correlation");
  const std::vector<Cutting> items(9, half);
  latent_correlations(items, r, 3);
  std::vector<double> misfits(20);
  comparison_misfits(Eigen::MatrixXd(9, 0), Eigen::VectorXd::Ones(9), items, 50,
                     evidence.eigenvalues, 0, 20, 1, 3, misfits.data(), nobody);
  must(misfits[0] > 0 && std::fabs(normal_below(normal_quantile(1e-6)) - 1e-6) < 1e-15,
       "comparison data");
}

// Reliability of 120 made-up people on two scales of four ordered items with gaps, resampled.
void drive_reliability() {
  const Watch nobody = [](std::size_t) { return true; };
  PeoplePlan plan;
  plan.answers.resize(120, 8);
  Stream stream(5, 0);
  for (int person = 0; person < 120; ++person) {
    const double factor[2] = {stream.normal(), stream.normal()};
    for (int item = 0; item < 8; ++item) {
      const double x = 1.2 * factor[item / 4] + stream.normal();
      plan.answers(person, item) = stream.uniform() < 0.05 ? NAN
                                   : x < -1                ? 1
                                   : x < 0                 ? 2
                                   : x < 1                 ? 3
                                                           : 4;
    }
  }
  plan.scale_of = {0, 0, 0, 0, 1, 1, 1, 1};
  plan.scales = 2;
  plan.splits = {{1, 1, -1, -1}, {}};
  plan.ordinal = true;
  Eigen::MatrixXd pattern = Eigen::MatrixXd::Zero(8, 2),
                  bifactor = Eigen::MatrixXd::Constant(8, 3, 0.3);
  pattern.col(0).head(4).setConstant(0.7);
  pattern.col(1).tail(4).setConstant(0.7);
  bifactor.rightCols(2) = 0.6 * pattern;
  plan.hierarchy.pattern = plan.hierarchy.unrotated = pattern;
  plan.hierarchy.bifactor = bifactor;
  plan.hierarchy.uniquenesses = plan.hierarchy.bifactor_uniquenesses =
      Eigen::VectorXd::Constant(8, 0.5);
  const std::vector<double> plain = measure_people(plan);
  must(plain[measure::alpha] > 0.5 && plain[measure::alpha] <= plain[measure::glb] + 1e-6,
       "alpha and the bound above it");
  must(std::isfinite(plain[measure::categorical]), "categorical omega");
  Eigen::MatrixXd parallel = Eigen::MatrixXd::Constant(4, 4, 0.5);
  parallel.diagonal().setOnes();
  const Eigen::VectorXd omegas = one_factor_omegas(parallel, true);
  must(
      omegas.size() == 5 && std::fabs(omegas[0] - 0.8) < 1e-6 && std::fabs(omegas[4] - 0.75) < 1e-6,
      "omega of parallel items, and without one of them");
  const std::size_t rows = measures_of(plan);
  std::vector<double> one(rows * 30), four(rows * 30);
  must(resample_people(plan, 20, 10, {0, 30}, 2500, 3, 1, one.data(), nobody) == Status::done,
       "drawn people");
  must(resample_people(plan, 20, 10, {0, 30}, 2500, 3, 4, four.data(), nobody) == Status::done,
       "drawn people, four threads");
  for (std::size_t i = 0; i < one.size(); ++i)
    must(one[i] == four[i] || (std::isnan(one[i]) && std::isnan(four[i])), "threads agree");
  // many people: parts of them, with and without gaps
  for (bool gaps : {true, false}) {
    const Eigen::MatrixXd few = plan.answers;
    plan.answers.resize(720, 8);
    for (int person = 0; person < 720; ++person)
      plan.answers.row(person) = few.row((person * 7) % 120);
    if (!gaps) plan.answers = plan.answers.array().isNaN().select(2.0, plan.answers);
    must(resample_people(plan, 20, 10, {0, 30}, 100, 3, 1, one.data(), nobody) == Status::done,
         "drawn parts");
    must(resample_people(plan, 20, 10, {0, 30}, 100, 3, 4, four.data(), nobody) == Status::done,
         "drawn parts, four threads");
    for (std::size_t i = 0; i < one.size(); ++i)
      must(one[i] == four[i] || (std::isnan(one[i]) && std::isnan(four[i])),
           "threads agree on parts");
    must(std::fabs(one[measure::alpha] - plain[measure::alpha]) < 0.2, "alpha of parts");
    plan.answers = few;
  }
  const Eigen::MatrixXd s =
      Eigen::MatrixXd::Identity(26, 26) + Eigen::MatrixXd::Constant(26, 26, 0.5);
  must(!greatest_split(s, 1).exact && greatest_split(s.topLeftCorner(9, 9), 1).exact,
       "greatest split");
  bool all = true;
  must(split_halves(s, 500, 1, all).size() == 500 && !all, "split halves");
  must(discriminations(plan.answers, 0.27).size() == 8, "discrimination");
}

// Plain text, in one piece and in many: lines and what columns hold.
void drive_cells() {
  const std::vector<std::string> missing{"NA", "-"};
  const auto scan = [&](const std::string& text, int threads) {
    return scan_cells(reinterpret_cast<const std::uint8_t*>(text.data()), text.size(), ';', missing,
                      threads);
  };
  std::string text = "a;b;c;d\n";
  for (int line = 0; line < 120000; ++line)
    text += line % 7 ? "1;x;NA;1234567890\n" : ";;-;-3\n";
  for (const int threads : {1, 4}) {
    const PlainCells found = scan(text, threads);
    must(found.lines == 120001 && found.kinds[0] == CellKind::small &&
             found.kinds[1] == CellKind::text && found.kinds[2] == CellKind::none &&
             found.kinds[3] == CellKind::large,
         "cells");
    must(!scan(text + "1;2\n", threads).lines && !scan(text + "1;2;3;\"\n", threads).lines &&
             !scan(text + "\n", threads).lines && scan(text + "1;2;3;", threads).lines == 120002,
         "text that is not plain");
  }
  must(!scan("", 1).lines && !scan("a;b", 1).lines && !scan("a\n1\n", 1).lines, "no table");
}

// The same people as counts of deals: the tables of blocks are those of all, and drawn deals
// measure.
void drive_tally() {
  const Watch nobody = [](std::size_t) { return true; };
  const int n = 3000, p = 4;
  std::vector<std::int8_t> codes(n * p);
  std::vector<double> values(n * p), weights(n);
  Stream stream(9, 0);
  for (int person = 0; person < n; ++person) {
    const double factor = stream.normal();
    weights[static_cast<std::size_t>(person)] = stream.uniform();
    for (int item = 0; item < p; ++item) {
      const double x = factor + stream.normal();
      const std::size_t cell = static_cast<std::size_t>(item * n + person);
      const bool gap = stream.uniform() < 0.05;
      codes[cell] = static_cast<std::int8_t>(gap || item == 3 ? -1 : x < -1 ? 0 : x < 1 ? 1 : 2);
      values[cell] = gap ? NAN : item == 3 ? std::floor(10 * x) : codes[cell] + 1.0;
    }
  }
  for (const bool weighted : {false, true})
    for (const bool complete : {false, true}) {
      auto counts = std::make_shared<DealtCounts>();
      counts->shape = {{3, 3, 3, 0}, 25, weighted, complete};
      counts->values = {{1, 2, 3}, {1, 2, 3}, {1, 2, 3}, {}};
      Tally one(counts->shape), four(counts->shape);
      const double* w = weighted ? weights.data() : nullptr;
      one.add({codes.data(), values.data(), w, n}, 0, 1);
      four.add({codes.data(), values.data(), w, n}, 0, 4);
      one.settle(1);
      four.settle(4);
      counts->cells.resize(static_cast<Eigen::Index>(one.cells(0).size()), 25);
      for (int d = 0; d < 25; ++d) {
        must(one.cells(d) == four.cells(d), "deals on any number of threads");
        std::copy(one.cells(d).begin(), one.cells(d).end(), counts->cells.col(d).data());
        counts->sums.push_back(one.sums(d));
      }
      must(std::fabs(counts->cells.col(0).head(9).sum() - counts->sums[0].weight(0, 1)) < 1e-9,
           "a table holds all who answered both");
      PeoplePlan plan;
      plan.answers.resize(0, p);
      plan.scale_of = {0, 0, 0, 0};
      plan.scales = 1;
      plan.splits = {{}};
      plan.ordinal = true;
      plan.dealt = counts;
      std::vector<double> out(measures_of(plan) * 35);
      must(resample_people(plan, 10, 25, {0, 35}, 10, 3, 3, out.data(), nobody) == Status::done,
           "deals drawn");
      must(out[measure::alpha] > 0.1, "alpha of deals");
      DrawnPeople drawn;
      drawn.answers.resize(0, p);
      drawn.dealt = counts;
      for (int d = 0; d < 25; ++d)
        drawn.units.unit_of.push_back(d);
      drawn.units.stratum_of.assign(25, 0);
      SolutionPlan solution{};
      solution.target = Eigen::MatrixXd::Constant(p, 1, 0.6);
      solution.start = Eigen::VectorXd::Constant(p, 0.6);
      solution.starts = 1;
      solution.lowest = 0.005;
      solution.discrepancy = Discrepancy::least_squares;
      std::vector<double> found(numbers_of_solution(p, 1) * 8);
      must(resample_solution(drawn, solution, 6, {0, 8}, 10, 20, 7, 2, found.data(), nobody) ==
               Status::done,
           "solutions of deals");
      must(found[0] > 0.1, "loadings of deals");
    }
}

// Solutions of people drawn again: every way, with gaps, one by one, in clusters, in parts.
static void drive_stability() {
  const int n = 120, p = 6, k = 2;
  DrawnPeople people;
  people.answers = Eigen::MatrixXd(n, p);
  Stream stream(3, 1);
  for (int i = 0; i < n; ++i) {
    const double f[] = {stream.normal(), stream.normal()};
    for (int j = 0; j < p; ++j)
      people.answers(i, j) = std::floor(2.0 * (0.8 * f[j / 3] + 0.6 * stream.normal()));
  }
  people.answers(4, 2) = std::nan("");
  for (int i = 0; i < n; ++i)
    people.units.unit_of.push_back(i);
  people.units.stratum_of.assign(n, 0);
  std::fill(people.units.stratum_of.begin() + 50, people.units.stratum_of.end(), 1);
  SolutionPlan plan{};
  plan.target = Eigen::MatrixXd::Zero(p, k);
  plan.target.topLeftCorner(3, 1).setConstant(.8);
  plan.target.bottomRightCorner(3, 1).setConstant(-.8);
  plan.lowest = .005;
  plan.start = Eigen::VectorXd::Constant(p, .4);
  plan.starts = 3;
  plan.criterion = make_criterion({"oblimin", 0.0, p, k, {}, {}});
  const std::size_t rows = numbers_of_solution(p, k);
  const Watch nobody = [](std::size_t) { return true; };
  for (const bool turned : {true, false})
    for (const Turning turning : {Turning::orthogonal, Turning::oblique, Turning::reference})
      for (const bool components : {true, false})
        for (const bool covariances : {true, false}) {
          plan.turned = turned;
          plan.turning = turning;
          plan.components = components;
          plan.covariances = covariances;
          plan.discrepancy =
              covariances ? Discrepancy::maximum_likelihood : Discrepancy::generalised;
          std::vector<double> one(14 * rows), two(14 * rows);
          must(resample_solution(people, plan, 10, {0, 14}, 500, 20, 7, 3, one.data(), nobody) ==
                   Status::done,
               "drawn");
          resample_solution(people, plan, 10, {0, 14}, 500, 20, 7, 1, two.data(), nobody);
          must(one == two, "the same on any number of threads");
        }
  std::vector<double> parts(14 * rows);
  resample_solution(people, plan, 10, {0, 14}, 50, 20, 7, 2, parts.data(), nobody);
  must(std::isfinite(parts[0]), "parts");
  people.weights.assign(n, 0.5);
  for (int& unit : people.units.unit_of)
    unit /= 4;
  people.units.stratum_of.assign(30, 0);
  resample_solution(people, plan, 10, {0, 14}, 50, 40, 7, 2, parts.data(), nobody);
  must(std::isfinite(parts[0]), "clusters");
  people.answers.col(1).setZero();
  resample_solution(people, plan, 3, {0, 3}, 500, 20, 7, 2, parts.data(), nobody);
  must(std::isnan(parts[0]), "an item without variance");
  const Alignment back = align_factors(plan.target.rowwise().reverse(), plan.target);
  must(back.column[0] == 1 && back.column[1] == 0 && back.congruence.minCoeff() > .999, "aligned");
  must(align_factors(plan.target.leftCols(1), plan.target).column[1] == -1, "none left");
}

// Predictions from answers with gaps: many patterns, nobody's answers, a singular matrix, threads.
static void drive_prediction() {
  const Watch nobody = [](std::size_t) { return true; };
  const int n = 500, p = 7;
  Stream stream(5, 1);
  Eigen::MatrixXd z(n, p);
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < p; ++j)
      z(i, j) = stream.uniform() < 0.2 ? std::nan("") : stream.normal();
  z.row(3).setConstant(std::nan(""));
  z.row(4).setConstant(1.5);
  Eigen::MatrixXd r = Eigen::MatrixXd::Constant(p, p, 0.4) + 0.6 * Eigen::MatrixXd::Identity(p, p);
  Eigen::MatrixXd one(n, p), two(n, p);
  must(predict_from_answers(z, r, r, one, 3, nobody) == Status::done, "predicted");
  must(predict_from_answers(z, r, r, two, 1, nobody) == Status::done, "predicted");
  must(std::isnan(one(3, 0)) && std::isnan(two(3, 6)), "nobody's answers");
  one.row(3).setZero();
  two.row(3).setZero();
  must(one == two, "the same on any number of threads");
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < p; ++j)
      must(i == 3 || std::isnan(z(i, j)) || std::fabs(one(i, j) - z(i, j)) < 1e-10,
           "what was answered predicts itself");
  r.col(1) = r.col(0);
  r.row(1) = r.row(0);
  r(1, 1) = r(0, 1) = r(1, 0) = r(0, 0);
  predict_from_answers(z, r, r.leftCols(1), one.leftCols(1), 2, nobody);
  must(std::isfinite(one(4, 0)), "a singular matrix");
  Eigen::MatrixXd none(0, p), empty(0, p);
  must(predict_from_answers(none, r, r, empty, 2, nobody) == Status::done, "nobody at all");
}

// Best subsets: against all of them, with pins and facets, by both measures.
static void drive_subsets() {
  const int p = 9;
  Stream stream(9, 1);
  SubsetPlan plan;
  plan.loadings = Eigen::VectorXd(p);
  plan.uniquenesses = Eigen::VectorXd(p);
  for (int i = 0; i < p; ++i) {
    plan.loadings[i] = 0.3 + 0.6 * stream.uniform();
    plan.uniquenesses[i] = 0.2 + 0.5 * stream.uniform();
    plan.forced.push_back(i == 3);
    plan.facet.push_back(i % 3 == 2 ? -1 : i % 3);
  }
  plan.covariances = plan.loadings * plan.loadings.transpose();
  plan.covariances.diagonal() += plan.uniquenesses;
  plan.best = 3;
  for (const SubsetMeasure measure : {SubsetMeasure::omega, SubsetMeasure::fidelity})
    for (plan.size = 1; plan.size <= p; ++plan.size) {
      plan.measure = measure;
      plan.least = plan.size > 2 ? 1 : 0;
      double count = 0, best = -1;
      const std::vector<Subset> found = best_subsets(plan, count);
      for (int set = 0; set < 1 << p; ++set) {
        double l = 0, u = 0, gain = 0, spread = 0;
        int size = 0, facets[2] = {0, 0};
        for (int i = 0; i < p; ++i) {
          if (!(set >> i & 1)) continue;
          ++size;
          if (i % 3 < 2) ++facets[i % 3];
          l += plan.loadings[i];
          u += plan.uniquenesses[i];
          gain += plan.covariances.row(i).sum() - plan.uniquenesses[i];
          for (int j = 0; j < p; ++j)
            if (set >> j & 1) spread += plan.covariances(i, j);
        }
        const bool held = facets[0] >= plan.least && facets[1] >= plan.least;
        if (size != plan.size || !(set >> 3 & 1) || !held) continue;
        best = std::max(best, measure == SubsetMeasure::omega
                                  ? l * l / (l * l + u)
                                  : gain / std::sqrt(spread * plan.covariances.sum()));
      }
      must(!found.empty() && std::fabs(found[0].value - best) < 1e-12, "best of all subsets");
    }
}

int main() {
  const Watch nobody = [](std::size_t) { return true; };

  drive_influences();
  drive_products();

  // Moments of the normal and chi deviates, within five standard errors of a million draws.
  Stream stream(3, 5);
  const int draws = 1000000;
  double sum = 0, squares = 0, fourth = 0, beyond = 0, chi2 = 0;
  for (int i = 0; i < draws; ++i) {
    const double x = stream.normal();
    sum += x;
    squares += x * x;
    fourth += x * x * x * x;
    beyond += std::fabs(x) > 4.0;
  }
  for (int df : {1, 2, 3, 50}) {
    double mean = 0;
    for (int i = 0; i < draws / 10; ++i) {
      const double c = stream.chi(df);
      mean += c * c;
    }
    chi2 = std::max(chi2, std::fabs(mean / (draws / 10) - df) / std::sqrt(2.0 * df / (draws / 10)));
  }
  must(std::fabs(sum) / draws < 5e-3, "normal mean");
  must(std::fabs(squares / draws - 1) < 5 * std::sqrt(2.0 / draws), "normal variance");
  must(std::fabs(fourth / draws - 3) < 5 * std::sqrt(96.0 / draws), "normal kurtosis");
  must(std::fabs(beyond - 63.3) < 5 * std::sqrt(63.3), "normal tail");
  must(chi2 < 5, "chi mean square");

  // Chance eigenvalues: the same on any number of threads, and on the sizes at the edges.
  for (int people : {2, 3, 7, 8, 9, 500}) {
    for (int items : {2, 3, 8, 30}) {
      std::vector<double> one(items * 100), many(items * 100);
      must(sample_eigenvalues({people, items, RowMatrix()}, Basis::components, 0, 100, 9, 1,
                              one.data(), nobody) == Status::done,
           "done");
      must(sample_eigenvalues({people, items, RowMatrix()}, Basis::components, 0, 100, 9, 7,
                              many.data(), nobody) == Status::done,
           "done");
      must(one == many, "threads change the draws");
      // parts that count unlike, one of them a single person; errors and factors of its own
      Population unlike{people, items, RowMatrix()};
      unlike.own_error = RowMatrix::Constant(items, items, 0.01);
      unlike.further = Eigen::VectorXd::Constant(items, 1.01);
      unlike.parts = {{1, Eigen::VectorXd::Constant(items, 4.0)},
                      {people, Eigen::VectorXd::LinSpaced(items, 0.5, 1.5)}};
      sample_eigenvalues(unlike, Basis::components, 0, 100, 9, 1, one.data(), nobody);
      sample_eigenvalues(unlike, Basis::components, 0, 100, 9, 7, many.data(), nobody);
      must(one == many, "threads change the draws of parts");
      must(std::isfinite(one[0]), "parts give eigenvalues");
    }
  }
  std::vector<double> slow(200 * 2000);
  must(sample_eigenvalues({900, 200, RowMatrix()}, Basis::components, 0, 2000, 1, 3, slow.data(),
                          [](std::size_t) { return false; }) == Status::stopped,
       "stop");
  bool thrown = false;
  try {
    sample_eigenvalues({900, 200, RowMatrix()}, Basis::components, 0, 2000, 1, 3, slow.data(),
                       [](std::size_t) -> bool { throw std::runtime_error("x"); });
  } catch (const std::runtime_error&) {
    thrown = true;
  }
  must(thrown, "throw");

  // Extraction and rotation of a matrix with two known factors.
  Eigen::MatrixXd pattern = Eigen::MatrixXd::Zero(8, 2);
  pattern.col(0).head(4) << .8, .7, .6, .5;
  pattern.col(1).tail(4) << .75, .65, .55, .45;
  Eigen::MatrixXd between(2, 2);
  between << 1, .4, .4, 1;
  Eigen::MatrixXd r = pattern * between * pattern.transpose();
  r.diagonal().setOnes();
  const UniquenessFit fit =
      fit_uniquenesses(r, 2, Discrepancy::least_squares, Eigen::VectorXd::Constant(8, .5),
                       Eigen::VectorXd::Constant(8, .005), 1e-10, 100);
  must(fit.converged && fit.discrepancy < 1e-15, "minres");
  for (bool oblique : {false, true}) {
    Rotation best, second;
    std::vector<double> values;
    const Criterion rule = make_criterion(
        {oblique ? "oblimin" : "crawford-ferguson", oblique ? 0.0 : 1.0 / 8, 8, 2, {}, {}});
    must(rotate_best(fit.loadings, oblique ? Turning::oblique : Turning::orthogonal, rule, 20, 1, 4,
                     1e-8, 500, nobody, best, second, values) == Status::done,
         "rotate");
    must(best.converged && values.size() == 20, "rotation");
    if (oblique) must(best.value < 1e-10, "quartimin of a perfect pattern");
  }
  for (const char* name : {"geomin", "infomax", "entropy", "simplimax", "pattern-simplicity",
                           "oblimax", "bifactor-quartimin", "bifactor-geomin", "target"}) {
    Eigen::MatrixXd gradient;
    const Criterion rule = make_criterion({name, std::string(name) == "simplimax" ? 8.0 : 0.01, 8,
                                           2, pattern, Eigen::MatrixXd::Ones(8, 2)});
    must(std::isfinite(rule(fit.loadings, gradient)) && gradient.allFinite(), name);
  }
  Rotation axes, other;
  std::vector<double> ends;
  must(rotate_best(fit.loadings, Turning::reference, make_criterion({"oblimin", 1.0, 8, 2, {}, {}}),
                   10, 1, 2, 1e-8, 500, nobody, axes, other, ends) == Status::done &&
           axes.converged,
       "covarimin");
  const WeightedFit weighted = fit_weighted(r, Eigen::MatrixXd::Ones(8, 8), 0.9 * fit.loadings,
                                            Eigen::VectorXd::Constant(8, .995), 1e-10, 2000);
  must(weighted.converged && weighted.discrepancy < 1e-15, "weighted least squares");
  Eigen::VectorXd slope;
  must(discrepancy_at(r, 2, Discrepancy::generalised, fit.uniquenesses, slope) < 1e-12 &&
           slope.norm() < 1e-5,
       "discrepancy");
  must(!make_criterion({"no such criterion", 0, 8, 2, {}, {}}), "unknown criterion");

  must(fit_uniquenesses(r, 2, Discrepancy::maximum_likelihood, Eigen::VectorXd::Constant(8, .5),
                        Eigen::VectorXd::Constant(8, .005), 1e-9, 100)
               .discrepancy < 1e-12,
       "ml");

  // an improper matrix, every search, from one item less than there are factors to a bound of 0
  Eigen::MatrixXd heywood(3, 3);
  heywood << 1, .8, .6, .8, 1, .3, .6, .3, 1;
  for (const Discrepancy method :
       {Discrepancy::least_squares, Discrepancy::generalised, Discrepancy::maximum_likelihood}) {
    const SearchEnd end = search_discrepancy(heywood, 1, method, Eigen::VectorXd::Constant(3, .005),
                                             1e-9, 200, {5, true});
    must(end.best.converged && end.starts > 5 && end.best.loadings.cwiseAbs().maxCoeff() < 1.01,
         "improper");
    search_discrepancy(r, 3, method, Eigen::VectorXd::Constant(8, .005), 1e-9, 200, {-1, true});
    must(search_discrepancy(r, 2, method, Eigen::VectorXd::Constant(8, .005), 1e-9, 200, {2, true})
                 .best.discrepancy < 1e-10,
         "search");
  }
  must(search_discrepancy(heywood, 1, Discrepancy::least_squares,
                          Eigen::VectorXd::Constant(3, .005), 1e-9, 200, {5, true})
               .best.loadings.rowwise()
               .squaredNorm()
               .maxCoeff() <= .995 + 1e-9,
       "communality held");
  search_discrepancy(heywood, 1, Discrepancy::least_squares, Eigen::VectorXd::Zero(3), 1e-9, 200,
                     {1, true});
  must(search_weighted(r, Eigen::MatrixXd::Constant(8, 8, 2.0), 2,
                       Eigen::VectorXd::Constant(8, .005), 1e-9, 2000, {2, true})
               .best.discrepancy < 1e-12,
       "weighted search");
  // weights that differ, a bound that holds, a singular start
  Eigen::MatrixXd uneven(3, 3);
  uneven << 1, 9, .1, 9, 1, 2, .1, 2, 1;
  const SearchEnd held = search_weighted(heywood, uneven, 1, Eigen::VectorXd::Constant(3, .005),
                                         1e-9, 2000, {4, true});
  must(held.best.loadings.rowwise().squaredNorm().maxCoeff() <= .995 + 1e-9, "bound of weighted");
  const WeightedFit flat =
      fit_weighted(r, Eigen::MatrixXd::Constant(8, 8, 3.0), Eigen::MatrixXd::Constant(8, 2, .1),
                   Eigen::VectorXd::Constant(8, .3), 1e-10, 2000);
  must(flat.loadings.rowwise().squaredNorm().maxCoeff() <= .3 + 1e-9, "all at their bound");
  OneFactor memory;
  const double first = fit_one_factor(heywood, &memory).loadings.cwiseAbs()(0, 0);
  must(std::fabs(fit_one_factor(heywood, &memory).loadings.cwiseAbs()(0, 0) - first) < 1e-6,
       "one factor again");
  const std::vector<double> cut{-0.5, 0.7}, rise{1, 1};
  must(cut_covariance(cut, rise, cut, rise, 1.0) > cut_covariance(cut, rise, cut, rise, 0.5) &&
           cut_covariance(cut, rise, cut, rise, 0.0) == 0.0,
       "cut covariance");

  drive_retention();
  drive_tables();
  drive_reliability();
  drive_stability();
  drive_cells();
  drive_tally();
  drive_prediction();
  drive_subsets();
  return 0;
}
