// Skins given a thickness, and closed bodies hollowed.
#pragma once

#include <optional>

#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/cut/flat_rims.h"
#include "core/cut/offset_surface.h"

namespace evenclay {

/// How far along its outside (`outward`) or against it a face can be offset before it folds: the least radius of
/// curvature on that side, searched inside its loops between `per_span` samples a span. Nothing where no place bends
/// that way.
struct OffsetReach {
  double mm = 0.0;
  Vec3 at;
};
std::optional<OffsetReach> offset_reach(const Face& face, bool outward, Progress& progress,
                                        int per_span = 8);

/// Where the thickness goes.
enum class ThickenSide { Inward, Outward, BothSides };

struct Thickened {
  Body body;
  double off = 0.0;  ///< greatest distance of a skin's edges from where they should lie, mm
  bool by_kernel =
      false;  ///< faces meet at angles, and the B-rep kernel found where the offset ones meet
  double rim_off =
      0.0;  ///< how far rims that stand square to the skin leave the planes of flat openings, mm
};

/// The body with a second skin at the distance `thickness` (mm, > 0) and, along its open edges, walls that stand
/// square to it. The given skin keeps its names and surfaces when it is one of the two sides. Closed bodies get a
/// second skin inside (or outside) and no walls. Where faces meet smoothly the parameters of the second skin are those
/// of the first; where they meet at an angle the kernel does it, with mitred edges.
/// Throws Error: a thickness that is not above 0; beyond the reach of a face, naming the place and a thickness that
/// works; a fault of the kernel. Throws Cancelled.
Thickened thickened(const Body& body, double thickness, ThickenSide side,
                    const OffsetSurface& offset, double tolerance, int step, Progress& progress);

/// A closed body hollowed: the faces with these numbers are taken away, the others get the thickness inward. Rims of flat
/// openings lie in their planes and keep the name of the face that was taken away. Others, and those where the skin
/// cannot be carried on to the plane, stand square to the skin; `rim_off` says how far those leave a plane. Without `grow`
/// no skin is carried on beyond its border.
/// Throws Error as thickened() does, and when no face would be left or the body is open.
Thickened shelled(const Body& body, const std::vector<std::size_t>& open_faces, double thickness,
                  const OffsetSurface& offset, const GrowSurface& grow, double tolerance, int step,
                  Progress& progress);

/// The body without some faces, and without the edges that nothing uses any more. `numbers`, when given, gets the new
/// number of each edge, 0xFFFFFFFF for those.
Body without_faces(const Body& body, const std::vector<std::size_t>& faces,
                   std::vector<std::uint32_t>* numbers = nullptr);

}  // namespace evenclay
