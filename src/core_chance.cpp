#include "core_chance.h"

#include <algorithm>
#include <cmath>

namespace softsieve {

namespace {

// Bartlett's trapezoid of so many degrees of freedom; its number of columns.
int draw_trapezoid(int p, int df, Stream& stream, RowMatrix& scratch) {
  const int columns = std::min(p, df);
  for (int i = 0; i < p; ++i) {
    const int below = std::min(i, columns);  // elements left of the diagonal
    for (int j = 0; j < below; ++j)
      scratch(i, j) = stream.normal();
    if (i < columns) scratch(i, i) = stream.chi(df - i);
  }
  return columns;
}

void draw_parts(const Population& population, Stream& stream, RowMatrix& scratch,
                Eigen::MatrixXd& correlations) {
  const int p = population.items;
  correlations.setZero();
  for (const Part& part : population.parts) {
    const int columns = draw_trapezoid(p, part.people, stream, scratch);
    for (int i = 0; i < p; ++i)
      scratch.row(i).head(std::min(i + 1, columns)) *= std::sqrt(part.scale(i));
    for (int j = 0; j < p; ++j) {
      const int length = std::min(j + 1, columns);
      for (int i = j; i < p; ++i)
        correlations(i, j) += scratch.row(i).head(length).dot(scratch.row(j).head(length));
    }
  }
  const Eigen::VectorXd spread = correlations.diagonal().cwiseSqrt();
  for (int j = 0; j < p; ++j) {
    for (int i = j + 1; i < p; ++i)
      correlations(i, j) /= spread(i) * spread(j);
    correlations(j, j) = 1.0;
  }
}

void draw_alike(const Population& population, Stream& stream, RowMatrix& scratch,
                Eigen::MatrixXd& correlations) {
  const int p = population.items;
  const int columns = draw_trapezoid(p, population.people - 1, stream, scratch);
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

}  // namespace

void draw_sample_correlations(const Population& population, Stream& stream, RowMatrix& scratch,
                              Eigen::MatrixXd& correlations) {
  const int p = population.items;
  if (population.parts.empty())
    draw_alike(population, stream, scratch, correlations);
  else
    draw_parts(population, stream, scratch, correlations);
  const auto& error = population.own_error;
  const auto& further = population.further;
  if (error.size())
    for (int j = 0; j < p; ++j)
      for (int i = j + 1; i < p; ++i)
        correlations(i, j) += error(i, j) * stream.normal();
  if (further.size())
    for (int j = 0; j < p; ++j)
      for (int i = j + 1; i < p; ++i)
        correlations(i, j) *= further(i) * further(j);
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
