#include "core_tables.h"

#include "core_popcount.h"

#include <algorithm>
#include <cmath>

namespace softsieve {

namespace {

// Items in a tile, and words of a plane in a stretch: a tile against a tile touches
// 2 x 8 x categories x 4 kB.
constexpr int tile = 8;
constexpr std::size_t stretch = 512;

struct TilePair {
  int first, second;  // first items of the two tiles
};

std::vector<TilePair> tile_pairs(int items) {
  std::vector<TilePair> pairs;
  for (int i = 0; i < items; i += tile)
    for (int j = i; j < items; j += tile)
      pairs.push_back({i, j});
  return pairs;
}

}  // namespace

const char* popcount_in_use() {
  return counter_in_use().name;
}

AnswerPlanes::AnswerPlanes(const CodedAnswers& answers, int threads)
    : categories_(answers.categories), words_((answers.people + 255) / 256 * 4) {
  std::size_t planes = 0;
  for (int categories : categories_) {
    first_plane_.push_back(planes);
    planes += static_cast<std::size_t>(categories);
  }
  planes_.assign(planes * words_, 0);
  auto make_worker = [&] {
    return [&](std::size_t item) {
      const std::int8_t* codes = answers.codes + item * answers.people;
      std::uint64_t* mine = planes_.data() + first_plane_[item] * words_;
      const std::size_t whole = answers.people / 64;
      std::int8_t rest[64];  // the last people, and nobody after them
      std::fill(rest, rest + 64, static_cast<std::int8_t>(-1));
      std::copy(codes + 64 * whole, codes + answers.people, rest);
      for (int c = 0; c < categories_[item]; ++c) {
        std::uint64_t* words = mine + static_cast<std::size_t>(c) * words_;
        for (std::size_t w = 0; w < whole; ++w)
          words[w] = pack_equal(codes + 64 * w, c);
        if (whole < words_) words[whole] = pack_equal(rest, c);
      }
    };
  };
  run_replicates(categories_.size(), threads, make_worker, watch_nothing);
}

Status AnswerPlanes::visit_pairs(int threads, const PairVisitor& visitor,
                                 const Watch& watch) const {
  const int items = static_cast<int>(categories_.size());
  const std::vector<TilePair> pairs = tile_pairs(items);
  const int widest = *std::max_element(categories_.begin(), categories_.end());
  const std::size_t cells = static_cast<std::size_t>(widest) * static_cast<std::size_t>(widest);
  auto make_worker = [&, cells] {
    std::vector<std::uint64_t> counts(tile * tile * cells);
    std::vector<double> table(cells);
    return [&, counts, table, cells](std::size_t t) mutable {
      const CountFunction count = counter_in_use().count;
      const int i1 = std::min(items, pairs[t].first + tile),
                j1 = std::min(items, pairs[t].second + tile);
      const auto slot = [&](int i, int j) {
        return counts.data() +
               static_cast<std::size_t>((i - pairs[t].first) * tile + j - pairs[t].second) * cells;
      };
      std::fill(counts.begin(), counts.end(), 0);
      for (std::size_t from = 0; from < words_; from += stretch) {
        const std::size_t length = std::min(stretch, words_ - from);
        for (int i = pairs[t].first; i < i1; ++i)
          for (int j = std::max(i + 1, pairs[t].second); j < j1; ++j)
            for (int c = 0; c < categories_[i]; ++c)
              count(plane(i, c) + from, plane(j, 0) + from, words_, categories_[j], length,
                    slot(i, j) + c * categories_[j]);
      }
      for (int i = pairs[t].first; i < i1; ++i)
        for (int j = std::max(i + 1, pairs[t].second); j < j1; ++j) {
          const int size = categories_[i] * categories_[j];
          std::copy(slot(i, j), slot(i, j) + size, table.begin());
          double people = 0;
          for (int cell = 0; cell < size; ++cell)
            people += table[cell];
          visitor(i, j, PairTable{categories_[i], categories_[j], people, table.data()});
        }
    };
  };
  return run_replicates(pairs.size(), threads, make_worker, watch);
}

std::vector<double> AnswerPlanes::margin(int item) const {
  std::vector<double> counts;
  std::vector<std::uint64_t> all(words_, ~std::uint64_t{0});
  for (int c = 0; c < categories_[item]; ++c) {
    std::uint64_t sum = 0;
    counter_in_use().count(all.data(), plane(item, c), words_, 1, words_, &sum);
    counts.push_back(static_cast<double>(sum));
  }
  return counts;
}

Status visit_weighted_pairs(const CodedAnswers& answers, const double* weights, int threads,
                            const PairVisitor& visitor, const Watch& watch) {
  const int items = static_cast<int>(answers.categories.size());
  auto make_worker = [&, items] {
    std::vector<double> table(most_categories * most_categories);
    return [&, items, table](std::size_t first) mutable {
      const int i = static_cast<int>(first);
      const std::int8_t* row = answers.codes + first * answers.people;
      for (int j = i + 1; j < items; ++j) {
        const std::int8_t* column = answers.codes + static_cast<std::size_t>(j) * answers.people;
        const int columns = answers.categories[j];
        std::fill(table.begin(), table.end(), 0.0);
        double people = 0;
        for (std::size_t person = 0; person < answers.people; ++person)
          if (row[person] >= 0 && column[person] >= 0) {
            table[row[person] * columns + column[person]] += weights[person];
            ++people;
          }
        visitor(i, j, PairTable{answers.categories[i], columns, people, table.data()});
      }
    };
  };
  return run_replicates(answers.categories.size(), threads, make_worker, watch);
}

PairMoments moments_of(const PairTable& table, const double* first, const double* second) {
  double row[most_categories] = {0}, column[most_categories] = {0};
  PairMoments m{0, 0, 0, 0, 0, 0};
  for (int a = 0; a < table.rows; ++a)
    for (int b = 0; b < table.columns; ++b) {
      row[a] += table.at(a, b);
      column[b] += table.at(a, b);
    }
  for (int a = 0; a < table.rows; ++a) {
    m.n += row[a];
    m.mean_first += row[a] * first[a];
  }
  for (int b = 0; b < table.columns; ++b)
    m.mean_second += column[b] * second[b];
  if (m.n <= 0) return m;
  m.mean_first /= m.n;
  m.mean_second /= m.n;
  for (int a = 0; a < table.rows; ++a) {
    const double away = first[a] - m.mean_first;
    m.square_first += row[a] * away * away;
    for (int b = 0; b < table.columns; ++b)
      m.product += table.at(a, b) * away * (second[b] - m.mean_second);
  }
  for (int b = 0; b < table.columns; ++b)
    m.square_second += column[b] * std::pow(second[b] - m.mean_second, 2);
  return m;
}

ChiSquare chi_square_of(const PairTable& table) {
  double row[most_categories] = {0}, column[most_categories] = {0}, n = 0;
  for (int a = 0; a < table.rows; ++a)
    for (int b = 0; b < table.columns; ++b) {
      row[a] += table.at(a, b);
      column[b] += table.at(a, b);
      n += table.at(a, b);
    }
  ChiSquare x{0, 0};
  for (int a = 0; a < table.rows; ++a)
    for (int b = 0; b < table.columns; ++b) {
      const double expected = row[a] * column[b] / n;
      if (expected > 0) x.statistic += std::pow(table.at(a, b) - expected, 2) / expected;
    }
  const auto filled = [](const double* margin, int size) {
    return size - std::count(margin, margin + size, 0.0);
  };
  x.df = static_cast<double>((filled(row, table.rows) - 1) * (filled(column, table.columns) - 1));
  return x;
}

void midranks_of(const PairTable& table, std::vector<double>& first, std::vector<double>& second) {
  first.assign(static_cast<std::size_t>(table.rows), 0.0);
  second.assign(static_cast<std::size_t>(table.columns), 0.0);
  for (int a = 0; a < table.rows; ++a)
    for (int b = 0; b < table.columns; ++b) {
      first[a] += table.at(a, b);
      second[b] += table.at(a, b);
    }
  for (auto* margin : {&first, &second}) {
    double below = 0;
    for (double& count : *margin) {
      const double here = count;
      count = below + (here + 1.0) / 2.0;
      below += here;
    }
  }
}

}  // namespace softsieve
