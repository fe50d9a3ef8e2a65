#pragma once

#include <vector>

#include "core/operations/offers.h"
#include "core/operations/rows.h"

namespace evenclay {

/// A2: a curve given by its control points.
class ControlCurveOperation : public OperationOf<ControlCurveOperation>, public DrawsPoints {
 public:
  PlacesData points{};
  int degree = 3;
  bool closed = false;

  ControlCurveOperation();
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "control_curve",
        .label = "Control-point curve",
        .help =
            "A curve that control points attract; it meets the first and the last, or is closed.",
        .stage = Stage::Source,
        .group = "Curves",
        .icon = "spline",
        .takes = kNothing,
        .hint = "Click the control points in the view; Backspace takes one back, Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  std::vector<Vec3> drawn_points() const override { return points.places; }
  OperationPtr with_drawn_points(std::vector<Vec3> places) const override;
  OperationPtr drawn_closed(Leg leg) const override;
  bool places_are_net() const override { return true; }
};

}  // namespace evenclay
