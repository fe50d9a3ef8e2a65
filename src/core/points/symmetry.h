// Mirror planes through the origin, and which control point answers which in them.
#pragma once

#include <optional>
#include <vector>

#include "core/points/net.h"

namespace evenclay {

/// Which mirror planes are kept while shaping, one to three; the planes go through the origin.
enum class SymmetryPlane { None, YZ, XZ, XY, YZAndXZ, XZAndXY, YZAndXY, All };

/// The single planes of a choice, in the order y–z, x–z, x–y.
std::vector<SymmetryPlane> planes_of(SymmetryPlane choice);

/// How far from symmetric points may be that a hand keeps symmetric, mm; messages say it.
inline constexpr double kMirrorTolerance = 0.01;

/// In one single plane.
Vec3 mirrored(const Vec3& p, SymmetryPlane plane);

/// Coordinate across one single plane: which side a point is on.
double side_of(const Vec3& p, SymmetryPlane plane);

/// Partner of each control point in a mirror plane.
struct MirrorMap {
  SymmetryPlane plane = SymmetryPlane::None;
  PerPoint<PointIndex> partner;
  bool on_grid = false;    ///< found as a symmetry of the grids, not by nearness alone
  double worst_gap = 0.0;  ///< mm between a point's mirror image and its partner
};

/// Looks for maps of whole rows and columns (shift and reversal in each direction) that take each
/// net to its own mirror image or to another net of the part within `tolerance` mm; failing that,
/// the nearest point is the partner. On forms partners are the nearest points, each the other's. Nothing when even that leaves a gap greater than `tolerance`.
std::optional<MirrorMap> find_mirror(const Nets& nets, SymmetryPlane plane, double tolerance);

/// The map of each plane of the choice; nothing when one of them is not a symmetry of the points.
std::optional<std::vector<MirrorMap>> find_mirrors(const Nets& nets, SymmetryPlane choice,
                                                   double tolerance);

}  // namespace evenclay
