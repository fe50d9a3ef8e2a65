// Which parameters of a surface belong to a trimmed face.
#pragma once

#include <array>
#include <vector>

#include "core/body/body.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// The loops of a face as polygons in the parameter plane, so fine that they leave the curves by at
/// most a 1e-5th of the domain, sorted into bands for quick questions. Thread-safe after construction.
class FaceRegion {
 public:
  explicit FaceRegion(const Face& face);

  /// True inside the face; all of the domain is when there are no loops. In closed directions the
  /// place is also looked for one turn on.
  bool contains(double u, double v) const;
  /// Box of the loops in the parameter plane; the whole domain without loops.
  double u_low() const { return low_[0]; }
  double u_high() const { return high_[0]; }
  double v_low() const { return low_[1]; }
  double v_high() const { return high_[1]; }
  /// Crossings of the line of constant v with the loops, as values of u in increasing order: inside is
  /// between the first and second, third and fourth, ….
  std::vector<double> crossings(double v) const;
  bool whole() const { return bands_.empty(); }

 private:
  struct Segment {
    Parameter a, b;
  };
  std::vector<std::vector<Segment>> bands_;
  std::array<double, 2> low_{}, high_{};
  double turn_u_ = 0.0, turn_v_ = 0.0;  // lengths of closed directions, else 0
};

/// A place well inside the face: the middle of the widest stretch of several lines of constant v.
Parameter inner_place(const FaceRegion& region);

/// The polygon of a loop in its walking sense, the end not repeated; it leaves the loop by at most the
/// share `fine` of the domain.
std::vector<Parameter> loop_polygon(const Loop& loop, const Surface& surface, double fine = 1e-5);

/// Whether a place lies inside a polygon, by the count of sides it meets to its right.
bool winds_round(const std::vector<Parameter>& polygon, const Parameter& place);

/// Twice the area that a polygon walks round; positive counter-clockwise.
double doubled_area(const std::vector<Parameter>& polygon);

/// Twice the area that the face takes of its parameter plane; without loops more than any other.
double parameter_area(const Face& face);

/// For each loop of the face, whether it has to be walked against its order to have the face at its
/// left (outer loops counter-clockwise, openings clockwise).
std::vector<bool> loops_turned(const Face& face);
std::vector<bool> loops_turned(const std::vector<std::vector<Parameter>>& polygons);

}  // namespace evenclay
