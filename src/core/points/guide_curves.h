// Guide curves laid across a face, and the face bent so that it follows them as they are moved. It stays one surface:
// its own control points move, on a net as dense as chosen.
// Method: the change of the surface bends as little as it can (thin-plate energy over the face) while it follows the
// guides and leaves the held edges as they are; one sparse system, factored once for a layout.
// Sources: G. Celniker, D. Gossard, Deformable curve and surface finite elements for free-form shape design, SIGGRAPH
// 1991; W. Welch, A. Witkin, Variational surface modeling, SIGGRAPH 1992 (both from memory).
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/body/region.h"
#include "core/nurbs/curve.h"

namespace evenclay {

/// Where a guide lies: a share of the way across the face, or through a place of its surface.
struct GuidePlace {
  double across = 0.5;                    ///< 0..1; not used with `through`
  std::optional<Parameter> through = {};  ///< shares of the surface's domain, 0..1
  bool operator==(const GuidePlace&) const = default;
};

/// How many mm a step of u and of v is, on the mean of the surface.
Parameter mean_scale(const Surface& surface);

/// How guides are laid: all in one direction, each at its place.
struct GuideLayout {
  double angle =
      0.0;  ///< degrees from u towards v, measured in mm of the surface's mean lengths: 0 along u, 90 along v
  std::vector<GuidePlace> places;
  bool both_sides = false;  ///< each one also as far from the other side of the face
  bool operator==(const GuideLayout&) const = default;
};

/// A guide in the face's parameters: a straight line, from border to border, or once round a closed direction.
struct GuideLine {
  Parameter from, to;
  bool closed = false;
  Parameter at(double t) const {  ///< t in [0, 1]
    return {from.u + (to.u - from.u) * t, from.v + (to.v - from.v) * t};
  }
};

/// The guides of a layout across the face, in their order from side to side, none twice. Throws Error when there are
/// none or more than 40, and when one lies beside the face.
std::vector<GuideLine> guide_lines(const Face& face, const GuideLayout& layout);

/// What stays of an edge of the face: nothing, its place, its tangent planes too, its curvature too.
enum class GuideHold { Free, Position, Tangent, Curvature };
struct HeldEdge {
  Curve uv;  ///< in the face's parameters
  GuideHold hold = GuideHold::Tangent;
};

struct GuideOptions {
  int points_u = 16, points_v = 16;  ///< the net is made as dense as that at least; 4..100
  std::vector<HeldEdge> edges;
};

/// The face with its guides moved.
struct Guided {
  Surface surface;  ///< on the net of below()
  double miss =
      0.0;  ///< greatest distance, mm, by which the surface does not follow a guide; more points follow better
  Vec3 miss_at;
  double drift = 0.0;    ///< greatest way, mm, that a held edge has moved
  double degrees = 0.0;  ///< greatest turn of the normal along edges that hold their tangent planes
};

/// A face made ready for guides. Thread-safe after construction.
class GuidedFace {
 public:
  /// Knots are inserted and degrees raised to 3; the shape stays exactly. Throws Error when the net would have
  /// more than 10 000 points, Cancelled.
  GuidedFace(const Face& face, std::vector<GuideLine> lines, const GuideOptions& options,
             Progress& progress);
  GuidedFace(GuidedFace&&) noexcept;
  ~GuidedFace();

  const Surface& below() const;
  const std::vector<GuideLine>& lines() const;
  /// Each guide moved by its curve of moves (mm) over [0, 1].
  Guided moved(std::span<const Curve> moves) const;

 private:
  struct Made;
  std::unique_ptr<const Made> made_;
};

}  // namespace evenclay
