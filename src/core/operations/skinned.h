// Sources that lay surfaces through and between the curves of other parts; they follow the curves.
#pragma once

#include "core/operations/curves.h"
#include "core/operations/rows.h"
#include "core/source/in_between.h"
#include "core/source/loft.h"

namespace evenclay {

/// A3: a surface through any number of sections.
class LoftOperation : public OperationOf<LoftOperation> {
 public:
  std::vector<PartRef> sections;
  bool closed = false;
  int degree = 3;
  LoftEnd begin = LoftEnd::Free, end = LoftEnd::Free;
  double begin_reach = 1.0, end_reach = 1.0;
  bool align = true;
  NumbersData starts{};  ///< percent of the length by which starts of closed sections are moved on
  std::vector<PartRef> neighbours;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "loft",
        .label = "Loft",
        .help = "A surface through section curves, in the order of the list.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "layers",
        .takes = kCurves,
        .hint = "Click the section curves in the view, one after the other; Enter keeps.",
        .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A3: a profile carried along one rail or two.
class SweepOperation : public OperationOf<SweepOperation> {
 public:
  PartRef profile;
  std::vector<PartRef> rails;
  SweepTwist twist = SweepTwist::Least;
  double end_scale = 100.0;  ///< percent
  double turn = 0.0;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "sweep",
        .label = "Sweep",
        .help = "Carries a profile along one rail, or between two that its ends follow.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "waves",
        .takes = kCurves,
        .hint = "The chosen curve is the profile. Click one or two rails in the view; Enter keeps.",
        .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A3: a profile turned about an axis so that its end stays on a rail.
class RevolveAlongRailOperation : public OperationOf<RevolveAlongRailOperation> {
 public:
  PartRef profile, rail;
  int axis = 2;  ///< 0, 1, 2: x, y, z
  Vec3 centre;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "revolve_along_rail",
        .label = "Revolve along rail",
        .help = "Turns a profile about an axis while its end stays on a rail curve.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "rotate-ccw",
        .takes = kCurves,
        .hint = "The chosen curve is the profile; choose the rail in the settings. Enter keeps.",
        .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A3: surfaces or curves between two others.
class InBetweensOperation : public OperationOf<InBetweensOperation> {
 public:
  PartRef first, second;
  int count = 3;
  Ease ease = Ease::Even;
  bool with_ends = false;
  std::vector<PartRef> guides;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "in_betweens",
        .label = "In-betweens",
        .help = "Surfaces or curves between two others; guide curves steer the way.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "rows-3",
        .takes = kCurves | kBody,
        .hint = "Choose the second part in the settings, and guide curves if wanted; Enter keeps.",
        .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A3: a face inside a closed border of any number of edges.
class FillOperation : public OperationOf<FillOperation> {
 public:
  std::vector<PartRef> border;
  int points_u = 12, points_v = 12;
  double puff = 0.0;
  std::vector<PartRef> neighbours;
  double reach = 1.0;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "fill",
        .label = "Fill",
        .help =
            "A smooth face inside a closed border, flat, puffed, or tangent to what lies beside "
            "it.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "droplet",
        .takes = kCurves,
        .hint = "Click the curves of the border in the view; Enter keeps.",
        .new_part = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A surface at a distance from those below; trims stay.
class OffsetSurfaceOperation : public OperationOf<OffsetSurfaceOperation> {
 public:
  double distance = 2.0;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "offset_surface",
        .label = "Offset",
        .help =
            "A surface at a chosen distance from the one below, or a curve beside a flat curve.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "blend",
        .takes = kBody,
        .action = "offset"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
