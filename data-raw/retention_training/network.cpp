// Trains a network of one hidden layer (tanh) and one logistic output by Adam (Kingma & Ba 2015) on
// mini-batches. Weighted log loss; deterministic for a seed.
#include "core_random.h"

#include <Eigen/Core>
#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <numeric>
#include <vector>

using Eigen::MatrixXf;
using Eigen::VectorXf;

namespace {

struct Moments {
  MatrixXf first, second;
  explicit Moments(const MatrixXf& like) : first(MatrixXf::Zero(like.rows(), like.cols())), second(first) {}
  void step(MatrixXf& weights, const MatrixXf& gradient, float rate, int t) {
    first = 0.9f * first + 0.1f * gradient;
    second = 0.999f * second + 0.001f * gradient.cwiseProduct(gradient);
    const float c1 = 1.0f - std::pow(0.9f, static_cast<float>(t)), c2 = 1.0f - std::pow(0.999f, static_cast<float>(t));
    weights.array() -= rate * (first.array() / c1) / ((second.array() / c2).sqrt() + 1e-8f);
  }
};

}  // namespace

// x: rows x inputs, standardised; y: 0 or 1. Returns the weights: hidden x (inputs + 1) and 1 x (hidden + 1),
// the last column being the constant. The learning rate falls from `rate` to a hundredth as a half cosine.
// [[Rcpp::export]]
Rcpp::List train_network(const Rcpp::NumericMatrix& x, const Rcpp::NumericVector& y, int hidden, int epochs, int batch,
                         double rate, double decay, double seed) {
  const int rows = x.nrow(), inputs = x.ncol();
  MatrixXf data(inputs + 1, rows);
  for (int i = 0; i < rows; ++i) {
    for (int f = 0; f < inputs; ++f) data(f, i) = static_cast<float>(x(i, f));
    data(inputs, i) = 1.0f;
  }
  softsieve::Stream stream(static_cast<std::uint64_t>(seed), 0);
  MatrixXf first(hidden, inputs + 1), second(1, hidden + 1);
  for (Eigen::Index i = 0; i < first.size(); ++i) first.data()[i] = static_cast<float>(stream.normal() / std::sqrt(inputs + 1.0));
  for (Eigen::Index i = 0; i < second.size(); ++i) second.data()[i] = static_cast<float>(stream.normal() / std::sqrt(hidden + 1.0));
  Moments of_first(first), of_second(second);
  std::vector<int> order(rows);
  std::iota(order.begin(), order.end(), 0);
  const int steps = (rows + batch - 1) / batch, total = steps * epochs;
  int t = 0;
  for (int epoch = 0; epoch < epochs; ++epoch) {
    for (int i = rows - 1; i > 0; --i) std::swap(order[i], order[static_cast<int>((i + 1) * stream.uniform())]);
    for (int s = 0; s < steps; ++s) {
      const int from = s * batch, size = std::min(batch, rows - from);
      MatrixXf in(inputs + 1, size), middle(hidden + 1, size);
      for (int b = 0; b < size; ++b) in.col(b) = data.col(order[from + b]);
      middle.topRows(hidden) = (first * in).array().tanh();
      middle.row(hidden).setOnes();
      MatrixXf error = second * middle;
      for (int b = 0; b < size; ++b) error(0, b) = 1.0f / (1.0f + std::exp(-error(0, b))) - static_cast<float>(y[order[from + b]]);
      error /= static_cast<float>(size);
      const MatrixXf back = (second.leftCols(hidden).transpose() * error).array() * (1.0f - middle.topRows(hidden).array().square());
      ++t;
      const float now = static_cast<float>(rate * (0.01 + 0.99 * 0.5 * (1.0 + std::cos(3.14159265 * t / total))));
      MatrixXf g1 = back * in.transpose(), g2 = error * middle.transpose();
      g1 += static_cast<float>(decay) * first;
      g2 += static_cast<float>(decay) * second;
      of_first.step(first, g1, now, t);
      of_second.step(second, g2, now, t);
    }
    Rcpp::checkUserInterrupt();
  }
  Rcpp::NumericMatrix to_hidden(hidden, inputs + 1), to_output(1, hidden + 1);
  std::copy(first.data(), first.data() + first.size(), to_hidden.begin());
  std::copy(second.data(), second.data() + second.size(), to_output.begin());
  return Rcpp::List::create(Rcpp::Named("hidden") = to_hidden, Rcpp::Named("output") = to_output);
}
