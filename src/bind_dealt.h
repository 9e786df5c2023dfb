// Counts of people dealt into groups, as R holds them.
#ifndef SOFTSIEVE_BIND_DEALT_H
#define SOFTSIEVE_BIND_DEALT_H

#include "bind_check.h"
#include "bind_convert.h"
#include "core_resample_people.h"

#include <Rcpp.h>
#include <memory>

namespace softsieve {

// A list of values (each item's categories, NULL where there are too many), cells (a column for
// each deal) and sums (items x items x 5 x deals, or NULL): cpp_tally_read().
inline std::shared_ptr<const DealtCounts> dealt_of(const Rcpp::List& given) {
  auto out = std::make_shared<DealtCounts>();
  const Rcpp::List values = given["values"];
  const int p = static_cast<int>(values.size());
  for (int i = 0; i < p; ++i) {
    std::vector<double> own;
    if (!Rf_isNull(values[i])) own = Rcpp::as<std::vector<double>>(values[i]);
    must_hold(own.size() <= static_cast<std::size_t>(most_categories), "too many categories");
    out->shape.categories.push_back(static_cast<int>(own.size()));
    out->values.push_back(own);
  }
  out->shape.deals = 1;
  out->shape.weighted = out->shape.complete = false;
  const Rcpp::NumericMatrix cells = Rcpp::as<Rcpp::NumericMatrix>(given["cells"]);
  check_finite(cells, "counts must be finite");
  out->cells = to_core(cells);
  must_hold(p >= 1 && cells.ncol() >= 2 &&
                static_cast<std::size_t>(cells.nrow()) == Tally(out->shape).cells(0).size(),
            "the tables must be those of the items, a column for each deal");
  if (Rf_isNull(given["sums"])) {
    for (const auto& own : out->values)
      must_hold(!own.empty(), "an item without categories needs sums");
    return out;
  }
  const Rcpp::NumericVector sums = given["sums"];
  check_length(sums.size(), R_xlen_t{5} * p * p * cells.ncol(), "sums must be there of each deal");
  const double* next = sums.begin();
  for (int d = 0; d < cells.ncol(); ++d) {
    PairSums one;
    for (Eigen::MatrixXd* part : {&one.people, &one.weight, &one.sum, &one.square, &one.product}) {
      *part = Eigen::Map<const Eigen::MatrixXd>(next, p, p);
      next += static_cast<R_xlen_t>(p) * p;
    }
    out->sums.push_back(one);
  }
  return out;
}

// Columns first to first + count - 1 of so many.
inline ColumnRange range_of(int first, int count, int columns) {
  must_hold(first >= 0 && count >= 0 && first <= columns - count,
            "a range must lie within the draws");
  must_hold(first % static_cast<int>(columns_at_once) == 0,
            "a range must begin where a matrix product does");
  return {static_cast<std::size_t>(first), static_cast<std::size_t>(first + count)};
}

}  // namespace softsieve

#endif
