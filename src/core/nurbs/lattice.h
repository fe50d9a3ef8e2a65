// A block of control points, as cages have it.
#pragma once

#include "core/base/frame.h"
#include "core/base/grid.h"
#include "core/base/vec3.h"
#include "core/nurbs/knot_vector.h"

namespace evenclay {

/// points(i, j, k): i along u, j along v, k along w; clamped in all three directions.
struct Lattice {
  KnotVector u, v, w;
  Grid<Vec3> points;
  bool operator==(const Lattice&) const = default;
};

/// A box of space that a lattice bends: `rest` is the undisturbed lattice, `now` what the hand made of it. The box
/// begins at the frame's origin and has the lengths of `size` along its axes.
struct Cage {
  Frame frame;
  Vec3 size;
  Lattice rest, now;
  /// Share of the box (0..0.5) from each wall inward over which the bending fades in; 0: what reaches
  /// out of the box goes along with its wall.
  double band = 0.0;
};

/// The spline of the moves at a place of the lattice, 0..1 along each direction.
Vec3 bending(const FlatKnots& u, const FlatKnots& v, const FlatKnots& w, const Grid<Vec3>& moves,
             const Vec3& at);

/// Lattice moves on other counts: the bending of `old` at the Greville places of the new lattice, interpolated, so that the
/// shape is kept as well as the new counts can.
Grid<Vec3> on_lattice(const KnotVector& old_u, const KnotVector& old_v, const KnotVector& old_w,
                      const Grid<Vec3>& moves, const Lattice& lattice);

}  // namespace evenclay
