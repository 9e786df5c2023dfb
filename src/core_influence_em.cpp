#include "core_influence.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>

// The influences of people on correlations by EM (core_influence.h).
namespace softsieve {

namespace {

using Eigen::Index;
using Eigen::MatrixXd;
using Eigen::VectorXd;

// People whose products are summed at once.
constexpr std::size_t at_once = 256;

// Where (a, b) stands among a matrix's lower triangle with its diagonal, by columns.
std::size_t vech_at(std::size_t a, std::size_t b, std::size_t p) {
  if (a < b) std::swap(a, b);
  return b * p - b * (b + 1) / 2 + a;
}

// People with gaps under EM: of each, u = A e (A: the inverse of the covariances of what was
// answered, 0 elsewhere; e: deviations from the means), and of each pattern of gaps vech(A).
struct Likelihood {
  MatrixXd u;                        // p x people
  std::vector<VectorXd> inverse;     // of each pattern
  std::vector<std::size_t> pattern;  // of each person; `none` for those without any answer
  std::vector<double> weights;
};
constexpr std::size_t none = static_cast<std::size_t>(-1);

VectorXd padded_inverse(const MatrixXd& covariances, const std::vector<int>& seen) {
  const std::size_t p = static_cast<std::size_t>(covariances.rows());
  const Index o = static_cast<Index>(seen.size());
  MatrixXd part(o, o);
  for (Index b = 0; b < o; ++b)
    for (Index a = 0; a < o; ++a)
      part(a, b) = covariances(seen[a], seen[b]);
  const MatrixXd inverse = part.llt().solve(MatrixXd::Identity(o, o));
  VectorXd out = VectorXd::Zero(static_cast<Index>(p * (p + 1) / 2));
  for (Index b = 0; b < o; ++b)
    for (Index a = b; a < o; ++a)
      out[static_cast<Index>(vech_at(seen[a], seen[b], p))] = inverse(a, b);
  return out;
}

std::shared_ptr<Likelihood> gather_likelihood(const MatrixXd& x, const double* weights,
                                              const VectorXd& means, const MatrixXd& covariances) {
  auto out = std::make_shared<Likelihood>();
  const Index p = x.cols();
  out->u = MatrixXd::Zero(p, x.rows());
  out->weights.assign(static_cast<std::size_t>(x.rows()), 1.0);
  std::map<std::vector<int>, std::size_t> known;
  for (Index i = 0; i < x.rows(); ++i) {
    std::vector<int> seen;
    for (int j = 0; j < p; ++j)
      if (!std::isnan(x(i, j))) seen.push_back(j);
    if (weights) out->weights[i] = weights[i];
    if (seen.empty()) {
      out->pattern.push_back(none);
      continue;
    }
    const auto put = known.emplace(seen, out->inverse.size());
    if (put.second) out->inverse.push_back(padded_inverse(covariances, seen));
    const std::size_t at = put.first->second;
    out->pattern.push_back(at);
    for (int a : seen) {
      double sum = 0;
      for (int b : seen)
        sum += out->inverse[at][vech_at(a, b, p)] * (x(i, b) - means[b]);
      out->u(a, i) = sum;
    }
  }
  return out;
}

// Minus the second derivatives of the log-likelihood by means and covariances (vech). With C = sum
// w vech(A) vech(uu' - A / 2)', of covariances (a, b) and (c, d): C(bc, ad) + C(bd, ac) + C(ac, bd)
// + C(ad, bc), halved for each of the two that is a variance.
MatrixXd observed_information(const Likelihood& known) {
  const std::size_t p = static_cast<std::size_t>(known.u.rows()), v = p * (p + 1) / 2;
  MatrixXd c = MatrixXd::Zero(v, v), across = MatrixXd::Zero(v, p);
  VectorXd inverse_sum = VectorXd::Zero(v);
  const std::size_t people = known.pattern.size();
  for (std::size_t from = 0; from < people; from += at_once) {
    const std::size_t count = std::min(at_once, people - from);
    MatrixXd a = MatrixXd::Zero(v, count), b = MatrixXd::Zero(v, count),
             u = MatrixXd::Zero(p, count);
    for (std::size_t i = 0; i < count; ++i) {
      const std::size_t person = from + i;
      if (known.pattern[person] == none) continue;
      const auto own = known.u.col(person);
      a.col(i) = known.weights[person] * known.inverse[known.pattern[person]];
      for (std::size_t column = 0, at = 0; column < p; ++column)
        for (std::size_t row = column; row < p; ++row, ++at)
          b(at, i) = own[row] * own[column];
      b.col(i) -= 0.5 * known.inverse[known.pattern[person]];
      u.col(i) = own;
    }
    c.noalias() += a * b.transpose();
    across.noalias() += a * u.transpose();
    inverse_sum += a.rowwise().sum();
  }
  MatrixXd out(p + v, p + v);
  for (std::size_t i = 0; i < p; ++i)
    for (std::size_t j = 0; j < p; ++j)
      out(i, j) = inverse_sum[vech_at(i, j, p)];
  for (std::size_t b = 0, column = p; b < p; ++b)
    for (std::size_t a = b; a < p; ++a, ++column) {
      const double half = a == b ? 0.5 : 1.0;
      for (std::size_t i = 0; i < p; ++i) {
        const double x = half * (across(vech_at(i, a, p), b) + across(vech_at(i, b, p), a));
        out(i, column) = out(column, i) = x;
      }
      for (std::size_t d = 0, row = p; d < p; ++d)
        for (std::size_t e = d; e < p; ++e, ++row) {
          if (row > column) continue;
          const std::size_t ae = vech_at(a, e, p), bd = vech_at(b, d, p), ad = vech_at(a, d, p),
                            be = vech_at(b, e, p);
          out(row, column) = out(column, row) =
              half * (e == d ? 0.5 : 1.0) * (c(be, ad) + c(bd, ae) + c(ae, bd) + c(ad, be));
        }
    }
  return out;
}

// d r / d (means, covariances): q x (p + v).
MatrixXd correlation_slopes(const MatrixXd& covariances) {
  const std::size_t p = static_cast<std::size_t>(covariances.rows());
  MatrixXd out = MatrixXd::Zero(p * (p - 1) / 2, p + p * (p + 1) / 2);
  for (std::size_t j = 1, row = 0; j < p; ++j)
    for (std::size_t i = 0; i < j; ++i, ++row) {
      const double vi = covariances(i, i), vj = covariances(j, j);
      const double by = 1 / std::sqrt(vi * vj), r = covariances(i, j) * by;
      out(row, p + vech_at(i, j, p)) = by;
      out(row, p + vech_at(i, i, p)) = -r / (2 * vi);
      out(row, p + vech_at(j, j, p)) = -r / (2 * vj);
    }
  return out;
}

}  // namespace

LikelihoodInfluences likelihood_influences(const MatrixXd& answers, const double* weights,
                                           const VectorXd& means, const MatrixXd& covariances) {
  const std::size_t p = static_cast<std::size_t>(answers.cols());
  const auto known = gather_likelihood(answers, weights, means, covariances);
  LikelihoodInfluences out;
  out.scores.people = static_cast<std::size_t>(answers.rows());
  out.scores.length = p + p * (p + 1) / 2;
  out.scores.add = [known, p](std::size_t person, std::size_t end, double* to) {
    const std::size_t pattern = known->pattern[person];
    if (pattern == none) return;
    const double w = known->weights[person];
    const auto u = known->u.col(static_cast<Index>(person));
    const VectorXd& inverse = known->inverse[pattern];
    for (std::size_t i = 0; i < p && i < end; ++i)
      to[i] += w * u[i];
    for (std::size_t column = 0, at = 0; column < p; ++column)
      for (std::size_t row = column; row < p; ++row, ++at) {
        if (p + at >= end) return;
        to[p + at] += w * (row == column ? 0.5 : 1.0) * (u[row] * u[column] - inverse[at]);
      }
  };
  const Eigen::LDLT<MatrixXd> information(observed_information(*known));
  const VectorXd pivots = information.vectorD();
  out.singular = information.info() != Eigen::Success || !(pivots.minCoeff() > 0);
  if (out.singular) return out;
  double all = 0;
  for (double w : known->weights)
    all += w;
  out.carried = all * information.solve(correlation_slopes(covariances).transpose());
  return out;
}

}  // namespace softsieve
