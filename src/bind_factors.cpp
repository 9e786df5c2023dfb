// The doors to factors: extraction and rotation, what their number is judged by, matching, and
// solutions of resampled people.
#include "softsieve_types.h"

#include "bind_check.h"
#include "bind_convert.h"
#include "bind_dealt.h"
#include "bind_methods.h"
#include "bind_watch.h"
#include "core_align.h"
#include "core_bounded.h"
#include "core_chance.h"
#include "core_coding.h"
#include "core_comparison.h"
#include "core_evidence.h"
#include "core_features.h"
#include "core_minrank.h"
#include "core_random.h"
#include "core_resample.h"
#include "core_rotation.h"
#include "core_search.h"
#include "core_stability.h"
#include "core_uniqueness.h"
#include "core_weighted.h"

#include <Rcpp.h>
#include <cmath>
#include <string>

using namespace softsieve;

// ---- Extraction and rotation. Arguments were checked in R; here they are copied, passed on and
// the answer is packed.

namespace {

// One bound for all items, or one for each.
Eigen::VectorXd bounds_of(const Rcpp::NumericVector& lowest, int items) {
  must_hold(lowest.size() == 1 || lowest.size() == items,
            "there must be one bound, or one for each item");
  check_finite(lowest, "bounds must be finite");
  if (lowest.size() == 1) return Eigen::VectorXd::Constant(items, lowest[0]);
  return to_core(lowest);
}

Rcpp::List fit_to_r(const UniquenessFit& fit) {
  return Rcpp::List::create(
      Rcpp::Named("loadings") = to_r(fit.loadings),
      Rcpp::Named("uniquenesses") = to_r(fit.uniquenesses),
      Rcpp::Named("residual") = to_r(fit.residual), Rcpp::Named("discrepancy") = fit.discrepancy,
      Rcpp::Named("gradient") = fit.gradient, Rcpp::Named("iterations") = fit.iterations,
      Rcpp::Named("converged") = fit.converged);
}

Rcpp::List search_to_r(const SearchEnd& end) {
  Rcpp::List out = fit_to_r(end.best);
  out["starts"] = end.starts;
  out["apart"] = end.apart;
  return out;
}

}  // namespace

// method: "minres", "gls" or "ml"; lowest: one bound for all items, or one for each.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_fit_uniquenesses(Rcpp::NumericMatrix correlations, int factors, std::string method,
                                Rcpp::NumericVector start, Rcpp::NumericVector lowest,
                                double tolerance, int max_iterations) {
  check_matrix(correlations);
  check_factors(factors, correlations.nrow());
  check_length(start.size(), correlations.nrow(), "there must be one start for each item");
  check_finite(start, "starts must be finite");
  const UniquenessFit fit =
      fit_uniquenesses(to_core(correlations), factors, discrepancy_of(method), to_core(start),
                       bounds_of(lowest, correlations.nrow()), tolerance, max_iterations);
  return fit_to_r(fit);
}

// The best of many such searches (core_search.h); random: how many random starts, below 0 the usual
// start alone; most: searches, 0 for as many as the number of items allows.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_search_uniquenesses(Rcpp::NumericMatrix correlations, int factors,
                                   std::string method, Rcpp::NumericVector lowest, int random,
                                   bool thorough, int most, double tolerance, int max_iterations) {
  check_matrix(correlations);
  check_factors(factors, correlations.nrow(), 1);
  must_hold(most >= 0, "the number of searches must be at least 0");
  return search_to_r(search_discrepancy(to_core(correlations), factors, discrepancy_of(method),
                                        bounds_of(lowest, correlations.nrow()), tolerance,
                                        max_iterations, {random, thorough, most}));
}

// From these loadings (p x k), no communality above its bound.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_hold_communalities(Rcpp::NumericMatrix correlations, Rcpp::NumericMatrix loadings,
                                  Rcpp::NumericVector lowest, double tolerance) {
  check_matrix(correlations);
  check_length(loadings.nrow(), correlations.nrow(), "loadings must have a row for each item");
  check_factors(loadings.ncol(), correlations.nrow(), 1);
  UniquenessFit fit{};
  fit.loadings = to_core(loadings);
  hold_communalities(to_core(correlations), bounds_of(lowest, correlations.nrow()), tolerance, fit);
  return fit_to_r(fit);
}

// `count` numbers evenly between 0 and 1 from a stream of their own.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_uniform_draws(double seed, double stream, int count) {
  check_counts(seed, 1, count);
  Stream draws(static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(stream));
  Rcpp::NumericVector out(count);
  for (double& x : out)
    x = draws.uniform();
  return out;
}

// The discrepancy at uniquenesses, and its gradient in psi ("minres") or ln psi.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_discrepancy(Rcpp::NumericMatrix correlations, int factors, std::string method,
                           Rcpp::NumericVector psi) {
  check_matrix(correlations);
  check_factors(factors, correlations.nrow());
  check_length(psi.size(), correlations.nrow(), "there must be one uniqueness for each item");
  Eigen::VectorXd gradient;
  const double value = discrepancy_at(to_core(correlations), factors, discrepancy_of(method),
                                      to_core(psi), gradient);
  return Rcpp::List::create(Rcpp::Named("value") = value, Rcpp::Named("gradient") = to_r(gradient));
}

// Every correlation with its own weight: the best of many searches.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_search_weighted(Rcpp::NumericMatrix correlations, Rcpp::NumericMatrix weights,
                               int factors, Rcpp::NumericVector lowest, int random, bool thorough,
                               double tolerance, int max_iterations) {
  check_matrix(correlations);
  check_same_shape(correlations, weights);
  check_finite(weights, "weights must be finite");
  check_factors(factors, correlations.nrow(), 1);
  return search_to_r(search_weighted(to_core(correlations), to_core(weights), factors,
                                     bounds_of(lowest, correlations.nrow()), tolerance,
                                     max_iterations, {random, thorough}));
}

// One such search from the loadings `start` (p x k).
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_fit_weighted(Rcpp::NumericMatrix correlations, Rcpp::NumericMatrix weights,
                            Rcpp::NumericMatrix start, Rcpp::NumericVector lowest, double tolerance,
                            int max_iterations) {
  check_matrix(correlations);
  check_same_shape(correlations, weights);
  check_length(start.nrow(), correlations.nrow(), "loadings must have a row for each item");
  check_factors(start.ncol(), correlations.nrow(), 1);
  const Eigen::MatrixXd r = to_core(correlations);
  const Eigen::VectorXd most = r.diagonal() - bounds_of(lowest, correlations.nrow());
  const WeightedFit fit =
      fit_weighted(r, to_core(weights), to_core(start), most, tolerance, max_iterations);
  return Rcpp::List::create(
      Rcpp::Named("loadings") = to_r(fit.loadings), Rcpp::Named("discrepancy") = fit.discrepancy,
      Rcpp::Named("gradient") = fit.gradient, Rcpp::Named("iterations") = fit.iterations,
      Rcpp::Named("converged") = fit.converged);
}

namespace {

Rcpp::List rotation_to_r(const Rotation& rotation) {
  return Rcpp::List::create(Rcpp::Named("loadings") = to_r(rotation.loadings),
                            Rcpp::Named("transformation") = to_r(rotation.transformation),
                            Rcpp::Named("value") = rotation.value,
                            Rcpp::Named("gradient") = rotation.gradient,
                            Rcpp::Named("iterations") = rotation.iterations,
                            Rcpp::Named("converged") = rotation.converged);
}

}  // namespace

// Each of these loadings (p x k) by its request and from its seed; turning: "orthogonal", "oblique"
// or "reference". Of each the best rotation, the second best (NULL when all starts ended in one
// place) and every start's value.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_rotate_each(Rcpp::List each, std::string turning, Rcpp::List requests, int starts,
                           Rcpp::NumericVector seeds, int threads, double tolerance,
                           int max_iterations, Rcpp::Nullable<Rcpp::Function> progress) {
  check_length(requests.size(), each.size(), "there must be one request for each");
  check_length(seeds.size(), each.size(), "there must be one seed for each");
  must_hold(starts >= 1, "a rotation needs a start");
  Rcpp::List out(each.size());
  for (R_xlen_t i = 0; i < each.size(); ++i) {
    check_counts(seeds[i], threads, starts);
    const Rcpp::NumericMatrix loadings = each[i];
    Rotation best, second;
    std::vector<double> values;
    stop_if_interrupted(rotate_best(to_core(loadings), turning_of(turning),
                                    criterion_of(loadings, requests[i]), starts,
                                    static_cast<std::uint64_t>(seeds[i]), threads, tolerance,
                                    max_iterations, watch_of(progress), best, second, values));
    Rcpp::List one = Rcpp::List::create(Rcpp::Named("best") = rotation_to_r(best),
                                        Rcpp::Named("second") = R_NilValue,
                                        Rcpp::Named("start_values") = values);
    if (second.loadings.size()) one["second"] = rotation_to_r(second);
    out[i] = one;
  }
  return out;
}

// Value and gradient of a criterion at one loading matrix: tests hold it against differences.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_criterion(Rcpp::NumericMatrix loadings, Rcpp::List request) {
  Eigen::MatrixXd gradient;
  const double value = criterion_of(loadings, request)(to_core(loadings), gradient);
  return Rcpp::List::create(Rcpp::Named("value") = value, Rcpp::Named("gradient") = to_r(gradient));
}

// ---- What the number of factors is judged by.

namespace {

std::vector<Cutting> cuttings_of(const Rcpp::List& thresholds, const Rcpp::List& values) {
  check_length(values.size(), thresholds.size(), "every item needs thresholds and values");
  std::vector<Cutting> items;
  for (R_xlen_t i = 0; i < thresholds.size(); ++i) {
    items.push_back(
        {Rcpp::as<std::vector<double>>(thresholds[i]), Rcpp::as<std::vector<double>>(values[i])});
    must_hold(items.back().values.size() == items.back().thresholds.size() + 1,
              "there is one value more than thresholds");
  }
  return items;
}

}  // namespace

// Eigenvalues (ranks x replicates) of samples first, first + 1, ... of `people` normal people;
// root: 0 x 0 for unrelated items, else the p x p lower Cholesky factor of the population.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_sample_eigenvalues(int people, int items, Rcpp::NumericMatrix root,
                                           std::string basis, int first, int replicates,
                                           double seed, int threads,
                                           Rcpp::Nullable<Rcpp::Function> progress) {
  check_counts(seed, threads, replicates);
  must_hold(people >= 2 && items >= 1 && first >= 0, "a sample needs two people and an item");
  must_hold(root.nrow() == root.ncol() && (root.nrow() == 0 || root.nrow() == items),
            "the root must fit the items");
  Rcpp::NumericMatrix out(items, replicates);
  const Population population{people, items, RowMatrix(to_core(root))};
  stop_if_interrupted(
      sample_eigenvalues(population, basis_named(basis), static_cast<std::size_t>(first),
                         static_cast<std::size_t>(replicates), static_cast<std::uint64_t>(seed),
                         threads, out.begin(), watch_of(progress)));
  return out;
}

// Standard normal deviates that depend on (seed, replicate) alone.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_normal_deviates(int count, double seed, int first, int replicates) {
  check_counts(seed, 1, count);
  must_hold(first >= 0 && replicates >= 0, "replicates begin at 0");
  Rcpp::NumericMatrix out(count, replicates);
  for (int j = 0; j < replicates; ++j) {
    Stream stream(static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(first + j));
    for (double& x : out.column(j))
      x = stream.normal();
  }
  return out;
}

// The correlation matrix of a sample of `people` from a normal population with that root (p x p,
// the lower Cholesky factor of its correlations).
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_sample_correlations(int people, Rcpp::NumericMatrix root, double seed,
                                            int replicate) {
  check_counts(seed, 1, 1);
  const int items = root.nrow();
  must_hold(people >= 2 && items >= 1 && root.ncol() == items && replicate >= 0,
            "a sample needs two people and an item");
  check_finite(root, "the root must be finite");
  const Population population{people, items, RowMatrix(to_core(root))};
  Stream stream(static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(replicate));
  RowMatrix scratch(items, items);
  Eigen::MatrixXd out(items, items);
  draw_sample_correlations(population, stream, scratch, out);
  for (int j = 0; j < items; ++j)
    for (int i = 0; i < j; ++i)
      out(i, j) = out(j, i);
  return to_r(out);
}

// Of unrelated items whose correlations vary unlike those of n whole normal variables: own_error
// (p x p), further (p) and parts (as many people, a column of scales for each) of core_chance.h,
// any of which may be empty.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_unlike_eigenvalues(int people, int items, Rcpp::NumericMatrix own_error,
                                           Rcpp::NumericVector further, Rcpp::IntegerVector parts,
                                           Rcpp::NumericMatrix scales, int first, int replicates,
                                           double seed, int threads,
                                           Rcpp::Nullable<Rcpp::Function> progress) {
  check_counts(seed, threads, replicates);
  must_hold(people >= 2 && items >= 1 && first >= 0, "a sample needs two people and an item");
  must_hold(!own_error.size() || (own_error.nrow() == items && own_error.ncol() == items),
            "errors must be of pairs of items");
  must_hold(!further.size() || further.size() == items, "each item needs its factor");
  must_hold(!parts.size() || (scales.nrow() == items && scales.ncol() == parts.size()),
            "each part needs its scales");
  check_finite(own_error, "errors must be finite");
  Rcpp::NumericMatrix out(items, replicates);
  Population population{people, items, RowMatrix()};
  if (own_error.size()) population.own_error = RowMatrix(to_core(own_error));
  if (further.size()) population.further = Eigen::Map<Eigen::VectorXd>(further.begin(), items);
  for (R_xlen_t g = 0; g < parts.size(); ++g) {
    must_hold(parts[g] >= 1, "each part needs people");
    population.parts.push_back(
        {parts[g], Eigen::Map<Eigen::VectorXd>(scales.begin() + g * items, items)});
  }
  stop_if_interrupted(
      sample_eigenvalues(population, Basis::components, static_cast<std::size_t>(first),
                         static_cast<std::size_t>(replicates), static_cast<std::uint64_t>(seed),
                         threads, out.begin(), watch_of(progress)));
  return out;
}

// The same of shuffled answers. coded: people x items, those with a table; plain: those without
// (NaN where missing); at_coded, at_plain: their places (from 0). kind as in
// cpp_table_correlations.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_resampled_eigenvalues(
    Rcpp::NumericMatrix coded, Rcpp::IntegerVector at_coded, Rcpp::NumericMatrix plain,
    Rcpp::IntegerVector at_plain, std::string kind, Rcpp::NumericVector weights, bool redraw,
    std::string basis, int first, int replicates, double seed, int threads,
    Rcpp::Nullable<Rcpp::Function> progress) {
  static const std::pair<const char*, TableCorrelation> kinds[] = {
      {"pearson", TableCorrelation::pearson},
      {"spearman", TableCorrelation::spearman},
      {"polychoric", TableCorrelation::polychoric}};
  check_counts(seed, threads, replicates);
  check_length(at_coded.size(), coded.ncol(), "every coded item needs its place");
  check_length(at_plain.size(), plain.ncol(), "every plain item needs its place");
  must_hold(coded.ncol() + plain.ncol() > 0 && first >= 0, "there must be items to shuffle");
  must_hold(coded.ncol() == 0 || plain.ncol() == 0 || coded.nrow() == plain.nrow(),
            "both parts must have the same people");
  const auto people = static_cast<std::size_t>(std::max(coded.nrow(), plain.nrow()));
  must_hold(people > 1, "there must be people to shuffle");
  must_hold(weights.size() == 0 || weights.size() == static_cast<R_xlen_t>(people),
            "every person needs a weight");
  for (int place : at_coded)
    must_hold(place >= 0 && place < coded.ncol() + plain.ncol(), "a place is outside the items");
  for (int place : at_plain)
    must_hold(place >= 0 && place < coded.ncol() + plain.ncol(), "a place is outside the items");
  Coding coding =
      code_answers(coded.begin(), people, static_cast<std::size_t>(coded.ncol()), threads);
  if (!coding.too_many.empty()) Rcpp::stop("a coded item has too many categories");
  const ChanceAnswers answers{people,
                              Rcpp::as<std::vector<int>>(at_coded),
                              Rcpp::as<std::vector<int>>(at_plain),
                              std::move(coding.codes),
                              std::move(coding.values),
                              to_core(plain),
                              Rcpp::as<std::vector<double>>(weights),
                              named(kinds, kind),
                              redraw};
  Rcpp::NumericMatrix out(coded.ncol() + plain.ncol(), replicates);
  stop_if_interrupted(
      resampled_eigenvalues(answers, basis_named(basis), static_cast<std::size_t>(first),
                            static_cast<std::size_t>(replicates), static_cast<std::uint64_t>(seed),
                            threads, out.begin(), watch_of(progress)));
  return out;
}

// Eigenvalues of one matrix on a basis.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_spectrum(Rcpp::NumericMatrix correlations, std::string basis) {
  check_matrix(correlations);
  Rcpp::NumericVector out(correlations.nrow());
  SpectrumSolver(correlations.nrow(), basis_named(basis))
      .compute(to_core(correlations), out.begin());
  return out;
}

// The uniquenesses, weighted by costs, that leave the least common variance.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_minimum_rank(Rcpp::NumericMatrix correlations, Rcpp::NumericVector costs) {
  check_matrix(correlations);
  check_length(costs.size(), correlations.nrow(), "there must be one cost for each item");
  return to_r(minimum_rank(to_core(correlations), to_core(costs), 1e-9).uniquenesses);
}

// The correlations of normal variables that, cut into these values, correlate as given.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_latent_correlations(Rcpp::List thresholds, Rcpp::List values,
                                            Rcpp::NumericMatrix correlations, int threads) {
  check_matrix(correlations);
  check_counts(0, threads, 0);
  check_length(thresholds.size(), correlations.nrow(), "every item needs thresholds");
  return to_r(latent_correlations(cuttings_of(thresholds, values), to_core(correlations), threads));
}

// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_comparison_misfits(Rcpp::NumericMatrix loadings,
                                           Rcpp::NumericVector uniquenesses, Rcpp::List thresholds,
                                           Rcpp::List values, int people,
                                           Rcpp::NumericVector observed, int first, int replicates,
                                           double seed, int threads,
                                           Rcpp::Nullable<Rcpp::Function> progress) {
  check_counts(seed, threads, replicates);
  must_hold(first >= 0, "replicates are numbered from 0 on");
  must_hold(people >= 2 && loadings.nrow() > 0, "a sample needs two people and an item");
  check_length(uniquenesses.size(), loadings.nrow(), "there must be one uniqueness for each item");
  check_length(thresholds.size(), loadings.nrow(), "every item needs thresholds");
  check_length(observed.size(), loadings.nrow(), "there must be one eigenvalue for each item");
  Rcpp::NumericVector out(replicates);
  stop_if_interrupted(comparison_misfits(
      to_core(loadings), to_core(uniquenesses), cuttings_of(thresholds, values), people,
      to_core(observed), static_cast<std::size_t>(first), static_cast<std::size_t>(replicates),
      static_cast<std::uint64_t>(seed), threads, out.begin(), watch_of(progress)));
  return out;
}

// Average partial correlations, and the ladder of maximum likelihood fits with 0..most factors;
// thorough: each the best of many searches (the features below were learned from one each).
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_evidence(Rcpp::NumericMatrix correlations, int most, bool thorough) {
  check_matrix(correlations);
  check_factors(most, correlations.nrow());
  const Evidence e = gather_evidence(to_core(correlations), most, thorough);
  Rcpp::NumericMatrix ladder(most + 1, 4);
  for (int k = 0; k <= most; ++k) {
    const double row[] = {e.ladder[k].discrepancy, e.ladder[k].residual,
                          double(e.ladder[k].converged), double(e.ladder[k].proper)};
    for (int c = 0; c < 4; ++c)
      ladder(k, c) = row[c];
  }
  Rcpp::colnames(ladder) =
      Rcpp::CharacterVector::create("discrepancy", "rmsr", "converged", "proper");
  return Rcpp::List::create(Rcpp::Named("partial_squares") = to_r(e.partial_squares),
                            Rcpp::Named("partial_fourths") = to_r(e.partial_fourths),
                            Rcpp::Named("reduced") = to_r(e.reduced),
                            Rcpp::Named("ladder") = ladder);
}

// The features of "a factor more than j?", j = 0..most, that the model of count_factors() was
// trained on; latent: are the correlations polychoric? reach: the last rung of the ladder, at least
// most + 1.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_features(Rcpp::NumericMatrix correlations, int n, bool latent, int most,
                                 int reach) {
  check_matrix(correlations);
  check_factors(reach, correlations.nrow());
  must_hold(n > correlations.nrow() && most >= 0 && reach > most && correlations.nrow() >= most + 3,
            "there must be more people than items, and the ladder must reach beyond the last row");
  const Features found =
      features_of(gather_evidence(to_core(correlations), reach), n, latent, most);
  Rcpp::NumericMatrix out = to_r(found.values);
  Rcpp::colnames(out) = Rcpp::wrap(found.names);
  return out;
}

// The mean eigenvalues, falling, of answers to unrelated items.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_chance_spectrum(int n, int p) {
  must_hold(p >= 1 && n > p, "there must be more people than items");
  return to_r(chance_spectrum(n, p));
}

// ---- Matching factors, and solutions of resampled people.

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
