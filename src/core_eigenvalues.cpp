#include "core_eigenvalues.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>

namespace softsieve {

void EigenvalueSolver::compute(const Eigen::MatrixXd& matrix, double* out) {
  const Eigen::Index p = matrix.rows();
  tridiagonal_.compute(matrix);
  diagonal_ = tridiagonal_.diagonal();
  squares_.head(p - 1) = tridiagonal_.subDiagonal().array().square().matrix();
  squares_[p - 1] = 0.0;
  if (!iterate())  // not seen to happen; rotations are slower and surer
    diagonal_ = Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd>(matrix, Eigen::EigenvaluesOnly)
                    .eigenvalues();
  std::sort(diagonal_.data(), diagonal_.data() + p, std::greater<double>());
  std::copy(diagonal_.data(), diagonal_.data() + p, out);  // threads' outs may share a cache line
}

// Turns diagonal_ into the eigenvalues, in no order. False when one of them takes too many steps.
bool EigenvalueSolver::iterate() {
  const int p = static_cast<int>(diagonal_.size()), most = 60;
  double* d = diagonal_.data();
  double* b = squares_.data();
  double size = 0.0;
  for (int i = 0; i < p; ++i)
    size = std::max(size, std::fabs(d[i]) + std::sqrt(b[i]));
  const double small = std::pow(std::numeric_limits<double>::epsilon() * size, 2);
  for (int first = 0; first < p; ++first) {
    for (int step = 0;; ++step) {
      int last = first;  // the block first..last is not split yet
      while (b[last] > small)
        ++last;
      b[last] = 0.0;
      if (last == first) break;
      if (step == most) return false;
      // the eigenvalue of the leading 2 x 2 that is nearer to d[first]
      const double off = std::sqrt(b[first]), half = (d[first + 1] - d[first]) / (2.0 * off);
      const double shift = d[first] - off / (half + std::copysign(std::hypot(half, 1.0), half));
      // from the foot of the block upwards; cosine and sine are squared ones throughout
      double cosine = 1.0, sine = 0.0, gamma = d[last] - shift, pivot = gamma * gamma;
      for (int i = last - 1; i >= first; --i) {
        const double sum = pivot + b[i], per_sum = 1.0 / sum, per_pivot = 1.0 / pivot;
        const double cosine_before = cosine, gamma_before = gamma;
        if (i + 1 < last) b[i + 1] = sine * sum;
        cosine = pivot * per_sum;
        sine = b[i] * per_sum;
        gamma = cosine * (d[i] - shift) - sine * gamma_before;
        d[i + 1] = gamma_before + (d[i] - gamma);
        // gamma^2 / cosine, by a division that does not wait for the other
        pivot = std::isfinite(per_pivot) ? gamma * gamma * sum * per_pivot : cosine_before * b[i];
      }
      b[first] = sine * pivot;
      d[first] = shift + gamma;
    }
  }
  return true;
}

}  // namespace softsieve
