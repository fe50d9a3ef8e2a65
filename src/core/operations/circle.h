#pragma once

#include "core/operations/common.h"
#include "core/operations/offers.h"

namespace evenclay {

/// A2: an exact rational circle, closed.
class CircleOperation : public OperationOf<CircleOperation>, public DrawsOutline {
 public:
  double radius = 20.0;
  FlatPlane plane = FlatPlane::XY;
  PlaneAngles angles;  ///< of a turned plane
  Vec3 centre;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "circle",
                                         .label = "Circle",
                                         .help = "An exact circle as a closed curve.",
                                         .stage = Stage::Source,
                                         .group = "Curves",
                                         .icon = "circle-dashed",
                                         .takes = kNothing,
                                         .hint =
                                             "Click the centre and a place on the circle, or type "
                                             "its measures; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  std::vector<Vec3> drawn_points() const override;
  OperationPtr with_drawn_points(std::vector<Vec3> points) const override;
};

}  // namespace evenclay
