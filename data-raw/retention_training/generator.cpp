// What the training script calls: simulated sets in, their features and what simple rules say out.
// Compiled by Rcpp::sourceCpp() with the package's own core (see compile.R), so that training and use
// share every line that computes a feature.
#include "core_chance.h"
#include "core_evidence.h"
#include "core_random.h"
#include "core_threads.h"
#include "make_test.h"
#include "make_training.h"

#include <Rcpp.h>

using namespace softsieve;

namespace {

Simulated make_valid(bool training, std::uint64_t seed, std::uint64_t set, MatrixXd& r) {
  for (std::uint64_t attempt = 0;; ++attempt) {  // an item without variance: draw the set anew
    Simulated made = training ? make_training(seed, set + (attempt << 40)) : make_test(seed, set + (attempt << 40));
    if (correlate(made.answers, r)) return made;
  }
}

// The highest number of factors that leaves degrees of freedom.
int most_factors(int p) {
  int k = 0;
  while (k + 1 < p && (p - k - 1) * (p - k - 1) >= p + k + 1) ++k;
  return k;
}

}  // namespace

// The answers and the truth of one set.
// [[Rcpp::export]]
Rcpp::List simulated_set(bool training, double seed, double set) {
  MatrixXd r;
  const Simulated made = make_valid(training, static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(set), r);
  Rcpp::NumericMatrix answers(static_cast<int>(made.answers.rows()), static_cast<int>(made.answers.cols()), made.answers.data());
  const Conditions& t = made.truth;
  return Rcpp::List::create(
      Rcpp::Named("answers") = answers, Rcpp::Named("factors") = t.factors, Rcpp::Named("people") = t.people,
      Rcpp::Named("items") = t.items, Rcpp::Named("categories") = t.categories, Rcpp::Named("loading") = t.loading,
      Rcpp::Named("correlation") = t.correlation, Rcpp::Named("nuisance") = t.nuisance, Rcpp::Named("smallest") = t.smallest,
      Rcpp::Named("tails") = t.tails, Rcpp::Named("crossing") = t.crossing);
}

// Features of sets first..first + count - 1: one row for each set and each j = 0..J, with columns
// set, j, truth first. `levels` chance matrices give the chance means.
// [[Rcpp::export]]
Rcpp::List simulated_features(bool training, double seed, double first, int count, int levels, int threads) {
  std::vector<MatrixXd> features(count);
  std::vector<Conditions> truths(count);
  const auto make_worker = [&] {
    return [&](std::size_t i) {
      MatrixXd r;
      const Simulated made = make_valid(training, static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(first) + i, r);
      const int p = made.truth.items, n = made.truth.people;
      const int most = std::min({training_most_factors, most_factors(p) - 1, p - 3});
      const Evidence evidence = gather_evidence(r, std::min(most + 2, most_factors(p)));
      VectorXd means[2];
      for (const Basis basis : {Basis::components, Basis::factors}) {
        MatrixXd out(p, levels);
        sample_eigenvalues({n, p, RowMatrix()}, basis, 0, static_cast<std::size_t>(levels), i, 1, out.data(), watch_nothing);
        means[basis == Basis::factors] = out.rowwise().mean();
      }
      features[i] = features_of(evidence, n, means[0], means[1], most).values;
      truths[i] = made.truth;
    };
  };
  run_replicates(static_cast<std::size_t>(count), threads, make_worker, [](std::size_t) { return true; });
  Eigen::Index rows = 0;
  for (const auto& f : features) rows += f.rows();
  Rcpp::NumericMatrix out(static_cast<int>(rows), static_cast<int>(features[0].cols()) + 3), conditions(count, 10);
  int row = 0;
  for (int i = 0; i < count; ++i) {
    for (Eigen::Index j = 0; j < features[i].rows(); ++j, ++row) {
      out(row, 0) = first + i;
      out(row, 1) = static_cast<double>(j);
      out(row, 2) = truths[i].factors;
      for (Eigen::Index f = 0; f < features[i].cols(); ++f) out(row, static_cast<int>(f) + 3) = features[i](j, f);
    }
    const Conditions& t = truths[i];
    const double all[] = {double(t.factors), double(t.people), double(t.items), double(t.categories), t.loading,
                          t.correlation, t.nuisance, double(t.smallest), double(t.tails), double(t.crossing)};
    for (int c = 0; c < 10; ++c) conditions(i, c) = all[c];
  }
  Rcpp::colnames(conditions) = Rcpp::CharacterVector::create("factors", "people", "items", "categories", "loading",
                                                             "correlation", "nuisance", "smallest", "tails", "crossing");
  return Rcpp::List::create(Rcpp::Named("features") = out, Rcpp::Named("conditions") = conditions);
}
