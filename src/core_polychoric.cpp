#include "core_polychoric.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

namespace softsieve {

namespace {

const double pi = 4.0 * std::atan(1.0);
const double root_two_pi = std::sqrt(2.0 * pi);

double normal_density(double x) {
  return std::exp(-0.5 * x * x) / root_two_pi;
}

constexpr int most_nodes = 20;

// Gauss-Legendre nodes and weights on [-1, 1], the positive half, by Newton's method on the
// Legendre polynomial of even degree.
struct Nodes {
  std::vector<double> at, weight;
  explicit Nodes(int degree) {
    for (int i = 0; i < degree / 2; ++i) {
      double x = std::cos(pi * (i + 0.75) / (degree + 0.5)), slope = 0;
      for (int step = 0; step < 100; ++step) {
        double before = 1, now = x;
        for (int k = 2; k <= degree; ++k) {
          const double next = ((2 * k - 1) * x * now - (k - 1) * before) / k;
          before = now;
          now = next;
        }
        slope = degree * (x * now - before) / (x * x - 1);
        const double move = now / slope;
        x -= move;
        if (std::fabs(move) < 1e-16) break;
      }
      at.push_back(x);
      weight.push_back(2.0 / ((1 - x * x) * slope * slope));
    }
  }
};

// The normal distribution function and its density by a Taylor series about the nearest of a
// table's points, for |x| < 8: absolute error below 1e-12, a fifth of the time of the exact ones.
class NormalTable {
 public:
  NormalTable() {
    for (int i = 0; i <= 2 * reach * steps; ++i) {
      const double x = static_cast<double>(i) / steps - reach;
      below_.push_back(normal_below(x));
      density_.push_back(normal_density(x));
    }
  }
  double at(double x, double& density) const {
    if (!(std::fabs(x) < reach)) {
      density = normal_density(x);
      return normal_below(x);
    }
    const int i = static_cast<int>((x + reach) * steps + 0.5);
    const double c = static_cast<double>(i) / steps - reach, d = x - c, c2 = c * c;
    const double third = c * (c2 - 3.0) / 6.0;
    density =
        density_[i] * (1.0 + d * (-c + d * (0.5 * (c2 - 1.0) +
                                            d * (-third + d * (c2 * (c2 - 6.0) + 3.0) / 24.0))));
    return below_[i] +
           density_[i] * d * (1.0 + d * (-0.5 * c + d * ((c2 - 1.0) / 6.0 - 0.25 * d * third)));
  }

 private:
  static constexpr int reach = 8, steps = 64;
  std::vector<double> below_, density_;
};

const Nodes& nodes_for(double rho) {
  static const Nodes few(6), some(12), many(most_nodes);
  const double size = std::fabs(rho);
  return size < 0.3 ? few : size < 0.75 ? some : many;
}

// Beyond this the plain quadrature no longer gives all digits.
constexpr double near_one = 0.925;

// The quadrature over the arc sine of rho, |rho| < near_one: what depends on rho alone is found
// once and serves all corners of a table.
class ArcSine {
 public:
  explicit ArcSine(double rho) {
    const Nodes& nodes = nodes_for(rho);
    const double half = 0.5 * std::asin(rho);
    for (std::size_t i = 0; i < nodes.at.size(); ++i)
      for (const double side : {-1.0, 1.0}) {
        const double sine = std::sin(half * (1.0 + side * nodes.at[i]));
        sine_[size_] = sine;
        per_cosine2_[size_] = 1.0 / (1.0 - sine * sine);
        weight_[size_++] = nodes.weight[i] * half / (2.0 * pi);
      }
  }
  double below(double h, double k, double below_h, double below_k) const {
    const double product = h * k, squares = 0.5 * (h * h + k * k);
    double sum = 0;
    for (int i = 0; i < size_; ++i)
      sum += weight_[i] * std::exp((sine_[i] * product - squares) * per_cosine2_[i]);
    return below_h * below_k + sum;
  }

 private:
  int size_ = 0;
  double sine_[most_nodes], per_cosine2_[most_nodes], weight_[most_nodes];
};

// P(X > h, Y > k) for near_one <= |rho| <= 1, finite h and k.
double above_near_one(double h, double k, double rho) {
  if (rho < 0) k = -k;
  const double hk = h * k;
  double sum = 0;
  if (std::fabs(rho) < 1) {
    const double a2 = (1 - rho) * (1 + rho), b2 = (h - k) * (h - k);
    const double c = (4 - hk) / 8, d = (12 - hk) / 16;
    double a = std::sqrt(a2);
    const double exponent = -(b2 / a2 + hk) / 2;
    if (exponent > -100)
      sum =
          a * std::exp(exponent) * (1 - c * (b2 - a2) * (1 - d * b2 / 5) / 3 + c * d * a2 * a2 / 5);
    if (hk > -100) {
      const double b = std::sqrt(b2);
      sum -= std::exp(-hk / 2) * root_two_pi * normal_below(-b / a) * b *
             (1 - c * b2 * (1 - d * b2 / 5) / 3);
    }
    a /= 2;
    const Nodes& nodes = nodes_for(rho);
    for (std::size_t i = 0; i < nodes.at.size(); ++i)
      for (const double side : {-1.0, 1.0}) {
        const double x2 = std::pow(a * (1 + side * nodes.at[i]), 2);
        const double root = std::sqrt(1 - x2), power = -(b2 / x2 + hk) / 2;
        if (power > -100)
          sum += a * nodes.weight[i] * std::exp(power) *
                 (std::exp(-hk * x2 / (2 * (1 + root) * (1 + root))) / root -
                  (1 + c * x2 * (1 + d * x2)));
      }
    sum = -sum / (2 * pi);
  }
  if (rho > 0) return sum + normal_below(-std::max(h, k));
  return -sum + std::max(0.0, normal_below(k) - normal_below(h));
}

// Newton's method for the root of a score that falls through zero, kept inside a bracket that
// closes in; where Newton leaves it or the slope is not downwards, the bracket is halved.
template <class Score>
LatentCorrelation climb(double start, const Score& score_at, double tolerance = 1e-11) {
  double low = -rho_bound, high = rho_bound;
  LatentCorrelation found{std::max(-0.9, std::min(0.9, start)), 0, 0, 0, false, Fit::not_converged};
  for (found.iterations = 1; found.iterations <= 200; ++found.iterations) {
    double score, slope;
    score_at(found.rho, score, slope);
    (score > 0 ? low : high) = found.rho;
    double next = slope < 0 ? found.rho - score / slope : 2.0;
    if (!(next > low && next < high)) next = 0.5 * (low + high);
    const double move = std::fabs(next - found.rho);
    found.rho = next;
    if (move < tolerance) {
      found.status = rho_bound - std::fabs(next) < 1e-9 ? Fit::at_bound : Fit::converged;
      if (slope < 0) found.standard_error = 1.0 / std::sqrt(-slope);
      break;
    }
  }
  if (found.status != Fit::converged)
    found.standard_error = std::numeric_limits<double>::quiet_NaN();
  return found;
}

// A table's probabilities, and their first two derivatives in rho, at the corners of its cells.
class Corners {
 public:
  Corners(const double* first, int rows, const double* second, int columns)
      : first_(first),
        second_(second),
        rows_(rows),
        columns_(columns),
        value_(size()),
        slope_(size()),
        bend_(size()) {
    for (int a = 0; a + 1 < rows; ++a)
      below_first_.push_back(normal_below(first[a]));
    for (int b = 0; b + 1 < columns; ++b)
      below_second_.push_back(normal_below(second[b]));
  }
  void at(double rho) {
    const bool plain = std::fabs(rho) < near_one;
    const ArcSine quadrature(plain ? rho : 0.0);
    const double rest = 1 - rho * rho;
    for (int a = 0; a <= rows_; ++a)
      for (int b = 0; b <= columns_; ++b) {
        double& v = value_[index(a, b)];
        slope_[index(a, b)] = bend_[index(a, b)] = v = 0;
        if (a == 0 || b == 0) continue;
        const bool last_a = a == rows_, last_b = b == columns_;
        if (last_a || last_b) {
          v = last_a ? (last_b ? 1.0 : below_second_[b - 1]) : below_first_[a - 1];
          continue;
        }
        const double h = first_[a - 1], k = second_[b - 1];
        if (std::isinf(h) || std::isinf(k)) {
          v = bivariate_below(h, k, rho);
          continue;
        }
        v = plain ? quadrature.below(h, k, below_first_[a - 1], below_second_[b - 1])
                  : bivariate_below(h, k, rho);
        const double form = h * h - 2 * rho * h * k + k * k;
        const double density = std::exp(-form / (2 * rest)) / (2 * pi * std::sqrt(rest));
        slope_[index(a, b)] = density;  // d Phi2 / d rho (Plackett 1954)
        bend_[index(a, b)] =
            density *
            (rho / rest + (h * k * (1 + rho * rho) - rho * (h * h + k * k)) / (rest * rest));
      }
  }
  double probability(int a, int b) const { return cell(value_, a, b); }
  double slope(int a, int b) const { return cell(slope_, a, b); }
  double bend(int a, int b) const { return cell(bend_, a, b); }

 private:
  std::size_t size() const { return static_cast<std::size_t>((rows_ + 1) * (columns_ + 1)); }
  std::size_t index(int a, int b) const { return static_cast<std::size_t>(a * (columns_ + 1) + b); }
  double cell(const std::vector<double>& x, int a, int b) const {
    return x[index(a + 1, b + 1)] - x[index(a, b + 1)] - x[index(a + 1, b)] + x[index(a, b)];
  }
  const double *first_, *second_;
  int rows_, columns_;
  std::vector<double> below_first_, below_second_, value_, slope_, bend_;
};

constexpr double least_probability = 1e-15;  // rounding can take a tiny cell below 0

double density_at(const double* thresholds, int count) {
  double sum = 0.0;
  for (int c = 0; c < count; ++c)
    sum += normal_density(thresholds[c]);
  return sum;
}

}  // namespace

double normal_below(double x) {
  return 0.5 * std::erfc(-x / std::sqrt(2.0));
}

double normal_quantile(double p) {
  if (p <= 0.0) return -std::numeric_limits<double>::infinity();
  if (p >= 1.0) return std::numeric_limits<double>::infinity();
  const bool upper = p > 0.5;
  const double tail = upper ? 1.0 - p : p, t = std::sqrt(-2.0 * std::log(tail));
  double x = (2.515517 + t * (0.802853 + t * 0.010328)) /
                 (1.0 + t * (1.432788 + t * (0.189269 + t * 0.001308))) -
             t;
  for (int step = 0; step < 3; ++step) {
    const double u =
        (normal_below(x) - tail) * std::sqrt(2.0 * std::acos(-1.0)) * std::exp(0.5 * x * x);
    x -= u / (1.0 + 0.5 * x * u);
  }
  return upper ? -x : x;
}

std::vector<double> thresholds_from(const std::vector<double>& margin) {
  double total = 0.0, below = 0.0;
  for (double m : margin)
    total += m;
  std::vector<double> thresholds;
  for (std::size_t c = 0; c + 1 < margin.size(); ++c)
    thresholds.push_back(normal_quantile((below += margin[c]) / total));
  return thresholds;
}

double cut_covariance(const std::vector<double>& first, const std::vector<double>& rise_first,
                      const std::vector<double>& second, const std::vector<double>& rise_second,
                      double rho) {
  double sum = 0.0;
  const bool plain = std::fabs(rho) < near_one;
  const ArcSine quadrature(plain ? rho : 0.0);
  for (std::size_t c = 0; c < first.size(); ++c)
    for (std::size_t e = 0; e < second.size(); ++e) {
      // the quadrature is of what the correlation adds to the product of the two
      const double h = first[c], k = second[e];
      double more;
      if (plain && std::isfinite(h) && std::isfinite(k)) {
        more = quadrature.below(h, k, 0.0, 0.0);
      } else {
        const double below_h = normal_below(h), below_k = normal_below(k);
        more = (rho >= 1.0 ? std::min(below_h, below_k) : bivariate_below(h, k, rho)) -
               below_h * below_k;
      }
      sum += rise_first[c] * rise_second[e] * more;
    }
  return sum;
}

double bivariate_below(double h, double k, double rho) {
  if (std::isinf(h) || std::isinf(k)) {
    if (h == -INFINITY || k == -INFINITY) return 0.0;
    return std::isinf(h) ? normal_below(k) : normal_below(h);
  }
  if (std::fabs(rho) < near_one) return ArcSine(rho).below(h, k, normal_below(h), normal_below(k));
  return std::max(0.0, above_near_one(-h, -k, rho));
}

LatentCorrelation polychoric(const PairTable& table, const double* first, const double* second,
                             bool correct, const PolychoricStart& start) {
  std::vector<double> cells(table.cells, table.cells + table.rows * table.columns);
  const int empty = static_cast<int>(std::count(cells.begin(), cells.end(), 0.0));
  const bool corrected = correct && empty > 0 && table.rows == 2 && table.columns == 2;
  if (corrected)
    for (double& cell : cells)
      cell += 0.5;
  const PairTable used{table.rows, table.columns, table.people, cells.data()};
  std::vector<double> rank(most_categories);
  for (int c = 0; c < most_categories; ++c)
    rank[c] = c;
  const PairMoments moments = moments_of(used, rank.data(), rank.data());
  if (moments.square_first <= 0 || moments.square_second <= 0) {
    const double nothing = std::numeric_limits<double>::quiet_NaN();
    return {nothing, nothing, 0, empty, false, Fit::no_table};
  }
  Corners corners(first, used.rows, second, used.columns);
  // to the first order cut variables covary by rho times the densities at their thresholds
  const double rises = density_at(first, used.rows - 1) * density_at(second, used.columns - 1);
  const double begin = moments.product / moments.n / std::max(rises, least_probability);
  LatentCorrelation found = climb(
      std::isfinite(start.rho) ? start.rho : begin,
      [&](double rho, double& score, double& slope) {
        corners.at(rho);
        score = slope = 0;
        for (int a = 0; a < used.rows; ++a)
          for (int b = 0; b < used.columns; ++b) {
            if (used.at(a, b) <= 0) continue;
            const double p = std::max(corners.probability(a, b), least_probability),
                         ratio = corners.slope(a, b) / p;
            score += used.at(a, b) * ratio;
            slope += used.at(a, b) * (corners.bend(a, b) / p - ratio * ratio);
          }
      },
      start.tolerance);
  found.empty_cells = empty;
  found.corrected = corrected;
  return found;
}

LatentCorrelation polyserial(const double* z, const std::int8_t* codes, std::size_t people,
                             const double* weights, int categories, const double* thresholds,
                             bool rough) {
  static const NormalTable table;
  const auto below = [rough](double u, double& density) {
    if (rough) return table.at(u, density);
    density = normal_density(u);
    return normal_below(u);
  };
  double n = 0, sum_z = 0, sum_c = 0, zz = 0, cc = 0, zc = 0;
  for (std::size_t i = 0; i < people; ++i) {
    if (codes[i] < 0 || std::isnan(z[i])) continue;
    const double w = weights ? weights[i] : 1.0, c = codes[i];
    n += w;
    sum_z += w * z[i];
    sum_c += w * c;
    zz += w * z[i] * z[i];
    cc += w * c * c;
    zc += w * z[i] * c;
  }
  const double var_z = zz - sum_z * sum_z / n, var_c = cc - sum_c * sum_c / n;
  if (!(var_z > 0) || !(var_c > 0)) {
    const double nothing = std::numeric_limits<double>::quiet_NaN();
    return {nothing, nothing, 0, 0, false, Fit::no_table};
  }
  const double begin = (zc - sum_z * sum_c / n) / std::sqrt(var_z * n) /
                       std::max(density_at(thresholds, categories - 1), least_probability);
  const auto score_at = [&](double rho, double& score, double& slope) {
    const double rest = 1 - rho * rho, s = 1.0 / std::sqrt(rest), s3 = s / rest, s5 = s3 / rest;
    score = slope = 0;
    for (std::size_t i = 0; i < people; ++i) {
      const int c = codes[i];
      if (c < 0 || std::isnan(z[i])) continue;
      double p = 0, p1 = 0, p2 = 0;
      for (const int side : {0, 1}) {  // upper threshold minus lower one
        const bool open = side == 0 ? c == categories - 1 : c == 0;
        if (open) {
          p += side == 0 ? 1.0 : 0.0;
          continue;
        }
        const double t = thresholds[side == 0 ? c : c - 1], sign = side == 0 ? 1.0 : -1.0;
        const double u = (t - rho * z[i]) * s, u1 = (t * rho - z[i]) * s3;
        const double u2 = t * s3 + 3 * rho * (t * rho - z[i]) * s5;
        double density;
        p += sign * below(u, density);
        p1 += sign * density * u1;
        p2 += sign * density * (u2 - u * u1 * u1);
      }
      p = std::max(p, least_probability);
      const double w = weights ? weights[i] : 1.0, ratio = p1 / p;
      score += w * ratio;
      slope += w * (p2 / p - ratio * ratio);
    }
  };
  return climb(begin, score_at, rough ? 1e-3 : 1e-11);
}

}  // namespace softsieve
