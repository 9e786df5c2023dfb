#include "core_reliability.h"

#include "core_minrank.h"
#include "core_random.h"
#include "core_search.h"
#include "core_uniqueness.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr double nothing = std::numeric_limits<double>::quiet_NaN();

// A split by signs x: cov(A, B) = (V - x'Sx) / 4. Holds y = Sx, so that a flip costs O(k).
struct Cut {
  const MatrixXd& s;
  VectorXd x, y;
  double quadratic;
  Eigen::Index ahead;  // how many signs are +

  Cut(const MatrixXd& covariances, const VectorXd& signs)
      : s(covariances), x(signs), y(s * x), quadratic(x.dot(y)), ahead((x.array() > 0).count()) {}
  double after_flip(Eigen::Index i) const { return quadratic - 4.0 * x[i] * y[i] + 4.0 * s(i, i); }
  // Would the flip leave a half without items?
  bool empties(Eigen::Index i) const { return x[i] > 0 ? ahead == 1 : ahead == x.size() - 1; }
  void flip(Eigen::Index i) {
    ahead += x[i] > 0 ? -1 : 1;
    quadratic = after_flip(i);
    y -= 2.0 * x[i] * s.col(i);
    x[i] = -x[i];
  }
  double after_swap(Eigen::Index i, Eigen::Index j) const {
    return quadratic - 4.0 * (x[i] * y[i] + x[j] * y[j]) +
           4.0 * (s(i, i) + s(j, j) + 2.0 * x[i] * x[j] * s(i, j));
  }
};

// Flips and swaps while x'Sx falls.
void climb(Cut& cut) {
  const Eigen::Index k = cut.x.size();
  for (bool moved = true; moved;) {
    moved = false;
    const double slack = 1e-12 * std::fabs(cut.quadratic);
    for (Eigen::Index i = 0; i < k; ++i)
      if (!cut.empties(i) && cut.after_flip(i) < cut.quadratic - slack) {
        cut.flip(i);
        moved = true;
      }
    for (Eigen::Index i = 0; i < k; ++i)
      for (Eigen::Index j = 0; j < i; ++j)
        if (cut.x[i] != cut.x[j] && cut.after_swap(i, j) < cut.quadratic - slack) {
          cut.flip(i);
          cut.flip(j);
          moved = true;
        }
  }
}

// The place of the lowest bit of n > 0: what the n-th step of a Gray code flips.
int lowest_bit(std::uint64_t n) {
  int place = 0;
  while (!(n & 1)) {
    n >>= 1;
    ++place;
  }
  return place;
}

VectorXd random_signs(Eigen::Index k, Stream& stream) {
  VectorXd x(k);
  for (Eigen::Index i = 0; i < k; ++i)
    x[i] = stream.bits() & 1 ? 1.0 : -1.0;
  if (std::fabs(x.sum()) == static_cast<double>(k)) x[0] = -x[0];  // both halves need items
  return x;
}

double guttman6(const MatrixXd& s, double total) {
  Eigen::LLT<MatrixXd> cholesky(s);
  if (cholesky.info() != Eigen::Success) return nothing;
  const VectorXd inverse = cholesky.solve(MatrixXd::Identity(s.rows(), s.cols())).diagonal();
  return 1.0 - inverse.cwiseInverse().sum() / total;
}

void one_factor_measures(const MatrixXd& r, const VectorXd& sds, OneFactor* memory, double* out) {
  const Eigen::Index k = r.rows();
  const UniquenessFit fit = fit_one_factor(r, memory);
  const VectorXd l = fit.loadings.col(0);
  const auto share = [&](double common, double unique) {
    return common * common / (common * common + unique);
  };
  const VectorXd psi = fit.uniquenesses;
  out[measure::omega] = share(l.dot(sds), psi.dot(sds.cwiseAbs2()));
  out[measure::composite] = share(l.sum(), psi.sum());
  out[measure::maximal] =
      1.0 / (1.0 + 1.0 / l.cwiseAbs2().cwiseQuotient((1.0 - l.array().square()).matrix()).sum());
  out[measure::extracted] = l.squaredNorm() / static_cast<double>(k);
}

}  // namespace

Eigen::VectorXd one_factor_omegas(const MatrixXd& covariances, bool each) {
  const Eigen::Index k = covariances.rows();
  const auto omega = [](const MatrixXd& s) {
    const VectorXd sds = s.diagonal().cwiseSqrt();
    if (s.rows() < 3) return 2.0 * (1.0 - s.trace() / s.sum());
    const MatrixXd r = s.cwiseQuotient(sds * sds.transpose());
    const UniquenessFit fit =
        fit_uniquenesses(r, 1, Discrepancy::least_squares, usual_uniquenesses(r),
                         VectorXd::Constant(r.rows(), one_factor_lowest), 1e-8, 200);
    const VectorXd l = fit.loadings.col(0);
    const double common = std::pow(l.dot(sds), 2);
    return common / (common + (1.0 - l.array().square()).matrix().dot(sds.cwiseAbs2()));
  };
  VectorXd out(each ? k + 1 : 1);
  out[0] = omega(covariances);
  for (Eigen::Index i = 0; each && i < k; ++i) {
    MatrixXd rest(k - 1, k - 1);
    const auto from = [i](Eigen::Index at) { return at < i ? at : at + 1; };
    for (Eigen::Index a = 0; a < k - 1; ++a)
      for (Eigen::Index b = 0; b < k - 1; ++b)
        rest(a, b) = covariances(from(a), from(b));
    out[i + 1] = omega(rest);
  }
  return out;
}

Split greatest_split(const MatrixXd& covariances, std::uint64_t seed) {
  const Eigen::Index k = covariances.rows();
  const double total = covariances.sum();
  Cut cut(covariances, VectorXd::Ones(k));
  VectorXd best = cut.x;
  double lowest = std::numeric_limits<double>::infinity();
  const bool exact = k <= most_exact;
  if (exact) {
    // the last item stays where it is: a split and its mirror image are one
    const std::uint64_t splits = std::uint64_t{1} << (k - 1);
    for (std::uint64_t n = 1; n < splits; ++n) {
      cut.flip(lowest_bit(n));
      if (cut.quadratic < lowest) {
        lowest = cut.quadratic;
        best = cut.x;
      }
    }
  } else {
    for (std::uint64_t start = 0; start < 200; ++start) {
      Stream stream(seed, start);
      Cut here(covariances, random_signs(k, stream));
      climb(here);
      if (here.quadratic < lowest) {
        lowest = here.quadratic;
        best = here.x;
      }
    }
  }
  Split split{(total - best.dot(covariances * best)) / total, {}, exact};
  for (Eigen::Index i = 0; i < k; ++i)
    split.signs.push_back(best[i] > 0 ? 1 : -1);
  return split;
}

std::vector<double> split_halves(const MatrixXd& covariances, std::size_t most, std::uint64_t seed,
                                 bool& all) {
  const Eigen::Index k = covariances.rows();
  const double total = covariances.sum();
  double number =
      k % 2 == 0 ? 0.5 : 1.0;  // of splits with k/2 items in a part: k over k/2, halved when even
  for (Eigen::Index i = 1; i <= k / 2; ++i)
    number *= static_cast<double>(k - k / 2 + i) / static_cast<double>(i);
  all = number <= static_cast<double>(most) && k <= most_exact;
  std::vector<double> values;
  const auto keep = [&](const Cut& cut) { values.push_back((total - cut.quadratic) / total); };
  if (all) {
    Cut cut(covariances, VectorXd::Ones(k));
    const std::uint64_t splits = std::uint64_t{1} << (k - 1);
    for (std::uint64_t n = 1; n < splits; ++n) {
      cut.flip(lowest_bit(n));
      if (std::fabs(cut.x.sum()) <= static_cast<double>(k % 2)) keep(cut);
    }
    return values;
  }
  Stream stream(seed, 0);
  std::vector<Eigen::Index> order(static_cast<std::size_t>(k));
  std::iota(order.begin(), order.end(), Eigen::Index{0});
  for (std::size_t n = 0; n < most; ++n) {
    VectorXd x = VectorXd::Ones(k);
    for (Eigen::Index i = 0; i < k / 2; ++i) {  // half a shuffle (Fisher & Yates)
      const auto j = i + static_cast<Eigen::Index>(stream.uniform() * static_cast<double>(k - i));
      std::swap(order[static_cast<std::size_t>(i)], order[static_cast<std::size_t>(j)]);
      x[order[static_cast<std::size_t>(i)]] = -1.0;
    }
    keep(Cut(covariances, x));
  }
  return values;
}

std::vector<double> discriminations(const MatrixXd& x, double share) {
  const Eigen::Index n = x.rows(), k = x.cols();
  VectorXd sum = VectorXd::Zero(n), answered = VectorXd::Zero(n);
  for (Eigen::Index j = 0; j < k; ++j)
    for (Eigen::Index i = 0; i < n; ++i)
      if (!std::isnan(x(i, j))) {
        sum[i] += x(i, j);
        ++answered[i];
      }
  std::vector<double> out(static_cast<std::size_t>(k), nothing);
  for (Eigen::Index j = 0; j < k; ++j) {
    std::vector<double> own, others;
    for (Eigen::Index i = 0; i < n; ++i) {
      if (std::isnan(x(i, j)) || answered[i] < 2.0) continue;
      own.push_back(x(i, j));
      others.push_back((sum[i] - x(i, j)) / (answered[i] - 1.0));
    }
    if (own.size() < 10) continue;
    const auto limit = [&](double part) {
      std::vector<double> sorted = others;
      const auto at = sorted.begin() + static_cast<std::ptrdiff_t>(
                                           part * static_cast<double>(sorted.size() - 1) + 0.5);
      std::nth_element(sorted.begin(), at, sorted.end());
      return *at;
    };
    const double low = limit(share), high = limit(1.0 - share);
    double up = 0.0, n_up = 0.0, down = 0.0, n_down = 0.0;
    for (std::size_t i = 0; i < own.size(); ++i) {
      if (others[i] >= high) up += own[i], ++n_up;
      if (others[i] <= low) down += own[i], ++n_down;
    }
    const auto ends = std::minmax_element(own.begin(), own.end());
    out[static_cast<std::size_t>(j)] = (up / n_up - down / n_down) / (*ends.second - *ends.first);
  }
  return out;
}

void measure_covariances(const MatrixXd& s, const std::vector<int>& split, double* out,
                         OneFactor* one_factor, double gap) {
  using namespace measure;
  std::fill(out, out + measure::count, nothing);
  const Eigen::Index k = s.rows();
  if (k < 2) return;
  const double total = s.sum(), ratio = static_cast<double>(k) / static_cast<double>(k - 1);
  const VectorXd sds = s.diagonal().cwiseSqrt();
  MatrixXd r = sds.cwiseInverse().asDiagonal() * s * sds.cwiseInverse().asDiagonal();
  if (!r.allFinite()) return;
  r.diagonal().setOnes();
  MatrixXd off = s;
  off.diagonal().setZero();
  out[lambda1] = off.sum() / total;
  out[alpha] = ratio * out[lambda1];
  const double between = r.sum() - static_cast<double>(k);
  out[standardised] = ratio * between / r.sum();
  out[mean_correlation] = between / static_cast<double>(k * (k - 1));
  out[lambda2] = out[lambda1] + std::sqrt(ratio * off.squaredNorm()) / total;
  out[lambda5] = out[lambda1] + 2.0 * std::sqrt(off.cwiseAbs2().colwise().sum().maxCoeff()) / total;
  out[lambda6] = guttman6(s, total);
  if (split.empty()) {
    out[lambda4] = greatest_split(s, 1).value;
  } else {
    VectorXd x(k);
    for (Eigen::Index i = 0; i < k; ++i)
      x[i] = split[static_cast<std::size_t>(i)];
    Cut cut(s, x);
    climb(cut);
    out[lambda4] = (total - cut.quadratic) / total;
  }
  if (std::isfinite(out[lambda6])) {
    const double size =
        s.trace() / static_cast<double>(k);  // the barrier is meant for variances of about 1
    const MinimumRank found = minimum_rank(s / size, VectorXd::Ones(k), gap);
    out[glb] = 1.0 - size * found.uniquenesses.sum() / total;
  }
  if (k >= 3) one_factor_measures(r, sds, one_factor, out);
}

}  // namespace softsieve
