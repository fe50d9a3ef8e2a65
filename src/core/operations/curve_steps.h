// Steps that change the curves of a part. Those that do for curves what another operation does for surfaces share its
// entry in the rail.
#pragma once

#include "core/operations/curves.h"
#include "core/operations/offers.h"
#include "core/source/curve_work.h"

namespace evenclay {

/// A place on a curve of the part: its number, counted from 1, and the share of its parameters.
struct OnCurve {
  int number = 1;
  double share = 0.5;
};

/// B3: the degree; raising is exact.
class CurveDegreeOperation : public OperationOf<CurveDegreeOperation> {
 public:
  int degree = 3;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "curve_degree",
        .label = "Set degree",
        .help = "Another degree; raising it keeps the curve exactly.",
        .stage = Stage::Grid,
        .group = "Counts",
        .icon = "chevrons-up",
        .takes = kCurves,
        .action = "set_degree"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// B4: the fewest control points within a tolerance.
class LightenCurveOperation : public OperationOf<LightenCurveOperation> {
 public:
  double tolerance = 0.05;
  int degree = 3;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "lighten_curve",
        .label = "Lighten",
        .help = "The fewest control points that stay within a tolerance.",
        .stage = Stage::Grid,
        .group = "Counts",
        .icon = "feather",
        .takes = kCurves,
        .action = "lighten"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// B5: a control point more where wanted, the curve unchanged; or everywhere half-way.
class InsertPointOperation : public OperationOf<InsertPointOperation>, public TakesPlace {
 public:
  OnCurve on;
  bool halfway = false;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "insert_point",
        .label = "Insert point",
        .help = "One control point more at a place; the curve stays.",
        .stage = Stage::Grid,
        .group = "Lines",
        .icon = "square-plus",
        .takes = kCurves,
        .action = "add_grid_line",
        .hint = "Click a place on the curve; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  OperationPtr with_place(const Pick& face, int number, double u, double v) const override;
};

/// B5: a control point less; those beside it are refitted.
class RemovePointOperation : public OperationOf<RemovePointOperation>, public TakesPlace {
 public:
  OnCurve on;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "remove_point",
        .label = "Remove point",
        .help = "One control point less at a place; the deviation is shown.",
        .stage = Stage::Grid,
        .group = "Lines",
        .icon = "square-minus",
        .takes = kCurves,
        .action = "remove_grid_line",
        .hint = "Click a place on the curve; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  OperationPtr with_place(const Pick& face, int number, double u, double v) const override;
};

/// Longer or shorter at its ends.
class ExtendCurveOperation : public OperationOf<ExtendCurveOperation> {
 public:
  double begin = 0.0, end = 10.0;
  bool straight = false;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "extend_curve",
        .label = "Extend",
        .help = "Longer or shorter at its ends; the old part stays.",
        .stage = Stage::Grid,
        .group = "Edges",
        .icon = "move-horizontal",
        .takes = kCurves,
        .action = "extend"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// In two pieces at a place, or in equal pieces; all stay, or one.
class SplitCurveOperation : public OperationOf<SplitCurveOperation>, public TakesPlace {
 public:
  OnCurve on;
  int pieces = 2;
  int keep = 0;  ///< 0: all; else the number of the piece
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "split_curve",
                                         .label = "Split",
                                         .help = "Pieces of the curve; all of them stay, or one.",
                                         .stage = Stage::Grid,
                                         .group = "Edges",
                                         .icon = "square-split-horizontal",
                                         .takes = kCurves,
                                         .action = "split_surface",
                                         .hint = "Click a place on the curve; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  OperationPtr with_place(const Pick& face, int number, double u, double v) const override;
};

/// The curves of the part, and of others, joined where their ends meet.
class JoinCurvesOperation : public OperationOf<JoinCurvesOperation> {
 public:
  std::vector<PartRef> others;
  double gap = 0.01;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "join_curves",
        .label = "Join curves",
        .help = "Curves whose ends meet become one; the gap is measured.",
        .stage = Stage::Source,
        .group = "Curve work",
        .icon = "link",
        .takes = kCurves,
        .hint = "Click the curves to join in the view; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// Closed, opened, turned round, or begun elsewhere.
class CurveDirectionOperation : public OperationOf<CurveDirectionOperation> {
 public:
  enum class What { Close, Open, Reverse, Start };
  What what = What::Close;
  double share = 0.0;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "curve_direction",
        .label = "Open or close",
        .help = "Closes, opens or reverses the curve, or begins it elsewhere.",
        .stage = Stage::Grid,
        .group = "Edges",
        .icon = "circle-dashed",
        .takes = kCurves,
        .action = "open_close"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A curve beside a flat curve.
class OffsetCurveOperation : public OperationOf<OffsetCurveOperation> {
 public:
  double distance = 2.0;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "offset_curve",
        .label = "Offset",
        .help = "A curve at a chosen distance beside a flat curve.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "blend",
        .takes = kCurves,
        .action = "offset"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// The curves carried onto another part.
class ProjectCurveOperation : public OperationOf<ProjectCurveOperation> {
 public:
  PartRef onto;
  int direction = 2;  ///< 0, 1, 2: along x, y, z; 3: to the closest places
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "project_curve",
        .label = "Project",
        .help = "Carries the curves onto the skin of another part.",
        .stage = Stage::Source,
        .group = "Curve work",
        .icon = "download",
        .takes = kCurves,
        .hint = "Click the part to project onto in the view; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
