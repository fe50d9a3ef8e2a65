#pragma once

#include "core/operations/common.h"
#include "core/operations/offers.h"

namespace evenclay {

/// Where new grid lines go.
enum class NewLines { AcrossU, AcrossV, Both, HalfwayU, HalfwayV, HalfwayBoth };

/// B5: grid lines added exactly. Places are shares of the domain, 0..1.
class AddGridLineOperation : public OperationOf<AddGridLineOperation>, public TakesPlace {
 public:
  NewLines lines = NewLines::Both;
  OnFace on;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "add_grid_line",
        .label = "Add grid line",
        .help = "More control points at a place you pick on the surface; the shape stays exactly.",
        .stage = Stage::Grid,
        .group = "Lines",
        .icon = "square-plus",
        .takes = kBody,
        .hint = kPickPlace};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  OperationPtr with_place(const Pick& face, int number, double u, double v) const override;
};

/// Which line is taken away: of the lines of constant u, or of constant v.
enum class OldLine { OfU, OfV };

/// B5: the grid line nearest to a place is removed; the points beside it are refitted.
class RemoveGridLineOperation : public OperationOf<RemoveGridLineOperation>, public TakesPlace {
 public:
  OldLine line = OldLine::OfU;
  OnFace on;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "remove_grid_line",
        .label = "Remove grid line",
        .help =
            "Takes away the grid line nearest to a place you pick; the deviation is shown first.",
        .stage = Stage::Grid,
        .group = "Lines",
        .icon = "square-minus",
        .takes = kBody,
        .hint = kPickPlace};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  OperationPtr with_place(const Pick& face, int number, double u, double v) const override;
};

}  // namespace evenclay
