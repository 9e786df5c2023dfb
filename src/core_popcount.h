// Packing answers into bits, and counting the people who gave one answer to one item and one
// answer to another.
#ifndef SOFTSIEVE_CORE_POPCOUNT_H
#define SOFTSIEVE_CORE_POPCOUNT_H

#include <cstddef>
#include <cstdint>

namespace softsieve {

// Adds popcount(a & b[j]) over `words` words to counts[j], for j in 0..planes-1; b[j] are `stride`
// words apart. words is a multiple of 4.
using CountFunction = void (*)(const std::uint64_t* a, const std::uint64_t* b, std::size_t stride,
                               int planes, std::size_t words, std::uint64_t* counts);

struct Counter {
  CountFunction count;
  const char* name;
};

// The 64 codes from `codes` on that are equal to `category`, as bits, the first the lowest.
std::uint64_t pack_equal(const std::int8_t* codes, int category);

// The fastest that this processor has, found at the first call.
const Counter& counter_in_use();

// All that this processor can run, the fastest first: tests hold them against each other.
const Counter* counters_available(int* how_many);

}  // namespace softsieve

#endif
