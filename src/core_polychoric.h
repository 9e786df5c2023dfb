// The bivariate normal distribution and the correlations that rest on it.
#ifndef SOFTSIEVE_CORE_POLYCHORIC_H
#define SOFTSIEVE_CORE_POLYCHORIC_H

#include "core_tables.h"

#include <cstddef>
#include <limits>
#include <vector>

namespace softsieve {

// Phi(x), the standard normal distribution function, to the last digits also in the lower tail.
double normal_below(double x);

// Its inverse, for 0 <= p <= 1: Newton-Halley steps from Abramowitz & Stegun (1964), 26.2.23.
double normal_quantile(double p);

// The thresholds between an item's categories, from how many gave each: the normal quantiles of the
// running shares.
std::vector<double> thresholds_from(const std::vector<double>& margin);

// P(X <= h, Y <= k) for standard normals with correlation -1 <= rho <= 1; h and k may be infinite.
// Genz (2004, Statistics and Computing 14, 251-260): Gauss-Legendre over the arc sine of rho
// (Drezner & Wesolowsky 1990), and for |rho| near 1 an expansion about 1 with the remainder by the
// same nodes. Absolute error below 1e-14.
double bivariate_below(double h, double k, double rho);

enum class Fit { converged, at_bound, not_converged, no_table };

struct LatentCorrelation {
  double rho, standard_error;
  int iterations, empty_cells;
  bool corrected;  // 1/2 was added to every cell of a 2 x 2 table with an empty cell
  Fit status;
};

// |rho| does not go beyond this: a table that asks for more is reported as at_bound.
constexpr double rho_bound = 0.9999;

// The polychoric correlation of a table, thresholds given (the second of Olsson's (1979,
// Psychometrika 44, 443-460) two steps): maximises sum n_ab log pi_ab(rho) by Newton steps with the
// exact derivatives, kept between bounds that close in. `first` and `second` hold rows - 1 and
// columns - 1 thresholds, not falling. Standard error from the second derivative, thresholds taken
// as known. In a 2 x 2 table with an empty cell 1/2 is added to all cells (Brown & Benedetti 1977)
// when `correct` is true. Threads may call it.
struct PolychoricStart {
  double rho = std::numeric_limits<double>::quiet_NaN();  // where the search begins; NaN: the
                                                          // correlation of the ranks
  double tolerance = 1e-11;                               // a shorter step is the last one
};
LatentCorrelation polychoric(const PairTable& table, const double* first, const double* second,
                             bool correct, const PolychoricStart& start = {});

// The covariance of two normal variables with correlation rho after they were cut: thresholds t, at
// which the values rise by d: sum_c sum_e d_c d_e (Phi2(t_c, t_e; rho) - Phi(t_c) Phi(t_e))
// (Hoeffding).
double cut_covariance(const std::vector<double>& first, const std::vector<double>& rise_first,
                      const std::vector<double>& second, const std::vector<double>& rise_second,
                      double rho);

// The polyserial correlation of a continuous item (z: standardised, NaN where missing) with an
// ordered one (codes as in CodedAnswers), thresholds given (Olsson, Drasgow & Dorans 1982,
// Psychometrika 47, 337-347). weights: one for each person, or null. rough: of chance data; the
// last step may be as long as 1e-3 (Newton's: what is left is its square), and densities are from a
// table.
LatentCorrelation polyserial(const double* z, const std::int8_t* codes, std::size_t people,
                             const double* weights, int categories, const double* thresholds,
                             bool rough = false);

}  // namespace softsieve

#endif
