// Random numbers from a counter-based generator keyed by (seed, stream).
//
// Stream i of seed s is the sequence that Threefry-4x64 with 20 rounds (Salmon, Moraes, Dror &
// Shaw 2011, "Parallel random numbers: as easy as 1, 2, 3", SC11) makes from the key (s, i).
// Streams need no order and share no state: replicate i draws the same numbers whichever thread
// runs it, and whatever ran before. Any thread may own a Stream; two threads may not share one.
#ifndef SOFTSIEVE_CORE_RANDOM_H
#define SOFTSIEVE_CORE_RANDOM_H

#include <cmath>
#include <cstddef>
#include <cstdint>
#include <threefry.h>

namespace softsieve {

// The layers of the normal density that Stream::normal() draws from: `layers` pieces of equal
// area v under f(x) = exp(-x^2/2), x >= 0. Layer i > 0 is the rectangle of width edge[i] between
// the heights f(edge[i]) and f(edge[i + 1]); layer 0 is the base with the tail beyond edge[1].
struct NormalLayers {
  static constexpr int layers = 256;
  double edge[layers + 1], height[layers + 1];
  NormalLayers();
  static const NormalLayers& get();  // built once, safely from any thread
};

// 2^-53: the step between numbers in [1/2, 1).
constexpr double unit = 1.0 / 9007199254740992.0;

class Stream {
 public:
  Stream(std::uint64_t seed, std::uint64_t stream) : layers_(NormalLayers::get()) {
    engine_.set_key(seed, stream);
  }

  std::uint64_t bits() { return engine_(); }

  // A uniform deviate inside (0, 1), a multiple of 2^-53 plus half of that: never 0 or 1.
  double uniform() {
    return (static_cast<double>(static_cast<std::int64_t>(bits() >> 11)) + 0.5) * unit;
  }

  // A standard normal deviate by the ziggurat method (Marsaglia & Tsang 2000, J. Stat. Softw.
  // 5(8)), with separate bits of one word for the layer and the place (Doornik 2005).
  double normal() {
    for (;;) {
      const std::uint64_t word = bits();
      const std::size_t layer = word & 255;
      const auto place = static_cast<std::int64_t>(word) >> 10;  // 54 bits with the sign
      const double x = static_cast<double>(place) * unit * layers_.edge[layer];
      if (std::fabs(x) < layers_.edge[layer + 1]) return x;  // about 99 of 100 end here
      if (layer == 0) return std::copysign(tail(), x);
      const double y =
          layers_.height[layer] + uniform() * (layers_.height[layer + 1] - layers_.height[layer]);
      if (y < std::exp(-0.5 * x * x)) return x;
    }
  }

  // A chi deviate, the square root of a chi-square with `df` >= 1 (whole) degrees of freedom:
  // a gamma deviate of shape df/2 by Marsaglia & Tsang (2000, ACM TOMS 26, 363-372).
  double chi(int df) {
    if (df == 1) return std::fabs(normal());
    const double d = df / 2.0 - 1.0 / 3.0, c = 1.0 / std::sqrt(9.0 * d);
    for (;;) {
      const double x = normal(), root = 1.0 + c * x;
      if (root <= 0) continue;
      const double v = root * root * root, u = uniform();
      if (u < 1.0 - 0.0331 * x * x * x * x ||
          std::log(u) < 0.5 * x * x + d * (1.0 - v + std::log(v)))
        return std::sqrt(2.0 * d * v);
    }
  }

 private:
  double tail();  // a normal deviate given that it lies beyond edge[1] (Marsaglia 1964)
  sitmo::threefry_20_64 engine_;
  const NormalLayers& layers_;
};

}  // namespace softsieve

#endif
