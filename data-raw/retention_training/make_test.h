// Makes on which nothing is trained or chosen, built from other parts than those that are.
#ifndef SOFTSIEVE_MAKE_TEST_H
#define SOFTSIEVE_MAKE_TEST_H

#include "make.h"

namespace softsieve {

// What a set has beside its answers: how many items a factor has, at least, and the truth.
inline Conditions conditions_of(const MatrixXd& loadings, const MatrixXd& phi, const std::vector<int>& home, int people, int categories, double nuisance, bool tails) {
  std::vector<int> count(loadings.cols(), 0);
  double sum = 0.0;
  int belong = 0;
  for (std::size_t i = 0; i < home.size(); ++i) {
    if (home[i] < 0) continue;
    ++count[home[i]];
    ++belong;
    sum += std::fabs(loadings(static_cast<Eigen::Index>(i), home[i]));
  }
  const OffDiagonal between = off_diagonal(phi);
  const int k = belong ? static_cast<int>(loadings.cols()) : 0;
  return {k, people, static_cast<int>(home.size()), categories, belong ? sum / belong : 0.0, between.mean_size, between.largest, nuisance,
          k ? *std::min_element(count.begin(), count.end()) : 0, tails ? 1 : 0, k ? last_gain(loadings, phi, people) : 99.0};
}

// Factors that hang together as partial correlations drawn one after the other have it (a vine;
// Joe 2006): mostly positive ones.
inline MatrixXd vine_correlations(int k, double level, Dice& dice) {
  MatrixXd root = MatrixXd::Zero(k, k);
  for (int a = 0; a < k; ++a) {
    double left = 1.0;
    for (int b = 0; b < a; ++b) {
      const double partial = std::max(-0.9, std::min(0.9, level + 0.25 * dice.normal()));
      root(a, b) = partial * std::sqrt(left);
      left *= 1.0 - partial * partial;
    }
    root(a, a) = std::sqrt(left);
  }
  return root * root.transpose();
}

// Graded answers with logistic errors: items differ in how well they discriminate and in what they
// ask; items of one topic stand anywhere; people of up to three sorts, who agree more or less with
// whatever is asked; some guess where there are two answers.
inline Simulated make_test_graded(bool, Dice& dice) {
  const int k = dice.chance(0.06) ? 0 : dice.whole(1, 8), cols = std::max(k, 1);
  const double usual = dice.between(3.0, 9.0);
  std::vector<int> home;
  for (int f = 0; f < k; ++f) home.insert(home.end(), std::max(3, static_cast<int>(usual * dice.between(0.6, 1.5))), f);
  home.resize(std::max<std::size_t>(home.size(), 7), k == 1 ? 0 : -1);
  const int p = static_cast<int>(home.size());
  for (int i = p - 1; i > 0; --i) std::swap(home[i], home[dice.whole(0, i)]);
  const int n = std::max(static_cast<int>(dice.evenly_by_size(100, 4000)), p + 20);
  const MatrixXd phi = vine_correlations(cols, k > 1 ? dice.between(-0.05, 0.55) : 0.0, dice);
  // a logistic error has variance pi^2 / 3: a slope of 1.8 is a loading of .7
  const double typical = dice.between(0.8, 2.2), second = dice.between(0.0, 0.25), spread = dice.between(0.0, 0.4);
  const double error = std::acos(-1.0) / std::sqrt(3.0);
  MatrixXd slopes = MatrixXd::Zero(p, cols), loadings = slopes;
  std::vector<double> ask(p);
  std::vector<char> against(p);
  const double reversed = dice.chance(0.4) ? dice.between(0.2, 0.5) : 0.0, agree = dice.chance(0.4) ? dice.between(0.0, 0.7) : 0.0;
  for (int i = 0; i < p; ++i) {
    ask[i] = dice.between(-1.5, 1.5);
    against[i] = dice.chance(reversed);
    if (home[i] < 0) continue;
    slopes(i, home[i]) = typical * std::exp(spread * dice.normal());
    if (k > 1 && dice.chance(second)) slopes(i, (home[i] + dice.whole(1, k - 1)) % k) = dice.sign() * typical * dice.between(0.15, 0.5);
    loadings.row(i) = slopes.row(i) / std::sqrt(slopes.row(i).dot(slopes.row(i) * phi) + error * error);
  }
  const int sorts = dice.whole(1, 3), categories = dice.of({2, 3, 4, 5, 5, 7});
  const double apart = dice.chance(0.5) ? dice.between(0.0, 0.8) : 0.0, guess = categories == 2 && dice.chance(0.3) ? dice.between(0.05, 0.2) : 0.0;
  const double width = dice.between(0.7, 1.6);
  const MatrixXd root = phi.llt().matrixL();
  MatrixXd x(n, p);
  VectorXd z(cols);
  for (int person = 0; person < n; ++person) {
    for (int f = 0; f < cols; ++f) z[f] = dice.normal();
    // sorts differ in one direction, so that they add to what is general
    z = (root * z).eval().array() + apart * (dice.whole(1, sorts) - 0.5 * (sorts + 1));
    const double yes = agree * dice.normal();
    for (int i = 0; i < p; ++i) {
      const double u = dice.between(0.0, 1.0);
      const double value = (against[i] ? -1.0 : 1.0) * slopes.row(i).dot(z) + yes + std::log(u / (1.0 - u)) - ask[i];
      const int step = static_cast<int>(std::floor(value / width + 0.5 * categories));
      x(person, i) = std::max(0, std::min(categories - 1, step));
      if (guess > 0.0 && dice.chance(guess)) x(person, i) = 1.0;
    }
  }
  return {x, MatrixXd(), conditions_of(loadings, phi, home, n, categories, agree, guess > 0.0 || sorts > 1)};
}

// Two families of factors; sets of items under one stem, whose errors go together; people of places
// that answer alike; people who stop before the end; scores with tails.
inline Simulated make_test_nested(bool, Dice& dice) {
  const int k = dice.chance(0.05) ? 0 : dice.whole(1, 9), cols = std::max(k, 1);
  std::vector<int> home;
  const int most = dice.whole(4, 10);
  for (int f = 0; f < k; ++f) home.insert(home.end(), dice.whole(3, most), f);
  home.resize(std::max<std::size_t>(home.size() + (dice.chance(0.3) ? dice.whole(1, 3) : 0), 8), k == 1 ? 0 : -1);
  const int p = static_cast<int>(home.size());
  const int n = std::max(static_cast<int>(dice.evenly_by_size(80, 1500)), p + 25);
  const double near = dice.between(0.1, 0.8), far = near * dice.between(0.0, 0.8);
  MatrixXd phi(cols, cols);
  for (int a = 0; a < cols; ++a)
    for (int b = 0; b < cols; ++b) phi(a, b) = a == b ? 1.0 : a % 2 == b % 2 ? near : far;
  const double low = dice.between(0.3, 0.6), high = std::min(0.92, low + dice.between(0.05, 0.4));
  MatrixXd loadings = MatrixXd::Zero(p, cols);
  for (int i = 0; i < p; ++i)
    if (home[i] >= 0) loadings(i, home[i]) = dice.between(low, high);
  // stems go across the topics
  const int stems = dice.chance(0.35) ? dice.whole(2, std::max(2, p / 4)) : 0;
  const double shared = dice.between(0.05, 0.25), alike = dice.chance(0.5) ? dice.between(0.0, 0.2) : 0.0;
  const double stops = dice.chance(0.3) ? dice.between(0.0, 0.25) : 0.0;
  const int places = dice.whole(5, 40), df = dice.chance(0.4) ? dice.whole(4, 10) : 0, categories = dice.of({0, 0, 4, 5, 6, 9});
  MatrixXd of_place(places, cols), x(n, p);
  for (Eigen::Index i = 0; i < of_place.size(); ++i) of_place.data()[i] = dice.normal();
  const MatrixXd root = phi.llt().matrixL();
  std::vector<double> stem(std::max(stems, 1)), shift(p);
  for (double& one : shift) one = dice.between(-1.0, 1.0);
  VectorXd z(cols);
  for (int person = 0; person < n; ++person) {
    const int place = dice.whole(0, places - 1), end = dice.chance(stops) ? dice.whole(std::max(3, p / 2), p) : p;
    const double tail = df ? std::sqrt(df - 2.0) / dice.chi(df) : 1.0;
    for (int f = 0; f < cols; ++f) z[f] = std::sqrt(1.0 - alike) * dice.normal() + std::sqrt(alike) * of_place(place, f);
    z = (tail * root * z).eval();
    for (double& one : stem) one = dice.normal();
    for (int i = 0; i < p; ++i) {
      const double unique = 1.0 - loadings.row(i).squaredNorm();
      double error = dice.normal();
      if (stems) error = std::sqrt(shared) * stem[i % stems] + std::sqrt(1.0 - shared) * error;
      double value = loadings.row(i).dot(z) + std::sqrt(unique) * error;
      if (categories) value = std::max(0.0, std::min(categories - 1.0, std::floor((value + 0.5 * shift[i]) / (4.0 / categories) + 0.5 * categories)));
      x(person, i) = i < end ? value : std::numeric_limits<double>::quiet_NaN();
    }
  }
  return {x, MatrixXd(), conditions_of(loadings, phi, home, n, categories, stems ? shared : 0.0, df > 0)};
}

}  // namespace softsieve

#endif
