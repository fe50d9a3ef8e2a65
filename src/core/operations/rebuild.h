#pragma once

#include "core/document/operation.h"
#include "core/grid/rebuild.h"
#include "core/operations/offers.h"

namespace evenclay {

/// How the parameter runs over the rebuilt surface.
enum class Spacing { KeepFlow, Even };

/// B1: the shape on a chosen grid of control points. See core/grid/rebuild.h.
class RebuildOperation : public OperationOf<RebuildOperation>, public OffersCounts {
 public:
  int points_u = 10, points_v = 8;
  int degree_u = 3, degree_v = 3;
  Spacing spacing = Spacing::KeepFlow;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "rebuild",
        .label = "Rebuild",
        .help = "The same shape on a control-point grid of chosen counts and degree.",
        .stage = Stage::Grid,
        .group = "Counts",
        .icon = "grid-3x3",
        .takes = kBody,
        .several_parts = true};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  RebuildOptions options() const;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

  std::array<int, 2> counts() const override { return {points_u, points_v}; }
  OperationPtr with_counts(int along_u, int along_v) const override;
  std::vector<CountPlace> count_plot(const Shape& before, Progress& progress) const override;
};

}  // namespace evenclay
