// Makes built from other parts than those of population.h. They were kept for judging until 0.25.0,
// and are trained on since.
#ifndef SOFTSIEVE_MAKES_MORE_H
#define SOFTSIEVE_MAKES_MORE_H

#include "make.h"

#include <Eigen/LU>
#include <Eigen/QR>

namespace softsieve {

// Cuts an item where shares drawn at random ask for it: at the item's own sample quantiles.
inline void cut_by_shares(MatrixXd& x, int categories, double evenness, Dice& dice) {
  const auto n = static_cast<std::size_t>(x.rows());
  for (Eigen::Index i = 0; i < x.cols(); ++i) {
    std::vector<double> shares(categories);
    double total = 0.0;
    for (double& share : shares) total += share = evenness - std::log(dice.between(0.0, 1.0));
    std::vector<double> sorted(x.col(i).data(), x.col(i).data() + n), cuts;
    std::sort(sorted.begin(), sorted.end());
    double below = 0.0;
    for (int c = 0; c + 1 < categories; ++c) {
      below += shares[c] / total;
      cuts.push_back(sorted[std::min(n - 1, static_cast<std::size_t>(below * static_cast<double>(n)))]);
    }
    for (std::size_t person = 0; person < n; ++person) {
      const double value = x(static_cast<Eigen::Index>(person), i);
      x(static_cast<Eigen::Index>(person), i) = static_cast<double>(std::upper_bound(cuts.begin(), cuts.end(), value) - cuts.begin());
    }
  }
}

// Communalities drawn item by item, loadings spread over all factors in random directions, factors
// that share a second-order factor, doublets of correlated errors, a population that departs from the
// model at random, skewed scores and errors, careless people, category shares drawn at random.
inline Simulated make_distant(bool, Dice& dice) {
  const int k = dice.chance(0.06) ? 0 : dice.whole(1, 8);
  const int p = dice.whole(std::max(6, 3 * k), std::min(48, std::max(12, 9 * k)));
  static const int sizes[] = {80, 120, 150, 200, 250, 300, 400, 600, 900, 1500, 2500};
  const int n = std::max(dice.of(sizes), p + 30);

  // every factor gets three items, the others fall as weights drawn at random have it
  std::vector<int> home(p, -1), count(std::max(k, 1), 0);
  std::vector<double> weight(std::max(k, 1));
  double total = 0.0;
  for (double& w : weight) total += w = 0.3 - std::log(dice.between(0.0, 1.0));
  for (int i = 0; k && i < p; ++i) {
    int f = i / 3;
    if (f >= k) {
      double at = dice.between(0.0, total);
      for (f = 0; f < k - 1 && at > weight[f]; ++f) at -= weight[f];
    }
    home[i] = f;
    ++count[f];
  }
  // factors that go together through one of the second order
  const double together = dice.chance(0.25) ? 0.0 : std::sqrt(dice.between(0.02, 0.7));
  VectorXd second(std::max(k, 1));
  for (int f = 0; f < k; ++f) second[f] = together * dice.between(0.8, 1.1);
  MatrixXd phi = second * second.transpose();
  phi.diagonal().setOnes();
  // directions, and lengths from each item's own communality
  const double typical = dice.between(0.15, 0.7), astray = dice.of({0.0, 0.08, 0.15, 0.25});
  MatrixXd loadings = MatrixXd::Zero(p, std::max(k, 1));
  double sum = 0.0;
  for (int i = 0; k && i < p; ++i) {
    for (int f = 0; f < k; ++f) loadings(i, f) = astray * dice.normal() + (f == home[i] ? 1.0 : 0.0);
    const double communality = std::max(0.1, std::min(0.88, typical + 0.12 * dice.normal()));
    loadings.row(i) *= std::sqrt(communality / loadings.row(i).dot(loadings.row(i) * phi));
    sum += std::fabs(loadings(i, home[i]));
  }
  const VectorXd common = k ? VectorXd((loadings * phi).cwiseProduct(loadings).rowwise().sum()) : VectorXd::Zero(p);
  // doublets: pairs of items with an error in common
  const int doublets = dice.chance(0.4) ? dice.whole(1, std::max(1, p / 8)) : 0;
  std::vector<int> pair(p, -1);
  for (int d = 0; d < doublets; ++d) {
    const int a = dice.whole(0, p - 1), b = dice.whole(0, p - 1);
    if (a != b && pair[a] < 0 && pair[b] < 0) pair[a] = pair[b] = d;
  }
  const double shared = dice.between(0.05, 0.3);  // of the unique variance

  // a population that the model only nears: drawn around it (after Wu & Browne 2015), RMSEA about `misfit`
  const double misfit = dice.chance(0.5) ? dice.between(0.02, 0.07) : 0.0;
  MatrixXd population = loadings * phi * loadings.transpose(), off = MatrixXd::Identity(p, p);
  population.diagonal().setOnes();
  for (int i = 0; i < p; ++i)
    for (int j = 0; j < i; ++j)
      if (pair[i] >= 0 && pair[i] == pair[j]) population(i, j) = population(j, i) += shared * std::sqrt((1.0 - common[i]) * (1.0 - common[j]));
  if (misfit > 0.0) {
    const MatrixXd root = population.llt().matrixL();
    const int df = static_cast<int>(1.0 / (misfit * misfit));
    MatrixXd triangle = MatrixXd::Zero(p, p);
    for (int i = 0; i < p; ++i) {
      triangle(i, i) = dice.chi(df - i);
      for (int j = 0; j < i; ++j) triangle(i, j) = dice.normal();
    }
    // answers of the model times `off` have the drawn matrix as theirs
    off = root * triangle / std::sqrt(static_cast<double>(df)) * root.inverse();
  }

  const int shape = dice.chance(0.35) ? dice.whole(1, 6) : 0;
  const double careless = dice.chance(0.3) ? dice.between(0.0, 0.08) : 0.0;
  const auto draw = [&] { return shape ? dice.skewed(shape) : dice.normal(); };
  MatrixXd x(n, p);
  VectorXd z(std::max(k, 1));
  std::vector<double> error(std::max(doublets, 1));
  for (int person = 0; person < n; ++person) {
    const double top = dice.normal();
    const bool random = dice.chance(careless);
    for (int f = 0; f < k; ++f) z[f] = second[f] * top + std::sqrt(1.0 - second[f] * second[f]) * draw();
    for (int d = 0; d < doublets; ++d) error[d] = dice.normal();
    for (int i = 0; i < p; ++i) {
      const double unique = std::sqrt(1.0 - common[i]);
      double value = k ? loadings.row(i).dot(z) : 0.0;
      value += pair[i] < 0 ? unique * draw() : unique * (std::sqrt(shared) * error[pair[i]] + std::sqrt(1.0 - shared) * draw());
      x(person, i) = value;
    }
    if (misfit > 0.0) x.row(person) = (off * x.row(person).transpose()).transpose().eval();
    if (random)
      for (int i = 0; i < p; ++i) x(person, i) = dice.between(-2.5, 2.5);
  }
  static const int choices[] = {0, 0, 2, 3, 4, 5, 5, 6, 7, 11};
  const int categories = dice.of(choices);
  if (categories) cut_by_shares(x, categories, dice.of({0.0, 0.3, 1.0, 3.0}), dice);
  const OffDiagonal between = off_diagonal(phi);
  return {x, MatrixXd(), {k, n, p, categories, k ? sum / p : 0.0, between.mean_size, between.largest, misfit,
              k ? *std::min_element(count.begin(), count.end()) : 0, shape != 0 || careless > 0.0,
              k ? last_gain(loadings, phi, n) : 99.0}};
}

// One to seven factors of three to seven items, correlations of the factors from a random rotation of
// random eigenvalues, pairs with a residual in common, half of the sets in three to six skewed categories.
inline Simulated make_loose(bool, Dice& dice) {
  const int k = dice.whole(1, 7);
  std::vector<int> home;
  int smallest = 7;
  for (int f = 0; f < k; ++f) {
    const int size = k == 1 ? dice.whole(4, 7) : dice.whole(3, 7);
    smallest = std::min(smallest, size);
    home.insert(home.end(), size, f);
  }
  if (k == 1 && home.size() < 6) home.resize(6, 0);
  const int p = static_cast<int>(home.size());
  const int n = std::max(static_cast<int>(dice.evenly_by_size(120, 2000)), p + 30);
  MatrixXd square(k, k);
  for (Eigen::Index i = 0; i < square.size(); ++i) square.data()[i] = dice.normal();
  const MatrixXd turn = Eigen::HouseholderQR<MatrixXd>(square).householderQ();
  VectorXd values(k);
  for (int f = 0; f < k; ++f) values[f] = 0.05 - std::log(dice.between(0.0, 1.0));
  MatrixXd phi = turn * values.asDiagonal() * turn.transpose();
  const VectorXd scale = phi.diagonal().cwiseSqrt().cwiseInverse();
  phi = (scale.asDiagonal() * phi * scale.asDiagonal()).eval();
  VectorXd loading(p);
  const double low = dice.between(0.35, 0.6), high = dice.between(0.65, 0.9);
  for (int i = 0; i < p; ++i) loading[i] = dice.between(low, high);
  std::vector<int> partner(p, -1);
  for (int d = dice.chance(0.4) ? dice.whole(1, 3) : 0; d > 0; --d) {
    const int a = dice.whole(0, p - 1), b = dice.whole(0, p - 1);
    if (a != b && partner[a] < 0 && partner[b] < 0) partner[a] = b, partner[b] = a;
  }
  const double shared = std::sqrt(dice.between(0.1, 0.4));
  const MatrixXd root = phi.llt().matrixL();
  MatrixXd x(n, p);
  VectorXd z(k), e(p);
  for (int person = 0; person < n; ++person) {
    for (int f = 0; f < k; ++f) z[f] = dice.normal();
    z = (root * z).eval();
    for (int i = 0; i < p; ++i) e[i] = dice.normal();
    for (int i = 0; i < p; ++i) {
      const int other = partner[i];
      const double error = other < 0 ? e[i] : other > i ? e[i] : shared * shared * e[other] + std::sqrt(1.0 - std::pow(shared, 4)) * e[i];
      x(person, i) = loading[i] * z[home[i]] + std::sqrt(1.0 - loading[i] * loading[i]) * error;
    }
  }
  const int categories = dice.chance(0.5) ? dice.whole(3, 6) : 0;
  if (categories) cut_by_shares(x, categories, dice.of({0.0, 0.2, 0.6}), dice);
  const OffDiagonal between = off_diagonal(phi);
  MatrixXd pattern = MatrixXd::Zero(p, k);
  for (int i = 0; i < p; ++i) pattern(i, home[i]) = loading[i];
  return {x, MatrixXd(), {k, n, p, categories, loading.mean(), between.mean_size, between.largest, 0.0, smallest, 0, last_gain(pattern, phi, n)}};
}

// Content in two layers (factors of a general one, items that load on a second factor of their own
// kind), a factor of reverse-worded items that is no topic, neighbours with errors in common, people
// who answer one side of the scale or at random, and formats that are mixed: items of two, five and
// seven categories and continuous ones side by side.
inline Simulated make_layered(bool, Dice& dice) {
  const int k = dice.chance(0.05) ? 0 : dice.whole(1, 7);
  std::vector<int> home;
  int smallest = 99;
  const int usual = dice.whole(3, 8);
  for (int f = 0; f < k; ++f) {
    const int size = std::max(3, usual + dice.whole(-2, 2));
    smallest = std::min(smallest, size);
    home.insert(home.end(), size, f);
  }
  home.resize(std::max<std::size_t>(home.size(), 8), k == 1 ? 0 : -1);
  const int p = static_cast<int>(home.size());
  const int n = std::max(static_cast<int>(dice.evenly_by_size(110, 3000)), p + 30);
  VectorXd general(std::max(k, 1));
  const double level = dice.chance(0.2) ? 0.0 : dice.between(0.2, 0.85);
  for (int f = 0; f < k; ++f) general[f] = std::min(0.93, level * dice.between(0.75, 1.15));
  MatrixXd phi = general * general.transpose();
  phi.diagonal().setOnes();
  MatrixXd loadings = MatrixXd::Zero(p, std::max(k, 1));
  const double typical = dice.between(0.45, 0.75), second = dice.between(0.0, 0.3);
  double sum = 0.0;
  int belong = 0;
  for (int i = 0; i < p; ++i) {
    if (home[i] < 0) continue;
    loadings(i, home[i]) = std::max(0.25, std::min(0.9, typical + 0.12 * dice.normal()));
    sum += loadings(i, home[i]);
    ++belong;
    if (k > 1 && dice.chance(second)) loadings(i, (home[i] + dice.whole(1, k - 1)) % k) = dice.sign() * dice.between(0.1, 0.35);
    const double common = loadings.row(i).dot(loadings.row(i) * phi);
    if (common > 0.88) loadings.row(i) *= std::sqrt(0.88 / common);
  }
  const bool worded = dice.chance(0.4);
  const double wording = dice.between(0.05, 0.3), share = dice.between(0.2, 0.5);
  const double beside = dice.chance(0.4) ? dice.between(0.05, 0.25) : 0.0;
  const double one_sided = dice.chance(0.3) ? dice.between(0.0, 0.6) : 0.0;
  const double careless = dice.chance(0.3) ? dice.between(0.0, 0.06) : 0.0;
  std::vector<char> reversed(p);
  std::vector<int> format(p);
  static const int formats[] = {0, 2, 3, 5, 5, 7};
  const bool mixed = dice.chance(0.4);
  const int same = dice.of(formats);
  std::vector<double> shift(p), unique(p);
  for (int i = 0; i < p; ++i) {
    reversed[i] = worded && dice.chance(share);
    format[i] = mixed ? dice.of(formats) : same;
    shift[i] = dice.between(-0.8, 0.8);
    unique[i] = std::sqrt(1.0 - loadings.row(i).dot(loadings.row(i) * phi));
  }
  MatrixXd x(n, p);
  VectorXd z(std::max(k, 1));
  for (int person = 0; person < n; ++person) {
    const double top = dice.normal(), style = dice.normal(), side = one_sided * dice.normal();
    const bool random = dice.chance(careless);
    for (int f = 0; f < k; ++f) z[f] = general[f] * top + std::sqrt(1.0 - general[f] * general[f]) * dice.normal();
    double before = dice.normal();
    for (int i = 0; i < p; ++i) {
      const double fresh = dice.normal();
      double error = std::sqrt(beside) * before + std::sqrt(1.0 - beside) * fresh;
      before = fresh;
      if (reversed[i]) error = std::sqrt(wording) * style + std::sqrt(1.0 - wording) * error;
      double value = loadings.row(i).dot(z) + unique[i] * error;
      if (format[i]) {
        // (whoever answers on one side shifts all items that have sides)
        const double place = value + 0.4 * side + shift[i];
        const double width = 3.2 / format[i];
        value = std::max(1.0, std::min(double(format[i]), std::floor(place / width + 0.5 * format[i]) + 1.0));
      }
      x(person, i) = random ? (format[i] ? dice.whole(1, format[i]) : dice.between(-2.5, 2.5)) : value;
    }
  }
  const OffDiagonal between = off_diagonal(phi);
  return {x, MatrixXd(), {k, n, p, mixed ? 0 : same, belong ? sum / belong : 0.0, between.mean_size, between.largest,
              worded * wording * share + beside, k ? smallest : 0, careless > 0.0 || one_sided > 0.0,
              k ? last_gain(loadings, phi, n) : 99.0}};
}

}  // namespace softsieve

#endif
