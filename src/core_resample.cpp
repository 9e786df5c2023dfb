#include "core_resample.h"

#include "core_polychoric.h"
#include "core_threads.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace softsieve {

using Eigen::MatrixXd;

namespace {

// Whole numbers below a limit, two from each word of the stream. A limit far below 2^32 makes the
// deviation from equal chances (limit / 2^32) of no account.
class Picker {
 public:
  explicit Picker(Stream& stream) : stream_(stream) {}
  std::size_t below(std::size_t limit) {
    if (!half_) word_ = stream_.bits();
    const std::uint64_t part = half_ ? word_ >> 32 : word_ & 0xffffffffu;
    half_ = !half_;
    return static_cast<std::size_t>(part * limit >> 32);
  }

 private:
  Stream& stream_;
  std::uint64_t word_ = 0;
  bool half_ = false;
};

// Shuffles the elements of x at the places `where` (Fisher & Yates).
template <class T>
void shuffle(T* x, const std::vector<int>& where, Picker& picker) {
  for (std::size_t i = where.size(); i > 1; --i)
    std::swap(x[where[i - 1]], x[where[picker.below(i)]]);
}

}  // namespace

ChanceSampler::ChanceSampler(const ChanceAnswers& answers)
    : given_(answers), codes_(answers.codes), numbers_(answers.numbers) {
  const std::size_t people = given_.people;
  for (std::size_t item = 0; item < given_.coded.size(); ++item) {
    const std::int8_t* codes = given_.codes.data() + item * people;
    std::vector<int> who;
    std::vector<double> shares(given_.values[item].size(), 0.0);
    for (std::size_t i = 0; i < people; ++i) {
      if (codes[i] < 0) continue;
      who.push_back(static_cast<int>(i));
      shares[codes[i]] += given_.weights.empty() ? 1.0 : given_.weights[i];
    }
    thresholds_.push_back(thresholds_from(shares));
    double below = 0.0, total = 0.0;
    for (double s : shares)
      total += s;
    for (double& s : shares)
      s = below += s / total;
    who_coded_.push_back(who);
    running_shares_.push_back(shares);
    categories_.push_back(static_cast<int>(shares.size()));
  }
  if (given_.plain.empty()) return;
  seen_ = given_.numbers.unaryExpr([](double x) { return std::isnan(x) ? 0.0 : 1.0; });
  seen_weighted_ = seen_;
  if (!given_.weights.empty())
    seen_weighted_.array().colwise() *=
        Eigen::Map<const Eigen::ArrayXd>(given_.weights.data(), static_cast<Eigen::Index>(people));
  total_ = seen_weighted_.transpose() * seen_;
  for (Eigen::Index item = 0; item < numbers_.cols(); ++item) {
    std::vector<int> who;
    double sum = 0.0;
    for (Eigen::Index i = 0; i < numbers_.rows(); ++i) {
      if (seen_(i, item) == 0.0) continue;
      who.push_back(static_cast<int>(i));
      sum += numbers_(i, item);
    }
    // about the mean, so that sums of squares lose no digits; what is missing adds nothing
    const double mean = sum / static_cast<double>(who.size());
    for (Eigen::Index i = 0; i < numbers_.rows(); ++i)
      numbers_(i, item) = seen_(i, item) == 0.0 ? 0.0 : numbers_(i, item) - mean;
    who_plain_.push_back(who);
  }
}

void ChanceSampler::draw(Stream& stream, MatrixXd& correlations) {
  draw_codes(stream);
  draw_numbers(stream);
  correlations.setIdentity();
  if (given_.coded.size() > 1) correlate_coded(correlations);
  if (given_.plain.size() > 1) correlate_plain(correlations);
  if (!given_.coded.empty() && !given_.plain.empty()) correlate_across(correlations);
  correlations = correlations.unaryExpr([](double r) { return std::isfinite(r) ? r : 0.0; }).eval();
}

void ChanceSampler::draw_codes(Stream& stream) {
  Picker picker(stream);
  if (!given_.redraw) codes_ = given_.codes;
  for (std::size_t item = 0; item < given_.coded.size(); ++item) {
    std::int8_t* codes = codes_.data() + item * given_.people;
    if (!given_.redraw) {
      shuffle(codes, who_coded_[item], picker);
      continue;
    }
    const auto& running = running_shares_[item];
    for (std::size_t i = 0; i < given_.people; ++i) {
      const double u = stream.uniform();
      std::int8_t code = 0;
      while (code + 1 < categories_[item] && u > running[code])
        ++code;
      codes[i] = code;
    }
  }
}

void ChanceSampler::draw_numbers(Stream& stream) {
  Picker picker(stream);
  // a shuffle of a shuffle would depend on the replicates before: start from the given order
  for (std::size_t item = 0; item < given_.plain.size(); ++item) {
    const auto& who = who_plain_[item];
    std::vector<int> order(who);
    std::vector<double> held(who.size());
    std::vector<int> places(who.size());
    for (std::size_t i = 0; i < who.size(); ++i)
      places[i] = static_cast<int>(i);
    shuffle(order.data(), places, picker);
    const Eigen::Index column = static_cast<Eigen::Index>(item);
    double mean = 0.0;
    for (std::size_t i = 0; i < who.size(); ++i)
      mean += held[i] = given_.numbers(order[i], column);
    mean /= static_cast<double>(who.size());
    for (std::size_t i = 0; i < who.size(); ++i)
      numbers_(who[i], column) = held[i] - mean;
  }
}

void ChanceSampler::correlate_coded(MatrixXd& correlations) {
  const bool weighted = !given_.weights.empty();
  if (given_.kind == TableCorrelation::polychoric && (given_.redraw || weighted)) {
    for (std::size_t item = 0; item < given_.coded.size(); ++item) {
      std::vector<double> margin(given_.values[item].size(), 0.0);
      for (std::size_t i = 0; i < given_.people; ++i) {
        const std::int8_t code = codes_[item * given_.people + i];
        if (code >= 0) margin[code] += weighted ? given_.weights[i] : 1.0;
      }
      thresholds_[item] = thresholds_from(margin);
    }
  }
  PolychoricStart rough;
  rough.tolerance = 1e-3;  // Newton's steps: what is left is of the size of its square
  const PairVisitor visitor = [&](int i, int j, const PairTable& table) {
    double r;
    if (given_.kind == TableCorrelation::polychoric) {
      r = polychoric(table, thresholds_[i].data(), thresholds_[j].data(), true, rough).rho;
    } else {
      const bool ranks = given_.kind == TableCorrelation::spearman;
      std::vector<double> first, second;
      if (ranks) {
        first = given_.values[i];
        second = given_.values[j];
        midranks_of(table, first, second);
      }
      const PairMoments m =
          ranks ? moments_of(table, first.data(), second.data())
                : moments_of(table, given_.values[i].data(), given_.values[j].data());
      r = m.product / std::sqrt(m.square_first * m.square_second);
    }
    correlations(given_.coded[i], given_.coded[j]) =
        correlations(given_.coded[j], given_.coded[i]) = r;
  };
  const CodedAnswers coded{codes_.data(), given_.people, categories_};
  if (weighted) {
    visit_weighted_pairs(coded, given_.weights.data(), 1, visitor, watch_nothing);
  } else {
    AnswerPlanes(coded, 1).visit_pairs(1, visitor, watch_nothing);
  }
}

void ChanceSampler::correlate_plain(MatrixXd& correlations) {
  MatrixXd weighted = numbers_;
  if (!given_.weights.empty())
    weighted.array().colwise() *= Eigen::Map<const Eigen::ArrayXd>(
        given_.weights.data(), static_cast<Eigen::Index>(given_.people));
  const MatrixXd sums =
      weighted.transpose() * seen_;  // of the row's item, over those who answered the column's
  const MatrixXd squares = weighted.cwiseProduct(numbers_).transpose() * seen_ -
                           sums.cwiseProduct(sums).cwiseQuotient(total_);
  const MatrixXd products =
      weighted.transpose() * numbers_ - sums.cwiseProduct(sums.transpose()).cwiseQuotient(total_);
  for (std::size_t i = 0; i < given_.plain.size(); ++i) {
    for (std::size_t j = 0; j < i; ++j) {
      const double r = products(i, j) / std::sqrt(squares(i, j) * squares(j, i));
      correlations(given_.plain[i], given_.plain[j]) =
          correlations(given_.plain[j], given_.plain[i]) = r;
    }
  }
}

void ChanceSampler::correlate_across(MatrixXd& correlations) {
  std::vector<double> z(given_.people);
  for (std::size_t i = 0; i < given_.plain.size(); ++i) {
    const auto column = numbers_.col(static_cast<Eigen::Index>(i));
    const double scale =
        std::sqrt((static_cast<double>(who_plain_[i].size()) - 1.0) / column.squaredNorm());
    for (std::size_t person = 0; person < given_.people; ++person)
      z[person] = seen_(person, i) == 0.0 ? std::numeric_limits<double>::quiet_NaN()
                                          : column[person] * scale;
    for (std::size_t j = 0; j < given_.coded.size(); ++j) {
      const double r = polyserial(z.data(), codes_.data() + j * given_.people, given_.people,
                                  given_.weights.empty() ? nullptr : given_.weights.data(),
                                  categories_[j], thresholds_[j].data(), true)
                           .rho;
      correlations(given_.plain[i], given_.coded[j]) =
          correlations(given_.coded[j], given_.plain[i]) = r;
    }
  }
}

Status resampled_eigenvalues(const ChanceAnswers& answers, Basis basis, std::size_t first,
                             std::size_t replicates, std::uint64_t seed, int threads, double* out,
                             const Watch& watch) {
  const int items = static_cast<int>(answers.coded.size() + answers.plain.size());
  auto make_worker = [&answers, basis, first, seed, out, items] {
    ChanceSampler sampler(answers);
    MatrixXd correlations(items, items);
    SpectrumSolver solver(items, basis);
    return [=](std::size_t replicate) mutable {
      Stream stream(seed, first + replicate);
      sampler.draw(stream, correlations);
      solver.compute(correlations, out + replicate * static_cast<std::size_t>(items));
    };
  };
  return run_replicates(replicates, threads, make_worker, watch);
}

}  // namespace softsieve
