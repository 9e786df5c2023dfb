#include "core_product.h"

#include "core_linear.h"

#include <algorithm>
#include <vector>

#if defined(__x86_64__) && (defined(__GNUC__) || defined(__clang__))
#define SOFTSIEVE_X86 1
#include <immintrin.h>
#endif

namespace softsieve {

namespace {

using Eigen::Index;
using Eigen::MatrixXd;

#ifdef SOFTSIEVE_X86

// A tile of c is held in registers while a strip of `depth` terms goes by; strips and blocks are
// copied so that what a tile needs lies side by side and stays in the caches (Goto & van de Geijn
// 2008, ACM Trans. Math. Softw. 34, 12).
constexpr Index tall = 8, wide = 6, depth = 256, rows_at_once = 96;

__attribute__((target("avx2,fma"))) void add_tile(Index k, const double* a, const double* b,
                                                  double* c, Index stride) {
  __m256d upper[wide], lower[wide];
#pragma GCC unroll 6
  for (Index j = 0; j < wide; ++j)
    upper[j] = lower[j] = _mm256_setzero_pd();
  for (Index l = 0; l < k; ++l, a += tall, b += wide) {
    const __m256d a_upper = _mm256_loadu_pd(a), a_lower = _mm256_loadu_pd(a + 4);
#pragma GCC unroll 6
    for (Index j = 0; j < wide; ++j) {
      const __m256d one = _mm256_broadcast_sd(b + j);
      upper[j] = _mm256_fmadd_pd(a_upper, one, upper[j]);
      lower[j] = _mm256_fmadd_pd(a_lower, one, lower[j]);
    }
  }
#pragma GCC unroll 6
  for (Index j = 0; j < wide; ++j) {
    double* to = c + j * stride;
    _mm256_storeu_pd(to, _mm256_add_pd(_mm256_loadu_pd(to), upper[j]));
    _mm256_storeu_pd(to + 4, _mm256_add_pd(_mm256_loadu_pd(to + 4), lower[j]));
  }
}

// Lines of `from` side by side in panels of `size`, the last filled up with zeros: element (i, l)
// at from[i * next + l * along].
void pack(const double* from, Index lines, Index k, Index next, Index along, Index size,
          std::vector<double>& to) {
  const Index panels = (lines + size - 1) / size;
  to.resize(static_cast<std::size_t>(panels * size * k));
  if (lines % size) std::fill(to.end() - size * k, to.end(), 0.0);
  for (Index i = 0; i < lines; ++i) {
    double* at = to.data() + i / size * size * k + i % size;
    for (Index l = 0; l < k; ++l)
      at[l * size] = from[i * next + l * along];
  }
}

void add_in_tiles(const Product& what) {
  std::vector<double> a, b;
  for (Index l = 0; l < what.k; l += depth) {
    const Index k = std::min(depth, what.k - l);
    pack(what.b + l * what.down, what.n, k, what.across, what.down, wide, b);
    for (Index from = 0; from < what.m; from += rows_at_once) {
      const Index rows = std::min(rows_at_once, what.m - from);
      pack(what.a + l * what.a_stride + from, rows, k, 1, what.a_stride, tall, a);
      for (Index j = 0; j < what.n; j += wide)
        for (Index i = 0; i < rows; i += tall) {
          double* c = what.c + j * what.c_stride + from + i;
          const Index high = std::min(tall, rows - i), broad = std::min(wide, what.n - j);
          if (high == tall && broad == wide) {
            add_tile(k, a.data() + i * k, b.data() + j * k, c, what.c_stride);
            continue;
          }
          double edge[tall * wide] = {};
          add_tile(k, a.data() + i * k, b.data() + j * k, edge, tall);
          for (Index y = 0; y < broad; ++y)
            for (Index x = 0; x < high; ++x)
              c[y * what.c_stride + x] += edge[y * tall + x];
        }
    }
  }
}

#endif

}  // namespace

void add_product_plainly(const Product& what) {
  using Strides = Eigen::Stride<Eigen::Dynamic, Eigen::Dynamic>;
  const Eigen::Map<const MatrixXd, 0, Eigen::OuterStride<>> a(what.a, what.m, what.k,
                                                              Eigen::OuterStride<>(what.a_stride));
  const MatrixXd b = Eigen::Map<const MatrixXd, 0, Strides>(what.b, what.k, what.n,
                                                            Strides(what.across, what.down));
  Eigen::Map<MatrixXd, 0, Eigen::OuterStride<>> c(what.c, what.m, what.n,
                                                  Eigen::OuterStride<>(what.c_stride));
  c.noalias() += a * b;
}

void add_product(const Product& what) {
#ifdef SOFTSIEVE_X86
  static const bool wide_registers =
      __builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma");
  if (wide_registers) return add_in_tiles(what);
#endif
  add_product_plainly(what);
}

MatrixXd product_of(const MatrixXd& a, const MatrixXd& b) {
  MatrixXd c = MatrixXd::Zero(a.rows(), b.cols());
  add_product({a.rows(), b.cols(), a.cols(), a.data(), a.rows(), b.data(), 1, b.rows(), c.data(),
               c.rows()});
  return c;
}

}  // namespace softsieve
