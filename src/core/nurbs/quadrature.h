// Gauss-Legendre quadrature.
#pragma once

#include <array>
#include <cstddef>

namespace evenclay {

struct GaussPoint {
  double place;   ///< in [-1, 1]
  double weight;  ///< the weights sum to 2
};

/// The 8-point rule, exact for polynomials of degree 15.
/// Source: M. Abramowitz, I. Stegun, Handbook of Mathematical Functions, table 25.4.
inline constexpr std::array<GaussPoint, 8> kGauss8{{
    {-0.9602898564975363, 0.1012285362903763},
    {-0.7966664774136267, 0.2223810344533745},
    {-0.5255324099163290, 0.3137066458778873},
    {-0.1834346424956498, 0.3626837833783620},
    {0.1834346424956498, 0.3626837833783620},
    {0.5255324099163290, 0.3137066458778873},
    {0.7966664774136267, 0.2223810344533745},
    {0.9602898564975363, 0.1012285362903763},
}};

/// The 4-point rule on [0, 1], where the weights sum to 1; exact for polynomials of degree 7. Source: as above.
inline constexpr std::array<GaussPoint, 4> kGauss4OfUnit{{
    {0.069431844202973712, 0.173927422568726929},
    {0.330009478207571868, 0.326072577431273071},
    {0.669990521792428132, 0.326072577431273071},
    {0.930568155797026288, 0.173927422568726929},
}};

/// Integral of f over [a, b] by the 8-point rule.
template <typename F>
double integrate(double a, double b, const F& f) {
  const double half = 0.5 * (b - a);
  const double middle = 0.5 * (a + b);
  double sum = 0.0;
  for (const GaussPoint& g : kGauss8) sum += g.weight * f(middle + half * g.place);
  return sum * half;
}

}  // namespace evenclay
