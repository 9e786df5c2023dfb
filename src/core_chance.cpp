#include "core_chance.h"

#include <algorithm>
#include <cmath>

namespace softsieve {

void draw_sample_correlations(const Population& population, Stream& stream, RowMatrix& scratch,
                              Eigen::MatrixXd& correlations) {
  const int p = population.items;
  const int df = population.people - 1;
  const int columns = std::min(p, df);
  for (int i = 0; i < p; ++i) {
    const int below = std::min(i, columns);  // elements left of the diagonal
    for (int j = 0; j < below; ++j)
      scratch(i, j) = stream.normal();
    if (i < columns) scratch(i, i) = stream.chi(df - i);
  }
  if (population.root.size()) {
    // C A in place: from the last row up, as row i needs rows 0..i alone
    for (int i = p - 1; i >= 0; --i) {
      const int length = std::min(i + 1, columns);
      scratch.row(i).head(length) *= population.root(i, i);
      for (int j = 0; j < i; ++j) {
        const int short_of = std::min(j + 1, columns);
        scratch.row(i).head(short_of) += population.root(i, j) * scratch.row(j).head(short_of);
      }
    }
  }
  for (int i = 0; i < p; ++i) {
    auto row = scratch.row(i).head(std::min(i + 1, columns));
    row /= row.norm();
  }
  for (int j = 0; j < p; ++j) {
    const int length = std::min(j + 1, columns);
    correlations(j, j) = 1.0;
    for (int i = j + 1; i < p; ++i)
      correlations(i, j) = scratch.row(i).head(length).dot(scratch.row(j).head(length));
  }
}

Status sample_eigenvalues(const Population& population, Basis basis, std::size_t first,
                          std::size_t replicates, std::uint64_t seed, int threads, double* out,
                          const Watch& watch) {
  const int items = population.items;
  auto make_worker = [&population, basis, first, seed, out, items] {
    RowMatrix scratch(items, items);
    Eigen::MatrixXd correlations(items, items);
    SpectrumSolver solver(items, basis);
    return [=, &population](std::size_t replicate) mutable {
      Stream stream(seed, first + replicate);
      draw_sample_correlations(population, stream, scratch, correlations);
      solver.compute(correlations, out + replicate * static_cast<std::size_t>(items));
    };
  };
  return run_replicates(replicates, threads, make_worker, watch);
}

}  // namespace softsieve
