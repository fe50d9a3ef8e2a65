// Curves by their measures, as sources.
#pragma once

#include "core/operations/common.h"
#include "core/operations/offers.h"

namespace evenclay {

/// A2: an exact ellipse, closed.
class EllipseOperation : public OperationOf<EllipseOperation>, public DrawsOutline {
 public:
  double half_x = 30.0, half_y = 18.0;
  FlatPlane plane = FlatPlane::XY;
  PlaneAngles angles;  ///< of a turned plane
  Vec3 centre;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "ellipse",
                                         .label = "Ellipse",
                                         .help = "An exact ellipse as a closed curve.",
                                         .stage = Stage::Source,
                                         .group = "Curves",
                                         .icon = "circle-dashed",
                                         .hint =
                                             "Click the centre and a corner of the box around it; "
                                             "Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  std::vector<Vec3> drawn_points() const override;
  OperationPtr with_drawn_points(std::vector<Vec3> points) const override;
};

/// A2: a rectangle, with round corners if wanted.
class RectangleOperation : public OperationOf<RectangleOperation>, public DrawsOutline {
 public:
  double length = 60.0, width = 40.0, corner = 0.0;
  FlatPlane plane = FlatPlane::XY;
  PlaneAngles angles;  ///< of a turned plane
  Vec3 centre;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "rectangle",
        .label = "Rectangle",
        .help = "A closed rectangle; its corners may be exact quarter circles.",
        .stage = Stage::Source,
        .group = "Curves",
        .icon = "square",
        .hint = "Click a corner and the corner opposite, or type the measures; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  std::vector<Vec3> drawn_points() const override;
  OperationPtr with_drawn_points(std::vector<Vec3> points) const override;
};

/// A2: an exact arc through three places.
class ArcOperation : public OperationOf<ArcOperation>, public DrawsOutline {
 public:
  Vec3 from{-30, 0, 0}, over{0, 0, 15}, to{30, 0, 0};

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "arc",
        .label = "Arc",
        .help = "An exact circular arc from one place over a second to a third.",
        .stage = Stage::Source,
        .group = "Curves",
        .icon = "spline",
        .hint = "Click where it begins, where it ends, and a place it runs over; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  std::vector<Vec3> drawn_points() const override;
  OperationPtr with_drawn_points(std::vector<Vec3> points) const override;
};

/// A2: a helix about an upright axis.
class HelixOperation : public OperationOf<HelixOperation> {
 public:
  double radius = 20.0, pitch = 8.0, turns = 4.0;
  Vec3 centre;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "helix",
                                         .label = "Helix",
                                         .help = "A curve that winds upward about an axis.",
                                         .stage = Stage::Source,
                                         .group = "Curves",
                                         .icon = "rotate-3d"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
