// What the training script calls: simulated sets in, their features out. Compiled by Rcpp::sourceCpp()
// with the package's own core (see compile.R), so that training and use share every line that computes
// a feature.
#include "core_coding.h"
#include "core_features.h"
#include "core_polychoric.h"
#include "core_threads.h"
#include "makes.h"

#include <Rcpp.h>

using namespace softsieve;

namespace {

constexpr int rows_beyond = 3;  // features are made of j = 0..truth + this

struct Judged {
  MatrixXd features;
  Conditions truth;
  bool latent;
};

// Polychoric correlations of whole-number answers; false where they are no correlation matrix.
bool correlate_latent(const MatrixXd& answers, MatrixXd& r) {
  const auto n = static_cast<std::size_t>(answers.rows()), p = static_cast<std::size_t>(answers.cols());
  const Coding coding = code_answers(answers.data(), n, p, 1);
  CodedAnswers coded{coding.codes.data(), n, {}};
  for (const auto& values : coding.values) {
    if (values.size() < 2) return false;
    coded.categories.push_back(static_cast<int>(values.size()));
  }
  const AnswerPlanes planes(coded, 1);
  std::vector<std::vector<double>> thresholds;
  for (std::size_t i = 0; i < p; ++i) thresholds.push_back(thresholds_from(planes.margin(static_cast<int>(i))));
  r = MatrixXd::Identity(answers.cols(), answers.cols());
  PolychoricStart rough;
  rough.tolerance = 1e-5;
  planes.visit_pairs(
      1,
      [&](int i, int j, const PairTable& table) {
        r(i, j) = r(j, i) = polychoric(table, thresholds[i].data(), thresholds[j].data(), true, rough).rho;
      },
      [](std::size_t) { return true; });
  return r.allFinite() && usable(r);
}

// The highest number of factors that leaves degrees of freedom.
int most_factors(int p) {
  int k = 0;
  while (k + 1 < p && (p - k - 1) * (p - k - 1) >= p + k + 1) ++k;
  return k;
}

// A set whose correlations can be judged: where an item does not vary, or the matrix is singular, it is
// drawn anew. A third of those in categories are seen as polychoric correlations.
Simulated draw_usable(const Make& make, std::uint64_t seed, std::uint64_t set, bool with_answers, MatrixXd& r, bool& latent) {
  for (std::uint64_t attempt = 0;; ++attempt) {
    Dice dice(seed, set + (attempt << 40));
    Simulated made = make.draw(with_answers, dice);
    r = made.correlations;
    if (made.answers.size() && !correlate(made.answers, r)) continue;
    if (!usable(r)) continue;
    latent = false;
    MatrixXd other;
    if (made.truth.categories && made.truth.items <= 60 && dice.chance(0.33) && correlate_latent(made.answers, other)) {
      r = other;
      latent = true;
    }
    return made;
  }
}

const Make& make_named(const std::string& name) {
  for (const Make& make : MAKES)
    if (name == make.name) return make;
  Rcpp::stop("There is no make of this name.");
}

const char* const CONDITIONS[] = {"factors", "people", "items", "categories", "loading", "correlation", "closest", "nuisance", "smallest", "tails", "gain"};

std::vector<double> numbers_of(const Conditions& t) {
  return {double(t.factors), double(t.people), double(t.items), double(t.categories), t.loading,
          t.correlation, t.closest, t.nuisance, double(t.smallest), double(t.tails), t.gain};
}

}  // namespace

// The names of the makes, those that are trained on first.
// [[Rcpp::export]]
Rcpp::List makes() {
  std::vector<std::string> trained, kept;
  for (int m = 0; m < static_cast<int>(sizeof MAKES / sizeof *MAKES); ++m) (m < trained_makes ? trained : kept).push_back(MAKES[m].name);
  return Rcpp::List::create(Rcpp::Named("trained") = trained, Rcpp::Named("kept") = kept);
}

// The answers and the truth of one set.
// [[Rcpp::export]]
Rcpp::List simulated_set(std::string make, double seed, double set) {
  MatrixXd r;
  bool latent;
  const Simulated made = draw_usable(make_named(make), static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(set), true, r, latent);
  Rcpp::List out = Rcpp::List::create(Rcpp::Named("answers") = Rcpp::NumericMatrix(
      static_cast<int>(made.answers.rows()), static_cast<int>(made.answers.cols()), made.answers.data()));
  const std::vector<double> all = numbers_of(made.truth);
  for (std::size_t c = 0; c < all.size(); ++c) out.push_back(all[c], CONDITIONS[c]);
  return out;
}

// Features of sets first..first + count - 1: one row for each set and each j, with columns set, j,
// truth first; and the conditions.
// [[Rcpp::export]]
Rcpp::List simulated_features(std::string make, double seed, double first, int count, int threads) {
  const Make& asked = make_named(make);
  std::vector<Judged> judged(count);
  std::vector<std::string> feature_names;
  const auto make_worker = [&] {
    return [&](std::size_t i) {
      MatrixXd r;
      bool latent;
      const Simulated made = draw_usable(asked, static_cast<std::uint64_t>(seed), static_cast<std::uint64_t>(first) + i, false, r, latent);
      const int p = made.truth.items, n = made.truth.people;
      const int most = std::min({made.truth.factors + rows_beyond, most_factors(p) - 1, p - 3});
      const Evidence evidence = gather_evidence(r, std::min(most + 2, most_factors(p)));
      Features found = features_of(evidence, n, latent, most);
      if (!i) feature_names = found.names;
      judged[i] = {found.values, made.truth, latent};
    };
  };
  run_replicates(static_cast<std::size_t>(count), threads, make_worker, [](std::size_t) { return true; });
  Eigen::Index rows = 0;
  for (const Judged& one : judged) rows += one.features.rows();
  Rcpp::NumericMatrix out(static_cast<int>(rows), static_cast<int>(judged[0].features.cols()) + 3), conditions(count, 12);
  int row = 0;
  for (int i = 0; i < count; ++i) {
    const MatrixXd& f = judged[i].features;
    for (Eigen::Index j = 0; j < f.rows(); ++j, ++row) {
      out(row, 0) = first + i;
      out(row, 1) = static_cast<double>(j);
      out(row, 2) = judged[i].truth.factors;
      for (Eigen::Index c = 0; c < f.cols(); ++c) out(row, static_cast<int>(c) + 3) = f(j, c);
    }
    const std::vector<double> all = numbers_of(judged[i].truth);
    for (int c = 0; c < 11; ++c) conditions(i, c) = all[c];
    conditions(i, 11) = judged[i].latent;
  }
  Rcpp::CharacterVector names(CONDITIONS, CONDITIONS + 11);
  names.push_back("latent");
  Rcpp::colnames(conditions) = names;
  return Rcpp::List::create(Rcpp::Named("features") = out, Rcpp::Named("conditions") = conditions,
                            Rcpp::Named("names") = feature_names);
}
