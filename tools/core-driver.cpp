// Drives the core without R, for the sanitizers: every routine, small and awkward sizes, threads.
// Prints nothing and returns 0 when the numbers are what they must be.
#include "core_chance.h"
#include "core_eigenvalues.h"
#include "core_minres.h"
#include "core_rotation.h"

#include <cstdio>
#include <cstdlib>
#include <stdexcept>

using namespace softsieve;

static void must(bool holds, const char* what) {
  if (holds) return;
  std::fprintf(stderr, "core-driver: %s\n", what);
  std::exit(1);
}

int main() {
  const Watch nobody = [](std::size_t) { return true; };

  // Moments of the normal and chi deviates, within five standard errors of a million draws.
  Stream stream(3, 5);
  const int draws = 1000000;
  double sum = 0, squares = 0, fourth = 0, beyond = 0, chi2 = 0;
  for (int i = 0; i < draws; ++i) {
    const double x = stream.normal();
    sum += x;
    squares += x * x;
    fourth += x * x * x * x;
    beyond += std::fabs(x) > 4.0;
  }
  for (int df : {1, 2, 3, 50}) {
    double mean = 0;
    for (int i = 0; i < draws / 10; ++i) {
      const double c = stream.chi(df);
      mean += c * c;
    }
    chi2 = std::max(chi2, std::fabs(mean / (draws / 10) - df) / std::sqrt(2.0 * df / (draws / 10)));
  }
  must(std::fabs(sum) / draws < 5e-3, "normal mean");
  must(std::fabs(squares / draws - 1) < 5 * std::sqrt(2.0 / draws), "normal variance");
  must(std::fabs(fourth / draws - 3) < 5 * std::sqrt(96.0 / draws), "normal kurtosis");
  must(std::fabs(beyond - 63.3) < 5 * std::sqrt(63.3), "normal tail");
  must(chi2 < 5, "chi mean square");

  // Chance eigenvalues: the same on any number of threads, and on the sizes at the edges.
  for (int people : {2, 3, 7, 8, 9, 500}) {
    for (int items : {2, 3, 8, 30}) {
      std::vector<double> one(items * 100), many(items * 100);
      must(chance_eigenvalues(people, items, 100, 9, 1, one.data(), nobody) == Status::done, "done");
      must(chance_eigenvalues(people, items, 100, 9, 7, many.data(), nobody) == Status::done, "done");
      must(one == many, "threads change the draws");
    }
  }
  std::vector<double> slow(200 * 2000);
  must(chance_eigenvalues(900, 200, 2000, 1, 3, slow.data(), [](std::size_t) { return false; }) == Status::stopped, "stop");
  bool thrown = false;
  try {
    chance_eigenvalues(900, 200, 2000, 1, 3, slow.data(), [](std::size_t) -> bool { throw std::runtime_error("x"); });
  } catch (const std::runtime_error&) {
    thrown = true;
  }
  must(thrown, "throw");

  // Extraction and rotation of a matrix with two known factors.
  Eigen::MatrixXd pattern = Eigen::MatrixXd::Zero(8, 2);
  pattern.col(0).head(4) << .8, .7, .6, .5;
  pattern.col(1).tail(4) << .75, .65, .55, .45;
  Eigen::MatrixXd between(2, 2);
  between << 1, .4, .4, 1;
  Eigen::MatrixXd r = pattern * between * pattern.transpose();
  r.diagonal().setOnes();
  const MinresFit fit = fit_minres(r, 2, Eigen::VectorXd::Constant(8, .5), .005, 1e-10, 100);
  must(fit.converged && fit.discrepancy < 1e-15, "minres");
  for (bool oblique : {false, true}) {
    Rotation best;
    std::vector<double> values;
    const Criterion rule = oblique ? criterion_named("oblimin", 0, 8) : criterion_named("crawford-ferguson", 1.0 / 8, 8);
    must(rotate_best(fit.loadings, oblique, rule, 20, 1, 4, 1e-8, 500, nobody, best, values) == Status::done, "rotate");
    must(best.converged && values.size() == 20, "rotation");
    if (oblique) must(best.value < 1e-10, "quartimin of a perfect pattern");
  }
  must(!criterion_named("no such criterion", 0, 8), "unknown criterion");
  return 0;
}
