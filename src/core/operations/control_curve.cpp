#include "core/operations/control_curve.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/operations/common.h"

namespace evenclay {

ControlCurveOperation::ControlCurveOperation() {
  points.places = {{-30, 0, 0}, {-15, 20, 0}, {0, 0, 0}, {15, -20, 0}, {30, 0, 0}};
}

void ControlCurveOperation::describe(ParameterVisitor& v) {
  v.data(
      {"points", "Points",
       "Click in the view to place the curve's points in the work plane; Backspace takes the last "
       "one back."},
      points);
  v.count({"degree", "Degree", "Higher is smoother; 1 gives a polyline."}, degree, {1, 11});
  v.toggle({"closed", "Closed", "The curve returns to its beginning without a seam."}, closed);
}

std::string ControlCurveOperation::summary() const {
  return say("{}, degree {}{}", points.summary(), degree, closed ? ", closed" : "");
}

Outcome ControlCurveOperation::apply(const Shape&, const Inputs&, Progress&) const {
  Outcome outcome;
  const int count = static_cast<int>(points.places.size());
  if (count < 2)
    throw Error(say("A curve needs at least two points. Click in the view to place them."));
  const int possible = std::min(degree, count - 1);
  if (possible < degree)
    outcome.notes.push_back(say("With {} points the degree is {}; degree {} needs {}.", count,
                                possible, degree, degree + 1));
  outcome.shape = CurveSet{{make_curve(points.places, possible, closed && count > 2)}};
  return outcome;
}

OperationPtr ControlCurveOperation::with_drawn_points(std::vector<Vec3> places) const {
  auto changed = std::make_shared<ControlCurveOperation>(*this);
  changed->points.places = std::move(places);
  return changed;
}

OperationPtr ControlCurveOperation::drawn_closed(Leg) const {
  auto changed = std::make_shared<ControlCurveOperation>(*this);
  changed->closed = true;
  return changed;
}

}  // namespace evenclay
