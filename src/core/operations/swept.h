// Steps that turn the curves of a part into surfaces. The curves below stay editable, and the surfaces
// follow them.
#pragma once

#include "core/base/say.h"
#include "core/operations/common.h"

namespace evenclay {

/// Along what something is carried or turned.
enum class SweepDirection { AcrossCurve, X, Y, Z };

/// A3: curves moved along a straight way.
class ExtrudeOperation : public OperationOf<ExtrudeOperation> {
 public:
  double length = 40.0;
  bool both_ways = false;  ///< half to each side: exactly symmetric about the curve's place
  SweepDirection direction = SweepDirection::AcrossCurve;
  int rows = 2;
  double draft = 0.0;  ///< degrees; above 0 it narrows towards the far end

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "extrude",
        .label = "Extrude",
        .help = "Moves the part's curves along a straight way; the surface follows them.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "arrow-up-from-line",
        .takes = kCurves};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A3: curves turned about an axis.
class RevolveOperation : public OperationOf<RevolveOperation> {
 public:
  double angle = 360.0;
  SweepDirection axis = SweepDirection::Z;  ///< not AcrossCurve
  Vec3 centre;                              ///< a place on the axis

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "revolve",
        .label = "Revolve",
        .help = "Turns the part's curves about an axis; exact, also in part of a turn.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "rotate-3d",
        .takes = kCurves};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A3: straight lines from the part's curve to another part's.
class RuledOperation : public OperationOf<RuledOperation> {
 public:
  PartRef other;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "ruled",
        .label = "Ruled surface",
        .help = "Straight lines from the part's curve to the curve of another part.",
        .stage = Stage::Source,
        .group = "From curves",
        .icon = "blend",
        .takes = kCurves,
        .hint = "Choose the part with the other curve in the settings; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override { return say("to another curve"); }
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
