#include "core_features.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <utility>

namespace softsieve {

using Eigen::VectorXd;

namespace {

// A number of any size and sign made comparable: the sign times ln(1 + size).
double tame(double x) {
  return std::copysign(std::log1p(std::fabs(x)), x);
}

double signed_root(double x) {
  return std::copysign(std::sqrt(std::fabs(x)), x);
}

// The eigenvalue of rank j (from 0) beyond which noise does not reach, given the larger ones: the
// empirical Kaiser criterion's reference (Braeken & van Assen 2017, Psychol. Methods 22, 450-466).
double kaiser_reference(const VectorXd& eigenvalues, int j, int n) {
  const double p = static_cast<double>(eigenvalues.size()), edge = 1.0 + std::sqrt(p / n);
  return std::max(1.0, (p - eigenvalues.head(j).sum()) / (p - j) * edge * edge);
}

// Everything that rows of features are made from.
struct Sight {
  const Evidence& evidence;
  const int n, p, most, last;
  VectorXd chance, chance_reduced;

  Sight(const Evidence& e, int people, int rows)
      : evidence(e),
        n(people),
        p(static_cast<int>(e.eigenvalues.size())),
        most(rows),
        last(static_cast<int>(e.ladder.size()) - 1),
        chance(chance_spectrum(people, p)) {
    // unrelated items have squared multiple correlations of (p - 1) / (n - 1) on average
    chance_reduced = chance.array() - (n - p) / (n - 1.0);
  }

  const Rung& rung(int k) const { return evidence.ladder[std::min(k, last)]; }
  double above(int j) const { return std::log(evidence.eigenvalues[j] / chance[j]); }
  double above_reduced(int j) const { return evidence.reduced[j] - chance_reduced[j]; }
  // beyond the noise of what is left when the larger eigenvalues are factors' own
  double sequential(int j) const {
    const double mean = evidence.eigenvalues.tail(p - j).mean();
    return beyond_noise(evidence.eigenvalues[j] / mean, n, p - j);
  }
  double kaiser(int j) const {
    return std::log(evidence.eigenvalues[j] / kaiser_reference(evidence.eigenvalues, j, n));
  }
  double df(int k) const { return 0.5 * ((p - k) * (p - k) - (p + k)); }
  // with Bartlett's correction
  double chi_square(int k) const {
    return std::max(1.0, n - 1 - (2.0 * p + 5.0) / 6.0 - 2.0 * k / 3.0) * rung(k).discrepancy;
  }
  double misfit(int k) const {
    return (chi_square(k) - df(k)) / std::sqrt(2.0 * std::max(1.0, df(k)));
  }
  double misfit_root(int k) const {
    return signed_root((chi_square(k) - df(k)) / (std::max(1.0, df(k)) * n));
  }
  double gain(int k) const { return n * (rung(k).discrepancy - rung(k + 1).discrepancy); }
  // how many leading eigenvalues pass
  int leading(const std::function<bool(int)>& holds) const {
    int j = 0;
    while (j <= most && holds(j))
      ++j;
    return j;
  }
};

using Row = std::vector<std::pair<const char*, double>>;

void add_eigenvalues(const Sight& s, int j, Row& row) {
  const VectorXd &e = s.evidence.eigenvalues, &p2 = s.evidence.partial_squares,
                 &p4 = s.evidence.partial_fourths;
  const auto far = [j](int suggested) { return std::max(-3, std::min(3, suggested - j)) / 2.0; };
  const Row found = {
      {"above", s.above(j)},
      {"above_next", s.above(j + 1)},
      {"above_before", j ? s.above(j - 1) : 1.0},
      {"reduced_above", s.above_reduced(j)},
      {"reduced_above_next", s.above_reduced(j + 1)},
      {"reduced_above_before", j ? s.above_reduced(j - 1) : 1.0},
      {"reduced_beyond_noise", tame(s.above_reduced(j) * std::sqrt(static_cast<double>(s.n)))},
      {"above_kaiser", s.kaiser(j)},
      {"above_kaiser_next", s.kaiser(j + 1)},
      {"sequential", tame(s.sequential(j))},
      {"sequential_next", tame(s.sequential(j + 1))},
      {"log_gap", std::log(e[j] / e[j + 1])},
      {"log_gap_next", std::log(e[j + 1] / e[j + 2])},
      {"log_partial_fall", std::log(p2[j] / p2[j + 1])},
      {"log_partial_fourth_fall", std::log(p4[j] / p4[j + 1])},
      {"from_chance", far(s.leading([&](int i) { return s.above(i) > 0.0; }))},
      {"from_reduced", far(s.leading([&](int i) { return s.above_reduced(i) > 0.0; }))},
      {"from_kaiser", far(s.leading([&](int i) { return s.kaiser(i) > 0.0; }))},
      {"from_sequential", far(s.leading([&](int i) { return s.sequential(i) > 0.98; }))},
      {"first_share", e[0] / s.p},
      {"squared_multiple", s.evidence.squared_multiple},
      {"log_people", std::log(s.n / 400.0)}};
  row.insert(row.end(), found.begin(), found.end());
}

void add_fit(const Sight& s, int j, Row& row) {
  const Rung &now = s.rung(j), &more = s.rung(j + 1), &two = s.rung(j + 2);
  const double gain_df = s.df(j) - s.df(j + 1), log_n = std::log(static_cast<double>(s.n));
  const Row found = {
      {"left", tame(beyond_noise(now.next, s.n, s.p - j))},
      {"left_second", tame(beyond_noise(now.second, s.n, s.p - j - 1))},
      {"left_next", tame(beyond_noise(more.next, s.n, s.p - j - 1))},
      {"log_left", std::log(now.next)},
      {"log_left_fall", std::log(now.next / more.next)},
      {"misfit", tame(s.misfit(j))},
      {"misfit_next", tame(s.misfit(j + 1))},
      {"misfit_root", s.misfit_root(j)},
      {"misfit_root_next", s.misfit_root(j + 1)},
      {"gain", tame(s.gain(j) / gain_df - 1.0)},
      {"gain_two", tame(s.n * (more.discrepancy - two.discrepancy) / gain_df - 1.0)},
      {"gain_beyond_bic", tame(s.gain(j) - gain_df * log_n)},
      {"gain_two_beyond_bic",
       tame(s.n * (more.discrepancy - two.discrepancy) - (gain_df - 1.0) * log_n)},
      {"log_share_of_null", std::log((s.chi_square(j) + 1.0) / (s.chi_square(0) + 1.0))},
      {"log_fall", std::log((s.chi_square(j + 1) + 1.0) / (s.chi_square(j) + 1.0))},
      {"residual", now.residual * 10.0},
      {"residual_next", more.residual * 10.0},
      {"log_residual_fall", std::log((more.residual + 1e-3) / (now.residual + 1e-3))},
      {"peak", now.peak},
      {"log_peak_fall", std::log((more.peak + 1e-3) / (now.peak + 1e-3))},
      {"log_spread", std::log(now.spread)},
      {"improper", now.proper ? 0.0 : 1.0},
      {"improper_next", more.proper ? 0.0 : 1.0}};
  row.insert(row.end(), found.begin(), found.end());
}

// What the two largest loadings have of a factor's sum of squares.
double share_of_pair(const Rung& rung) {
  const double first = rung.weakest_top[0], second = rung.weakest_top[1];
  return (first * first + second * second) / std::max(rung.weakest, 1e-12);
}

void add_weakest(const Sight& s, int j, Row& row) {
  const Rung &now = s.rung(j), &more = s.rung(j + 1), &two = s.rung(j + 2);
  const auto items = [](const Rung& rung) { return std::min(8, rung.weakest_items) / 4.0; };
  const Row found = {{"weakest_size", j ? std::log(now.weakest + 0.02) : 1.0},
                     {"weakest_mean", j ? now.weakest_mean : 1.0},
                     {"weakest_items", j ? items(now) : 1.0},
                     {"weakest_third", j ? now.weakest_top[2] : 1.0},
                     {"weakest_own", j ? now.weakest_own : 1.0},
                     {"weakest_elsewhere", j ? now.weakest_elsewhere : 0.0},
                     {"weakest_next_size", std::log(more.weakest + 0.02)},
                     {"weakest_next_mean", more.weakest_mean},
                     {"weakest_next_items", items(more)},
                     {"weakest_next_first", more.weakest_top[0]},
                     {"weakest_next_second", more.weakest_top[1]},
                     {"weakest_next_third", more.weakest_top[2]},
                     {"weakest_next_own", more.weakest_own},
                     {"weakest_next_pair", share_of_pair(more)},
                     {"weakest_next_elsewhere", more.weakest_elsewhere},
                     {"weakest_two_size", std::log(two.weakest + 0.02)},
                     {"weakest_two_mean", two.weakest_mean},
                     {"weakest_two_items", items(two)},
                     {"weakest_two_third", two.weakest_top[2]}};
  row.insert(row.end(), found.begin(), found.end());
}

}  // namespace

VectorXd chance_spectrum(int people, int items) {
  // the law's density by the angle t, x = 1 + g - 2 sqrt(g) cos t: sin^2 t / x, up to a constant
  constexpr int steps = 2000;
  const double pi = std::acos(-1.0), g = items / static_cast<double>(people);
  const auto at = [&](double t) { return 1.0 + g - 2.0 * std::sqrt(g) * std::cos(t); };
  VectorXd below(steps + 1);
  below[0] = 0.0;
  for (int i = 0; i < steps; ++i) {
    const double t = pi * (i + 0.5) / steps;
    below[i + 1] = below[i] + std::pow(std::sin(t), 2) / at(t);
  }
  below /= below[steps];
  VectorXd out(items);
  int step = 0;
  for (int i = 0; i < items; ++i) {
    const double share = (i + 0.5) / items;
    while (below[step + 1] < share)
      ++step;
    const double within = (share - below[step]) / (below[step + 1] - below[step]);
    out[items - 1 - i] = at(pi * (step + within) / steps);
  }
  return out;
}

double beyond_noise(double eigenvalue, int people, int items) {
  const double n = std::sqrt(people - 1.0), q = std::sqrt(std::max(1.0, 1.0 * items));
  const double centre = (n + q) * (n + q) / people;
  const double spread = (n + q) * std::cbrt(1.0 / n + 1.0 / q) / people;
  return (eigenvalue - centre) / spread;
}

Features features_of(const Evidence& evidence, int n, bool latent, int most) {
  const Sight sight(evidence, n, most);
  Features out;
  for (int j = 0; j <= most; ++j) {
    Row row;
    add_eigenvalues(sight, j, row);
    add_fit(sight, j, row);
    add_weakest(sight, j, row);
    row.push_back({"latent", latent ? 1.0 : 0.0});
    if (!j) {
      out.values.resize(most + 1, static_cast<Eigen::Index>(row.size()));
      for (const auto& one : row)
        out.names.push_back(one.first);
    }
    for (Eigen::Index f = 0; f < out.values.cols(); ++f)
      out.values(j, f) = row[static_cast<std::size_t>(f)].second;
  }
  return out;
}

}  // namespace softsieve
