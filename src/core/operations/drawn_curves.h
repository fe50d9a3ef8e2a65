// Curves whose places are clicked in the view or typed.
#pragma once

#include "core/operations/offers.h"
#include "core/operations/rows.h"

namespace evenclay {

/// A2: a curve through places.
class CurveThroughOperation : public OperationOf<CurveThroughOperation>, public DrawsPoints {
 public:
  PlacesData points{};
  bool closed = false;

  CurveThroughOperation();
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "curve_through",
        .label = "Curve through points",
        .help = "A smooth curve that runs through every point you click.",
        .stage = Stage::Source,
        .group = "Curves",
        .icon = "waypoints",
        .hint = "Click the points in the view; Backspace takes one back, Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  std::vector<Vec3> drawn_points() const override { return points.places; }
  OperationPtr with_drawn_points(std::vector<Vec3> places) const override;
  OperationPtr drawn_closed(Leg leg) const override;
};

/// G1: a chain of lines, tangent arcs and tangent curves.
class ProfileOperation : public OperationOf<ProfileOperation>, public DrawsPoints {
 public:
  ProfileData places{};
  bool closed = false;

  ProfileOperation();
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "profile",
        .label = "Profile",
        .help = "A line or a chain of lines, tangent arcs and tangent curves, drawn in one go.",
        .stage = Stage::Source,
        .group = "Curves",
        .icon = "pencil",
        .hint =
            "Click corners for lines; key A: the next leg is a tangent arc, C: a tangent curve, L: "
            "a line. A click on the first place closes. Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  std::vector<Vec3> drawn_points() const override;
  OperationPtr with_drawn_points(std::vector<Vec3> places) const override;
  bool draws_legs() const override { return true; }
  OperationPtr with_drawn_place(const Vec3& place, Leg leg, bool first) const override;
  bool can_close() const override { return places.places.size() >= 3; }
  OperationPtr drawn_closed(Leg leg) const override;
};

}  // namespace evenclay
