// What a door makes sure of before the core sees anything: shapes, ranges and words. R checks
// arguments in people's words; what fails here is a mistake in the package, and stops with an error
// instead of running on.
#ifndef SOFTSIEVE_BIND_CHECK_H
#define SOFTSIEVE_BIND_CHECK_H

#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <string>
#include <utility>

namespace softsieve {

inline void must_hold(bool holds, const char* what) {
  if (!holds) Rcpp::stop("the core was asked for something impossible: %s", what);
}

inline void check_finite(const Rcpp::NumericVector& x, const char* what) {
  must_hold(std::all_of(x.begin(), x.end(), [](double v) { return std::isfinite(v); }), what);
}

// A square matrix of at least one item, without gaps, with positive variances.
inline void check_matrix(const Rcpp::NumericMatrix& m) {
  must_hold(m.nrow() > 0 && m.nrow() == m.ncol(), "a matrix must be square and not empty");
  check_finite(m, "a matrix must hold finite numbers");
  for (int i = 0; i < m.nrow(); ++i)
    must_hold(m(i, i) > 0, "variances must be above 0");
}

inline void check_same_shape(const Rcpp::NumericMatrix& a, const Rcpp::NumericMatrix& b) {
  must_hold(a.nrow() == b.nrow() && a.ncol() == b.ncol(), "two matrices must have the same shape");
}

// 0 (or `least`) to p - 1 factors of p items.
inline void check_factors(int factors, int items, int least = 0) {
  must_hold(factors >= least && factors < items,
            "the number of factors must be below that of items");
}

inline void check_length(R_xlen_t length, R_xlen_t wanted, const char* what) {
  must_hold(length == wanted, what);
}

inline void check_counts(double seed, int threads, int replicates) {
  must_hold(std::isfinite(seed) && seed >= 0, "a seed must be at least 0");
  must_hold(threads >= 1, "there must be at least one thread");
  must_hold(replicates >= 0, "the number of replicates must be at least 0");
}

// The value that goes with a word; an unknown word is an error, never another method.
template <class Value, std::size_t count>
Value named(const std::pair<const char*, Value> (&table)[count], const std::string& word) {
  for (const auto& entry : table)
    if (word == entry.first) return entry.second;
  Rcpp::stop("the core knows no '%s'", word);
}

}  // namespace softsieve

#endif
