// Chance eigenvalues from answers: each item's own answers shuffled among those who answered it, or
// drawn anew from its category shares, and correlated by the method of the observed matrix.
#ifndef SOFTSIEVE_CORE_RESAMPLE_H
#define SOFTSIEVE_CORE_RESAMPLE_H

#include "core_random.h"
#include "core_spectrum.h"
#include "core_tables.h"

#include <Eigen/Core>
#include <vector>

namespace softsieve {

enum class TableCorrelation { pearson, spearman, polychoric };

// Items are held as codes (with a correlation from their tables) or as numbers; `coded` and `plain`
// tell at which place in the matrix each stands. Pairs of a coded and a plain item are polyserial.
struct ChanceAnswers {
  std::size_t people;
  std::vector<int> coded, plain;
  std::vector<std::int8_t> codes;           // people x coded, column-major; negative: missing
  std::vector<std::vector<double>> values;  // of each coded item, one number for each category
  Eigen::MatrixXd numbers;                  // people x plain; NaN: missing
  std::vector<double> weights;              // one for each person, or empty
  TableCorrelation kind;
  bool
      redraw;  // draw coded items anew from their shares, everybody answering, instead of shuffling
};

// Each thread needs one of its own; `answers` must outlive it.
class ChanceSampler {
 public:
  explicit ChanceSampler(const ChanceAnswers& answers);

  // The correlation matrix of one draw, whole. A pair in which an item does not vary gets 0.
  void draw(Stream& stream, Eigen::MatrixXd& correlations);

 private:
  void draw_codes(Stream& stream);
  void draw_numbers(Stream& stream);
  void correlate_coded(Eigen::MatrixXd& correlations);
  void correlate_plain(Eigen::MatrixXd& correlations);
  void correlate_across(Eigen::MatrixXd& correlations);
  const ChanceAnswers& given_;
  std::vector<std::vector<int>> who_coded_, who_plain_;  // who answered each item
  std::vector<std::vector<double>> running_shares_, thresholds_;
  std::vector<int> categories_;
  std::vector<std::int8_t> codes_;
  Eigen::MatrixXd numbers_, seen_, seen_weighted_, total_;
};

// As sample_eigenvalues() (core_chance.h): column i of `out` depends on (seed, i) and what is
// given.
Status resampled_eigenvalues(const ChanceAnswers& answers, Basis basis, std::size_t first,
                             std::size_t replicates, std::uint64_t seed, int threads, double* out,
                             const Watch& watch);

}  // namespace softsieve

#endif
