// A body split by curves that are carried along a direction or along its normals, by a plane, or by other bodies.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/base/frame.h"
#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/cut/offset_surface.h"

namespace evenclay {

/// How far curves are carried along the direction from where they lie.
enum class SplitReach { BothWays, Forwards, Backwards };

/// What splits. One of the three is given: curves, a plane, or bodies.
struct Splitter {
  std::vector<Curve> curves = {};
  Vec3 direction{0, 0, 1};  ///< along which curves are carried; any length but 0
  SplitReach reach = SplitReach::BothWays;
  bool along_normals =
      false;  ///< curves are laid on the nearest skin and carried along its normals instead
  std::optional<Frame> plane = {};  ///< its x-y plane
  std::vector<Body> bodies = {};
  OffsetSurface offset = {};  ///< must be given for a gap along a body
};

/// The two sides: of a plane the one its z points to is the first; of closed curves and of bodies what lies inside is
/// the second; of open curves the first lies to the left, seen against the direction (along normals: against them).
enum class SplitKeep { All, First, Second };

/// Where the strip that is taken out of a split lies.
enum class GapSide { Centred, First, Second };

struct SplitOptions {
  SplitKeep keep = SplitKeep::All;
  double gap =
      0.0;  ///< mm, >= 0: width of the strip; for curves seen along the direction, for a body (one, its faces meeting smoothly) across it
  GapSide gap_side = GapSide::Centred;
  int step = 0;
};

struct Split {
  Body body;
  int pieces = 0;                        ///< that stay
  int taken = 0;                         ///< that went, strips of the gap included
  double narrowest = 0.0, widest = 0.0;  ///< of the gap as measured across on the skin, mm
};

/// An open part keeps its pieces as faces that are joined along the split (two sides of a gap are not); a closed one
/// is split into closed pieces with faces where the cut went. Ends of open curves that lie over the part go on
/// straight. Pieces of faces keep the very surfaces, the largest its name too (kernel/history.h), so points beneath
/// stay shapeable.
/// Throws Error: nothing that splits, a direction along which a curve has no width, curves that miss the part or
/// separate nothing, nothing left, a gap wider than the curve's bends allow, a fault of the kernel. Throws Cancelled.
Split split(const Body& body, const Splitter& splitter, const SplitOptions& options,
            Progress& progress);

}  // namespace evenclay
