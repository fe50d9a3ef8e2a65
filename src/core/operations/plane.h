#pragma once

#include "core/document/operation.h"
#include "core/operations/common.h"

namespace evenclay {

/// What a plane is laid out from; three places are a corner and the ends of its two sides.
enum class PlaneBy { Centre, Corner, Points };

/// A1: a rectangle with one span in each direction.
class PlaneOperation : public OperationOf<PlaneOperation> {
 public:
  double length_x = 100.0;
  double length_y = 100.0;
  FlatPlane plane = FlatPlane::XY;
  PlaneAngles angles;  ///< of a turned plane
  PlaneBy by = PlaneBy::Centre;
  Vec3 centre;  ///< or the corner
  Vec3 along_u{40, 0, 0}, along_v{10, 30, 0};

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "plane",
        .label = "Plane",
        .help = "A flat rectangle about a centre; u runs along its first side, v along its second.",
        .stage = Stage::Source,
        .group = "Surfaces",
        .icon = "square",
        .takes = kNothing};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
