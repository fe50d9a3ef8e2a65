#pragma once

#include "core/document/operation.h"
#include "core/points/shaping.h"

namespace evenclay {

/// The moves and weights of one step, one Shaping for each net of the part.
class ShapingData : public DataParameter {
 public:
  Shapings nets;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
  /// "[i,j]" or "[surface,i,j]", of a curve "[i]"; text "dx,dy,dz" or "dx,dy,dz,weight factor". The
  /// grid must exist already: some point of it has been moved before.
  void set(std::string_view address, std::string_view text) override;
  std::string summary() const override;
};

/// C: displacements and weights of control points on the curves or surfaces below.
class ShapedPointsOperation : public OperationOf<ShapedPointsOperation> {
 public:
  SymmetryPlane symmetry = SymmetryPlane::None;
  /// What each edge keeps while points are moved, in the order of Edge.
  std::array<EdgeRule, 4> holds{};
  ShapingData point;

  std::string_view kind() const override { return "shaped_points"; }
  std::string_view label() const override { return "Shaped points"; }
  std::string_view help() const override {
    return "Moves and weights of control points, kept apart from the grid below.";
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
