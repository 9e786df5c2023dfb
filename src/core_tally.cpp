#include "core_tally.h"

#include "core_linear.h"
#include "core_random.h"
#include "core_threads.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numeric>

namespace softsieve {

using Eigen::MatrixXd;
using Eigen::VectorXd;

namespace {

// People are counted this many at a time: enough for bit planes to pay (fewer where all deals
// together would hold more than 64 MB), and little to hold for each deal.
constexpr std::size_t waiting_codes = 4096, waiting_least = 1024, waiting_values = 256;
constexpr std::size_t waiting_bytes = 64'000'000;

// How many of a block's items each person answered.
std::vector<int> answered_by(const TallyBlock& block, std::size_t items) {
  std::vector<int> answered(block.people, 0);
  for (std::size_t item = 0; item < items; ++item) {
    const std::int8_t* codes = block.codes + item * block.people;
    const double* values = block.values ? block.values + item * block.people : nullptr;
    for (std::size_t person = 0; person < block.people; ++person)
      answered[person] += codes[person] >= 0 || (values && !std::isnan(values[person]));
  }
  return answered;
}

// Columns of `stride` rows, of which the first `rows` are used, moved together.
template <typename T>
void close_up(std::vector<T>& x, std::size_t stride, std::size_t rows) {
  for (std::size_t from = stride, to = rows; from < x.size() && rows < stride;
       from += stride, to += rows)
    std::copy_n(x.begin() + static_cast<std::ptrdiff_t>(from), rows,
                x.begin() + static_cast<std::ptrdiff_t>(to));
}

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
  const std::size_t row = counted_.size() * static_cast<std::size_t>(shape_.deals);
  most_waiting_ = sums_                                  ? waiting_values
                  : waiting_codes * row <= waiting_bytes ? waiting_codes
                                                         : waiting_least;
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
  // who is in which deal, in the order in which they came: those of whom anything is counted
  const auto deals = static_cast<std::size_t>(shape_.deals);
  const int all = static_cast<int>(items_), least = shape_.complete ? all : 1;
  const std::vector<int> answered = answered_by(block, items_);
  std::vector<int> deal(block.people);
  std::vector<std::size_t> from(deals + 1, 0);
  for (std::size_t i = 0; i < block.people; ++i) {
    deal[i] = deal_of(block.numbers ? block.numbers[i] : first + i, shape_.deals);
    const double w = block.weights ? block.weights[i] : 1.0;
    DealtPeople& people = deals_[static_cast<std::size_t>(deal[i])].people;
    people.people += 1;
    people.weight += w;
    people.weight_square += w * w;
    people.whole += answered[i] == all;
    people.answering += answered[i] >= least;
    if (answered[i] >= least) ++from[static_cast<std::size_t>(deal[i]) + 1];
  }
  std::partial_sum(from.begin(), from.end(), from.begin());
  std::vector<std::size_t> next(from.begin(), from.end() - 1), order(from[deals]);
  for (std::size_t i = 0; i < block.people; ++i)
    if (answered[i] >= least) order[next[static_cast<std::size_t>(deal[i])]++] = i;

  // one item after the other, which the cache holds
  const std::size_t kept = order.size();
  std::vector<std::int8_t> codes(kept * counted_.size());
  std::vector<double> values(sums_ ? kept * items_ : 0), weights(kept, 1.0);
  const auto sort = [&](auto* to, const auto* column) {
    for (std::size_t i = 0; i < kept; ++i)
      to[i] = column[order[i]];
  };
  if (block.weights) sort(weights.data(), block.weights);
  auto make_sorter = [&] {
    return [&](std::size_t i) {
      if (i < counted_.size())
        sort(codes.data() + i * kept,
             block.codes + static_cast<std::size_t>(counted_[i]) * block.people);
      if (sums_) sort(values.data() + i * kept, block.values + i * block.people);
    };
  };
  run_replicates(items_, threads, make_sorter, watch_nothing);
  const TallyBlock sorted{codes.data(), values.data(), weights.data(), kept};
  auto make_worker = [&] {
    return [&](std::size_t d) { take(deals_[d], sorted, from[d], from[d + 1] - from[d]); };
  };
  run_replicates(deals, threads, make_worker, watch_nothing);
}

void Tally::take(Deal& deal, const TallyBlock& sorted, std::size_t from, std::size_t people) const {
  if (deal.weights.empty() && people) {
    deal.codes.resize(most_waiting_ * counted_.size());
    if (sums_) deal.values.resize(most_waiting_ * items_);
    deal.weights.resize(most_waiting_);
  }
  for (const std::size_t end = from + people; from < end;) {
    const std::size_t some = std::min(end - from, most_waiting_ - deal.waiting);
    const auto append = [&](auto& to, const auto* columns, std::size_t how_many) {
      for (std::size_t i = 0; i < how_many; ++i)
        std::copy_n(columns + i * sorted.people + from, some,
                    to.data() + i * most_waiting_ + deal.waiting);
    };
    append(deal.codes, sorted.codes, counted_.size());
    if (sums_) append(deal.values, sorted.values, items_);
    append(deal.weights, sorted.weights, 1);
    from += some;
    deal.waiting += some;
    if (deal.waiting == most_waiting_) count(deal);
  }
}

void Tally::settle(int threads) {
  auto make_worker = [&] { return [&](std::size_t d) { count(deals_[d]); }; };
  run_replicates(deals_.size(), threads, make_worker, watch_nothing);
}

void Tally::count(Deal& deal) const {
  if (!deal.waiting) return;
  close_up(deal.codes, most_waiting_, deal.waiting);
  close_up(deal.values, most_waiting_, deal.waiting);
  count_tables(deal);
  if (sums_) count_sums(deal);
  deal.waiting = 0;
}

void Tally::count_tables(Deal& deal) const {
  if (counted_.empty()) return;
  const std::size_t n = deal.waiting;
  CodedAnswers coded{deal.codes.data(), n, {}};
  for (const int item : counted_)
    coded.categories.push_back(shape_.categories[static_cast<std::size_t>(item)]);
  const PairVisitor add_up = [&](int i, int j, const PairTable& table) {
    double* cells = deal.cells.data() + place(counted_[static_cast<std::size_t>(i)],
                                              counted_[static_cast<std::size_t>(j)]);
    for (int cell = 0; cell < table.rows * table.columns; ++cell)
      cells[cell] += table.cells[cell];
  };
  const auto own = [&](std::size_t i) {
    return deal.cells.data() + own_[static_cast<std::size_t>(counted_[i])];
  };
  if (shape_.weighted) {
    visit_weighted_pairs(coded, deal.weights.data(), 1, add_up, watch_nothing);
    for (std::size_t i = 0; i < counted_.size(); ++i)
      for (std::size_t person = 0; person < n; ++person) {
        const std::int8_t code = coded.codes[i * n + person];
        if (code >= 0) own(i)[code] += deal.weights[person];
      }
    return;
  }
  const AnswerPlanes planes(coded, 1);
  planes.visit_pairs(1, add_up, watch_nothing);
  for (std::size_t i = 0; i < counted_.size(); ++i) {
    const std::vector<double> margin = planes.margin(static_cast<int>(i));
    std::transform(margin.begin(), margin.end(), own(i), own(i), std::plus<double>());
  }
}

void Tally::count_sums(Deal& deal) const {
  const auto n = static_cast<Eigen::Index>(deal.waiting), p = static_cast<Eigen::Index>(items_);
  const Eigen::Map<const MatrixXd> all(deal.values.data(), n, p);
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
