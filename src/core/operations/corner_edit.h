// Corners of joined bodies moved by hand, as points of a net.
#pragma once

#include "core/operations/offers.h"
#include "core/operations/shaped_points.h"

namespace evenclay {

/// C1: see core/cut/corner_edit.h. What the hand did is kept by the corners' names.
class CornerEditOperation : public OperationOf<CornerEditOperation>, public ShapesPoints {
 public:
  SymmetryPlane symmetry = SymmetryPlane::None;
  ShapingData point;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "corner_edit",
        .label = "Corner edit",
        .help = "Corners, edges and faces of a joined body moved; flat and ruled faces follow.",
        .stage = Stage::CutAndJoin,
        .group = "Edges",
        .icon = "move-diagonal",
        .takes = kBody,
        .hint = "P, N and F pick corners, edges and faces; drag them, or type. Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override { return point.summary(); }
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  Offer offered(const Shape& before) const override;
  OperationPtr with_shapings(Shapings shapings) const override;
  SymmetryPlane symmetry_planes() const override { return symmetry; }
  OperationPtr with_symmetry(SymmetryPlane planes) const override;
  std::array<EdgeRule, 4> edge_rules() const override { return {}; }
};

}  // namespace evenclay
