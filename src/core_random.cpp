#include "core_random.h"

namespace softsieve {

namespace {
double density(double x) {
  return std::exp(-0.5 * x * x);
}
}  // namespace

NormalLayers::NormalLayers() {
  // Where the base ends so that 256 equal areas close at x = 0 (Marsaglia & Tsang 2000).
  const double base = 3.6541528853610088;
  const double area =
      base * density(base) + std::sqrt(std::atan(1.0) * 2.0) * std::erfc(base / std::sqrt(2.0));
  edge[0] = area / density(base);
  edge[1] = base;
  height[0] = 0.0;
  height[1] = density(base);
  for (int i = 2; i < layers; ++i) {
    height[i] = height[i - 1] + area / edge[i - 1];
    edge[i] = std::sqrt(-2.0 * std::log(height[i]));
  }
  edge[layers] = 0.0;
  height[layers] = 1.0;
}

const NormalLayers& NormalLayers::get() {
  static const NormalLayers built;
  return built;
}

double Stream::tail() {
  const double base = layers_.edge[1];
  for (;;) {
    const double x = -std::log(uniform()) / base, y = -std::log(uniform());
    if (y + y > x * x) return base + x;
  }
}

}  // namespace softsieve
