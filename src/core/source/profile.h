// A chain of lines, tangent arcs and tangent curves as one curve.
// Source of the arcs: The NURBS Book, section 7.3; of the curves: section 9.2.2 (interpolation with an end derivative).
#pragma once

#include <span>
#include <vector>

#include "core/nurbs/curve.h"

namespace evenclay {

/// How a place of the chain is reached from the one before it.
enum class Leg {
  Line,
  Arc,  ///< circular, going on tangent from the leg before
  Curve  ///< a spline through this place and its like that follow, going on tangent from the leg before
};

struct ProfilePlace {
  Vec3 place;
  Leg leg = Leg::Line;  ///< of the first place: of the leg that closes the chain, when it is closed
  bool operator==(const ProfilePlace&) const = default;
};

/// The chain as one curve over [0, 1], exact for lines and arcs; closed chains come back to the beginning. An arc or
/// curve without a leg before it goes straight at first (an open chain) or on from the closing leg where that is a line.
/// Throws Error when two places next to each other coincide, there are fewer than two (closed: three), or an
/// arc would have to turn round on the spot.
Curve profile_curve(std::span<const ProfilePlace> places, bool closed);

/// The arc that leaves `from` along `direction` and ends at `to`; a line where that is straight ahead.
Curve tangent_arc(const Vec3& from, const Vec3& direction, const Vec3& to);

}  // namespace evenclay
