// The limit where a single crease ends inside a form.
#pragma once

#include <vector>

namespace evenclay {

/// Weights of the points around: the point itself, the ends of its n edges from the crease on counter-clockwise, the points
/// opposite in its n faces likewise.
struct DartMasks {
  std::vector<double> place;
  std::vector<double> x, y;  ///< two directions in the tangent plane, x × y outwards
};

/// For n faces around, 3 or more. The left eigenvectors of the matrix that subdivides the ring around the point: of the
/// eigenvalue 1, and of the greatest others among those that mirror evenly and oddly about the crease (M. Halstead, M. Kass,
/// T. DeRose 1993 do so without creases; rules as in refine.h).
DartMasks dart_masks(std::size_t faces);

}  // namespace evenclay
