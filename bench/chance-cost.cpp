// What the chance eigenvalues cost beside the eigenvalues alone, and what a second thread saves.
// Plain C++, no R: built and run by bench/parallel-analysis.R. Prints one CSV row per figure.
#include "core_chance.h"

#include <Eigen/Eigenvalues>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <vector>

using namespace softsieve;

static double seconds(const std::function<void()>& job) {
  const auto start = std::chrono::steady_clock::now();
  job();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

static double median(std::vector<double> x) {
  std::sort(x.begin(), x.end());
  return x[x.size() / 2];
}

int main() {
  const Watch nobody = [](std::size_t) { return true; };
  const int replicates = 1000, rounds = 15;
  for (int p : {24, 50, 100}) {
    std::vector<double> out(static_cast<std::size_t>(p) * replicates), whole, alone, many, two;
    std::vector<Eigen::MatrixXd> matrices;
    RowMatrix scratch(p, p);
    for (int i = 0; i < replicates; ++i) {
      Stream stream(1, i);
      matrices.emplace_back(p, p);
      draw_sample_correlations({1000, p, RowMatrix()}, stream, scratch, matrices.back());
    }
    Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> solver(p);
    double sink = 0;
    for (int round = 0; round < rounds; ++round) {  // in turn, so that a noisy spell hits all
      whole.push_back(seconds([&] { sample_eigenvalues({1000, p, RowMatrix()}, Basis::components, 0, replicates, 1, 1, out.data(), nobody); }));
      alone.push_back(seconds([&] {
        for (const auto& m : matrices) {
          solver.compute(m, Eigen::EigenvaluesOnly);
          sink += solver.eigenvalues()[0];
        }
      }));
      many.push_back(seconds([&] { sample_eigenvalues({24000, p, RowMatrix()}, Basis::components, 0, replicates, 1, 1, out.data(), nobody); }));
      two.push_back(seconds([&] { sample_eigenvalues({1000, p, RowMatrix()}, Basis::components, 0, replicates, 1, 2, out.data(), nobody); }));
    }
    std::printf("%d,%.5f,%.5f,%.5f,%.5f,%g\n", p, median(whole), median(alone), median(many), median(two), sink);
  }
}
