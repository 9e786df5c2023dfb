#include "core_subsets.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <limits>
#include <numeric>

namespace softsieve {

namespace {

constexpr double same_value = 1e-12;

class Search {
 public:
  explicit Search(const SubsetPlan& plan) : plan_(plan), p_(plan.covariances.rows()) {
    gain_ =
        plan.covariances.rowwise().sum() - plan.covariances.diagonal() + plan.loadings.cwiseAbs2();
    whole_ = plan.covariances.sum();
    // items that promise most come first, so that good sets are met early
    order_.resize(static_cast<std::size_t>(p_));
    std::iota(order_.begin(), order_.end(), 0);
    const Eigen::VectorXd promise =
        plan.measure == SubsetMeasure::omega
            ? Eigen::VectorXd(plan.loadings.array() / plan.uniquenesses.array().sqrt())
            : Eigen::VectorXd(gain_.array() / plan.covariances.diagonal().array().sqrt());
    std::stable_sort(order_.begin(), order_.end(),
                     [&](int a, int b) { return promise[a] > promise[b]; });
    int facets = 0;
    for (const int f : plan.facet)
      facets = std::max(facets, f + 1);
    wanted_.assign(static_cast<std::size_t>(facets), plan.least);
    for (int f = 0; f < facets; ++f) {
      const auto there = std::count(plan.facet.begin(), plan.facet.end(), f);
      wanted_[static_cast<std::size_t>(f)] = std::min<int>(plan.least, static_cast<int>(there));
    }
    least_pair_ = std::numeric_limits<double>::infinity();
    for (Eigen::Index i = 0; i < p_; ++i)
      for (Eigen::Index j = 0; j < i; ++j)
        least_pair_ = std::min(least_pair_, plan.covariances(i, j));
    prepare();
  }

  std::vector<Subset> run(double& count) {
    count_ = 0;
    with_chosen_ = Eigen::VectorXd::Zero(p_);
    step(0, 0.0, 0.0);
    count = count_;
    return best_;
  }

 private:
  // For every place in the order: sums of the r largest gains (or loadings) and of the r smallest
  // uniquenesses (or variances) of the items from there on.
  void prepare() {
    const auto n = static_cast<std::size_t>(p_);
    const bool omega = plan_.measure == SubsetMeasure::omega;
    most_.assign(n + 1, {});
    fewest_.assign(n + 1, {});
    for (std::size_t from = 0; from <= n; ++from) {
      std::vector<double> high, low;
      for (std::size_t i = from; i < n; ++i) {
        const int item = order_[i];
        high.push_back(omega ? plan_.loadings[item] : gain_[item]);
        low.push_back(omega ? plan_.uniquenesses[item] : plan_.covariances(item, item));
      }
      std::sort(high.begin(), high.end(), [](double a, double b) { return a > b; });
      std::sort(low.begin(), low.end());
      most_[from].assign(1, 0.0);
      fewest_[from].assign(1, 0.0);
      for (std::size_t r = 0; r < high.size(); ++r) {
        most_[from].push_back(most_[from][r] + high[r]);
        fewest_[from].push_back(fewest_[from][r] + low[r]);
      }
    }
  }

  double value_of(double top, double bottom) const {
    if (plan_.measure == SubsetMeasure::omega) return top * top / (top * top + bottom);
    return bottom > 0 ? top / std::sqrt(bottom * whole_) : 0.0;
  }

  // What the best of this branch can come to, at most.
  double bound(std::size_t from, std::size_t left, double top, double bottom) const {
    const double high = top + most_[from][left];
    if (high <= 0) return plan_.measure == SubsetMeasure::omega ? 1.0 : 0.0;
    if (plan_.measure == SubsetMeasure::omega) return value_of(high, bottom + fewest_[from][left]);
    double least = bottom + fewest_[from][left];
    const auto r = static_cast<double>(left);
    least += r * (r - 1) * least_pair_;
    double with = std::numeric_limits<double>::infinity();
    for (std::size_t i = from; i < order_.size(); ++i)
      with = std::min(with, with_chosen_[order_[i]]);
    if (left) least += 2.0 * r * with;
    return least > 0 ? high / std::sqrt(least * whole_) : std::numeric_limits<double>::infinity();
  }

  bool can_still_do(std::size_t from, std::size_t left) const {
    std::size_t needed = 0;
    for (std::size_t i = from; i < order_.size(); ++i)
      needed += plan_.forced[static_cast<std::size_t>(order_[i])];
    if (needed > left || order_.size() - from < left) return false;
    std::size_t open = 0;
    for (std::size_t f = 0; f < wanted_.size(); ++f) {
      int there = 0;
      for (const int item : chosen_)
        there += plan_.facet[static_cast<std::size_t>(item)] == static_cast<int>(f);
      open += static_cast<std::size_t>(std::max(0, wanted_[f] - there));
    }
    return open <= left;
  }

  void keep(double value) {
    ++count_;
    Subset found{chosen_, value};
    std::sort(found.items.begin(), found.items.end());
    const auto before = [](const Subset& a, const Subset& b) {
      if (std::fabs(a.value - b.value) > same_value) return a.value > b.value;
      return a.items < b.items;
    };
    best_.insert(std::upper_bound(best_.begin(), best_.end(), found, before), found);
    if (best_.size() > static_cast<std::size_t>(plan_.best)) best_.pop_back();
  }

  void step(std::size_t from, double top, double bottom) {
    const std::size_t left = static_cast<std::size_t>(plan_.size) - chosen_.size();
    if (!can_still_do(from, left)) return;
    if (left == 0) {
      keep(value_of(top, bottom));
      return;
    }
    const bool full = best_.size() == static_cast<std::size_t>(plan_.best);
    if (full && bound(from, left, top, bottom) < best_.back().value - same_value) return;
    const int item = order_[from];
    const bool omega = plan_.measure == SubsetMeasure::omega;
    const double up = omega ? plan_.loadings[item] : gain_[item];
    const double down =
        omega ? plan_.uniquenesses[item] : plan_.covariances(item, item) + 2.0 * with_chosen_[item];
    chosen_.push_back(item);
    with_chosen_ += plan_.covariances.col(item);
    step(from + 1, top + up, bottom + down);
    with_chosen_ -= plan_.covariances.col(item);
    chosen_.pop_back();
    if (!plan_.forced[static_cast<std::size_t>(item)]) step(from + 1, top, bottom);
  }

  const SubsetPlan& plan_;
  Eigen::Index p_;
  Eigen::VectorXd gain_, with_chosen_;
  double whole_ = 0.0, least_pair_ = 0.0, count_ = 0.0;
  std::vector<int> order_, wanted_, chosen_;
  std::vector<std::vector<double>> most_, fewest_;
  std::vector<Subset> best_;
};

}  // namespace

std::vector<Subset> best_subsets(const SubsetPlan& plan, double& count) {
  return Search(plan).run(count);
}

}  // namespace softsieve
