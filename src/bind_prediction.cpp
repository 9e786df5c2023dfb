// The door to predictions from answers with gaps.
#include "bind_check.h"
#include "bind_convert.h"
#include "bind_watch.h"
#include "core_prediction.h"

#include <Rcpp.h>

using namespace softsieve;

// n x q: what the n people's standardised answers (n x p, NA for gaps) say of the q variables that
// correlate with the items as `with_items` (p x q) says.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_predict_from_answers(Rcpp::NumericMatrix answers,
                                             Rcpp::NumericMatrix correlations,
                                             Rcpp::NumericMatrix with_items, int threads) {
  check_matrix(correlations);
  check_finite(with_items, "correlations with items must be finite");
  must_hold(answers.ncol() == correlations.nrow() && with_items.nrow() == correlations.nrow(),
            "there must be one column of answers, and one row, for each item");
  check_counts(0.0, threads, 0);
  Eigen::MatrixXd out(answers.nrow(), with_items.ncol());
  stop_if_interrupted(predict_from_answers(to_core(answers), to_core(correlations),
                                           to_core(with_items), out, threads,
                                           watch_of(R_NilValue)));
  return to_r(out);
}
