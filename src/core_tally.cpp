#include "core_tally.h"

#include "core_linear.h"
#include "core_random.h"
#include "core_threads.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace softsieve {

using Eigen::MatrixXd;
using Eigen::VectorXd;

namespace {

// People are counted this many at a time: enough for bit planes to pay, and little to hold for each
// deal.
constexpr std::size_t waiting_codes = 1024, waiting_values = 256;

// The key under which people's numbers are drawn into deals.
constexpr std::uint64_t dealing_seed = 0x5eed0fdea15ULL;

}  // namespace

int deal_of(std::uint64_t person, int deals) {
  if (deals == 1) return 0;
  Stream stream(dealing_seed, person);
  return static_cast<int>(stream.bits() % static_cast<std::uint64_t>(deals));
}

Tally::Tally(const TallyShape& shape)
    : shape_(shape), sums_(shape.weighted), items_(shape.categories.size()), size_(0) {
  for (std::size_t i = 0; i < items_; ++i) {
    if (shape_.categories[i])
      counted_.push_back(static_cast<int>(i));
    else
      sums_ = true;
  }
  most_waiting_ = sums_ ? waiting_values : waiting_codes;
  place_.assign(items_ * items_, 0);
  for (std::size_t i = 0; i < items_; ++i)
    for (std::size_t j = i + 1; j < items_; ++j) {
      place_[i * items_ + j] = size_;
      size_ += static_cast<std::size_t>(shape_.categories[i] * shape_.categories[j]);
    }
  for (std::size_t i = 0; i < items_; ++i) {
    own_.push_back(size_);
    size_ += static_cast<std::size_t>(shape_.categories[i]);
  }
  const auto p = static_cast<Eigen::Index>(items_);
  const MatrixXd none = MatrixXd::Zero(sums_ ? p : 0, sums_ ? p : 0);
  deals_.resize(static_cast<std::size_t>(shape_.deals));
  for (Deal& deal : deals_) {
    deal.cells.assign(size_, 0.0);
    deal.sums = {none, none, none, none, none, VectorXd::Zero(sums_ ? p : 0)};
  }
}

std::size_t Tally::place(int first, int second) const {
  return place_[static_cast<std::size_t>(first) * items_ + static_cast<std::size_t>(second)];
}

void Tally::add(const TallyBlock& block, std::uint64_t first, int threads) {
  // who is in which deal, in the order in which they came
  const auto deals = static_cast<std::size_t>(shape_.deals);
  std::vector<int> deal(block.people);
  std::vector<std::size_t> from(deals + 1, 0), order(block.people);
  for (std::size_t i = 0; i < block.people; ++i) {
    deal[i] = deal_of(block.numbers ? block.numbers[i] : first + i, shape_.deals);
    ++from[static_cast<std::size_t>(deal[i]) + 1];
  }
  std::partial_sum(from.begin(), from.end(), from.begin());
  std::vector<std::size_t> next(from.begin(), from.end() - 1);
  for (std::size_t i = 0; i < block.people; ++i)
    order[next[static_cast<std::size_t>(deal[i])]++] = i;
  auto make_worker = [&] {
    return [&](std::size_t d) {
      for (std::size_t i = from[d]; i < from[d + 1]; ++i)
        take(deals_[d], block, order[i]);
    };
  };
  run_replicates(deals, threads, make_worker, watch_nothing);
}

void Tally::take(Deal& deal, const TallyBlock& block, std::size_t person) const {
  std::size_t answered = 0;
  const std::int8_t* codes = block.codes + person * items_;
  const double* values = block.values ? block.values + person * items_ : nullptr;
  for (std::size_t i = 0; i < items_; ++i)
    answered += codes[i] >= 0 || (values && !std::isnan(values[i]));
  const double w = block.weights ? block.weights[person] : 1.0;
  deal.people.people += 1;
  deal.people.weight += w;
  deal.people.weight_square += w * w;
  deal.people.whole += answered == items_;
  deal.people.answering += shape_.complete ? answered == items_ : answered > 0;
  if (!answered || (shape_.complete && answered < items_)) return;
  if (deal.codes.empty()) {
    deal.codes.resize(most_waiting_ * items_);
    if (sums_) deal.values.resize(most_waiting_ * items_);
    deal.weights.resize(most_waiting_);
  }
  const auto at = static_cast<std::ptrdiff_t>(deal.waiting * items_);
  std::copy(codes, codes + items_, deal.codes.begin() + at);
  if (sums_) std::copy(values, values + items_, deal.values.begin() + at);
  deal.weights[deal.waiting] = w;
  if (++deal.waiting == most_waiting_) count(deal);
}

void Tally::settle(int threads) {
  auto make_worker = [&] { return [&](std::size_t d) { count(deals_[d]); }; };
  run_replicates(deals_.size(), threads, make_worker, watch_nothing);
}

void Tally::count(Deal& deal) const {
  if (!deal.waiting) return;
  count_tables(deal);
  if (sums_) count_sums(deal);
  deal.waiting = 0;
}

void Tally::count_tables(Deal& deal) const {
  if (counted_.empty()) return;
  const std::size_t n = deal.waiting;
  std::vector<std::int8_t> codes(n * counted_.size());
  CodedAnswers coded{nullptr, n, {}};
  for (std::size_t i = 0; i < counted_.size(); ++i) {
    const auto item = static_cast<std::size_t>(counted_[i]);
    for (std::size_t person = 0; person < n; ++person)
      codes[i * n + person] = deal.codes[person * items_ + item];
    coded.categories.push_back(shape_.categories[item]);
  }
  coded.codes = codes.data();
  for (std::size_t i = 0; i < counted_.size(); ++i) {
    double* own = deal.cells.data() + own_[static_cast<std::size_t>(counted_[i])];
    for (std::size_t person = 0; person < n; ++person)
      if (codes[i * n + person] >= 0) own[codes[i * n + person]] += deal.weights[person];
  }
  const PairVisitor add_up = [&](int i, int j, const PairTable& table) {
    double* cells = deal.cells.data() + place(counted_[static_cast<std::size_t>(i)],
                                              counted_[static_cast<std::size_t>(j)]);
    for (int cell = 0; cell < table.rows * table.columns; ++cell)
      cells[cell] += table.cells[cell];
  };
  if (shape_.weighted)
    visit_weighted_pairs(coded, deal.weights.data(), 1, add_up, watch_nothing);
  else
    AnswerPlanes(coded, 1).visit_pairs(1, add_up, watch_nothing);
}

void Tally::count_sums(Deal& deal) const {
  const auto n = static_cast<Eigen::Index>(deal.waiting), p = static_cast<Eigen::Index>(items_);
  using ByPeople = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
  const MatrixXd all = Eigen::Map<const ByPeople>(deal.values.data(), n, p);
  const MatrixXd seen = all.array().isNaN().select(0.0, MatrixXd::Ones(n, p));
  const MatrixXd z = all.array().isNaN().select(0.0, all);
  const Eigen::Map<const VectorXd> w(deal.weights.data(), n);
  const MatrixXd weighed = w.asDiagonal() * z;
  PairSums& s = deal.sums;
  s.people.noalias() += seen.transpose() * seen;
  s.weight.noalias() += (w.asDiagonal() * seen).transpose() * seen;
  s.sum.noalias() += weighed.transpose() * seen;
  s.square.noalias() += weighed.cwiseProduct(z).transpose() * seen;
  s.product.noalias() += weighed.transpose() * z;
  s.cube += weighed.cwiseProduct(z).cwiseProduct(z).colwise().sum().transpose();
}

}  // namespace softsieve
