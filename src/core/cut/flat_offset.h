// Curves seen in a plane, and offset beside themselves there.
#pragma once

#include <vector>

#include "core/base/frame.h"
#include "core/body/region.h"
#include "core/nurbs/curve.h"

namespace evenclay {

/// The distance of a place from a polygon or polyline, and whether the place lies to its left.
struct FlatDistance {
  double distance = 0.0;
  bool left = false;
};
FlatDistance signed_distance(const std::vector<Parameter>& line, bool closed, const Parameter& at);

/// A curve seen along the z axis of a frame, in its x and y. Open curves go on straight at both ends by `on` mm.
/// Throws Error when the curve has no extent seen like that.
class FlatCurve {
 public:
  FlatCurve(const Curve& curve, const Frame& frame, double on);

  bool closed() const { return closed_; }
  /// Walks counter-clockwise round its inside; of closed ones only.
  bool counter_clockwise() const { return counter_clockwise_; }
  /// It as a fine polyline; the end of a closed one is not repeated.
  std::vector<Parameter> polygon() const;
  /// Smooth pieces, z = 0, one behind the other, of the line `left` mm to the left (below 0: to the right). Corners
  /// are mitred. Throws Error when the line bends more sharply than that, naming the radius.
  std::vector<Curve> beside(double left) const;

 private:
  struct Run {  // between two corners
    double from, to;
  };
  struct At {
    Vec3 p, d;  // place and unit direction
    double bend = 0.0;
  };
  At at(double t, double left, bool from_below) const;
  Curve laid(double from, double to, double left) const;
  Curve piece(double from, double to) const;
  void add_pieces(std::vector<Curve>& to, double begin, double end, double left) const;

  Curve flat_;
  std::vector<Run> runs_;
  bool closed_ = false, counter_clockwise_ = false;
  double on_;
};

}  // namespace evenclay
