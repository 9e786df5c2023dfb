// From answers as R holds them to categories.
#ifndef SOFTSIEVE_CORE_CODING_H
#define SOFTSIEVE_CORE_CODING_H

#include "core_tables.h"

#include <vector>

namespace softsieve {

struct Coding {
  std::vector<std::int8_t> codes;           // people x items, column-major; -1 where missing
  std::vector<std::vector<double>> values;  // each item's distinct answers, rising
  std::vector<int> too_many;  // items with more than most_categories: all missing, no values
};

// answers: people x items, column-major; NaN (double) or the smallest int are missing. An item's
// categories are the distinct answers there are. Threads split the items.
Coding code_answers(const int* answers, std::size_t people, std::size_t items, int threads);
Coding code_answers(const double* answers, std::size_t people, std::size_t items, int threads);

}  // namespace softsieve

#endif
