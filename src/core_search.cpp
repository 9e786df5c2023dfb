#include "core_search.h"

#include "core_random.h"
#include "core_weighted.h"
#include "core_linear.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace softsieve {

namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr int most_searches = 250, least_searches = 12, batch = 10, meetings = 5, finished_ends = 3;
constexpr double coarse_gradient = 1e-6;
constexpr int coarse_steps = 40, coarse_cycles = 600;
constexpr double near = 0.4;  // the next eigenvalue over the last kept one
constexpr std::uint64_t even_draws = 1, spread_draws = 2;

// How many searches may be made: one costs O(p^3), so that with many items they are fewer.
int searches_for(Eigen::Index p) {
  const double few = 30.0 / static_cast<double>(p);
  return std::max(least_searches, static_cast<int>(most_searches * std::min(1.0, few * few)));
}

// The ends met so far, and the best of them.
class Ends {
 public:
  Ends(const FitFrom& fit, int k, int most) : fit_(fit), k_(k), most_(most) {}

  // Searches from `start`; true when that lowers the best.
  bool search(const VectorXd& start) {
    UniquenessFit end = fit_(k_, start, nullptr);
    ++searches_;
    if (!std::isfinite(end.discrepancy)) return false;
    const bool lower = ends_.empty() || end.discrepancy < best().discrepancy - slack(best());
    ends_.push_back(std::move(end));
    if (lower) best_ = ends_.size() - 1;
    return lower;
  }

  // Goes on from the lowest ends that are different places, and takes the lowest of what that
  // gives.
  void finish() {
    for (int round = 0; round < finished_ends; ++round) {
      std::size_t lowest = ends_.size();
      for (std::size_t i = 0; i < ends_.size(); ++i)
        if (!finished(ends_[i].discrepancy) &&
            (lowest == ends_.size() || ends_[i].discrepancy < ends_[lowest].discrepancy))
          lowest = i;
      if (lowest == ends_.size()) return;
      finished_.push_back(ends_[lowest].discrepancy);
      UniquenessFit end = fit_(k_, ends_[lowest].uniquenesses, &ends_[lowest]);
      end.iterations += ends_[lowest].iterations;
      if (!(end.discrepancy <= ends_[lowest].discrepancy + slack(end))) continue;
      ends_[lowest] = std::move(end);
      // of one place the finished end stands for all that met it
      if (round == 0 || ends_[lowest].discrepancy < best().discrepancy - slack(best()))
        best_ = lowest;
    }
  }

  bool used_up() const { return searches_ >= most_; }
  int searches() const { return searches_; }
  int met() const {
    return static_cast<int>(
        std::count_if(ends_.begin(), ends_.end(), [this](const UniquenessFit& end) {
          return end.discrepancy <= best().discrepancy + slack(best());
        }));
  }
  int apart() const { return searches_ - met(); }
  const UniquenessFit& best() const { return ends_[best_]; }
  bool any() const { return !ends_.empty(); }

 private:
  static double slack(const UniquenessFit& end) {
    return 1e-6 * (1.0 + std::fabs(end.discrepancy));
  }
  bool finished(double value) const {
    return std::any_of(finished_.begin(), finished_.end(), [value](double done) {
      return std::fabs(value - done) <= 1e-6 * (1.0 + std::fabs(done));
    });
  }
  const FitFrom& fit_;
  int k_, most_, searches_ = 0;
  std::size_t best_ = 0;
  std::vector<UniquenessFit> ends_;
  std::vector<double> finished_;
};

VectorXd drawn_evenly(const VectorXd& variance, std::uint64_t number) {
  Stream stream(even_draws, number);
  VectorXd psi(variance.size());
  for (Eigen::Index i = 0; i < psi.size(); ++i)
    psi[i] = variance[i] * (0.1 + 0.8 * stream.uniform());
  return psi;
}

VectorXd drawn_spread(const VectorXd& variance, const VectorXd& lowest, std::uint64_t number) {
  Stream stream(spread_draws, number);
  VectorXd psi(variance.size());
  for (Eigen::Index i = 0; i < psi.size(); ++i) {
    const double least = std::max(lowest[i], 1e-4 * variance[i]);
    psi[i] = least * std::pow(variance[i] / least, stream.uniform());
  }
  return psi;
}

// The solution with one factor less, the next eigenvector's part taken from its uniquenesses.
VectorXd from_fewer(const FitFrom& fit, const MatrixXd& r, int k, const VectorXd& lowest,
                    const VectorXd& usual) {
  const UniquenessFit fewer = fit(k - 1, usual, nullptr);
  const MatrixXd left = r - fewer.loadings * fewer.loadings.transpose();
  MatrixXd reduced = left;
  reduced.diagonal() -= fewer.uniquenesses;
  Eigen::SelfAdjointEigenSolver<MatrixXd> solver(reduced);
  const Eigen::Index last = r.rows() - 1;
  const VectorXd part =
      std::max(0.0, solver.eigenvalues()[last]) * solver.eigenvectors().col(last).cwiseAbs2();
  return (fewer.uniquenesses - part).cwiseMax(lowest);
}

bool at_bound(double psi, double lowest) {
  return psi <= lowest * (1.0 + 1e-6) + 1e-9;
}

bool improper(const UniquenessFit& fit, const VectorXd& lowest) {
  for (Eigen::Index i = 0; i < lowest.size(); ++i)
    if (at_bound(fit.uniquenesses[i], lowest[i])) return true;
  return false;
}

// Is the last factor hardly larger than what is left? Then others may do as well. Eigenvalues are
// those of Psi^-1/2 (R - Psi) Psi^-1/2.
bool faint(const UniquenessFit& fit, const MatrixXd& r, int k) {
  const VectorXd root = fit.uniquenesses.cwiseMax(1e-6).cwiseSqrt().cwiseInverse();
  const MatrixXd scaled = root.asDiagonal() * r * root.asDiagonal();
  const VectorXd values =
      Eigen::SelfAdjointEigenSolver<MatrixXd>(scaled, Eigen::EigenvaluesOnly).eigenvalues();
  const Eigen::Index p = r.rows();
  return values[p - 1 - k] - 1.0 > near * (values[p - k] - 1.0);
}

// Near its bound an item's uniqueness may rise or fall; on it least squares in logarithms would not
// move.
VectorXd put_near_bound(VectorXd psi, Eigen::Index item, const VectorXd& lowest,
                        const VectorXd& variance) {
  psi[item] = lowest[item] + 0.01 * variance[item];
  return psi;
}

void items_in_turn(Ends& ends, const VectorXd& usual, const VectorXd& lowest,
                   const VectorXd& variance) {
  std::vector<Eigen::Index> order(static_cast<std::size_t>(usual.size()));
  std::iota(order.begin(), order.end(), Eigen::Index{0});
  const VectorXd psi = ends.best().uniquenesses.cwiseQuotient(variance);
  std::stable_sort(order.begin(), order.end(),
                   [&](Eigen::Index a, Eigen::Index b) { return psi[a] < psi[b]; });
  for (Eigen::Index item : order) {
    if (ends.used_up()) return;
    ends.search(put_near_bound(usual, item, lowest, variance));
  }
}

// From the best end: one item less or more at the bound, or another in its place.
void exchange(Ends& ends, const VectorXd& usual, const VectorXd& lowest, const VectorXd& variance) {
  for (bool lower = true; lower && !ends.used_up();) {
    lower = false;
    const VectorXd psi = ends.best().uniquenesses;
    std::vector<Eigen::Index> held, room;
    for (Eigen::Index i = 0; i < psi.size(); ++i)
      (at_bound(psi[i], lowest[i]) ? held : room).push_back(i);
    std::vector<VectorXd> tries;
    for (Eigen::Index out : held) {
      VectorXd without = psi;
      without[out] = std::max(0.5 * variance[out], usual[out]);
      tries.push_back(without);
    }
    for (Eigen::Index in : room)
      tries.push_back(put_near_bound(psi, in, lowest, variance));
    for (const VectorXd& start : tries) {
      if (ends.used_up()) return;
      lower = ends.search(start) || lower;
    }
  }
}

void draw_more(Ends& ends, const VectorXd& lowest, const VectorXd& variance) {
  for (std::uint64_t number = 0; !ends.used_up();) {
    bool lower = false;
    for (int i = 0; i < batch; ++i)
      lower = ends.search(drawn_spread(variance, lowest, ++number)) || lower;
    if (!lower && ends.met() >= meetings) return;
  }
}

}  // namespace

VectorXd usual_uniquenesses(const MatrixXd& r) {
  const Eigen::Index p = r.rows();
  const VectorXd sd = r.diagonal().cwiseSqrt();
  Eigen::LLT<MatrixXd> cholesky(sd.cwiseInverse().asDiagonal() * r *
                                sd.cwiseInverse().asDiagonal());
  if (cholesky.info() == Eigen::Success &&
      MatrixXd(cholesky.matrixL()).diagonal().minCoeff() > 1e-6) {
    const VectorXd inverse = cholesky.solve(MatrixXd::Identity(p, p)).diagonal();
    return r.diagonal().cwiseQuotient(inverse);
  }
  MatrixXd size = (sd.cwiseInverse().asDiagonal() * r * sd.cwiseInverse().asDiagonal()).cwiseAbs();
  size.diagonal().setZero();
  return r.diagonal().array() * (1.0 - size.rowwise().maxCoeff().array());
}

SearchEnd search_uniquenesses(const FitFrom& fit, const MatrixXd& r, int k, const VectorXd& lowest,
                              const VectorXd& usual, const std::vector<VectorXd>& others,
                              const SearchPlan& plan) {
  const VectorXd variance = r.diagonal();
  Ends ends(fit, k, plan.most ? plan.most : searches_for(r.rows()));
  ends.search(usual);
  if (plan.random >= 0) {
    for (const VectorXd& start : others)
      ends.search(start);
    if (k > 1) ends.search(from_fewer(fit, r, k, lowest, usual));
    for (int i = 1; i <= plan.random; ++i)
      ends.search(drawn_evenly(variance, static_cast<std::uint64_t>(i)));
    const bool doubt =
        ends.apart() > 0 || improper(ends.best(), lowest) || faint(ends.best(), r, k);
    if (plan.thorough && ends.any() && doubt) {
      items_in_turn(ends, usual, lowest, variance);
      exchange(ends, usual, lowest, variance);
      draw_more(ends, lowest, variance);
    }
  }
  if (!ends.any()) {
    UniquenessFit nothing{};
    return {fit(k, usual, &nothing), ends.searches(), ends.searches()};
  }
  ends.finish();
  return {ends.best(), ends.searches(), ends.apart()};
}

SearchEnd search_discrepancy(const MatrixXd& r, int k, Discrepancy discrepancy,
                             const VectorXd& lowest, double tolerance, int max_iterations,
                             const SearchPlan& plan) {
  const VectorXd usual = usual_uniquenesses(r).cwiseMax(lowest);
  const FitFrom fit = [&](int factors, const VectorXd& start, const UniquenessFit* near_end) {
    return fit_uniquenesses(r, factors, discrepancy, start, lowest,
                            near_end ? tolerance : std::max(tolerance, coarse_gradient),
                            near_end ? max_iterations : std::min(max_iterations, coarse_steps));
  };
  std::vector<VectorXd> others;
  const bool least = discrepancy == Discrepancy::least_squares;
  if (plan.random >= 0 && (!least || Eigen::LLT<MatrixXd>(r).info() == Eigen::Success)) {
    const Discrepancy other = least ? Discrepancy::generalised : Discrepancy::least_squares;
    const UniquenessFit end = fit_uniquenesses(r, k, other, usual, lowest, 1e-4, 30);
    if (end.uniquenesses.allFinite()) others.push_back(end.uniquenesses);
  }
  return search_uniquenesses(fit, r, k, lowest, usual, others, plan);
}

namespace {

// Each loading in turn at its own minimum, sum_j r_ij l_j / sum_j l_j^2 over j != i, within the
// bound (Harman & Jones 1966): O(p^2) a round, and few rounds from a place that is near.
UniquenessFit one_factor_by_rows(const MatrixXd& r, VectorXd l) {
  const double most = std::sqrt(1.0 - one_factor_lowest);
  UniquenessFit fit{};
  double squares = l.squaredNorm();
  for (fit.iterations = 1; fit.iterations <= 300; ++fit.iterations) {
    double moved = 0.0;
    for (Eigen::Index i = 0; i < l.size(); ++i) {
      const double others = squares - l[i] * l[i];
      if (others < 1e-8) return fit;
      const double now =
          std::max(-most, std::min(most, (r.col(i).dot(l) - r(i, i) * l[i]) / others));
      moved = std::max(moved, std::fabs(now - l[i]));
      squares = others + now * now;
      l[i] = now;
    }
    fit.converged = moved < 1e-8;
    if (fit.converged) break;
  }
  fit.loadings = l;
  fit.uniquenesses = 1.0 - l.array().square();
  return fit;
}

}  // namespace

UniquenessFit fit_one_factor(const MatrixXd& r, OneFactor* memory) {
  if (memory && memory->loadings.size() == r.rows()) {
    UniquenessFit near = one_factor_by_rows(r, memory->loadings);
    if (near.converged) return near;
  }
  const VectorXd lowest = VectorXd::Constant(r.rows(), one_factor_lowest);
  const UniquenessFit fit =
      search_discrepancy(r, 1, Discrepancy::least_squares, lowest, 1e-8, 100, {1, true}).best;
  if (memory && memory->loadings.size() == 0) memory->loadings = fit.loadings.col(0);
  return fit;
}

SearchEnd search_weighted(const MatrixXd& r, const MatrixXd& weights, int k, const VectorXd& lowest,
                          double tolerance, int max_iterations, const SearchPlan& plan) {
  const VectorXd most = r.diagonal() - lowest;
  const FitFrom fit = [&](int factors, const VectorXd& start, const UniquenessFit* near_end) {
    MatrixXd loadings;
    if (near_end && near_end->loadings.size()) {
      loadings = near_end->loadings;
    } else {
      MatrixXd reduced = r;
      reduced.diagonal() -= start;
      Eigen::SelfAdjointEigenSolver<MatrixXd> solver(reduced);
      const VectorXd root = solver.eigenvalues().tail(factors).cwiseMax(1e-6).cwiseSqrt();
      loadings = solver.eigenvectors().rightCols(factors) * root.asDiagonal();
    }
    const WeightedFit rows = fit_weighted(
        r, weights, loadings, most, near_end ? tolerance : std::max(tolerance, coarse_gradient),
        near_end ? max_iterations : std::min(max_iterations, coarse_cycles));
    UniquenessFit end{};
    end.loadings = rows.loadings;
    end.uniquenesses = (r.diagonal() - rows.loadings.rowwise().squaredNorm()).cwiseMax(lowest);
    end.discrepancy = rows.discrepancy;
    end.gradient = rows.gradient;
    end.iterations = rows.iterations;
    end.converged = rows.converged;
    return end;
  };
  const VectorXd usual = usual_uniquenesses(r).cwiseMax(lowest);
  const UniquenessFit plain =
      fit_uniquenesses(r, k, Discrepancy::least_squares, usual, lowest, 1e-6, 200);
  return search_uniquenesses(fit, r, k, lowest, plain.uniquenesses, {usual}, plan);
}

}  // namespace softsieve
