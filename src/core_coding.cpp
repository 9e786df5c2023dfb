#include "core_coding.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace softsieve {

namespace {

bool is_missing(int x) {
  return x == std::numeric_limits<int>::min();
}
bool is_missing(double x) {
  return std::isnan(x);
}

// Numbers the distinct answers in the order in which they turn up.
template <class Number>
class Register {
 public:
  // The code of an answer, or -1 when it is one too many.
  int code_of(Number x) {
    int at = 0;
    while (at < found_ && met_[at] != x)
      ++at;
    if (at < found_) return at;
    if (found_ == most_categories) return -1;
    met_[found_++] = x;
    return at;
  }
  int size() const { return found_; }
  const Number* met() const { return met_; }

 private:
  Number met_[most_categories];
  int found_ = 0;
};

// Whole numbers near the first one are looked up; others, and fractions, are searched for.
class Lookup {
 public:
  Lookup() { std::fill(code_, code_ + span, static_cast<std::int8_t>(unknown)); }
  enum : std::int8_t { unknown = 127 };
  std::int8_t& at(int x) { return code_[static_cast<std::uint32_t>(x) - base_]; }
  bool covers(int x) const { return static_cast<std::uint32_t>(x) - base_ < span; }
  void centre_on(int x) { base_ = static_cast<std::uint32_t>(x) - span / 2; }

 private:
  enum : std::uint32_t { span = 256 };
  std::uint32_t base_ = 0;
  std::int8_t code_[span];
};

bool code_plainly(const int* answers, std::size_t people, std::int8_t* codes,
                  Register<int>& found) {
  Lookup lookup;
  bool centred = false;
  for (std::size_t i = 0; i < people; ++i) {
    const int x = answers[i];
    if (is_missing(x)) {
      codes[i] = -1;
      continue;
    }
    if (!centred) {
      lookup.centre_on(x);
      centred = true;
    }
    if (lookup.covers(x) && lookup.at(x) != Lookup::unknown) {
      codes[i] = lookup.at(x);
      continue;
    }
    const int code = found.code_of(x);
    if (code < 0) return false;
    codes[i] = static_cast<std::int8_t>(code);
    if (lookup.covers(x)) lookup.at(x) = codes[i];
  }
  return true;
}

bool code_plainly(const double* answers, std::size_t people, std::int8_t* codes,
                  Register<double>& found) {
  for (std::size_t i = 0; i < people; ++i) {
    const int code = is_missing(answers[i]) ? -2 : found.code_of(answers[i]);
    if (code == -1) return false;
    codes[i] = static_cast<std::int8_t>(code == -2 ? -1 : code);
  }
  return true;
}

// Codes one item and renumbers its categories by size. False when there are too many.
template <class Number>
bool code_item(const Number* answers, std::size_t people, std::int8_t* codes,
               std::vector<double>& values) {
  Register<Number> found;
  if (!code_plainly(answers, people, codes, found)) return false;
  const Number* met = found.met();
  values.assign(met, met + found.size());
  std::sort(values.begin(), values.end());
  std::int8_t rank[most_categories] = {0};
  bool sorted = true;
  for (int c = 0; c < found.size(); ++c) {
    const auto place = std::lower_bound(values.begin(), values.end(), static_cast<double>(met[c]));
    rank[c] = static_cast<std::int8_t>(place - values.begin());
    sorted = sorted && rank[c] == c;
  }
  if (!sorted)
    for (std::size_t i = 0; i < people; ++i)
      if (codes[i] >= 0) codes[i] = rank[codes[i]];
  return true;
}

template <class Number>
Coding code_all(const Number* answers, std::size_t people, std::size_t items, int threads) {
  Coding coding;
  coding.codes.resize(people * items);
  coding.values.resize(items);
  std::vector<char> fits(items, 1);
  auto make_worker = [&] {
    return [&](std::size_t item) {
      fits[item] = code_item(answers + item * people, people, coding.codes.data() + item * people,
                             coding.values[item]);
    };
  };
  run_replicates(items, threads, make_worker, watch_nothing);
  for (std::size_t item = 0; item < items; ++item) {
    if (fits[item]) continue;
    coding.too_many.push_back(static_cast<int>(item));
    std::int8_t* codes = coding.codes.data() + item * people;  // it was left half coded
    std::fill(codes, codes + people, static_cast<std::int8_t>(-1));
    coding.values[item].clear();
  }
  return coding;
}

}  // namespace

Coding code_answers(const int* answers, std::size_t people, std::size_t items, int threads) {
  return code_all(answers, people, items, threads);
}

Coding code_answers(const double* answers, std::size_t people, std::size_t items, int threads) {
  return code_all(answers, people, items, threads);
}

}  // namespace softsieve
