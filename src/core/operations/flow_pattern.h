#pragma once

#include "core/document/operation.h"
#include "core/operations/offers.h"
#include "core/operations/rows.h"
#include "core/pattern/flow.h"

namespace evenclay {

/// How repeats are spread over the target.
enum class FlowSpacing { Parameter, Even };
/// Whether counts are given, or follow from the size of a tile.
enum class FlowSizing { Counts, Size };
/// What becomes of tiles that the border of a cut target crosses.
enum class FlowBorder { Whole, Cut };
/// What the pattern is made of.
enum class FlowResult { Mesh, Surfaces };

/// F2, F3, F6: a tile repeated and carried onto a face or several.
class FlowPatternOperation : public OperationOf<FlowPatternOperation>, public PlacesPattern {
 public:
  PartRef tile;
  PartRef target;
  NumbersData faces;  ///< numbers of the target's faces, counted from 1; none: as many as fit
  PartRef base;       ///< a surface that the tile lies on; empty: the plane x–y
  FlowSizing sizing = FlowSizing::Counts;
  int count_u = 12, count_v = 6;
  double tile_u = 6.0, tile_v = 6.0;
  TargetCorner corner = TargetCorner::UVMin;
  bool flip_u = false, flip_v = false, inward = false;
  double height = 1.0, offset = 0.0;
  double fade_u_from = 0.0, fade_u_to = 0.0, fade_v_from = 0.0, fade_v_to = 0.0;  ///< mm
  PartRef fade_curve;
  double fade_reach = 10.0;  ///< mm
  PartRef fade_picture;
  bool fade_dark = false;
  double u_from = 0.0, u_to = 1.0, v_from = 0.25, v_to = 0.75;
  FlowSpacing spacing = FlowSpacing::Even;
  FlowBorder border = FlowBorder::Whole;
  FlowResult result = FlowResult::Mesh;
  int divisions = 12;
  double base_x = 0.0, base_y = 0.0;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "flow_pattern",
        .label = "Flow pattern",
        .help = "Repeats a tile from its flat base over a band of a target surface.",
        .stage = Stage::Pattern,
        .group = "Flow",
        .icon = "layout-grid",
        .takes = kBody,
        .hint = "Drag the frame to set the band; click a corner to begin there.",
        .new_part = true,
        .part_name = "Pattern"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  OperationPtr with_frame(const PatternFrame& frame) const override;

 private:
  void describe_place(ParameterVisitor& visitor);
  void describe_fade(ParameterVisitor& visitor);
  void describe_result(ParameterVisitor& visitor);
};

}  // namespace evenclay
