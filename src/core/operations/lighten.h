#pragma once

#include "core/document/operation.h"
#include "core/operations/rebuild.h"

namespace evenclay {

/// Where Lighten may put grid lines.
enum class LightenKnots { Even, Uneven };

/// B4: the fewest control points within a tolerance. See core/grid/lighten.h.
class LightenOperation : public OperationOf<LightenOperation> {
 public:
  double tolerance = 0.05;
  int degree_u = 3, degree_v = 3;
  Spacing spacing = Spacing::KeepFlow;
  LightenKnots knots = LightenKnots::Even;
  int least_u = 2, least_v = 2;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "lighten",
        .label = "Lighten",
        .help = "The fewest control points that keep the shape within a tolerance.",
        .stage = Stage::Grid,
        .group = "Counts",
        .icon = "feather",
        .takes = kBody,
        .several_parts = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
