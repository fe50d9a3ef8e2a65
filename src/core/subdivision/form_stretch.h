// How unevenly the faces of a form are pulled, so that what is laid on them evenly would look stretched.
#pragma once

#include <array>
#include <optional>
#include <span>
#include <vector>

#include "core/subdivision/form.h"

namespace evenclay {

/// Each quarter of a side of a face (16 pieces of a quadrangle) is taken for a square of the mean size: a measure of its own,
/// since around points of other than four faces the map of ever smaller pieces has no limit. Of the map from the square to the piece
/// the singular values σ1 ≥ σ2 are divided by the square's side; stretch is σ1 − 1 and squeeze 1 − σ2, in percent, as of
/// patterns (pattern/stretch.h).
struct FormStretch {
  double worst = 0.0;               ///< the greater of both at the worst place
  double stretch = 0.0;             ///< there
  double squeeze = 0.0;             ///< there
  double mean = 0.0;                ///< of the greater of both, weighted by area
  Vec3 at;                          ///< the worst place
  std::vector<double> at_vertices;  ///< the greatest of the quadrangles around each vertex
};

/// Of the limit as triangles, two behind each other for each quadrangle, in the order of limit_mesh and LimitPlan, of a form whose
/// faces have so many `corners` in all. Drawn more coarsely the pieces are what there is. Nothing where they are no such triangles.
std::optional<FormStretch> form_stretch(std::span<const Vec3> points,
                                        std::span<const std::array<std::uint32_t, 3>> triangles,
                                        std::size_t corners);
std::size_t corner_count(const Form& form);

}  // namespace evenclay
