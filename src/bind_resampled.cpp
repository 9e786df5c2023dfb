// The doors to matching factors, and to solutions of resampled people.
#include "softsieve_types.h"

#include "bind_check.h"
#include "bind_convert.h"
#include "bind_dealt.h"
#include "bind_methods.h"
#include "bind_watch.h"
#include "core_align.h"
#include "core_resample.h"
#include "core_stability.h"

#include <Rcpp.h>
#include <cmath>
#include <string>

using namespace softsieve;

namespace {

// unit_of: for each person, stratum_of: for each unit, both from 0.
Units units_of(const Rcpp::IntegerVector& unit_of, const Rcpp::IntegerVector& stratum_of) {
  must_hold(unit_of.size() > 0 && stratum_of.size() > 0, "there must be people to draw");
  for (int unit : unit_of)
    must_hold(unit >= 0 && unit < stratum_of.size(), "a unit is outside those there are");
  for (int stratum : stratum_of)
    must_hold(stratum >= 0 && stratum < stratum_of.size(), "strata are numbered from 0");
  return {Rcpp::as<std::vector<int>>(unit_of), Rcpp::as<std::vector<int>>(stratum_of)};
}

// A list of method ("components", or a discrepancy), covariances, lowest, start, turning ("none"
// for no rotation), request, starts, target and basis.
SolutionPlan solution_plan_of(const Rcpp::List& plan) {
  const std::string method = Rcpp::as<std::string>(plan["method"]);
  const std::string turning = Rcpp::as<std::string>(plan["turning"]);
  const Rcpp::NumericMatrix target = Rcpp::as<Rcpp::NumericMatrix>(plan["target"]);
  check_finite(target, "loadings must be finite");
  check_factors(target.ncol(), target.nrow(), 1);
  SolutionPlan out{};
  out.components = method == "components";
  if (!out.components) out.discrepancy = discrepancy_of(method);
  out.covariances = Rcpp::as<bool>(plan["covariances"]);
  out.lowest = Rcpp::as<double>(plan["lowest"]);
  must_hold(out.lowest >= 0.0 && out.lowest < 1.0, "a bound must be a share");
  out.start = to_core(Rcpp::as<Rcpp::NumericVector>(plan["start"]));
  must_hold(out.start.size() == target.nrow() && out.start.allFinite(),
            "there must be one start for each item");
  out.turned = turning != "none" && target.ncol() > 1;
  if (out.turned) {
    out.turning = turning_of(turning);
    out.criterion = criterion_of(target, plan["request"]);
  }
  out.starts = Rcpp::as<int>(plan["starts"]);
  must_hold(out.starts >= 1, "a rotation needs a start");
  out.target = to_core(target);
  out.basis = basis_named(Rcpp::as<std::string>(plan["basis"]));
  return out;
}

}  // namespace

// For each column of `target` (p x k): column (from 1, NA where there is none), sign, congruence.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_align_factors(Rcpp::NumericMatrix loadings, Rcpp::NumericMatrix target) {
  must_hold(loadings.nrow() == target.nrow() && loadings.nrow() > 0 && loadings.ncol() > 0 &&
                target.ncol() > 0,
            "two solutions must have the same items to be matched");
  check_finite(loadings, "loadings must be finite");
  check_finite(target, "loadings must be finite");
  const Alignment found = align_factors(to_core(loadings), to_core(target));
  Rcpp::IntegerVector column(target.ncol());
  for (int j = 0; j < target.ncol(); ++j) {
    const int at = found.column[static_cast<std::size_t>(j)];
    column[j] = at < 0 ? NA_INTEGER : at + 1;
  }
  return Rcpp::List::create(Rcpp::Named("column") = column, Rcpp::Named("sign") = to_r(found.sign),
                            Rcpp::Named("congruence") = to_r(found.congruence));
}

// How often each person counts in draw `column` (from 0); `half`: in one half of pair `column`.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_draw_people(Rcpp::IntegerVector unit_of, Rcpp::IntegerVector stratum_of,
                                    double seed, double column, bool half) {
  check_counts(seed, 1, 1);
  must_hold(std::isfinite(column) && column >= 0, "draws are numbered from 0");
  const Units units = units_of(unit_of, stratum_of);
  const auto from = static_cast<std::uint64_t>(seed), number = static_cast<std::uint64_t>(column);
  return to_r(spread_over_people(
      units, half ? halve_units(units, from, number) : draw_units(units, from, number)));
}

// What core_stability.h says of draws and halves first..first + count - 1 (from 0), a column each.
// answers: people x items, NaN where missing; weights: one for each person, or none; dealt: counts
// instead (then answers have no rows, and a unit is a deal).
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_resample_solution(Rcpp::NumericMatrix answers, Rcpp::NumericVector weights,
                                          Rcpp::IntegerVector unit_of,
                                          Rcpp::IntegerVector stratum_of, Rcpp::List plan,
                                          Rcpp::Nullable<Rcpp::List> dealt, int replicates,
                                          int halves, int first, int count, int most_single,
                                          int parts, double seed, int threads,
                                          Rcpp::Nullable<Rcpp::Function> progress) {
  check_counts(seed, threads, replicates);
  must_hold(halves >= 0 && parts >= 2 && most_single >= 0, "halves and parts must be counts");
  const ColumnRange range = range_of(first, count, replicates + 2 * halves);
  const SolutionPlan solution = solution_plan_of(plan);
  must_hold(answers.ncol() == solution.target.rows(), "every item needs its loadings");
  std::shared_ptr<const DealtCounts> counts;
  if (dealt.isNotNull()) counts = dealt_of(Rcpp::List(dealt.get()));
  check_length(unit_of.size(), counts ? counts->cells.cols() : answers.nrow(),
               "every person (or deal) needs a unit");
  must_hold(weights.size() == 0 || weights.size() == answers.nrow(), "every person needs a weight");
  const DrawnPeople drawn{to_core(answers), Rcpp::as<std::vector<double>>(weights),
                          units_of(unit_of, stratum_of), counts};
  Rcpp::NumericMatrix out(
      static_cast<int>(numbers_of_solution(answers.ncol(), solution.target.cols())), count);
  stop_if_interrupted(resample_solution(drawn, solution, static_cast<std::size_t>(replicates),
                                        range, most_single, parts, static_cast<std::uint64_t>(seed),
                                        threads, out.begin(), watch_of(progress)));
  return out;
}
