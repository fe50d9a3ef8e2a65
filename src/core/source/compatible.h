// Several curves, or two surfaces, on one degree and one knot vector, so that surfaces can be laid through
// them point by point. Shapes stay unchanged.
// Source: The NURBS Book, section 10.3 (making section curves compatible); exact changes by nurbs/knot_operations.h.
#pragma once

#include <span>
#include <utility>
#include <vector>

#include "core/nurbs/curve.h"

namespace evenclay {

/// The curve over [first, last].
Curve on_domain(const Curve& curve, double first, double last);
Curve reversed(const Curve& curve);
Curve raised(const Curve& curve, int degree);
/// A closed curve made clamped, its ends meeting at `at`; a clamped one is returned as it is.
Curve opened(const Curve& curve, double at);
/// A closed curve that begins at `at`; the domain keeps its length and begins there. A clamped one is
/// returned as it is.
Curve with_start(const Curve& curve, double at);
/// With the knots added, inside the domain.
Curve with_knots(const Curve& curve, std::span<const double> knots);
/// Curves joined end to start into one clamped curve over [0, 1], each given a share of it by its length
/// (of the control polygon). The ends must meet: each start is laid on the end before it. Throws Error when
/// there is none.
Curve chained(std::span<const Curve> curves);

/// How sections are turned before a surface is laid through them.
struct Alignment {
  bool turn = true;  ///< open sections are reversed, closed ones started, where they twist least
  /// Of closed sections: how far each start is moved on by hand, as a share of its length; may be shorter.
  std::vector<double> starts = {};
};

/// All on one degree and one knot vector over [0, 1]. Closed ones stay closed when all are; otherwise they
/// are opened at their start. Each section is aligned with the one before it: of an open one the way round,
/// of a closed one the way round and the start (in 64 steps of its length, then refined) for which the sum of the
/// squared distances between places of equal share is least. Throws Error when there are none.
std::vector<Curve> made_compatible(std::span<const Curve> curves, const Alignment& alignment);

/// Both on the same degrees and knots over [0, 1]². Throws Error when a direction is closed in one only.
std::pair<Surface, Surface> on_common_knots(const Surface& a, const Surface& b);

/// The same; `b` is first turned (u and v exchanged, either reversed) to
/// where its corners lie nearest to those of `a`.
std::pair<Surface, Surface> made_compatible(const Surface& a, const Surface& b);

}  // namespace evenclay
