#include "core_chance.h"

#include "core_eigenvalues.h"

#include <algorithm>
#include <cmath>

namespace softsieve {

void draw_chance_correlations(int people, Stream& stream, RowMatrix& scratch,
                              Eigen::MatrixXd& correlations) {
  const int p = static_cast<int>(scratch.rows());
  const int df = people - 1;
  const int columns = std::min(p, df);
  for (int i = 0; i < p; ++i) {
    const int below = std::min(i, columns);  // elements left of the diagonal
    for (int j = 0; j < below; ++j) scratch(i, j) = stream.normal();
    if (i < columns) scratch(i, i) = stream.chi(df - i);
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

Status chance_eigenvalues(int people, int items, int replicates, std::uint64_t seed, int threads,
                          double* out, const Watch& watch) {
  auto make_worker = [=] {
    RowMatrix scratch(items, items);
    Eigen::MatrixXd correlations(items, items);
    EigenvalueSolver solver(items);
    return [=](std::size_t replicate) mutable {
      Stream stream(seed, replicate);
      draw_chance_correlations(people, stream, scratch, correlations);
      solver.compute(correlations, out + replicate * static_cast<std::size_t>(items));
    };
  };
  return run_replicates(static_cast<std::size_t>(replicates), threads, make_worker, watch);
}

}  // namespace softsieve
