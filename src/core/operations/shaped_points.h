#pragma once

#include "core/operations/offers.h"

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

/// The planes about which moves are mirrored.
void describe_symmetry(ParameterVisitor& visitor, SymmetryPlane& symmetry);

/// C: displacements and weights of control points on the curves or surfaces below. Each shaping belongs
/// to a face by its tag (to a net by its place in files that have no tags): it follows the face when
/// others are added or split below, its pieces when the face itself is split, and waits when the face
/// is gone.
class ShapedPointsOperation : public OperationOf<ShapedPointsOperation>, public ShapesPoints {
 public:
  SymmetryPlane symmetry = SymmetryPlane::None;
  /// What each edge keeps while points are moved, in the order of Border.
  std::array<EdgeRule, 4> holds{};
  ShapingData point;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "shaped_points",
        .label = "Shaped points",
        .help = "Moves and weights of control points, kept apart from the grid below.",
        .stage = Stage::Shaped,
        .group = "",
        .icon = "move-3d",
        .takes = kBody | kCurves | kCage | kForm,
        .offered = false};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  Offer offered(const Shape& before) const override;
  OperationPtr with_shapings(Shapings shapings) const override;
  SymmetryPlane symmetry_planes() const override { return symmetry; }
  OperationPtr with_symmetry(SymmetryPlane planes) const override;
  std::array<EdgeRule, 4> edge_rules() const override { return holds; }

 private:
  /// The shaping of each net of the shape before, as it was made; empty where there is none.
  std::vector<Shaping> matched(const Shape& before, const Nets& below, std::size_t* waiting) const;
};

}  // namespace evenclay
