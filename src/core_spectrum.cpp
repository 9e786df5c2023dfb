#include "core_spectrum.h"

#include "core_minrank.h"
#include "core_linear.h"

#include <cmath>

namespace softsieve {

using Eigen::MatrixXd;
using Eigen::VectorXd;

bool unique_shares(const MatrixXd& correlations, VectorXd& shares) {
  Eigen::LLT<MatrixXd, Eigen::Lower> cholesky(correlations);
  if (cholesky.info() != Eigen::Success) return false;
  const Eigen::Index p = correlations.rows();
  if (cholesky.matrixLLT().diagonal().minCoeff() < 1e-7) return false;
  // R^-1 = L^-T L^-1: its diagonal holds the squared lengths of the columns of L^-1, which is lower
  // triangular, so that column j needs rows j..p-1 alone
  const MatrixXd& l = cholesky.matrixLLT();
  shares.resize(p);
  VectorXd column(p);
  for (Eigen::Index j = 0; j < p; ++j) {
    const Eigen::Index left = p - j;
    column.head(left).setZero();
    column[0] = 1.0;
    for (Eigen::Index i = 0; i < left; ++i) {
      column[i] /= l(j + i, j + i);
      column.segment(i + 1, left - i - 1) -= column[i] * l.col(j + i).tail(left - i - 1);
    }
    shares[j] = 1.0 / column.head(left).squaredNorm();
  }
  return true;
}

void SpectrumSolver::compute(const MatrixXd& correlations, double* out) {
  if (basis_ == Basis::components) return solver_.compute(correlations, out);
  const Eigen::Index p = correlations.rows();
  reduced_.triangularView<Eigen::Lower>() = correlations;
  VectorXd unique(p);
  const bool least = basis_ == Basis::minimum_rank;
  if (least) {
    const MatrixXd whole = correlations.selfadjointView<Eigen::Lower>();
    unique = minimum_rank(whole, VectorXd::Ones(p), 1e-6).uniquenesses;
  } else if (!unique_shares(correlations, unique)) {
    const MatrixXd whole = correlations.selfadjointView<Eigen::Lower>();
    for (Eigen::Index i = 0; i < p; ++i) {
      VectorXd row = whole.col(i).cwiseAbs();
      row[i] = 0.0;
      unique[i] = 1.0 - row.maxCoeff();
    }
  }
  reduced_.diagonal() -= unique;
  solver_.compute(reduced_, out);
  if (!least) return;
  const double common = reduced_.diagonal().sum();
  for (Eigen::Index i = 0; i < p; ++i)
    out[i] /= common;
}

}  // namespace softsieve
