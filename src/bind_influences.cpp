// The door to how much each person moves each correlation.
#include "softsieve_types.h"

#include "bind_check.h"
#include "bind_convert.h"
#include "bind_pairs.h"
#include "bind_watch.h"
#include "core_coding.h"
#include "core_influence.h"
#include "core_product.h"
#include "core_tally.h"

#include <Rcpp.h>
#include <algorithm>
#include <string>

using namespace softsieve;

namespace {

// Where each unit's people begin, from the unit of each person: 0, 0, 1, ..., rising by at most 1.
std::vector<std::size_t> first_of_units(const Rcpp::IntegerVector& unit_of) {
  must_hold(unit_of.size() > 0 && unit_of[0] == 0, "units must begin at 0");
  std::vector<std::size_t> first{0};
  for (R_xlen_t i = 1; i < unit_of.size(); ++i) {
    const int step = unit_of[i] - unit_of[i - 1];
    must_hold(step == 0 || step == 1, "people of a unit must stand together");
    if (step == 1) first.push_back(static_cast<std::size_t>(i));
  }
  first.push_back(static_cast<std::size_t>(unit_of.size()));
  return first;
}

// What is asked of the influences: "rows" of the units in `chosen` (from 0), "covariances" (sum of
// x x' over units) or "squares" (its diagonal).
SEXP told_of(const Influences& influences, const Rcpp::IntegerVector& unit_of,
             const std::string& wanted, const Rcpp::IntegerVector& chosen, int threads,
             const Watch& watch) {
  const std::vector<std::size_t> first = first_of_units(unit_of);
  check_length(unit_of.size(), static_cast<R_xlen_t>(influences.people),
               "every person needs a unit");
  if (wanted == "rows") {
    std::vector<std::size_t> units;
    for (int unit : chosen) {
      must_hold(unit >= 0 && static_cast<std::size_t>(unit) + 1 < first.size(),
                "there is no such unit");
      units.push_back(static_cast<std::size_t>(unit));
    }
    return to_r(unit_rows(influences, first, units));
  }
  if (wanted == "squares") {
    Eigen::VectorXd out;
    stop_if_interrupted(sums_of_squares(influences, first, threads, watch, out));
    return to_r(out);
  }
  must_hold(wanted == "covariances", "influences are asked for by an unknown word");
  Eigen::MatrixXd out;
  stop_if_interrupted(cross_products(influences, first, threads, watch, out));
  return to_r(out);
}

const double* weights_at(const Rcpp::NumericVector& weights, int people) {
  if (weights.size() == 0) return nullptr;
  check_length(weights.size(), people, "every person needs a weight");
  check_finite(weights, "weights must be finite");
  return weights.begin();
}

}  // namespace

// Of Pearson correlations. answers: people x items, NaN where missing, people of a unit together;
// weights: empty, or one for each person with mean 1.
// [[Rcpp::export(rng = false)]]
SEXP cpp_pearson_influences(Rcpp::NumericMatrix answers, Rcpp::NumericVector weights,
                            Rcpp::IntegerVector unit_of, std::string wanted,
                            Rcpp::IntegerVector chosen, int threads,
                            Rcpp::Nullable<Rcpp::Function> progress) {
  must_hold(answers.nrow() > 1 && answers.ncol() > 1, "influences need people and items");
  must_hold(threads >= 1, "there must be at least one thread");
  const Eigen::MatrixXd held = to_core(answers);
  const Influences found = pearson_influences(held, weights_at(weights, answers.nrow()));
  return told_of(found, unit_of, wanted, chosen, threads, watch_of(progress));
}

// Of polychoric correlations; thresholds: a list of each item's.
// [[Rcpp::export(rng = false)]]
SEXP cpp_polychoric_influences(Rcpp::NumericMatrix answers, Rcpp::NumericMatrix correlations,
                               Rcpp::List thresholds, Rcpp::NumericVector weights,
                               Rcpp::IntegerVector unit_of, std::string wanted,
                               Rcpp::IntegerVector chosen, int threads,
                               Rcpp::Nullable<Rcpp::Function> progress) {
  must_hold(answers.nrow() > 1 && answers.ncol() > 1, "influences need people and items");
  must_hold(threads >= 1, "there must be at least one thread");
  check_matrix(correlations);
  check_length(correlations.nrow(), answers.ncol(), "there must be a correlation for each pair");
  check_length(thresholds.size(), answers.ncol(), "every item needs thresholds");
  const Coding coding = code_answers(answers.begin(), static_cast<std::size_t>(answers.nrow()),
                                     static_cast<std::size_t>(answers.ncol()), threads);
  must_hold(coding.too_many.empty(), "an item has too many categories");
  std::vector<std::vector<double>> cuts;
  for (R_xlen_t i = 0; i < thresholds.size(); ++i) {
    cuts.push_back(Rcpp::as<std::vector<double>>(thresholds[i]));
    must_hold(cuts.back().size() + 1 == coding.values[static_cast<std::size_t>(i)].size(),
              "thresholds must fit an item's categories");
  }
  const Influences found = polychoric_influences(coding, to_core(correlations), cuts,
                                                 weights_at(weights, answers.nrow()));
  return told_of(found, unit_of, wanted, chosen, threads, watch_of(progress));
}

// Of correlations by EM, as scores (cov: sum of s s' of means and covariances) and what carries
// them on to correlations; NULL where the information has no inverse.
// [[Rcpp::export(rng = false)]]
SEXP cpp_likelihood_influences(Rcpp::NumericMatrix answers, Rcpp::NumericVector means,
                               Rcpp::NumericMatrix covariances, Rcpp::NumericVector weights,
                               Rcpp::IntegerVector unit_of, Rcpp::IntegerVector chosen, int threads,
                               Rcpp::Nullable<Rcpp::Function> progress) {
  must_hold(answers.nrow() > 1 && answers.ncol() > 1, "influences need people and items");
  must_hold(threads >= 1, "there must be at least one thread");
  check_matrix(covariances);
  check_length(covariances.nrow(), answers.ncol(), "there must be a covariance for each pair");
  check_length(means.size(), answers.ncol(), "there must be a mean for each item");
  const LikelihoodInfluences found = likelihood_influences(
      to_core(answers), weights_at(weights, answers.nrow()), to_core(means), to_core(covariances));
  if (found.singular) return R_NilValue;
  const Watch watch = watch_of(progress);
  const Rcpp::IntegerVector nobody;
  return Rcpp::List::create(
      Rcpp::Named("sums") = told_of(found.scores, unit_of, "covariances", nobody, threads, watch),
      Rcpp::Named("rows") = told_of(found.scores, unit_of, "rows", chosen, threads, watch),
      Rcpp::Named("carried") = to_r(found.carried));
}

namespace {

// What `work` makes of stripes of columns, shared out over threads.
template <typename Work>
void in_stripes(Eigen::Index columns, int threads, const Work& work) {
  constexpr Eigen::Index width = 64;
  auto make_worker = [&] {
    return [&](std::size_t stripe) {
      const Eigen::Index begin = static_cast<Eigen::Index>(stripe) * width;
      work(begin, std::min(width, columns - begin));
    };
  };
  stop_if_interrupted(run_replicates(static_cast<std::size_t>((columns + width - 1) / width),
                                     threads, make_worker, watch_of(R_NilValue)));
}

}  // namespace

// m D of the slopes of loadings (core_influence.h); m: a column for each pair of items.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_times_slopes(Rcpp::NumericMatrix m, Rcpp::NumericMatrix loadings,
                                     int threads) {
  must_hold(m.ncol() == loadings.nrow() * (loadings.nrow() - 1) / 2 && threads >= 1,
            "there must be a column for each pair");
  const Eigen::MatrixXd l = to_core(loadings);
  const Eigen::Map<const Eigen::MatrixXd> from(m.begin(), m.nrow(), m.ncol());
  Rcpp::NumericMatrix out(m.nrow(), static_cast<int>(l.size()));
  Eigen::Map<Eigen::MatrixXd> to(out.begin(), out.nrow(), out.ncol());
  in_stripes(from.rows(), threads, [&](Eigen::Index begin, Eigen::Index count) {
    times_slopes(from.middleRows(begin, count), l, to.middleRows(begin, count));
  });
  return out;
}

// The product of two matrices, its columns shared out over threads.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_multiply(Rcpp::NumericMatrix a, Rcpp::NumericMatrix b, int threads) {
  must_hold(a.ncol() == b.nrow() && threads >= 1, "matrices must fit each other");
  Rcpp::NumericMatrix out(a.nrow(), b.ncol());
  const Eigen::Index rows = a.nrow(), inner = a.ncol();
  const double *first = a.begin(), *second = b.begin();
  double* to = out.begin();
  in_stripes(b.ncol(), threads, [&](Eigen::Index begin, Eigen::Index count) {
    add_product({rows, count, inner, first, rows, second + begin * inner, 1, inner,
                 to + begin * rows, rows});
  });
  return out;
}

// V m for the weight V of maximum likelihood (core_influence.h); a row of m for each pair.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_weigh_pairs(Rcpp::NumericMatrix inverse, Rcpp::NumericMatrix spreads,
                                    Rcpp::NumericMatrix m, int threads) {
  const Eigen::MatrixXd a = to_core(inverse), s = to_core(spreads);
  must_hold(a.rows() == a.cols() && s.rows() == a.rows() && s.cols() == a.rows() && threads >= 1,
            "matrices must fit each other");
  must_hold(m.nrow() == a.rows() * (a.rows() - 1) / 2, "there must be a row for each pair");
  const Eigen::Map<const Eigen::MatrixXd> from(m.begin(), m.nrow(), m.ncol());
  Rcpp::NumericMatrix out(m.nrow(), m.ncol());
  Eigen::Map<Eigen::MatrixXd> to(out.begin(), out.nrow(), out.ncol());
  in_stripes(from.cols(), threads, [&](Eigen::Index begin, Eigen::Index count) {
    weigh_pairs(a, s, from.middleCols(begin, count), to.middleCols(begin, count));
  });
  return out;
}
