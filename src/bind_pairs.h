// Everything that follows from the pairwise tables, gathered pair by pair and handed to R.
#ifndef SOFTSIEVE_BIND_PAIRS_H
#define SOFTSIEVE_BIND_PAIRS_H

#include "bind_check.h"
#include "core_polychoric.h"
#include "core_resample.h"
#include "core_tables.h"

#include <Rcpp.h>
#include <cmath>
#include <numeric>
#include <string>
#include <vector>

namespace softsieve {

inline Rcpp::NumericMatrix empty_square(int p, double diagonal) {
  Rcpp::NumericMatrix x(p, p);
  std::fill(x.begin(), x.end(), NA_REAL);
  for (int i = 0; i < p; ++i)
    x(i, i) = diagonal;
  return x;
}

inline TableCorrelation table_kind(const std::string& kind) {
  static const std::pair<const char*, TableCorrelation> kinds[] = {
      {"pearson", TableCorrelation::pearson},
      {"spearman", TableCorrelation::spearman},
      {"polychoric", TableCorrelation::polychoric}};
  return named(kinds, kind);
}

inline std::vector<std::vector<double>> thresholds_of(
    const std::vector<std::vector<double>>& margins) {
  std::vector<std::vector<double>> all;
  for (const auto& margin : margins)
    all.push_back(thresholds_from(margin));
  return all;
}

// `values` and `margins` (each item's distinct answers, and how many gave each) must outlive it.
class PairResults {
 public:
  PairResults(TableCorrelation kind, bool correct, const std::vector<std::vector<double>>& values,
              const std::vector<std::vector<double>>& margins)
      : kind_(kind),
        correct_(correct),
        values_(values),
        margins_(margins),
        thresholds_(thresholds_of(margins)),
        p_(static_cast<int>(values.size())),
        n_pair_(empty_square(p_, 0)),
        r_(empty_square(p_, 1)),
        covariance_(empty_square(p_, NA_REAL)),
        error_(empty_square(p_, 0)),
        empty_(empty_square(p_, 0)),
        status_(empty_square(p_, 0)),
        chi_square_(empty_square(p_, NA_REAL)),
        chi_df_(empty_square(p_, NA_REAL)),
        out_{n_pair_.begin(), r_.begin(),      covariance_.begin(), error_.begin(),
             empty_.begin(),  status_.begin(), chi_square_.begin(), chi_df_.begin()} {
    for (int item = 0; item < p_; ++item)
      n_pair_(item, item) = std::accumulate(margins[item].begin(), margins[item].end(), 0.0);
  }

  // How many answered each item, where `margins` are sums of weights.
  void people_of_items(const std::vector<double>& counts) {
    for (int item = 0; item < p_; ++item)
      n_pair_(item, item) = counts[item];
  }

  // From any thread, each pair once: no R object is touched, only the numbers of the pair.
  void take(int i, int j, const PairTable& table) const {
    put(out_.n_pair, i, j, table.people);
    std::vector<double> first = values_[i], second = values_[j];
    if (kind_ == TableCorrelation::spearman) midranks_of(table, first, second);
    const PairMoments m = moments_of(table, first.data(), second.data());
    put(out_.covariance, i, j, m.product / (m.n - 1));
    const ChiSquare chi = chi_square_of(table);
    put(out_.chi_square, i, j, chi.statistic);
    put(out_.chi_df, i, j, chi.df);
    if (kind_ != TableCorrelation::polychoric) {
      put(out_.r, i, j, m.product / std::sqrt(m.square_first * m.square_second));
      return;
    }
    const LatentCorrelation found =
        polychoric(table, thresholds_[i].data(), thresholds_[j].data(), correct_);
    put(out_.r, i, j, found.rho);
    put(out_.error, i, j, found.standard_error);
    put(out_.empty, i, j, found.empty_cells);
    put(out_.status, i, j,
        found.status == Fit::converged  ? (found.corrected ? 1 : 0)
        : found.status == Fit::at_bound ? 2
                                        : 3);
  }

  Rcpp::List pack(double people) const {
    return Rcpp::List::create(
        Rcpp::Named("correlations") = r_, Rcpp::Named("covariances") = covariance_,
        Rcpp::Named("n_pair") = n_pair_, Rcpp::Named("standard_errors") = error_,
        Rcpp::Named("empty_cells") = empty_, Rcpp::Named("status") = status_,
        Rcpp::Named("thresholds") = Rcpp::wrap(thresholds_),
        Rcpp::Named("values") = Rcpp::wrap(values_), Rcpp::Named("counts") = Rcpp::wrap(margins_),
        Rcpp::Named("people") = people, Rcpp::Named("chi_square") = chi_square_,
        Rcpp::Named("chi_df") = chi_df_);
  }

 private:
  struct Places {
    double *n_pair, *r, *covariance, *error, *empty, *status, *chi_square, *chi_df;
  };
  void put(double* out, int i, int j, double x) const { out[i + j * p_] = out[j + i * p_] = x; }

  TableCorrelation kind_;
  bool correct_;
  const std::vector<std::vector<double>>&values_, &margins_;
  std::vector<std::vector<double>> thresholds_;
  int p_;
  Rcpp::NumericMatrix n_pair_, r_, covariance_, error_, empty_, status_, chi_square_, chi_df_;
  Places out_;
};

}  // namespace softsieve

#endif
