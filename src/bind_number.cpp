// The doors to what the number of factors is judged by.
#include "softsieve_types.h"

#include "bind_check.h"
#include "bind_convert.h"
#include "bind_dealt.h"
#include "bind_methods.h"
#include "bind_watch.h"
#include "core_chance.h"
#include "core_coding.h"
#include "core_comparison.h"
#include "core_evidence.h"
#include "core_features.h"
#include "core_minrank.h"
#include "core_random.h"
#include "core_resample.h"

#include <Rcpp.h>
#include <algorithm>
#include <string>

using namespace softsieve;

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

// Average squared partial correlations after 0..p-1 components, and with fourth powers.
// [[Rcpp::export(rng = false)]]
Rcpp::List cpp_average_partials(Rcpp::NumericMatrix correlations) {
  check_matrix(correlations);
  Eigen::VectorXd squares, fourths;
  average_partials(to_core(correlations), squares, fourths);
  return Rcpp::List::create(Rcpp::Named("partial_squares") = to_r(squares),
                            Rcpp::Named("partial_fourths") = to_r(fourths));
}

namespace {

Rcpp::NumericMatrix one_below_the_other(const std::vector<Features>& found) {
  const Eigen::Index rows = found[0].values.rows();
  Eigen::MatrixXd all(rows * static_cast<Eigen::Index>(found.size()), found[0].values.cols());
  for (std::size_t i = 0; i < found.size(); ++i)
    all.middleRows(static_cast<Eigen::Index>(i) * rows, rows) = found[i].values;
  Rcpp::NumericMatrix out = to_r(all);
  Rcpp::colnames(out) = Rcpp::wrap(found[0].names);
  return out;
}

}  // namespace

// The features of "a factor more than j?", j = 0..most, that the model of count_factors() was
// trained on, of matrices of correlations (items x items x matrices), each of n people: most + 1
// rows each, one below the other. latent: are the correlations polychoric? reach: the last rung of
// the ladder, at least most + 1.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_features(Rcpp::NumericVector correlations, int items, Rcpp::IntegerVector n,
                                 bool latent, int most, int reach, int threads) {
  check_factors(reach, items);
  must_hold(items >= most + 3 && most >= 0 && reach > most && threads >= 1 && n.size() > 0 &&
                correlations.size() == n.size() * items * items &&
                *std::min_element(n.begin(), n.end()) > items,
            "there must be more people than items, and the ladder must reach beyond the last row");
  const Eigen::Index p = items;
  std::vector<Features> found(static_cast<std::size_t>(n.size()));
  const double* from = correlations.begin();
  const int* people = n.begin();
  const auto make_worker = [&] {
    return [&](std::size_t i) {
      const Eigen::MatrixXd r =
          Eigen::Map<const Eigen::MatrixXd>(from + static_cast<Eigen::Index>(i) * p * p, p, p);
      found[i] = features_of(gather_evidence(r, reach), people[i], latent, most);
    };
  };
  stop_if_interrupted(run_replicates(found.size(), threads, make_worker, watch_of(R_NilValue)));
  return one_below_the_other(found);
}

// The same of samples 0..replicates - 1 of `people` normal people from a population with that root
// (as in cpp_sample_correlations()), seen as of n people: most + 1 rows each, one below the other;
// NaN where a sample has no such features.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix cpp_features_of_samples(int people, Rcpp::NumericMatrix root, int n,
                                            bool latent, int most, int reach, int replicates,
                                            double seed, int threads) {
  check_counts(seed, threads, replicates);
  const int items = root.nrow();
  check_factors(reach, items);
  must_hold(root.ncol() == items && people > items && n > items && most >= 0 && reach > most &&
                items >= most + 3,
            "there must be more people than items, and the ladder must reach beyond the last row");
  check_finite(root, "the root must be finite");
  const Population population{people, items, RowMatrix(to_core(root))};
  std::vector<Features> found(static_cast<std::size_t>(replicates));
  const auto make_worker = [&] {
    return [&, scratch = RowMatrix(items, items),
            r = Eigen::MatrixXd(items, items)](std::size_t i) mutable {
      Stream stream(static_cast<std::uint64_t>(seed), i);
      draw_sample_correlations(population, stream, scratch, r);
      const Eigen::MatrixXd whole = r.selfadjointView<Eigen::Lower>();
      found[i] = features_of(gather_evidence(whole, reach), n, latent, most);
    };
  };
  stop_if_interrupted(run_replicates(found.size(), threads, make_worker, watch_of(R_NilValue)));
  return one_below_the_other(found);
}

// The mean eigenvalues, falling, of answers to unrelated items.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector cpp_chance_spectrum(int n, int p) {
  must_hold(p >= 1 && n > p, "there must be more people than items");
  return to_r(chance_spectrum(n, p));
}
