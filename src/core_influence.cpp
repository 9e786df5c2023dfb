#include "core_influence.h"

#include "core_linear.h"
#include "core_polychoric.h"
#include "core_product.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <memory>

namespace softsieve {

namespace {

using Eigen::Index;
using Eigen::MatrixXd;
using Eigen::VectorXd;

// Columns of a sum of products that one worker makes, and units that are held at once.
constexpr std::size_t stripe = 192;
constexpr std::size_t held = 256;

// A pair of Pearson: means, one over the deviations, the correlation and n / n_pair.
struct PlainPair {
  double mean_i, mean_j, by_i, by_j, r, share;
};

PlainPair plain_pair(const MatrixXd& x, const double* weights, Index i, Index j) {
  double n = 0, all = 0, sum_i = 0, sum_j = 0;
  for (Index person = 0; person < x.rows(); ++person) {
    const double w = weights ? weights[person] : 1.0;
    all += w;
    if (std::isnan(x(person, i)) || std::isnan(x(person, j))) continue;
    n += w;
    sum_i += w * x(person, i);
    sum_j += w * x(person, j);
  }
  PlainPair pair{sum_i / n, sum_j / n, 0, 0, 0, all / n};
  double square_i = 0, square_j = 0, product = 0;
  for (Index person = 0; person < x.rows(); ++person) {
    const double a = x(person, i) - pair.mean_i, b = x(person, j) - pair.mean_j;
    if (std::isnan(a) || std::isnan(b)) continue;
    const double w = weights ? weights[person] : 1.0;
    square_i += w * a * a;
    square_j += w * b * b;
    product += w * a * b;
  }
  pair.by_i = square_i > 0 ? std::sqrt(n / square_i) : 0;
  pair.by_j = square_j > 0 ? std::sqrt(n / square_j) : 0;
  pair.r = product / n * pair.by_i * pair.by_j;
  return pair;
}

// The probabilities of a pair's cells and what follows: how much a person in a cell, and in a
// category of either item, moves the correlation.
struct CellInfluence {
  std::vector<double> both, first, second;  // both: rows x columns, row-major
};

double density_at(double h, double k, double rho) {
  if (std::isinf(h) || std::isinf(k)) return 0;
  const double root = 1 - rho * rho;
  return std::exp(-(h * h - 2 * rho * h * k + k * k) / (2 * root)) /
         (8 * std::atan(1.0) * std::sqrt(root));
}

std::vector<double> with_ends(const std::vector<double>& thresholds) {
  const double beyond = std::numeric_limits<double>::infinity();
  std::vector<double> out{-beyond};
  out.insert(out.end(), thresholds.begin(), thresholds.end());
  out.push_back(beyond);
  return out;
}

// What a person in each category of the item whose thresholds are `own` does through them.
// score(a, c): of the cell of category a of this item and c of the other.
template <class Score>
std::vector<double> through_thresholds(const std::vector<double>& own,
                                       const std::vector<double>& other, double rho,
                                       double information, Score score) {
  const double root = std::sqrt(1 - rho * rho);
  const std::size_t last = own.size() - 1;  // categories of this item
  std::vector<double> out(last, 0.0);
  for (std::size_t t = 1; t < last; ++t) {
    double pull = 0;
    for (std::size_t c = 0; c + 1 < other.size(); ++c)
      pull += (normal_below((other[c + 1] - rho * own[t]) / root) -
               normal_below((other[c] - rho * own[t]) / root)) *
              (score(t - 1, c) - score(t, c));
    for (std::size_t a = 0; a < last; ++a)
      out[a] += pull / information * ((a < t ? 1.0 : 0.0) - normal_below(own[t]));
  }
  return out;
}

CellInfluence cell_influence(const std::vector<double>& first, const std::vector<double>& second,
                             double rho) {
  const std::vector<double> h = with_ends(first), k = with_ends(second);
  const std::size_t rows = h.size() - 1, columns = k.size() - 1;
  const auto over_corners = [&](auto value, std::size_t a, std::size_t b) {
    return value(a + 1, b + 1) - value(a, b + 1) - value(a + 1, b) + value(a, b);
  };
  MatrixXd below(rows + 1, columns + 1), density(rows + 1, columns + 1);
  for (std::size_t a = 0; a <= rows; ++a)
    for (std::size_t b = 0; b <= columns; ++b) {
      below(a, b) = bivariate_below(h[a], k[b], rho);
      density(a, b) = density_at(h[a], k[b], rho);
    }
  CellInfluence out;
  out.both.resize(rows * columns);
  double information = 0;
  for (std::size_t a = 0; a < rows; ++a)
    for (std::size_t b = 0; b < columns; ++b) {
      const double pi = std::max(over_corners(below, a, b), 1e-12);
      const double slope = over_corners(density, a, b);
      out.both[a * columns + b] = slope / pi;
      information += slope * slope / pi;
    }
  information = std::max(information, 1e-12);
  const std::vector<double> score = out.both;
  out.first = through_thresholds(
      h, k, rho, information, [&](std::size_t a, std::size_t c) { return score[a * columns + c]; });
  out.second = through_thresholds(
      k, h, rho, information, [&](std::size_t a, std::size_t c) { return score[c * columns + a]; });
  for (double& x : out.both)
    x /= information;
  return out;
}

}  // namespace

Influences pearson_influences(const MatrixXd& answers, const double* weights) {
  const std::size_t p = static_cast<std::size_t>(answers.cols());
  auto pairs = std::make_shared<std::vector<PlainPair>>();
  for (std::size_t j = 1; j < p; ++j)
    for (std::size_t i = 0; i < j; ++i)
      pairs->push_back(plain_pair(answers, weights, i, j));
  Influences out;
  out.people = static_cast<std::size_t>(answers.rows());
  out.length = pairs->size();
  const double* from = answers.data();
  const std::size_t people = out.people;
  out.add = [pairs, from, people, weights](std::size_t person, std::size_t end, double* to) {
    const double w = weights ? weights[person] : 1.0;
    for (std::size_t j = 1, at = 0; at < end; ++j) {
      const double y = from[j * people + person];
      if (std::isnan(y)) {
        at += j;
        continue;
      }
      for (std::size_t i = 0; i < j && at < end; ++i, ++at) {
        const double x = from[i * people + person];
        if (std::isnan(x)) continue;
        const PlainPair& pair = (*pairs)[at];
        const double a = (x - pair.mean_i) * pair.by_i, b = (y - pair.mean_j) * pair.by_j;
        to[at] += w * pair.share * (a * b - pair.r / 2 * (a * a + b * b));
      }
    }
  };
  return out;
}

Influences polychoric_influences(const Coding& coding, const MatrixXd& correlations,
                                 const std::vector<std::vector<double>>& thresholds,
                                 const double* weights) {
  const std::size_t p = coding.values.size(), people = coding.codes.size() / p;
  const std::int8_t* codes = coding.codes.data();
  const auto weight_of = [weights](std::size_t person) { return weights ? weights[person] : 1.0; };
  double all = 0;
  std::vector<double> seen(p, 0.0);
  for (std::size_t person = 0; person < people; ++person) {
    all += weight_of(person);
    for (std::size_t i = 0; i < p; ++i)
      if (codes[i * people + person] >= 0) seen[i] += weight_of(person);
  }
  auto cells = std::make_shared<std::vector<CellInfluence>>(p * (p - 1) / 2);
  for (std::size_t j = 1, at = 0; j < p; ++j)
    for (std::size_t i = 0; i < j; ++i, ++at) {
      const double rho = std::max(-rho_bound, std::min(rho_bound, correlations(i, j)));
      CellInfluence& cell = (*cells)[at] = cell_influence(thresholds[i], thresholds[j], rho);
      double both = 0;
      for (std::size_t person = 0; person < people; ++person)
        if (codes[i * people + person] >= 0 && codes[j * people + person] >= 0)
          both += weight_of(person);
      for (double& x : cell.both)
        x *= all / both;
      for (double& x : cell.first)
        x *= -all / seen[i];
      for (double& x : cell.second)
        x *= -all / seen[j];
    }
  Influences out;
  out.people = people;
  out.length = cells->size();
  out.add = [cells, codes, people, weights](std::size_t person, std::size_t end, double* to) {
    const double w = weights ? weights[person] : 1.0;
    for (std::size_t j = 1, at = 0; at < end; ++j) {
      const std::int8_t y = codes[j * people + person];
      for (std::size_t i = 0; i < j && at < end; ++i, ++at) {
        const std::int8_t x = codes[i * people + person];
        const CellInfluence& cell = (*cells)[at];
        double sum = 0;
        if (x >= 0 && y >= 0)
          sum += cell.both[static_cast<std::size_t>(x) * cell.second.size() +
                           static_cast<std::size_t>(y)];
        if (x >= 0) sum += cell.first[static_cast<std::size_t>(x)];
        if (y >= 0) sum += cell.second[static_cast<std::size_t>(y)];
        to[at] += w * sum;
      }
    }
  };
  return out;
}

namespace {

// The rows of units `from` to `to`, their first `end` numbers.
void fill_units(const Influences& influences, const std::vector<std::size_t>& first_of,
                std::size_t from, std::size_t to, std::size_t end, MatrixXd& block) {
  block.setZero();
  for (std::size_t unit = from; unit < to; ++unit)
    for (std::size_t person = first_of[unit]; person < first_of[unit + 1]; ++person)
      influences.add(person, end, block.col(static_cast<Index>(unit - from)).data());
}

}  // namespace

Status cross_products(const Influences& influences, const std::vector<std::size_t>& first_of,
                      int threads, const Watch& watch, MatrixXd& out) {
  const std::size_t q = influences.length, units = first_of.size() - 1;
  const std::size_t stripes = (q + stripe - 1) / stripe;
  out = MatrixXd::Zero(q, q);
  auto make_worker = [&] {
    return [&, block = MatrixXd(q, std::min(held, units))](std::size_t replicate) mutable {
      const std::size_t s = stripes - 1 - replicate;  // the longest first
      const Index begin = static_cast<Index>(s * stripe),
                  end = static_cast<Index>(std::min(q, (s + 1) * stripe));
      for (std::size_t from = 0; from < units; from += held) {
        const std::size_t to = std::min(units, from + held);
        fill_units(influences, first_of, from, to, static_cast<std::size_t>(end), block);
        const Index length = static_cast<Index>(q);
        add_product({end, end - begin, static_cast<Index>(to - from), block.data(), length,
                     block.data() + begin, length, 1, out.data() + begin * length, length});
      }
    };
  };
  const Status status = run_replicates(stripes, threads, make_worker, watch);
  for (std::size_t j = 0; j < q; ++j)  // the rest is the mirror image
    for (std::size_t i = 0; i < j; ++i)
      out(j, i) = out(i, j);
  return status;
}

MatrixXd unit_rows(const Influences& influences, const std::vector<std::size_t>& first_of,
                   const std::vector<std::size_t>& chosen) {
  MatrixXd out(chosen.size(), influences.length), one(influences.length, 1);
  for (std::size_t i = 0; i < chosen.size(); ++i) {
    fill_units(influences, first_of, chosen[i], chosen[i] + 1, influences.length, one);
    out.row(static_cast<Index>(i)) = one.col(0).transpose();
  }
  return out;
}

Status sums_of_squares(const Influences& influences, const std::vector<std::size_t>& first_of,
                       int threads, const Watch& watch, VectorXd& out) {
  // in pieces of units, added up in their order
  const std::size_t units = first_of.size() - 1, pieces = (units + 1023) / 1024;
  MatrixXd sums = MatrixXd::Zero(influences.length, pieces);
  auto make_worker = [&] {
    return [&, one = MatrixXd(influences.length, 1)](std::size_t piece) mutable {
      const std::size_t end = std::min(units, (piece + 1) * 1024);
      for (std::size_t unit = piece * 1024; unit < end; ++unit) {
        fill_units(influences, first_of, unit, unit + 1, influences.length, one);
        sums.col(static_cast<Index>(piece)).array() += one.col(0).array().square();
      }
    };
  };
  const Status status = run_replicates(pieces, threads, make_worker, watch);
  out = sums.rowwise().sum();
  return status;
}

void times_slopes(const Eigen::Ref<const MatrixXd>& m, const MatrixXd& loadings,
                  Eigen::Ref<MatrixXd> out) {
  const Index p = loadings.rows(), k = loadings.cols();
  for (Index j = 1, pair = 0; j < p; ++j)
    for (Index i = 0; i < j; ++i, ++pair)
      for (Index f = 0; f < k; ++f) {
        out.col(i * k + f) += loadings(j, f) * m.col(pair);
        out.col(j * k + f) += loadings(i, f) * m.col(pair);
      }
}

void weigh_pairs(const MatrixXd& inverse, const MatrixXd& spreads,
                 const Eigen::Ref<const MatrixXd>& m, Eigen::Ref<MatrixXd> out) {
  const Index p = inverse.rows();
  MatrixXd x = MatrixXd::Zero(p, p);
  for (Index column = 0; column < m.cols(); ++column) {
    for (Index j = 1, pair = 0; j < p; ++j)
      for (Index i = 0; i < j; ++i, ++pair)
        x(i, j) = x(j, i) = m(pair, column);
    const MatrixXd whole = product_of(product_of(inverse, x), inverse);
    const VectorXd taken = spreads * inverse.cwiseProduct(x).rowwise().sum();
    for (Index j = 1, pair = 0; j < p; ++j)
      for (Index i = 0; i < j; ++i, ++pair)
        out(pair, column) = whole(i, j) - inverse(i, j) * (taken(i) + taken(j));
  }
}

}  // namespace softsieve
