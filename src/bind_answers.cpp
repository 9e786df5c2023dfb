// The doors to answers: counts of them block by block, and what is computed from pairwise tables.
// Counts that add up are an external pointer to a Tally while blocks come, plain numbers
// afterwards.
#include "softsieve_types.h"

#include "bind_check.h"
#include "bind_convert.h"
#include "bind_pairs.h"
#include "bind_watch.h"
#include "core_coding.h"
#include "core_em.h"
#include "core_polychoric.h"
#include "core_random.h"
#include "core_tally.h"

#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <memory>
#include <numeric>
#include <string>

using namespace softsieve;

namespace {

using Held = Rcpp::XPtr<Tally>;

// Answers by columns, of whole numbers or of numbers: of a matrix, or a list of columns.
struct Answers {
  struct Column {
    const int* whole;
    const double* number;
    double at(std::size_t person) const {
      if (!whole) return number[person];
      return whole[person] == NA_INTEGER ? std::numeric_limits<double>::quiet_NaN() : whole[person];
    }
  };
  std::vector<Column> columns;
  std::size_t people = 0;
  explicit Answers(SEXP x) {
    const bool list = TYPEOF(x) == VECSXP;
    must_hold(list || Rf_isMatrix(x), "answers must be a matrix or a list of columns");
    const R_xlen_t items = list ? Rf_xlength(x) : Rf_ncols(x);
    const R_xlen_t n = !list ? Rf_nrows(x) : items ? Rf_xlength(VECTOR_ELT(x, 0)) : 0;
    people = static_cast<std::size_t>(n);
    for (R_xlen_t i = 0; i < items; ++i) {
      SEXP from = list ? VECTOR_ELT(x, i) : x;
      must_hold(TYPEOF(from) == INTSXP || TYPEOF(from) == REALSXP, "answers must be numbers");
      must_hold(!list || Rf_xlength(from) == n, "columns must be equally long");
      const R_xlen_t start = list ? 0 : i * n;
      if (TYPEOF(from) == INTSXP)
        columns.push_back({INTEGER(from) + start, nullptr});
      else
        columns.push_back({nullptr, REAL(from) + start});
    }
  }
};

// Ranks of answers among an item's values, whole numbers that follow each other.
class Ranks {
 public:
  explicit Ranks(const Rcpp::NumericVector& values)
      : lowest_(values[0]), count_(static_cast<double>(values.size())) {
    for (R_xlen_t i = 0; i < values.size(); ++i)
      must_hold(values[i] == lowest_ + static_cast<double>(i), "an item's values must be whole");
  }
  // Those of a column, -1 where it is missing or none of the values; how many are none of them.
  double code(const Answers::Column& column, std::size_t n, std::int8_t* to) const {
    // (lowest values far from what a whole number holds are told apart as numbers)
    if (column.whole && std::fabs(lowest_) < 1e9)
      return code_all(column.whole, n, to, static_cast<int>(lowest_));
    double unfit = 0;
    for (std::size_t person = 0; person < n; ++person) {
      const double x = column.at(person), above = x - lowest_;
      const bool within = above >= 0.0 && above < count_ && std::floor(above) == above;
      to[person] = within ? static_cast<std::int8_t>(above) : std::int8_t{-1};
      unfit += !within && !std::isnan(x);
    }
    return unfit;
  }

 private:
  double code_all(const int* x, std::size_t n, std::int8_t* to, int lowest) const {
    const auto count = static_cast<unsigned>(count_);
    std::size_t unfit = 0;
    for (std::size_t person = 0; person < n; ++person) {
      const unsigned above = static_cast<unsigned>(x[person]) - static_cast<unsigned>(lowest);
      to[person] = above < count ? static_cast<std::int8_t>(above) : std::int8_t{-1};
      unfit += above >= count && x[person] != NA_INTEGER;
    }
    return static_cast<double>(unfit);
  }
  double lowest_, count_;
};

}  // namespace

// Columns of whole numbers, one after the other.
// [[Rcpp::export(rng = false)]]
Rcpp::IntegerVector cpp_join_columns(Rcpp::List columns) {
  R_xlen_t length = 0;
  for (R_xlen_t i = 0; i < columns.size(); ++i) {
    must_hold(TYPEOF(columns[i]) == INTSXP, "columns must hold whole numbers");
    length += Rf_xlength(columns[i]);
  }
  Rcpp::IntegerVector joined(Rcpp::no_init(length));
  int* to = joined.begin();
  for (R_xlen_t i = 0; i < columns.size(); ++i) {
    const Rcpp::IntegerVector column = columns[i];
    to = std::copy(column.begin(), column.end(), to);
  }
  return joined;
}

// Whole numbers from bytes: 0 is missing, 1 is `lowest`.
// [[Rcpp::export(rng = false)]]
Rcpp::IntegerVector cpp_widen_bytes(Rcpp::RawVector bytes, int lowest) {
  must_hold(lowest != NA_INTEGER, "bytes must stand for whole numbers");
  Rcpp::IntegerVector wide(Rcpp::no_init(bytes.size()));
  const Rbyte* from = bytes.begin();
  std::transform(from, from + bytes.size(), wide.begin(), [lowest](Rbyte byte) {
    return byte ? static_cast<int>(std::int64_t{lowest} - 1 + byte) : NA_INTEGER;
  });
  return wide;
}

// categories: of each item, 0 where it has many values (core_tally.h).
// [[Rcpp::export(rng = false)]]
SEXP cpp_tally(Rcpp::IntegerVector categories, int deals, bool weighted, bool complete) {
  must_hold(categories.size() >= 1 && deals >= 1, "there must be items and deals");
  TallyShape shape{{}, deals, weighted, complete};
  for (const int c : categories) {
    must_hold(c >= 0 && c <= most_categories, "an item has too many categories to be counted");
    shape.categories.push_back(c);
  }
  return Held(new Tally(shape));
}

// Adds answers (people x items, keyed; a matrix, or a list of columns). values: each item's
// categories, rising, NULL where it has many; origins: what is taken from answers before they are
// summed; numbers: of the first person, or of each. Returns how many answers of each item are none
// of its categories; they are not counted.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_tally_add(SEXP tally, SEXP answers, Rcpp::List values,
                                  Rcpp::NumericVector origins,
                                  Rcpp::Nullable<Rcpp::NumericVector> weights,
                                  Rcpp::NumericVector numbers, int threads) {
  Held held(tally);
  const Answers given(answers);
  const std::size_t items = held->shape().categories.size();
  must_hold(given.columns.size() == items, "a block must have the items of the tally");
  check_length(values.size(), static_cast<R_xlen_t>(items), "every item needs its values");
  check_length(origins.size(), static_cast<R_xlen_t>(items), "every item needs an origin");
  must_hold(held->shape().weighted == weights.isNotNull(), "weights must be given always or never");
  const bool each = numbers.size() != 1;
  if (each)
    check_length(numbers.size(), static_cast<R_xlen_t>(given.people), "people have numbers");
  must_hold(threads >= 1, "there must be at least one thread");
  std::vector<std::uint64_t> who;
  for (const double number : numbers) {
    must_hold(number >= 0 && number < 9e15, "people are numbered from 0 on");
    who.push_back(static_cast<std::uint64_t>(number));
  }
  std::vector<std::unique_ptr<Ranks>> ranks(items);
  for (std::size_t i = 0; i < items; ++i) {
    const int wanted = held->shape().categories[i];
    if (!wanted) continue;
    ranks[i] = std::make_unique<Ranks>(Rcpp::NumericVector(values[static_cast<R_xlen_t>(i)]));
    check_length(Rf_xlength(values[static_cast<R_xlen_t>(i)]), wanted, "an item's values changed");
  }
  std::vector<std::int8_t> codes(given.people * items, -1);
  std::vector<double> values_of(held->has_sums() ? given.people * items : 0);
  Rcpp::NumericVector unfit(static_cast<R_xlen_t>(items));
  double* unfit_of = unfit.begin();
  const double* origin = origins.begin();
  const auto make_worker = [&] {
    return [&](std::size_t i) {
      std::int8_t* mine = codes.data() + i * given.people;
      if (ranks[i]) unfit_of[i] = ranks[i]->code(given.columns[i], given.people, mine);
      if (values_of.empty()) return;
      double* values = values_of.data() + i * given.people;
      for (std::size_t person = 0; person < given.people; ++person)
        values[person] = ranks[i] && mine[person] < 0 ? std::numeric_limits<double>::quiet_NaN()
                                                      : given.columns[i].at(person) - origin[i];
    };
  };
  run_replicates(items, threads, make_worker, watch_nothing);
  Rcpp::NumericVector w;
  if (weights.isNotNull()) {
    w = Rcpp::NumericVector(weights.get());
    check_length(w.size(), static_cast<R_xlen_t>(given.people), "every person needs a weight");
    check_finite(w, "weights must be finite");
  }
  held->add({codes.data(), values_of.empty() ? nullptr : values_of.data(),
             weights.isNotNull() ? w.begin() : nullptr, given.people, each ? who.data() : nullptr},
            each ? 0 : who[0], threads);
  return unfit;
}

// All that was counted: cells (one column for each deal), sums (items x items x 5 x deals: people,
// weight, sum, square, product; or of length 0), cubes (items x deals), people (5 x deals).
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_tally_read(SEXP tally, int threads) {
  Held held(tally);
  must_hold(threads >= 1, "there must be at least one thread");
  held->settle(threads);
  const int deals = held->shape().deals, p = static_cast<int>(held->shape().categories.size());
  Rcpp::NumericMatrix cells(static_cast<int>(held->cells(0).size()), deals), people(5, deals);
  const R_xlen_t square = held->has_sums() ? static_cast<R_xlen_t>(p) * p : 0;
  Rcpp::NumericVector sums(square * 5 * deals);
  Rcpp::NumericMatrix cubes(held->has_sums() ? p : 0, deals);
  double* next = sums.begin();
  for (int d = 0; d < deals; ++d) {
    std::copy(held->cells(d).begin(), held->cells(d).end(),
              cells.begin() + cells.nrow() * R_xlen_t{d});
    const DealtPeople& who = held->people(d);
    const double told[] = {who.people, who.answering, who.whole, who.weight, who.weight_square};
    std::copy(told, told + 5, people.begin() + 5 * R_xlen_t{d});
    if (!square) continue;
    const PairSums& s = held->sums(d);
    for (const Eigen::MatrixXd* part : {&s.people, &s.weight, &s.sum, &s.square, &s.product})
      next = std::copy(part->data(), part->data() + square, next);
    std::copy(s.cube.data(), s.cube.data() + p, cubes.begin() + p * R_xlen_t{d});
  }
  if (square) sums.attr("dim") = Rcpp::IntegerVector::create(p, p, 5, deals);
  Rcpp::rownames(people) =
      Rcpp::CharacterVector::create("people", "answering", "whole", "weight", "weight_square");
  return Rcpp::List::create(Rcpp::Named("cells") = cells, Rcpp::Named("sums") = sums,
                            Rcpp::Named("cubes") = cubes, Rcpp::Named("people") = people);
}

// What cpp_table_correlations() returns, from tables that were counted before. values: each item's
// categories, rising; cells as cpp_tally_read() has them, of all deals together. Categories that
// nobody chose are left out. people: of each pair (p x p), where cells are sums of weights, or
// NULL.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_counted_correlations(Rcpp::NumericVector cells, Rcpp::List values, std::string kind,
                                    Rcpp::Nullable<Rcpp::NumericMatrix> people, double answering,
                                    bool correct, int threads,
                                    Rcpp::Nullable<Rcpp::Function> progress) {
  const int p = static_cast<int>(values.size());
  TallyShape shape{{}, 1, false, false};
  for (int i = 0; i < p; ++i)
    shape.categories.push_back(static_cast<int>(Rf_xlength(values[i])));
  for (const int c : shape.categories)
    must_hold(c >= 1 && c <= most_categories, "every item must have categories");
  must_hold(p >= 2 && threads >= 1, "there must be two items and a thread");
  const Tally places(shape);
  check_length(cells.size(), static_cast<R_xlen_t>(places.cells(0).size()),
               "the tables must be those of the items");
  check_finite(cells, "counts must be finite");
  std::vector<std::vector<int>> kept(p);
  std::vector<std::vector<double>> chosen(p), margins(p);
  for (int i = 0; i < p; ++i) {
    const Rcpp::NumericVector all = values[i];
    for (int c = 0; c < shape.categories[i]; ++c) {
      const double count = cells[static_cast<R_xlen_t>(places.own_place(i)) + c];
      if (count <= 0) continue;
      kept[i].push_back(c);
      chosen[i].push_back(all[c]);
      margins[i].push_back(count);
    }
    must_hold(!kept[i].empty(), "every item must have been answered");
  }
  Rcpp::NumericMatrix pairs;
  if (people.isNotNull()) pairs = Rcpp::NumericMatrix(people.get());
  must_hold(people.isNull() || (pairs.nrow() == p && pairs.ncol() == p),
            "people must be told of each pair");
  PairResults found(table_kind(kind), correct, chosen, margins);
  if (people.isNotNull()) {
    std::vector<double> own;
    for (int i = 0; i < p; ++i)
      own.push_back(pairs(i, i));
    found.people_of_items(own);
  }
  const double *counted = cells.begin(), *met = people.isNotNull() ? pairs.begin() : nullptr;
  const auto make_worker = [&] {
    return [&](std::size_t row) {
      const int i = static_cast<int>(row);
      std::vector<double> table(most_categories * most_categories);
      for (int j = i + 1; j < p; ++j) {
        const double* from = counted + places.place(i, j);
        std::size_t at = 0;
        double all = 0;
        for (const int a : kept[i])
          for (const int b : kept[j])
            all += table[at++] = from[a * shape.categories[j] + b];
        found.take(i, j,
                   {static_cast<int>(kept[i].size()), static_cast<int>(kept[j].size()),
                    met ? met[i + j * p] : all, table.data()});
      }
    };
  };
  stop_if_interrupted(
      run_replicates(static_cast<std::size_t>(p), threads, make_worker, watch_of(progress)));
  return found.pack(answering);
}

// A uniform number for each of `count` people, the first of whom has the number `first`.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_person_keys(double seed, double first, int count) {
  check_counts(seed, 1, count);
  must_hold(std::isfinite(first) && first >= 0, "people are numbered from 0 on");
  Rcpp::NumericVector out(count);
  for (int i = 0; i < count; ++i)
    out[i] = Stream(static_cast<std::uint64_t>(seed),
                    static_cast<std::uint64_t>(first) + static_cast<std::uint64_t>(i))
                 .uniform();
  return out;
}

// ---- What is computed from the pairwise tables of counts.

namespace {

// What R passes as weights: a vector, or NULL.
struct Weights {
  Rcpp::NumericVector held;
  const double* at = nullptr;
  Weights(Rcpp::Nullable<Rcpp::NumericVector> given, std::size_t people) {
    if (given.isNull()) return;
    held = Rcpp::NumericVector(given.get());
    check_length(held.size(), static_cast<R_xlen_t>(people), "every person needs a weight");
    check_finite(held, "weights must be finite");
    at = held.begin();
  }
};

Coding code_matrix(SEXP answers, int threads) {
  must_hold(Rf_isMatrix(answers) && (TYPEOF(answers) == INTSXP || TYPEOF(answers) == REALSXP),
            "answers must be a matrix of numbers");
  must_hold(threads >= 1, "there must be at least one thread");
  const Rcpp::IntegerVector shape = Rf_getAttrib(answers, R_DimSymbol);
  must_hold(shape[0] > 0 && shape[1] > 0, "there must be answers");
  const auto people = static_cast<std::size_t>(shape[0]),
             items = static_cast<std::size_t>(shape[1]);
  if (TYPEOF(answers) == INTSXP) return code_answers(INTEGER(answers), people, items, threads);
  return code_answers(REAL(answers), people, items, threads);
}

// Each item's answers by category: a count, or a sum of weights.
std::vector<std::vector<double>> margins_of(const Coding& coding, std::size_t people,
                                            const double* weights) {
  std::vector<std::vector<double>> margins;
  for (std::size_t item = 0; item < coding.values.size(); ++item) {
    std::vector<double> margin(coding.values[item].size(), 0.0);
    const std::int8_t* codes = coding.codes.data() + item * people;
    for (std::size_t i = 0; i < people; ++i)
      if (codes[i] >= 0) margin[codes[i]] += weights ? weights[i] : 1.0;
    margins.push_back(margin);
  }
  return margins;
}

double people_answering(const Coding& coding, std::size_t people) {
  std::vector<std::uint8_t> any(people, 0);
  for (std::size_t item = 0; item < coding.values.size(); ++item)
    for (std::size_t i = 0; i < people; ++i)
      any[i] |= static_cast<std::uint8_t>(coding.codes[item * people + i] >= 0);
  return static_cast<double>(std::count(any.begin(), any.end(), 1));
}

}  // namespace

// Distinct answers of each item, rising; more than 16 of them: NULL. And how many gave each.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_categories(SEXP answers, Rcpp::Nullable<Rcpp::NumericVector> weights, int threads) {
  const Coding coding = code_matrix(answers, threads);
  const std::size_t people = coding.codes.size() / coding.values.size();
  const Weights w(weights, people);
  Rcpp::List values(coding.values.size()), counts(coding.values.size());
  const auto margins = margins_of(coding, people, w.at);
  for (std::size_t i = 0; i < coding.values.size(); ++i) {
    values[i] = Rcpp::wrap(coding.values[i]);
    counts[i] = Rcpp::wrap(margins[i]);
  }
  for (int item : coding.too_many)
    values[item] = counts[item] = R_NilValue;
  return Rcpp::List::create(Rcpp::Named("values") = values, Rcpp::Named("counts") = counts);
}

// Everything that follows from the pairwise tables. kind: "pearson", "spearman" or "polychoric".
// When an item has more than 16 categories, `too_many` names such items and nothing is computed.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_table_correlations(SEXP answers, std::string kind,
                                  Rcpp::Nullable<Rcpp::NumericVector> weights, bool correct,
                                  int threads, Rcpp::Nullable<Rcpp::Function> progress) {
  Coding coding = code_matrix(answers, threads);
  if (!coding.too_many.empty())
    return Rcpp::List::create(Rcpp::Named("too_many") = Rcpp::wrap(coding.too_many));
  const Weights w(weights, coding.codes.size() / coding.values.size());
  CodedAnswers coded{coding.codes.data(), coding.codes.size() / coding.values.size(), {}};
  for (const auto& v : coding.values)
    coded.categories.push_back(static_cast<int>(v.size()));
  const double answering = people_answering(coding, coded.people);
  const auto margins = margins_of(coding, coded.people, w.at);
  PairResults found(table_kind(kind), correct, coding.values, margins);
  const PairVisitor visitor = [&](int i, int j, const PairTable& table) {
    found.take(i, j, table);
  };
  if (w.at) {
    std::vector<double> people;
    for (const auto& counts : margins_of(coding, coded.people, nullptr))
      people.push_back(std::accumulate(counts.begin(), counts.end(), 0.0));
    found.people_of_items(people);
    stop_if_interrupted(visit_weighted_pairs(coded, w.at, threads, visitor, watch_of(progress)));
  } else {
    const AnswerPlanes planes(coded, threads);
    std::vector<std::int8_t>().swap(coding.codes);  // the planes hold it all now
    stop_if_interrupted(planes.visit_pairs(threads, visitor, watch_of(progress)));
  }
  return found.pack(answering);
}

// Polyserial correlations of continuous items (columns of z, standardised) with ordered ones.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_polyserial(Rcpp::NumericMatrix z, SEXP ordered,
                          Rcpp::Nullable<Rcpp::NumericVector> weights, int threads) {
  const Coding coding = code_matrix(ordered, threads);
  if (!coding.too_many.empty()) Rcpp::stop("an ordered item has too many categories");
  const auto people = static_cast<std::size_t>(z.nrow());
  must_hold(z.ncol() > 0 && coding.codes.size() == people * coding.values.size(),
            "both parts must have the same people");
  const Weights w(weights, people);
  const auto thresholds = thresholds_of(margins_of(coding, people, w.at));
  const int rows = z.ncol(), columns = static_cast<int>(coding.values.size());
  Rcpp::NumericMatrix r(rows, columns), error(rows, columns), status(rows, columns);
  double *out_r = r.begin(), *out_e = error.begin(), *out_s = status.begin();
  const double* from = z.begin();
  auto make_worker = [&] {
    return [&](std::size_t pair) {
      const std::size_t i = pair % static_cast<std::size_t>(rows),
                        j = pair / static_cast<std::size_t>(rows);
      const LatentCorrelation found =
          polyserial(from + i * people, coding.codes.data() + j * people, people, w.at,
                     static_cast<int>(coding.values[j].size()), thresholds[j].data());
      out_r[pair] = found.rho;
      out_e[pair] = found.standard_error;
      out_s[pair] = found.status == Fit::converged ? 0 : found.status == Fit::at_bound ? 2 : 3;
    };
  };
  stop_if_interrupted(
      run_replicates(static_cast<std::size_t>(rows) * static_cast<std::size_t>(columns), threads,
                     make_worker, watch_of(R_NilValue)));
  return Rcpp::List::create(Rcpp::Named("correlations") = r, Rcpp::Named("standard_errors") = error,
                            Rcpp::Named("status") = status,
                            Rcpp::Named("thresholds") = Rcpp::wrap(thresholds));
}

// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_em(Rcpp::NumericMatrix answers, Rcpp::Nullable<Rcpp::NumericVector> weights,
                  double tolerance, int max_iterations) {
  must_hold(answers.nrow() > 1 && answers.ncol() > 1, "EM needs people and items");
  const Weights w(weights, static_cast<std::size_t>(answers.nrow()));
  Status status;
  const EmFit fit =
      fit_em(to_core(answers), w.at, tolerance, max_iterations, watch_of(R_NilValue), status);
  stop_if_interrupted(status);
  return Rcpp::List::create(
      Rcpp::Named("means") =
          Rcpp::NumericVector(fit.means.data(), fit.means.data() + fit.means.size()),
      Rcpp::Named("covariances") = to_r(fit.covariances),
      Rcpp::Named("log_likelihood") = fit.log_likelihood,
      Rcpp::Named("iterations") = fit.iterations, Rcpp::Named("converged") = fit.converged,
      Rcpp::Named("singular") = fit.singular);
}

// The covariance of two cut normal variables with correlation rho: thresholds, and by how much the
// values rise at each.
// [[Rcpp::export(rng = false)]]
double cpp_cut_covariance(std::vector<double> first, std::vector<double> rise_first,
                          std::vector<double> second, std::vector<double> rise_second, double rho) {
  must_hold(first.size() == rise_first.size() && second.size() == rise_second.size(),
            "every threshold needs a rise");
  must_hold(std::fabs(rho) <= 1, "a correlation must be from -1 to 1");
  return cut_covariance(first, rise_first, second, rise_second, rho);
}

// P(X <= h, Y <= k): tests hold it against numeric integration.
// [[Rcpp::export(rng = false)]]
double cpp_bivariate_below(double h, double k, double rho) {
  return bivariate_below(h, k, rho);
}

// Which counting code this processor runs.
// [[Rcpp::export(rng = false)]]
std::string cpp_popcount_in_use() {
  return popcount_in_use();
}
