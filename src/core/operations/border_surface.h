#pragma once

#include "core/operations/curves.h"
#include "core/operations/offers.h"
#include "core/operations/shaped_points.h"

namespace evenclay {

/// What the hand did to ribs, and to how many of them: first those across u, then those across v.
class RibsData : public ShapingData {
 public:
  int across_u = 0, across_v = 0;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
};

/// A3: a surface inside four border curves, with ribs that the hand shapes, a push of its inner area, and tangency
/// to what lies beside it. The ribs' moves are kept apart from the borders, so that they stay when those change;
/// with other counts of ribs the shape that they made is carried over to the new ones.
class BorderSurfaceOperation : public OperationOf<BorderSurfaceOperation>, public ShapesPoints {
 public:
  std::vector<PartRef> border;
  int ribs_u = 3, ribs_v = 3;  ///< inner curves across u (running along v) and across v
  int rib_points = 7;          ///< control points of each rib
  double push = 0.0;
  std::vector<PartRef> neighbours;
  SymmetryPlane symmetry = SymmetryPlane::None;
  RibsData ribs;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "border_surface",
        .label = "Border surface",
        .help = "A surface inside four border curves, with ribs to shape by hand and a push.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "frame",
        .takes = kCurves,
        .hint = "Click the four border curves in the view, in any order; Enter keeps.",
        .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  Offer offered(const Shape& before) const override;
  OperationPtr with_shapings(Shapings shapings) const override;
  SymmetryPlane symmetry_planes() const override { return symmetry; }
  OperationPtr with_symmetry(SymmetryPlane planes) const override;
  /// The ends of the ribs stay on the borders.
  std::array<EdgeRule, 4> edge_rules() const override;
};

}  // namespace evenclay
