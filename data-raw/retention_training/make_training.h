// The training make: simple structure with main loadings around a level, TKL-like minor factors, a
// wording factor of reversed items, weak clusters, elliptical or independent heavy tails, answers cut at shifted
// equidistant thresholds.
#ifndef SOFTSIEVE_MAKE_TRAINING_H
#define SOFTSIEVE_MAKE_TRAINING_H

#include "make.h"

namespace softsieve {

// Most items and most factors of the training make.
constexpr int training_most_items = 60, training_most_factors = 8;

inline std::vector<int> training_sizes(int factors, Dice& dice) {
  const int most = factors == 1 ? 30 : factors == 2 ? 20 : factors <= 4 ? 12 : 8;
  const int equal = dice.chance(0.4) ? dice.whole(3, most) : 0;
  std::vector<int> sizes;
  const int upto = dice.chance(0.5) ? most : std::min(most, 5);
  for (int f = 0; f < factors; ++f) sizes.push_back(equal ? equal : dice.whole(3, upto));
  if (factors > 1 && dice.chance(0.12)) sizes[0] = 2;
  if (factors > 3 && dice.chance(0.05)) sizes[1] = 2;
  if (factors == 1 && sizes[0] < 5) sizes[0] = dice.whole(5, most);
  int total = 0;
  for (int s : sizes) total += s;
  for (; total > training_most_items - 4; --total) --*std::max_element(sizes.begin(), sizes.end());
  return sizes;
}

inline MatrixXd training_factor_correlations(int factors, Dice& dice) {
  MatrixXd phi = MatrixXd::Identity(factors, factors);
  if (factors < 2 || dice.chance(0.3)) return phi;
  const double level = dice.between(0.0, 0.7), jitter = dice.between(0.0, 0.2);
  for (int a = 0; a < factors; ++a)
    for (int b = 0; b < a; ++b)
      phi(a, b) = phi(b, a) = std::max(-0.2, std::min(0.75, level + dice.between(-jitter, jitter)));
  while (phi.llt().info() != Eigen::Success || phi.llt().matrixLLT().diagonal().minCoeff() < 0.3)
    phi = 0.9 * phi + 0.1 * MatrixXd::Identity(factors, factors);
  return phi;
}

// Thresholds of an item: equidistant over 3 standard deviations, shifted.
inline void cut(MatrixXd& x, int categories, double shift_level, double lean, Dice& dice) {
  for (Eigen::Index i = 0; i < x.cols(); ++i) {
    const double shift = lean + dice.between(-shift_level, shift_level);
    for (Eigen::Index person = 0; person < x.rows(); ++person) {
      int answer = 1;
      for (int c = 1; c < categories; ++c)
        if (x(person, i) > shift - 1.5 + 3.0 * c / categories) ++answer;
      x(person, i) = answer;
    }
  }
}

inline Simulated make_training(std::uint64_t seed, std::uint64_t set) {
  Dice dice(seed, set);
  const int k = dice.chance(0.06) ? 0 : dice.whole(1, training_most_factors);
  const std::vector<int> sizes = training_sizes(k, dice);
  int p = k ? 0 : dice.whole(5, 40);
  for (int s : sizes) p += s;
  const int belonging = p;
  if (k && dice.chance(0.25)) p += dice.whole(1, 4);
  p = std::max(p, 5);
  const int n = static_cast<int>(std::exp(dice.between(std::log(80.0), std::log(5000.0)))) + (p > 40 ? 60 : 0);

  // main loadings and cross-loadings
  const double level = dice.between(0.35, 0.9), around = dice.between(0.0, 0.25), apart = dice.chance(0.5) ? 0.15 : 0.0;
  const bool crossing = k > 1 && dice.chance(0.5);
  const double crossed = crossing ? dice.between(0.05, 0.5) : 0.0;
  const MatrixXd phi = training_factor_correlations(k, dice);
  MatrixXd loadings = MatrixXd::Zero(p, std::max(k, 1));
  double sum = 0.0;
  for (int f = 0, item = 0; f < k; ++f) {
    const double centre = level + dice.between(-apart, apart);
    for (int s = 0; s < sizes[f]; ++s, ++item) {
      loadings(item, f) = std::max(0.3, std::min(0.95, centre + dice.between(-around, around)));
      sum += loadings(item, f);
      if (k > 1 && dice.chance(crossed)) loadings(item, (f + dice.whole(1, k - 1)) % k) = dice.sign() * dice.between(0.1, 0.4);
    }
  }
  VectorXd common = VectorXd::Zero(p);
  if (k) {
    common = (loadings * phi).cwiseProduct(loadings).rowwise().sum();
    for (int i = 0; i < p; ++i)
      if (common[i] > 0.92) {
        loadings.row(i) *= std::sqrt(0.92 / common[i]);
        common[i] = 0.92;
      }
  }
  // minor factors (Tucker, Koopman & Linn 1969): many, of falling weight, on all items
  const double share = dice.chance(0.5) ? dice.between(0.0, 0.15) : 0.0;  // of what the factors leave
  const int minors = share > 0.0 ? dice.whole(10, 40) : 0;
  const double fall = dice.between(0.75, 0.97);
  MatrixXd minor = MatrixXd::Zero(p, std::max(minors, 1));
  VectorXd nuisance = VectorXd::Zero(p);
  for (int i = 0; minors && i < p; ++i) {
    for (int m = 0; m < minors; ++m) minor(i, m) = dice.normal() * std::pow(fall, m);
    nuisance[i] = share * (1.0 - common[i]);
    minor.row(i) *= std::sqrt(nuisance[i]) / minor.row(i).norm();
  }
  // reversed items share a wording factor of their own
  VectorXd wording = VectorXd::Zero(p);
  if (dice.chance(0.12)) {
    const double reversed = dice.between(0.15, 0.5), weight = dice.between(0.1, 0.3);
    for (int i = 0; i < p; ++i) {
      if (!dice.chance(reversed)) continue;
      wording[i] = std::min(weight * dice.between(0.7, 1.3), std::sqrt(0.6 * std::max(0.0, 1.0 - common[i] - nuisance[i])));
      nuisance[i] += wording[i] * wording[i];
    }
  }
  // clusters of three to five items, whatever their factor, that share a little more
  const int clusters = dice.chance(0.15) ? dice.whole(1, std::max(1, p / 10)) : 0;
  const double closer = dice.between(0.03, 0.12);
  std::vector<int> cluster(p, -1);
  for (int c = 0; c < clusters; ++c)
    for (int members = dice.whole(3, 5); members > 0; --members) cluster[dice.whole(0, p - 1)] = c;
  VectorXd close = VectorXd::Zero(p);
  for (int i = 0; i < p; ++i) {
    if (cluster[i] < 0) continue;
    const double part = closer * std::max(0.0, 1.0 - common[i] - nuisance[i]);
    close[i] = std::sqrt(part);
    nuisance[i] += part;
  }
  const VectorXd unique = (1.0 - common.array() - nuisance.array()).max(0.02).sqrt();

  const int tails = dice.chance(0.2) ? (dice.chance(0.5) ? 1 : 2) : 0, df = dice.whole(4, 8);
  const MatrixXd root = k ? MatrixXd(phi.llt().matrixL()) : MatrixXd();
  MatrixXd x(n, p);
  VectorXd z(std::max(k, 1)), g(std::max(minors, 1));
  const auto draw = [&] { return tails == 2 ? dice.normal() * std::sqrt(df - 2.0) / dice.chi(df) : dice.normal(); };
  for (int person = 0; person < n; ++person) {
    VectorXd row = VectorXd::Zero(p);
    if (k) {
      for (int f = 0; f < k; ++f) z[f] = draw();
      row.noalias() += loadings * (root * z);
    }
    if (minors) {
      for (int m = 0; m < minors; ++m) g[m] = dice.normal();
      row.noalias() += minor * g;
    }
    const double mood = dice.normal();
    std::vector<double> shared(std::max(clusters, 1));
    for (int c = 0; c < clusters; ++c) shared[c] = dice.normal();
    for (int i = 0; i < p; ++i) {
      row[i] += wording[i] * mood + unique[i] * draw();
      if (cluster[i] >= 0) row[i] += close[i] * shared[cluster[i]];
    }
    if (tails == 1) row *= std::sqrt(df - 2.0) / dice.chi(df);
    x.row(person) = row.transpose();
  }
  const int categories = dice.chance(0.6) ? dice.whole(2, 7) : 0;
  const double shift = dice.between(0.0, 1.0), lean = dice.chance(0.4) ? dice.sign() * dice.between(0.2, 1.0) : 0.0;
  if (categories) cut(x, categories, shift, lean, dice);
  return {x, {k, n, p, categories, k ? sum / belonging : 0.0, mean_off_diagonal(phi), nuisance.mean(),
              k ? *std::min_element(sizes.begin(), sizes.end()) : 0, tails != 0, crossing}};
}

}  // namespace softsieve

#endif
