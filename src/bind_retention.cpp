// The doors to what the number of factors is judged by.
#include "bind_convert.h"
#include "bind_watch.h"
#include "core_chance.h"
#include "core_coding.h"
#include "core_comparison.h"
#include "core_evidence.h"
#include "core_minrank.h"
#include "core_resample.h"

#include <Rcpp.h>

using namespace softsieve;

namespace {

Basis basis_named(const std::string& name) {
  if (name == "components") return Basis::components;
  return name == "factors" ? Basis::factors : Basis::minimum_rank;
}

std::vector<Cutting> cuttings_of(const Rcpp::List& thresholds, const Rcpp::List& values) {
  std::vector<Cutting> items;
  for (R_xlen_t i = 0; i < thresholds.size(); ++i)
    items.push_back({Rcpp::as<std::vector<double>>(thresholds[i]), Rcpp::as<std::vector<double>>(values[i])});
  return items;
}

}  // namespace

// Eigenvalues (ranks x replicates) of samples first, first + 1, ... of `people` normal people; root:
// 0 x 0 for unrelated items, else the p x p lower Cholesky factor of the population.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix core_sample_eigenvalues(int people, int items, Rcpp::NumericMatrix root, std::string basis, int first,
                                            int replicates, double seed, int threads, Rcpp::Nullable<Rcpp::Function> progress) {
  Rcpp::NumericMatrix out(items, replicates);
  const Population population{people, items, RowMatrix(to_core(root))};
  stop_if_interrupted(sample_eigenvalues(population, basis_named(basis), static_cast<std::size_t>(first),
                                         static_cast<std::size_t>(replicates), static_cast<std::uint64_t>(seed), threads,
                                         out.begin(), watch_of(progress)));
  return out;
}

// The same of shuffled answers. coded: people x items, those with a table; plain: those without (NaN
// where missing); at_coded, at_plain: their places (from 0). kind as in core_table_correlations.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix core_resampled_eigenvalues(Rcpp::NumericMatrix coded, Rcpp::IntegerVector at_coded, Rcpp::NumericMatrix plain,
                                               Rcpp::IntegerVector at_plain, std::string kind, Rcpp::NumericVector weights,
                                               bool redraw, std::string basis, int first, int replicates, double seed, int threads,
                                               Rcpp::Nullable<Rcpp::Function> progress) {
  const auto people = static_cast<std::size_t>(std::max(coded.nrow(), plain.nrow()));
  Coding coding = code_answers(coded.begin(), people, static_cast<std::size_t>(coded.ncol()), threads);
  if (!coding.too_many.empty()) Rcpp::stop("a coded item has too many categories");
  const ChanceAnswers answers{
      people, Rcpp::as<std::vector<int>>(at_coded), Rcpp::as<std::vector<int>>(at_plain), std::move(coding.codes), std::move(coding.values),
      to_core(plain), Rcpp::as<std::vector<double>>(weights),
      kind == "polychoric" ? TableCorrelation::polychoric : kind == "spearman" ? TableCorrelation::spearman : TableCorrelation::pearson,
      redraw};
  Rcpp::NumericMatrix out(coded.ncol() + plain.ncol(), replicates);
  stop_if_interrupted(resampled_eigenvalues(answers, basis_named(basis), static_cast<std::size_t>(first), static_cast<std::size_t>(replicates),
                                            static_cast<std::uint64_t>(seed), threads, out.begin(), watch_of(progress)));
  return out;
}

// Eigenvalues of one matrix on a basis.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector core_spectrum(Rcpp::NumericMatrix correlations, std::string basis) {
  Rcpp::NumericVector out(correlations.nrow());
  SpectrumSolver(correlations.nrow(), basis_named(basis)).compute(to_core(correlations), out.begin());
  return out;
}

// The uniquenesses, weighted by costs, that leave the least common variance.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector core_minimum_rank(Rcpp::NumericMatrix correlations, Rcpp::NumericVector costs) {
  return to_r(minimum_rank(to_core(correlations), to_core(costs), 1e-9).uniquenesses);
}

// The correlations of normal variables that, cut into these values, correlate as given.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix core_latent_correlations(Rcpp::List thresholds, Rcpp::List values, Rcpp::NumericMatrix correlations, int threads) {
  return to_r(latent_correlations(cuttings_of(thresholds, values), to_core(correlations), threads));
}

// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector core_comparison_misfits(Rcpp::NumericMatrix loadings, Rcpp::NumericVector uniquenesses, Rcpp::List thresholds,
                                            Rcpp::List values, int people, Rcpp::NumericVector observed, int replicates, double seed,
                                            int threads, Rcpp::Nullable<Rcpp::Function> progress) {
  Rcpp::NumericVector out(replicates);
  stop_if_interrupted(comparison_misfits(to_core(loadings), to_core(uniquenesses), cuttings_of(thresholds, values), people,
                                         to_core(observed), static_cast<std::size_t>(replicates), static_cast<std::uint64_t>(seed),
                                         threads, out.begin(), watch_of(progress)));
  return out;
}

// Average partial correlations, and the ladder of maximum likelihood fits with 0..most factors.
// [[Rcpp::export(rng = false)]]
Rcpp::List core_evidence(Rcpp::NumericMatrix correlations, int most) {
  const Evidence e = gather_evidence(to_core(correlations), most);
  Rcpp::NumericMatrix ladder(most + 1, 4);
  for (int k = 0; k <= most; ++k) {
    const double row[] = {e.ladder[k].discrepancy, e.ladder[k].residual, double(e.ladder[k].converged), double(e.ladder[k].proper)};
    for (int c = 0; c < 4; ++c) ladder(k, c) = row[c];
  }
  Rcpp::colnames(ladder) = Rcpp::CharacterVector::create("discrepancy", "rmsr", "converged", "proper");
  return Rcpp::List::create(Rcpp::Named("partial_squares") = to_r(e.partial_squares), Rcpp::Named("partial_fourths") = to_r(e.partial_fourths),
                            Rcpp::Named("reduced") = to_r(e.reduced), Rcpp::Named("ladder") = ladder);
}

// The features of "a factor more than j?", j = 0..most, that the model of count_factors() was trained
// on; chance and chance_reduced are mean chance eigenvalues of n and p; reach: the last rung of the ladder, at least most + 1.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix core_features(Rcpp::NumericMatrix correlations, int n, Rcpp::NumericVector chance,
                                  Rcpp::NumericVector chance_reduced, int most, int reach) {
  return to_r(features_of(gather_evidence(to_core(correlations), reach), n, to_core(chance), to_core(chance_reduced), most));
}
