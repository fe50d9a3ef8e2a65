#pragma once

#include <vector>

#include "core/operations/offers.h"

namespace evenclay {

/// Places in space, as they are clicked or typed.
class PlacesData : public DataParameter {
 public:
  std::vector<Vec3> places;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
  /// Without an address the whole list: "x,y,z x,y,z …"; "[i]" sets one place, "[n]" behind the last
  /// adds one. Throws Error.
  void set(std::string_view address, std::string_view text) override;
  std::string summary() const override;
};

/// A2: a curve given by its control points.
class ControlCurveOperation : public OperationOf<ControlCurveOperation>, public DrawsPoints {
 public:
  static constexpr std::size_t kMostPlaces = 2000;

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
};

}  // namespace evenclay
