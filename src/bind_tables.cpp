// The doors to what is computed from the pairwise tables of counts.
#include "bind_check.h"
#include "bind_convert.h"
#include "bind_pairs.h"
#include "bind_watch.h"
#include "core_coding.h"
#include "core_em.h"
#include "core_polychoric.h"
#include "core_resample.h"

#include <Rcpp.h>
#include <algorithm>
#include <numeric>

using namespace softsieve;

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
