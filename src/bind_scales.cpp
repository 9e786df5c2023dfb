// The doors to scales: reliability, the best subsets of a scale's items, and predictions from
// answers with some missing.
#include "softsieve_types.h"

#include "bind_check.h"
#include "bind_convert.h"
#include "bind_dealt.h"
#include "bind_watch.h"
#include "core_hierarchy.h"
#include "core_ordinal.h"
#include "core_prediction.h"
#include "core_reliability.h"
#include "core_resample_people.h"
#include "core_subsets.h"

#include <Rcpp.h>
#include <algorithm>
#include <iterator>
#include <string>

using namespace softsieve;

// ---- Reliability.

namespace {

void check_scales(const std::vector<int>& scale_of, int scales, Eigen::Index items) {
  check_length(static_cast<R_xlen_t>(scale_of.size()), items, "every item needs its scale");
  for (int scale : scale_of)
    must_hold(scale >= 0 && scale < scales, "a scale is outside those there are");
}

void check_square(const Rcpp::NumericMatrix& m) {
  must_hold(m.nrow() > 0 && m.nrow() == m.ncol(), "a matrix must be square and not empty");
}

// plan: a list of answers, weights, scale_of (from 0), scales, splits (a list of signs), ordinal,
// pattern, bifactor.
PeoplePlan plan_of(const Rcpp::List& plan) {
  PeoplePlan out;
  out.answers = to_core(Rcpp::as<Rcpp::NumericMatrix>(plan["answers"]));
  out.weights = Rcpp::as<std::vector<double>>(plan["weights"]);
  out.scale_of = Rcpp::as<std::vector<int>>(plan["scale_of"]);
  out.scales = Rcpp::as<int>(plan["scales"]);
  const Rcpp::List splits = plan["splits"];
  for (R_xlen_t i = 0; i < splits.size(); ++i)
    out.splits.push_back(Rcpp::as<std::vector<int>>(splits[i]));
  out.ordinal = Rcpp::as<bool>(plan["ordinal"]);
  out.hierarchy.pattern = to_core(Rcpp::as<Rcpp::NumericMatrix>(plan["pattern"]));
  out.hierarchy.bifactor = to_core(Rcpp::as<Rcpp::NumericMatrix>(plan["bifactor"]));
  out.hierarchy.uniquenesses = to_core(Rcpp::as<Rcpp::NumericVector>(plan["uniquenesses"]));
  out.hierarchy.bifactor_uniquenesses =
      to_core(Rcpp::as<Rcpp::NumericVector>(plan["bifactor_uniquenesses"]));
  out.hierarchy.unrotated = to_core(Rcpp::as<Rcpp::NumericMatrix>(plan["unrotated"]));
  const Eigen::Index items = out.answers.cols();
  if (plan.containsElementNamed("dealt") && !Rf_isNull(plan["dealt"])) {
    out.dealt = dealt_of(plan["dealt"]);
    must_hold(static_cast<Eigen::Index>(out.dealt->values.size()) == items,
              "counts must be of the items");
  }
  must_hold((out.answers.rows() > 1 || out.dealt) && items > 0 && out.scales > 0,
            "there must be people, items and scales");
  must_hold(
      out.weights.empty() || out.weights.size() == static_cast<std::size_t>(out.answers.rows()),
      "every person needs a weight");
  check_scales(out.scale_of, out.scales, items);
  check_length(splits.size(), out.scales, "every scale needs a split");
  for (int scale = 0; scale < out.scales; ++scale) {
    const auto own = std::count(out.scale_of.begin(), out.scale_of.end(), scale);
    const auto signs =
        static_cast<std::ptrdiff_t>(out.splits[static_cast<std::size_t>(scale)].size());
    must_hold(own > 0 && (signs == 0 || signs == own),
              "a split must have a sign for each item of its scale");
  }
  for (const Eigen::MatrixXd* loadings : {&out.hierarchy.pattern, &out.hierarchy.bifactor})
    must_hold(loadings->size() == 0 || (loadings->rows() == items && loadings->cols() < items),
              "loadings must have a row for each item");
  must_hold(out.hierarchy.unrotated.rows() == out.hierarchy.pattern.rows() &&
                out.hierarchy.unrotated.cols() == out.hierarchy.pattern.cols(),
            "loadings must have one shape");
  must_hold((out.hierarchy.pattern.size() == 0 || out.hierarchy.uniquenesses.size() == items) &&
                (out.hierarchy.bifactor.size() == 0 ||
                 out.hierarchy.bifactor_uniquenesses.size() == items),
            "every item needs a uniqueness");
  return out;
}

template <std::size_t count>
Rcpp::CharacterVector names_of(const char* const (&names)[count]) {
  return Rcpp::CharacterVector(std::begin(names), std::end(names));
}

// "alpha.1" is that of the first scale, "general.bifactor.1" what is general in its sum; the last
// number of these stands for all items.
Rcpp::CharacterVector names_of_people(const PeoplePlan& plan) {
  std::vector<std::string> out;
  const auto add = [&out](const char* name, int scale) {
    out.push_back(std::string(name) + "." + std::to_string(scale + 1));
  };
  for (int scale = 0; scale < plan.scales; ++scale)
    for (const char* name : measure::names)
      add(name, scale);
  for (int scale = 0; out.size() < measures_of(plan); ++scale)
    for (const char* name : hierarchy_names)
      add(name, scale);
  return Rcpp::wrap(out);
}

}  // namespace

// All measures of one covariance matrix, as in core_reliability.h; split: signs, or of length 0.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_measure_covariances(Rcpp::NumericMatrix covariances,
                                            Rcpp::IntegerVector split) {
  check_square(covariances);
  must_hold(split.size() == 0 || split.size() == covariances.nrow(),
            "a split must have a sign for each item");
  Rcpp::NumericVector out(measure::count);
  measure_covariances(to_core(covariances), Rcpp::as<std::vector<int>>(split), out.begin());
  out.names() = names_of(measure::names);
  return out;
}

// Omega of one factor (core_reliability.h), and with `each` without each item in turn.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_one_factor_omegas(Rcpp::NumericMatrix covariances, bool each) {
  check_square(covariances);
  must_hold(covariances.nrow() > (each ? 2 : 1), "there are too few items");
  return to_r(one_factor_omegas(to_core(covariances), each));
}

// The greatest split half: value, signs (+1 and -1) and whether it is exact.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_greatest_split(Rcpp::NumericMatrix covariances, double seed) {
  check_square(covariances);
  check_counts(seed, 1, 0);
  must_hold(covariances.nrow() > 1, "one item cannot be split");
  const Split split = greatest_split(to_core(covariances), static_cast<std::uint64_t>(seed));
  return Rcpp::List::create(Rcpp::Named("value") = split.value, Rcpp::Named("signs") = split.signs,
                            Rcpp::Named("exact") = split.exact);
}

// Split halves of equal size: their values, and whether these are all.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_split_halves(Rcpp::NumericMatrix covariances, int most, double seed) {
  check_square(covariances);
  check_counts(seed, 1, most);
  must_hold(covariances.nrow() > 1 && most > 0, "one item cannot be split");
  bool all = false;
  const std::vector<double> values = split_halves(
      to_core(covariances), static_cast<std::size_t>(most), static_cast<std::uint64_t>(seed), all);
  return Rcpp::List::create(Rcpp::Named("values") = values, Rcpp::Named("all") = all);
}

// Discrimination of each item; answers: people x items, NA where missing.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_discrimination(Rcpp::NumericMatrix answers, double share) {
  must_hold(answers.ncol() > 0 && share > 0 && share < 1,
            "discrimination needs items, and a share between 0 and 1");
  return Rcpp::wrap(discriminations(to_core(answers), share));
}

// Categorical omega and ordinal alpha. thresholds, steps: one vector for each item.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_measure_ordinal(Rcpp::NumericMatrix polychoric, Rcpp::List thresholds,
                                        Rcpp::List steps) {
  check_square(polychoric);
  check_length(thresholds.size(), polychoric.nrow(), "every item needs thresholds");
  check_length(steps.size(), polychoric.nrow(), "every item needs steps");
  std::vector<std::vector<double>> t, d;
  for (R_xlen_t i = 0; i < thresholds.size(); ++i) {
    t.push_back(Rcpp::as<std::vector<double>>(thresholds[i]));
    d.push_back(Rcpp::as<std::vector<double>>(steps[i]));
    must_hold(t.back().size() == d.back().size(), "there is one step for each threshold");
  }
  const OrdinalMeasures found = measure_ordinal(to_core(polychoric), t, d);
  return Rcpp::NumericVector::create(
      Rcpp::Named(measure::names[measure::categorical]) = found.omega,
      Rcpp::Named(measure::names[measure::ordinal]) = found.alpha);
}

// A column for each scale and one for all items, of six named numbers (core_hierarchy.h).
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_measure_hierarchy(Rcpp::NumericMatrix correlations, Rcpp::NumericVector sds,
                                          Rcpp::IntegerVector scale_of, int scales,
                                          Rcpp::NumericMatrix pattern, Rcpp::NumericMatrix bifactor,
                                          Rcpp::NumericVector uniquenesses,
                                          Rcpp::NumericVector bifactor_uniquenesses) {
  check_matrix(correlations);
  const int items = correlations.nrow();
  must_hold(scales > 0, "there must be a scale");
  check_length(sds.size(), items, "every item needs a standard deviation");
  check_scales(Rcpp::as<std::vector<int>>(scale_of), scales, items);
  check_length(pattern.nrow(), items, "loadings must have a row for each item");
  check_factors(pattern.ncol(), items, 2);
  check_length(uniquenesses.size(), items, "every item needs a uniqueness");
  must_hold(bifactor.size() == 0 || bifactor_uniquenesses.size() == items,
            "every item needs a uniqueness");
  must_hold(bifactor.size() == 0 || (bifactor.nrow() == items && bifactor.ncol() < items),
            "loadings must have a row for each item");
  Rcpp::NumericMatrix out(hierarchy_count, scales + 1);
  measure_hierarchy(to_core(correlations), to_core(sds), Rcpp::as<std::vector<int>>(scale_of),
                    scales,
                    {to_core(pattern),
                     to_core(bifactor),
                     to_core(uniquenesses),
                     to_core(bifactor_uniquenesses),
                     {}},
                    out.begin());
  Rcpp::rownames(out) = names_of(hierarchy_names);
  return out;
}

// Every measure of the people as they are, named.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_measure_people(Rcpp::List plan) {
  const PeoplePlan people = plan_of(plan);
  Rcpp::NumericVector out = Rcpp::wrap(measure_people(people));
  out.names() = names_of_people(people);
  return out;
}

// Measures (named) x count: columns first..first + count - 1 (from 0) of resampled people, then of
// people without each group.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_resample_people(Rcpp::List plan, int replicates, int groups, int first,
                                        int count, int most_single, double seed, int threads,
                                        Rcpp::Nullable<Rcpp::Function> progress) {
  check_counts(seed, threads, replicates);
  must_hold(groups >= 0, "the number of parts must be at least 0");
  const ColumnRange range = range_of(first, count, replicates + groups);
  const PeoplePlan people = plan_of(plan);
  Rcpp::NumericMatrix out(static_cast<int>(measures_of(people)), count);
  stop_if_interrupted(resample_people(
      people, static_cast<std::size_t>(replicates), static_cast<std::size_t>(groups), range,
      most_single, static_cast<std::uint64_t>(seed), threads, out.begin(), watch_of(progress)));
  Rcpp::rownames(out) = names_of_people(people);
  return out;
}

// ---- The best subsets of a scale's items.

// A list of `sets` (matrix, one row for each set, items from 1), `values` and `count`.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_best_subsets(Rcpp::NumericMatrix covariances, Rcpp::NumericVector loadings,
                            Rcpp::NumericVector uniquenesses, int size, std::string measure,
                            Rcpp::LogicalVector forced, Rcpp::IntegerVector facet, int least,
                            int best) {
  check_matrix(covariances);
  const int p = covariances.nrow();
  check_finite(loadings, "loadings must be finite");
  check_finite(uniquenesses, "uniquenesses must be finite");
  for (const R_xlen_t length : {loadings.size(), uniquenesses.size(), forced.size(), facet.size()})
    check_length(length, p, "there must be one number for each item");
  must_hold(size >= 1 && size <= p && best >= 1 && least >= 0,
            "a size must be from 1 to all items");
  static const std::pair<const char*, SubsetMeasure> measures[] = {
      {"omega", SubsetMeasure::omega}, {"fidelity", SubsetMeasure::fidelity}};
  SubsetPlan plan;
  plan.covariances = to_core(covariances);
  plan.loadings = to_core(loadings);
  plan.uniquenesses = to_core(uniquenesses);
  for (int i = 0; i < p; ++i) {
    plan.forced.push_back(forced[i] == TRUE);
    must_hold(facet[i] == NA_INTEGER || (facet[i] >= 1 && facet[i] <= p), "facets count from 1");
    plan.facet.push_back(facet[i] == NA_INTEGER ? -1 : facet[i] - 1);
  }
  plan.least = least;
  plan.size = size;
  plan.best = best;
  plan.measure = named(measures, measure);
  double count = 0;
  const std::vector<Subset> found = best_subsets(plan, count);
  Rcpp::IntegerMatrix sets(static_cast<int>(found.size()), size);
  Rcpp::NumericVector values(static_cast<int>(found.size()));
  for (int i = 0; i < sets.nrow(); ++i) {
    const Subset& one = found[static_cast<std::size_t>(i)];
    values[i] = one.value;
    for (int j = 0; j < size; ++j)
      sets(i, j) = one.items[static_cast<std::size_t>(j)] + 1;
  }
  return Rcpp::List::create(Rcpp::Named("sets") = sets, Rcpp::Named("values") = values,
                            Rcpp::Named("count") = count);
}

// ---- Predictions from answers with some missing.

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
