// The parts that makes are put together from: sizes of factors, their correlations, loadings, what is
// common but no factor, and how people answer.
#ifndef SOFTSIEVE_POPULATION_H
#define SOFTSIEVE_POPULATION_H

#include "make.h"

#include <numeric>

namespace softsieve {

// Variables with variance 1: loadings phi loadings' + theta.
struct Population {
  MatrixXd loadings, phi;     // items x factors; factors x factors
  std::vector<int> home;      // of each item its factor, -1 for none
  MatrixXd theta;             // items x items: of what the factors leave
  double nuisance = 0.0;
};

// ---- factor correlations ----------------------------------------------------------------------

// Keeps a matrix of correlations away from being singular.
inline MatrixXd held_apart(MatrixXd phi, double pivot) {
  const MatrixXd unit = MatrixXd::Identity(phi.rows(), phi.cols());
  while (phi.llt().info() != Eigen::Success || phi.llt().matrixLLT().diagonal().minCoeff() < pivot)
    phi = 0.93 * phi + 0.07 * unit;
  return phi;
}

inline MatrixXd equal_correlations(int k, Dice& dice) {
  MatrixXd phi = MatrixXd::Constant(k, k, dice.between(0.0, 0.65));
  phi.diagonal().setOnes();
  return phi;
}

// Correlations of k normal variables in a sample of so few: anything from none to almost 1.
inline MatrixXd free_correlations(int k, Dice& dice) {
  const int people = k + dice.whole(0, 8);
  MatrixXd x(people, k);
  for (Eigen::Index i = 0; i < x.size(); ++i) x.data()[i] = dice.normal();
  const double level = dice.chance(0.4) ? dice.between(0.2, 1.0) : 0.0;  // now and then mostly positive
  for (int i = 0; i < people; ++i) x.row(i).array() += level * dice.normal();
  const VectorXd scale = x.colwise().norm().cwiseInverse();
  MatrixXd phi = scale.asDiagonal() * (x.transpose() * x) * scale.asDiagonal();
  phi.diagonal().setOnes();
  return held_apart(phi, 0.25);
}

inline MatrixXd one_close_pair(int k, Dice& dice) {
  MatrixXd phi = MatrixXd::Identity(k, k);
  const double level = dice.between(0.0, 0.4);
  for (int a = 0; a < k; ++a)
    for (int b = 0; b < a; ++b) phi(a, b) = phi(b, a) = dice.between(level - 0.2, level + 0.2);
  if (k > 1) phi(0, 1) = phi(1, 0) = dice.between(0.65, 0.93) * (dice.chance(0.2) ? -1.0 : 1.0);
  return held_apart(phi, 0.25);
}

// Through a factor of the second order.
inline MatrixXd second_order(int k, Dice& dice) {
  const double level = dice.between(0.3, 0.9);
  VectorXd g(k);
  for (int f = 0; f < k; ++f) g[f] = std::max(0.0, std::min(0.95, level + dice.between(-0.15, 0.15)));
  MatrixXd phi = g * g.transpose();
  phi.diagonal().setOnes();
  return phi;
}

inline MatrixXd any_correlations(int k, Dice& dice) {
  switch (dice.whole(0, 5)) {
    case 0: return MatrixXd::Identity(k, k);
    case 1: return equal_correlations(k, dice);
    case 2: return one_close_pair(k, dice);
    case 3: return second_order(k, dice);
    default: return free_correlations(k, dice);
  }
}

// ---- loadings ---------------------------------------------------------------------------------

struct Ranges {
  int factors[2], items[2], size[2];  // size: items a factor
  double level[2], around;            // of main loadings: centre, and how far they lie around it
};

// How many items belong to each factor. Half of the time the factors come first and half of the time
// the items, so that neither gives the other away.
inline std::vector<int> draw_sizes(const Ranges& ranges, int& items, Dice& dice) {
  items = static_cast<int>(dice.evenly_by_size(ranges.items[0], ranges.items[1] + 0.99));
  const int least = ranges.size[0];
  const int most = std::min(ranges.factors[1], items / std::max(least, 3));
  int k = dice.whole(ranges.factors[0], std::max(ranges.factors[0], most));
  if (dice.chance(0.5)) {
    k = dice.whole(ranges.factors[0], ranges.factors[1]);
    items = 0;
    const bool equal = dice.chance(0.4);
    const int each = dice.whole(std::max(least, 3), ranges.size[1]);
    for (int f = 0; f < k; ++f) items += equal ? each : dice.whole(std::max(least, 3), ranges.size[1]);
    items = std::max(ranges.items[0], std::min(items, ranges.items[1]));
    k = std::min(k, items / std::max(least, 3));
  }
  // the rest falls as weights drawn at random have it
  std::vector<int> sizes(k, least);
  std::vector<double> weight(k);
  const double evenness = dice.of({0.1, 0.5, 3.0});
  double total = 0.0;
  for (double& w : weight) total += w = evenness - std::log(dice.between(0.0, 1.0));
  const int astray = dice.chance(0.25) ? dice.whole(1, std::max(1, items / 8)) : 0;  // belong to none
  for (int left = items - k * least - astray; k && left > 0; --left) {
    double at = dice.between(0.0, total);
    int f = 0;
    for (; f < k - 1 && at > weight[f]; ++f) at -= weight[f];
    ++sizes[f];
  }
  // one factor of two items only can be told where it goes with others
  if (k == 1 && sizes[0] < 4) sizes[0] = std::min(items, 4);
  return sizes;
}

inline void hold_common(Population& made) {
  const VectorXd common = (made.loadings * made.phi).cwiseProduct(made.loadings).rowwise().sum();
  for (Eigen::Index i = 0; i < common.size(); ++i)
    if (common[i] > 0.92) made.loadings.row(i) *= std::sqrt(0.92 / common[i]);
}

inline Population draw_loadings(const Ranges& ranges, MatrixXd (*correlations)(int, Dice&), Dice& dice) {
  Population made;
  int p = 0;
  const std::vector<int> sizes = draw_sizes(ranges, p, dice);
  const int k = static_cast<int>(sizes.size());
  p = std::max(p, std::accumulate(sizes.begin(), sizes.end(), 0));
  made.phi = k ? correlations(k, dice) : MatrixXd::Identity(1, 1);
  made.loadings = MatrixXd::Zero(p, std::max(k, 1));
  made.home.assign(p, -1);
  const double level = dice.between(ranges.level[0], ranges.level[1]), around = dice.between(0.0, ranges.around);
  const double apart = dice.chance(0.5) ? 0.15 : 0.0;
  for (int f = 0, item = 0; f < k; ++f) {
    const double centre = level + dice.between(-apart, apart);
    for (int s = 0; s < sizes[f]; ++s, ++item) {
      made.home[item] = f;
      made.loadings(item, f) = std::max(0.2, std::min(0.95, centre + dice.between(-around, around)));
    }
  }
  hold_common(made);
  return made;
}

inline void add_crossings(Population& made, double share, double weakest, double strongest, Dice& dice) {
  const int k = static_cast<int>(made.loadings.cols());
  for (std::size_t i = 0; k > 1 && i < made.home.size(); ++i)
    if (made.home[i] >= 0 && dice.chance(share))
      made.loadings(i, (made.home[i] + dice.whole(1, k - 1)) % k) = dice.sign() * dice.between(weakest, strongest);
  hold_common(made);
}

// Loadings in directions around each item's factor, of communalities drawn item by item.
inline void turn_loadings(Population& made, double astray, double typical, Dice& dice) {
  for (std::size_t i = 0; i < made.home.size(); ++i) {
    if (made.home[i] < 0) continue;
    for (Eigen::Index f = 0; f < made.loadings.cols(); ++f)
      made.loadings(i, f) = astray * dice.normal() + (f == made.home[i] ? 1.0 : 0.0);
    const double communality = std::max(0.08, std::min(0.9, typical + 0.12 * dice.normal()));
    made.loadings.row(i) *= std::sqrt(communality / made.loadings.row(i).dot(made.loadings.row(i) * made.phi));
  }
}

// A general factor on all items, in addition: a bifactor pattern.
inline void add_general(Population& made, Dice& dice) {
  const Eigen::Index p = made.loadings.rows(), k = made.loadings.cols();
  MatrixXd wide(p, k + 1);
  wide << made.loadings, VectorXd::Zero(p);
  const double level = dice.between(0.3, 0.7);
  for (Eigen::Index i = 0; i < p; ++i) wide(i, k) = std::max(0.1, level + dice.between(-0.2, 0.2));
  made.loadings = wide;
  made.phi = MatrixXd::Identity(k + 1, k + 1);
  hold_common(made);
}

// ---- what is common but no factor --------------------------------------------------------------

struct Nuisance {
  double minor = 0.0;     // share of what the factors leave that many small factors take
  double clusters = 0.0;  // share of items in pairs and triples with a residual in common
  double closer = 0.0;    // their residuals' correlation
  double wording = 0.0;   // loading of the items of one wording on a factor of their own
};

inline Nuisance any_nuisance(Dice& dice) {
  Nuisance is;
  if (dice.chance(0.35)) return is;
  if (dice.chance(0.5)) is.minor = dice.between(0.01, 0.2);
  if (dice.chance(0.4)) {
    is.clusters = dice.between(0.05, 0.4);
    is.closer = dice.between(0.05, 0.4);
  }
  if (dice.chance(0.2)) is.wording = dice.between(0.1, 0.35);
  return is;
}

// The covariances of what the factors leave: correlations of it, times its standard deviations.
inline void add_rest(Population& made, const Nuisance& is, Dice& dice) {
  const int p = static_cast<int>(made.loadings.rows());
  MatrixXd c = MatrixXd::Identity(p, p);
  if (is.clusters > 0.0) {
    const int groups = std::max(1, static_cast<int>(is.clusters * p / 2.3));
    std::vector<int> cluster(p, -1);
    for (int g = 0; g < groups; ++g)
      for (int members = dice.chance(0.7) ? 2 : 3; members > 0; --members) cluster[dice.whole(0, p - 1)] = g;
    std::vector<double> close(groups);
    for (double& one : close) one = is.closer * dice.between(0.6, 1.2);
    for (int i = 0; i < p; ++i)
      for (int j = 0; j < i; ++j)
        if (cluster[i] >= 0 && cluster[i] == cluster[j]) c(i, j) = c(j, i) = close[cluster[i]];
  }
  if (is.minor > 0.0) {  // Tucker, Koopman & Linn (1969, Psychometrika 34, 421-459)
    const int minors = dice.whole(8, 50);
    const double fall = dice.between(0.75, 0.98);
    MatrixXd m(p, minors);
    for (int i = 0; i < p; ++i) {
      for (int f = 0; f < minors; ++f) m(i, f) = dice.normal() * std::pow(fall, f);
      m.row(i) /= m.row(i).norm();
    }
    c = (1.0 - is.minor) * c + is.minor * m * m.transpose();
  }
  if (is.wording > 0.0) {
    const double share = dice.between(0.15, 0.5);
    VectorXd w = VectorXd::Zero(p);
    for (int i = 0; i < p; ++i)
      if (dice.chance(share)) w[i] = std::min(0.8, is.wording * dice.between(0.7, 1.3));
    const VectorXd rest = (1.0 - w.array().square()).sqrt();
    c = rest.asDiagonal() * c * rest.asDiagonal();
    c += w * w.transpose();
  }
  const VectorXd left = (1.0 - (made.loadings * made.phi).cwiseProduct(made.loadings).rowwise().sum().array()).max(0.02).sqrt();
  made.theta = left.asDiagonal() * c * left.asDiagonal();
  made.nuisance = ((c.cwiseAbs().rowwise().sum().array() - 1.0) / (p - 1.0)).mean();
}

// ---- answers ----------------------------------------------------------------------------------

enum class Tails { normal, heavy_people, heavy, skewed_factors, skewed };

struct Answering {
  int people = 200, categories = 0;
  Tails tails = Tails::normal;
  int shape = 5;             // degrees of freedom, or shape of the gamma distribution
  double shift = 0.0, lean = 0.0, width = 3.0;  // of cut points: item by item, of all, from first to last
  bool uneven = false;       // cut points drawn at random
  double careless = 0.0, missing = 0.0;  // shares
};

inline int draw_people(int least, int most, int items, Dice& dice) {
  return std::max(static_cast<int>(dice.evenly_by_size(least, most)), items + 12);
}

inline void draw_categories(Answering& how, double share, int least, int most, Dice& dice) {
  if (!dice.chance(share)) return;
  how.categories = dice.whole(least, most);
  how.shift = dice.between(0.0, 1.0);
  how.lean = dice.chance(0.4) ? dice.sign() * dice.between(0.2, 1.2) : 0.0;
  how.width = dice.between(2.0, 4.0);
  how.uneven = dice.chance(0.3);
}

inline void draw_tails(Answering& how, double share, Dice& dice) {
  if (!dice.chance(share)) return;
  how.tails = dice.of({Tails::heavy_people, Tails::heavy, Tails::skewed_factors, Tails::skewed});
  how.shape = dice.whole(how.tails == Tails::heavy_people || how.tails == Tails::heavy ? 4 : 1, 8);
}

inline void cut(MatrixXd& x, const Answering& how, Dice& dice) {
  std::vector<double> at(how.categories - 1);
  for (Eigen::Index i = 0; i < x.cols(); ++i) {
    const double shift = how.lean + dice.between(-how.shift, how.shift);
    for (int c = 1; c < how.categories; ++c)
      at[c - 1] = shift + (how.uneven ? 0.5 * how.width * dice.normal() / 1.5 : how.width * (static_cast<double>(c) / how.categories - 0.5));
    std::sort(at.begin(), at.end());
    for (Eigen::Index person = 0; person < x.rows(); ++person)
      x(person, i) = 1.0 + static_cast<double>(std::upper_bound(at.begin(), at.end(), x(person, i)) - at.begin());
  }
}

// Deviates of the asked tails, variance 1.
inline double deviate(Tails tails, int shape, Dice& dice) {
  if (tails == Tails::heavy) return dice.normal() * std::sqrt(shape - 2.0) / dice.chi(shape);
  return tails == Tails::skewed ? dice.skewed(shape) : dice.normal();
}

inline MatrixXd draw_answers(const Population& made, const Answering& how, Dice& dice) {
  const Eigen::Index n = how.people, p = made.loadings.rows(), k = made.loadings.cols();
  MatrixXd z(n, k), e(n, p);
  const Tails of_factors = how.tails == Tails::skewed_factors ? Tails::skewed : how.tails;
  for (Eigen::Index i = 0; i < z.size(); ++i) z.data()[i] = deviate(of_factors, how.shape, dice);
  for (Eigen::Index i = 0; i < e.size(); ++i) e.data()[i] = deviate(how.tails, how.shape, dice);
  const MatrixXd root = made.phi.llt().matrixL(), of_rest = made.theta.llt().matrixL();
  MatrixXd x = z * (made.loadings * root).transpose();
  x.noalias() += e * of_rest.transpose();
  if (how.tails == Tails::heavy_people)
    for (Eigen::Index i = 0; i < n; ++i) x.row(i) *= std::sqrt(how.shape - 2.0) / dice.chi(how.shape);
  if (how.careless > 0.0)
    for (Eigen::Index i = 0; i < n; ++i) {
      if (!dice.chance(how.careless)) continue;
      const bool straight = dice.chance(0.4);
      const double same = dice.between(-2.0, 2.0);
      for (Eigen::Index j = 0; j < p; ++j) x(i, j) = straight ? same : dice.between(-2.5, 2.5);
    }
  if (how.categories) cut(x, how, dice);
  if (how.missing > 0.0)
    for (Eigen::Index i = 0; i < x.size(); ++i)
      if (dice.chance(how.missing)) x.data()[i] = std::numeric_limits<double>::quiet_NaN();
  return x;
}

// Normal answers of careful people: their correlations, without the people (Bartlett 1933, Proc. R.
// Soc. Edinb. 53, 260-283).
inline MatrixXd draw_correlations(const Population& made, int people, Dice& dice) {
  const int p = static_cast<int>(made.loadings.rows());
  MatrixXd triangle = MatrixXd::Zero(p, p);
  for (int i = 0; i < p; ++i) {
    triangle(i, i) = dice.chi(people - 1 - i);
    for (int j = 0; j < i; ++j) triangle(i, j) = dice.normal();
  }
  const MatrixXd sigma = made.loadings * made.phi * made.loadings.transpose() + made.theta;
  MatrixXd x = MatrixXd(sigma.llt().matrixL()) * triangle;
  for (int i = 0; i < p; ++i) x.row(i) /= x.row(i).norm();
  MatrixXd r = x * x.transpose();
  r.diagonal().setOnes();
  return r;
}

inline Simulated simulate(const Population& made, const Answering& how, bool with_answers, Dice& dice) {
  Simulated set;
  const bool plain = how.tails == Tails::normal && !how.categories && how.careless == 0.0 && how.missing == 0.0;
  if (plain && !with_answers) {
    set.correlations = draw_correlations(made, how.people, dice);
  } else {
    set.answers = draw_answers(made, how, dice);
  }
  const int p = static_cast<int>(made.loadings.rows());
  std::vector<int> count(made.loadings.cols(), 0);
  double sum = 0.0;
  int belong = 0;
  for (int i = 0; i < p; ++i) {
    if (made.home[i] < 0) continue;
    ++count[made.home[i]];
    ++belong;
    sum += std::fabs(made.loadings(i, made.home[i]));
  }
  const OffDiagonal phi = off_diagonal(made.phi);
  int smallest = p;
  for (int c : count)
    if (c) smallest = std::min(smallest, c);
  const int k = belong ? static_cast<int>(made.loadings.cols()) : 0;
  set.truth = {k, how.people, p, how.categories, belong ? sum / belong : 0.0, phi.mean_size, phi.largest, made.nuisance,
               k ? smallest : 0, how.tails != Tails::normal || how.careless > 0.0,
               k ? last_gain(made.loadings, made.phi, how.people) : 99.0};
  return set;
}

}  // namespace softsieve

#endif
