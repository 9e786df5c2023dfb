// The doors to reliability.
#include "bind_convert.h"
#include "bind_watch.h"
#include "core_hierarchy.h"
#include "core_ordinal.h"
#include "core_reliability.h"
#include "core_resample_people.h"

#include <Rcpp.h>

using namespace softsieve;

namespace {

// plan: a list of answers, weights, scale_of (from 0), scales, splits (a list of signs), ordinal, pattern, bifactor.
PeoplePlan plan_of(const Rcpp::List& plan) {
  PeoplePlan out;
  out.answers = to_core(Rcpp::as<Rcpp::NumericMatrix>(plan["answers"]));
  out.weights = Rcpp::as<std::vector<double>>(plan["weights"]);
  out.scale_of = Rcpp::as<std::vector<int>>(plan["scale_of"]);
  out.scales = Rcpp::as<int>(plan["scales"]);
  const Rcpp::List splits = plan["splits"];
  for (R_xlen_t i = 0; i < splits.size(); ++i) out.splits.push_back(Rcpp::as<std::vector<int>>(splits[i]));
  out.ordinal = Rcpp::as<bool>(plan["ordinal"]);
  out.hierarchy.pattern = to_core(Rcpp::as<Rcpp::NumericMatrix>(plan["pattern"]));
  out.hierarchy.bifactor = to_core(Rcpp::as<Rcpp::NumericMatrix>(plan["bifactor"]));
  return out;
}

}  // namespace

// All measures of one covariance matrix, as in core_reliability.h; split: signs, or of length 0.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector core_measure_covariances(Rcpp::NumericMatrix covariances, Rcpp::IntegerVector split) {
  Rcpp::NumericVector out(measure::count);
  measure_covariances(to_core(covariances), Rcpp::as<std::vector<int>>(split), out.begin());
  return out;
}

// The greatest split half: value, signs (+1 and -1) and whether it is exact.
// [[Rcpp::export(rng = false)]]
Rcpp::List core_greatest_split(Rcpp::NumericMatrix covariances, double seed) {
  const Split split = greatest_split(to_core(covariances), static_cast<std::uint64_t>(seed));
  return Rcpp::List::create(Rcpp::Named("value") = split.value, Rcpp::Named("signs") = split.signs, Rcpp::Named("exact") = split.exact);
}

// Split halves of equal size: their values, and whether these are all.
// [[Rcpp::export(rng = false)]]
Rcpp::List core_split_halves(Rcpp::NumericMatrix covariances, int most, double seed) {
  bool all = false;
  const std::vector<double> values = split_halves(to_core(covariances), static_cast<std::size_t>(most), static_cast<std::uint64_t>(seed), all);
  return Rcpp::List::create(Rcpp::Named("values") = values, Rcpp::Named("all") = all);
}

// Discrimination of each item; answers: people x items, NA where missing.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector core_discrimination(Rcpp::NumericMatrix answers, double share) {
  return Rcpp::wrap(discriminations(to_core(answers), share));
}

// Categorical omega and ordinal alpha. thresholds, steps: one vector for each item.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector core_measure_ordinal(Rcpp::NumericMatrix polychoric, Rcpp::List thresholds, Rcpp::List steps) {
  std::vector<std::vector<double>> t, d;
  for (R_xlen_t i = 0; i < thresholds.size(); ++i) {
    t.push_back(Rcpp::as<std::vector<double>>(thresholds[i]));
    d.push_back(Rcpp::as<std::vector<double>>(steps[i]));
  }
  const OrdinalMeasures found = measure_ordinal(to_core(polychoric), t, d);
  return Rcpp::NumericVector::create(found.omega, found.alpha);
}

// Six numbers for each scale and for all items (core_hierarchy.h).
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector core_measure_hierarchy(Rcpp::NumericMatrix correlations, Rcpp::NumericVector sds, Rcpp::IntegerVector scale_of,
                                           int scales, Rcpp::NumericMatrix pattern, Rcpp::NumericMatrix bifactor) {
  Rcpp::NumericVector out(6 * (scales + 1));
  measure_hierarchy(to_core(correlations), to_core(sds), Rcpp::as<std::vector<int>>(scale_of), scales, {to_core(pattern), to_core(bifactor)},
                    out.begin());
  return out;
}

// Every measure of the people as they are.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector core_measure_people(Rcpp::List plan) { return Rcpp::wrap(measure_people(plan_of(plan))); }

// Measures x (replicates + groups): resampled people, then people without each group.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix core_resample_people(Rcpp::List plan, int replicates, int groups, double seed, int threads,
                                         Rcpp::Nullable<Rcpp::Function> progress) {
  const PeoplePlan people = plan_of(plan);
  Rcpp::NumericMatrix out(static_cast<int>(measures_of(people)), replicates + groups);
  stop_if_interrupted(resample_people(people, static_cast<std::size_t>(replicates), static_cast<std::size_t>(groups),
                                      static_cast<std::uint64_t>(seed), threads, out.begin(), watch_of(progress)));
  return out;
}
