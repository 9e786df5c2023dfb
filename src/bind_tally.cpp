// The doors to counts that add up: an external pointer to a Tally while blocks come, plain numbers
// afterwards.
#include "bind_check.h"
#include "bind_convert.h"
#include "bind_pairs.h"
#include "bind_watch.h"
#include "core_random.h"
#include "core_tally.h"

#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <memory>

using namespace softsieve;

namespace {

using Held = Rcpp::XPtr<Tally>;

// An answer's rank among an item's values (rising); -1 where missing, -2 where it is none of them.
class Ranks {
 public:
  explicit Ranks(const Rcpp::NumericVector& values) : values_(values.begin(), values.end()) {}
  std::int8_t of(double x) const {
    if (std::isnan(x)) return -1;
    const auto at = std::lower_bound(values_.begin(), values_.end(), x);
    if (at == values_.end() || *at != x) return -2;
    return static_cast<std::int8_t>(at - values_.begin());
  }

 private:
  std::vector<double> values_;
};

// A cell of a matrix of whole numbers or of numbers, NaN where missing.
struct Answers {
  const int* whole = nullptr;
  const double* number = nullptr;
  std::size_t people = 0, items = 0;
  explicit Answers(SEXP x) {
    must_hold(Rf_isMatrix(x) && (TYPEOF(x) == INTSXP || TYPEOF(x) == REALSXP),
              "answers must be a matrix of numbers");
    if (TYPEOF(x) == INTSXP)
      whole = INTEGER(x);
    else
      number = REAL(x);
    const Rcpp::IntegerVector shape = Rf_getAttrib(x, R_DimSymbol);
    people = static_cast<std::size_t>(shape[0]);
    items = static_cast<std::size_t>(shape[1]);
  }
  double at(std::size_t cell) const {
    if (!whole) return number[cell];
    return whole[cell] == NA_INTEGER ? std::numeric_limits<double>::quiet_NaN() : whole[cell];
  }
};

}  // namespace

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

// Adds answers (people x items, keyed). values: each item's categories, rising, NULL where it has
// many; origins: what is taken from answers before they are summed; numbers: of the first person,
// or of each. Returns how many answers of each item are none of its categories; they are not
// counted.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_tally_add(SEXP tally, SEXP answers, Rcpp::List values,
                                  Rcpp::NumericVector origins,
                                  Rcpp::Nullable<Rcpp::NumericVector> weights,
                                  Rcpp::NumericVector numbers, int threads) {
  Held held(tally);
  const Answers given(answers);
  const std::size_t items = held->shape().categories.size();
  must_hold(given.items == items, "a block must have the items of the tally");
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
  std::vector<double> values_of(held->has_sums() ? given.people * items : 0), unfit(items, 0.0);
  const double* origin = origins.begin();
  const auto make_worker = [&] {
    return [&](std::size_t i) {
      for (std::size_t cell = i * given.people; cell < (i + 1) * given.people; ++cell) {
        double x = given.at(cell);
        if (ranks[i]) codes[cell] = ranks[i]->of(x);
        if (codes[cell] == -2) {
          ++unfit[i];
          codes[cell] = -1;
          x = std::numeric_limits<double>::quiet_NaN();
        }
        if (!values_of.empty()) values_of[cell] = x - origin[i];
      }
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
  return Rcpp::wrap(unfit);
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
