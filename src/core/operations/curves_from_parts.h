// Curves taken from the surfaces of other parts, and between the curves of others; they follow them.
#pragma once

#include "core/operations/curves.h"
#include "core/source/curve_work.h"

namespace evenclay {

/// The section of a part with a plane; several at a spacing if wanted.
class SectionCurveOperation : public OperationOf<SectionCurveOperation> {
 public:
  PartRef part;
  int normal = 1;  ///< 0, 1, 2: x, y, z
  Vec3 through;
  int count = 1;
  double spacing = 5.0;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "section_curve",
                                         .label = "Section curve",
                                         .help = "The curves in which planes cut a part.",
                                         .stage = Stage::Source,
                                         .group = "Curve work",
                                         .icon = "slice",
                                         .takes = kBody,
                                         .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// Iso-curves of a face, one or several evenly spread.
class IsoCurveOperation : public OperationOf<IsoCurveOperation> {
 public:
  PartRef part;
  int face = 1;
  bool along_v = true;  ///< u constant
  int count = 1;
  double at = 0.5;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "iso_curve",
        .label = "Iso-curves",
        .help = "Exact iso-curves of a surface, one or many at once.",
        .stage = Stage::Source,
        .group = "Curve work",
        .icon = "columns-3",
        .takes = kBody,
        .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// The edges or borders of a part.
class EdgeCurveOperation : public OperationOf<EdgeCurveOperation> {
 public:
  PartRef part;
  int number = 0;  ///< 0: all, joined where they meet
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "edge_curve",
                                         .label = "Edge curves",
                                         .help = "The edges and open borders of a part as curves.",
                                         .stage = Stage::Source,
                                         .group = "Curve work",
                                         .icon = "frame",
                                         .takes = kBody,
                                         .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A curve between the ends of two others.
class BlendCurveOperation : public OperationOf<BlendCurveOperation> {
 public:
  PartRef first, second;
  BlendEnd at_first{CurveEnd::End, BlendContinuity::Curvature, 1.0};
  BlendEnd at_second{CurveEnd::Begin, BlendContinuity::Curvature, 1.0};
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "blend_curve",
                                         .label = "Blend curve",
                                         .help =
                                             "A curve from the end of one curve to the end of "
                                             "another, tangent or curvature-continuous.",
                                         .stage = Stage::Source,
                                         .group = "Curve work",
                                         .icon = "spline",
                                         .takes = kCurves,
                                         .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
