#include "core_popcount.h"

#if defined(__x86_64__) && (defined(__GNUC__) || defined(__clang__))
#define SOFTSIEVE_X86 1
#include <immintrin.h>
#endif

namespace softsieve {

namespace {

// Bits added in pairs, fours and eights (Knuth 2009, TAOCP 4A, section 7.1.3).
std::uint64_t portable_popcount(std::uint64_t x) {
  x -= (x >> 1) & 0x5555555555555555u;
  x = (x & 0x3333333333333333u) + ((x >> 2) & 0x3333333333333333u);
  x = (x + (x >> 4)) & 0x0f0f0f0f0f0f0f0fu;
  return (x * 0x0101010101010101u) >> 56;
}

void count_portable(const std::uint64_t* a, const std::uint64_t* b, std::size_t stride, int planes,
                    std::size_t words, std::uint64_t* counts) {
  for (int j = 0; j < planes; ++j) {
    const std::uint64_t* other = b + static_cast<std::size_t>(j) * stride;
    std::uint64_t sum = 0;
    for (std::size_t w = 0; w < words; ++w)
      sum += portable_popcount(a[w] & other[w]);
    counts[j] += sum;
  }
}

#ifdef SOFTSIEVE_X86

__attribute__((target("popcnt"))) void count_popcnt(const std::uint64_t* a, const std::uint64_t* b,
                                                    std::size_t stride, int planes,
                                                    std::size_t words, std::uint64_t* counts) {
  for (int j = 0; j < planes; ++j) {
    const std::uint64_t* other = b + static_cast<std::size_t>(j) * stride;
    std::uint64_t s0 = 0, s1 = 0, s2 = 0, s3 = 0;
    for (std::size_t w = 0; w < words; w += 4) {
      s0 += static_cast<std::uint64_t>(__builtin_popcountll(a[w] & other[w]));
      s1 += static_cast<std::uint64_t>(__builtin_popcountll(a[w + 1] & other[w + 1]));
      s2 += static_cast<std::uint64_t>(__builtin_popcountll(a[w + 2] & other[w + 2]));
      s3 += static_cast<std::uint64_t>(__builtin_popcountll(a[w + 3] & other[w + 3]));
    }
    counts[j] += s0 + s1 + s2 + s3;
  }
}

// Half bytes looked up in a register (Mula, Kurz & Lemire 2018, The Computer Journal 61, 111-120).
__attribute__((target("avx2"))) void count_avx2(const std::uint64_t* a, const std::uint64_t* b,
                                                std::size_t stride, int planes, std::size_t words,
                                                std::uint64_t* counts) {
  const __m256i bits_of = _mm256_setr_epi8(0, 1, 1, 2, 1, 2, 2, 3, 1, 2, 2, 3, 2, 3, 3, 4, 0, 1, 1,
                                           2, 1, 2, 2, 3, 1, 2, 2, 3, 2, 3, 3, 4);
  const __m256i low = _mm256_set1_epi8(0x0f);
  const std::size_t run = 31 * 4;  // after 31 vectors a byte may hold 248
  for (int j = 0; j < planes; ++j) {
    const std::uint64_t* other = b + static_cast<std::size_t>(j) * stride;
    __m256i total = _mm256_setzero_si256();
    for (std::size_t from = 0; from < words; from += run) {
      const std::size_t to = from + run < words ? from + run : words;
      __m256i bytes = _mm256_setzero_si256();
      for (std::size_t w = from; w < to; w += 4) {
        const __m256i both =
            _mm256_and_si256(_mm256_loadu_si256(reinterpret_cast<const __m256i*>(a + w)),
                             _mm256_loadu_si256(reinterpret_cast<const __m256i*>(other + w)));
        const __m256i right = _mm256_shuffle_epi8(bits_of, _mm256_and_si256(both, low));
        const __m256i left =
            _mm256_shuffle_epi8(bits_of, _mm256_and_si256(_mm256_srli_epi16(both, 4), low));
        bytes = _mm256_add_epi8(bytes, _mm256_add_epi8(right, left));
      }
      total = _mm256_add_epi64(total, _mm256_sad_epu8(bytes, _mm256_setzero_si256()));
    }
    std::uint64_t parts[4];
    _mm256_storeu_si256(reinterpret_cast<__m256i*>(parts), total);
    counts[j] += parts[0] + parts[1] + parts[2] + parts[3];
  }
}

#endif

struct Choice {
  Counter list[3];
  int size = 0;
  Choice() {
#ifdef SOFTSIEVE_X86
    __builtin_cpu_init();
    if (__builtin_cpu_supports("avx2")) list[size++] = {count_avx2, "avx2"};
    if (__builtin_cpu_supports("popcnt")) list[size++] = {count_popcnt, "popcnt"};
#endif
    list[size++] = {count_portable, "portable"};
  }
};

const Choice& choice() {
  static const Choice made;
  return made;
}

}  // namespace

std::uint64_t pack_equal(const std::int8_t* codes, int category) {
  std::uint64_t bits = 0;
#ifdef SOFTSIEVE_X86  // SSE2 is part of every x86-64
  const __m128i wanted = _mm_set1_epi8(static_cast<char>(category));
  for (int part = 0; part < 4; ++part) {
    const __m128i here = _mm_loadu_si128(reinterpret_cast<const __m128i*>(codes + 16 * part));
    const auto equal = static_cast<std::uint64_t>(
        static_cast<std::uint32_t>(_mm_movemask_epi8(_mm_cmpeq_epi8(here, wanted))));
    bits |= equal << (16 * part);
  }
#else
  for (int i = 0; i < 64; ++i)
    bits |= static_cast<std::uint64_t>(codes[i] == category) << i;
#endif
  return bits;
}

const Counter& counter_in_use() {
  return choice().list[0];
}

const Counter* counters_available(int* how_many) {
  *how_many = choice().size;
  return choice().list;
}

}  // namespace softsieve
