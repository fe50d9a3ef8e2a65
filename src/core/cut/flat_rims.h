// Rims of hollowed bodies that end in the planes of flat openings, though the skin does not stand square to them.
#pragma once

#include <functional>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"

namespace evenclay {

/// A border of a surface carried on by about `mm`, the old region keeping shape and parameters; given by the caller
/// (grid/extend.h). Throws Error where it cannot be.
using GrowSurface = std::function<Surface(const Surface&, Border, double mm)>;

/// An opening whose edges all lie in one plane.
struct FlatOpening {
  std::size_t face = 0;  ///< of the closed body
  Vec3 at, out;          ///< a place in the plane, and its normal away from the body
  std::vector<std::uint32_t>
      edges;         ///< of the body without its open faces; empty: not all are known
  double off = 0.0;  ///< how far a rim of this thickness, square to the skin, leaves the plane, mm
};

/// The flat ones among the open faces. `edges[e]`: the number of the body's edge e in the body without them.
std::vector<FlatOpening> flat_openings(const Body& body, const std::vector<std::size_t>& open_faces,
                                       const std::vector<std::uint32_t>& edges, double thickness);

/// The skin with its surfaces grown beyond the openings as far as the second skin has to reach. Loops stay. What cannot
/// be grown stays as it is.
Body grown_for_rims(const Body& skin, const std::vector<FlatOpening>& openings, double thickness,
                    const GrowSurface& grow, Progress& progress);

/// Moves the edges of the second skin that go round one opening into its plane, within the faces they bound: its corners along
/// the edges that end there, all else along the steepest way over the face. False, and nothing is changed, where
/// faces do not reach the plane, or lie so flat to it that they would run off, and where two openings share a corner.
/// Method: Newton's along the gradient of the distance to the plane, in the face's parameters.
bool end_in_plane(Body& second, const FlatOpening& opening, double tolerance);

}  // namespace evenclay
