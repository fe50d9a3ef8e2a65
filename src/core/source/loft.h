// Surfaces laid through section curves (skinning), and along rails.
// Source: The NURBS Book, section 10.3 (skinning; parameters 10.8, knots 9.8), section 9.2.2 (end
// derivatives); W. Wang, B. Jüttler, D. Zheng, Y. Liu, Computation of rotation minimizing frames, 2008
// (double reflection), from memory.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/source/border_surface.h"
#include "core/source/compatible.h"

namespace evenclay {

/// How the surface leaves its first and its last section.
enum class LoftEnd { Free, Straight, Tangent };

struct LoftOptions {
  bool closed = false;  ///< after the last section comes the first; needs three
  Alignment alignment = {};
  int degree = 3;  ///< across the sections, 1..5; less when there are too few sections
  LoftEnd begin = LoftEnd::Free, end = LoftEnd::Free;
  /// How far the end direction reaches: 1 is the mean distance of the sections. Above 0, at most 10.
  double begin_reach = 1.0, end_reach = 1.0;
  Onward onward = {};  ///< for Tangent: where the neighbours of the end sections lead
};

/// u runs along the sections, v from the first to the last; every section is an iso-curve of the surface (to
/// 1e-9 of its size). Straight ends leave a flat section at a right angle to its plane; tangent ends go on from the
/// neighbour where there is one. Sections with weights
/// are laid through in homogeneous form. Throws Error when there are fewer than two sections, when two that
/// follow each other lie in one place, and when a weight would not stay positive.
Surface loft(std::span<const Curve> sections, const LoftOptions& options);

/// The greatest angle, degrees, between the way a surface leaves its first (or last) v border and the way `onward` leads there, both
/// square to the border, at a hundred places. Nothing where no neighbour lies along it.
std::optional<double> end_angle(const Surface& surface, bool last, const Onward& onward);

/// Control values on `knots` of the spline that takes the values at `places` (one a control point, in order).
/// values[n * width + c]. Throws Error when there is no such spline.
std::vector<double> interpolated(const KnotVector& knots, std::span<const double> places,
                                 std::span<const double> values, std::size_t width);

/// How a profile is carried along a rail.
enum class SweepTwist { Least, Upright };

struct SweepOptions {
  SweepTwist twist = SweepTwist::Least;  ///< least turning about the rail, or z stays up
  double end_scale = 1.0;                ///< size at the rail's end ÷ size at its start; above 0
  double turn = 0.0;                     ///< degrees about the rail, from start to end
};

/// Frames that ride along a curve at increasing parameters: origin on it, z along it, x by the least turning or at a right
/// angle to the world's z. Throws Error where the curve has no direction.
std::vector<Frame> rail_frames(const Curve& rail, std::span<const double> places, SweepTwist twist);

/// The profile carried along the rail as a stiff whole from where it stands now: u along the profile, v along the rail
/// from its start. Sections are laid so close that half-way between them the surface is within `tolerance` mm
/// of the profile carried there. Throws Error when the rail has no length, or turns so sharply at a place that the
/// profile has no direction there (a corner).
Surface sweep(const Curve& profile, const Curve& rail, const SweepOptions& options,
              double tolerance);

/// The same between two rails, which the ends of the profile follow: moved, turned and scaled alike in all
/// directions. The profile must be open. The second rail is turned to run as the first.
Surface sweep(const Curve& profile, const Curve& rail, const Curve& second,
              const SweepOptions& options, double tolerance);

/// Revolve along rail: the profile turned about the axis (the frame's z) while its distances from the axis grow and shrink so that its
/// end farther from the axis stays on the rail; heights follow the rail's, by the share of the distance. u runs
/// along the rail, v along the profile. Exact: each control point is a product of one of the rail's and one of the profile's.
/// Throws Error when the profile does not lie flat with the axis or crosses it, or its end lies on it.
Surface revolve_along_rail(const Curve& profile, const Curve& rail, const Frame& axis);

}  // namespace evenclay
