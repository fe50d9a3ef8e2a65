#pragma once

#include "core/document/operation.h"

namespace evenclay {

/// Which directions are evened out.
enum class EvenOutAlong { Both, U, V };

/// B6: even spacing by arc length, the shape kept. See core/grid/even_out.h.
class EvenOutOperation : public OperationOf<EvenOutOperation> {
 public:
  EvenOutAlong along = EvenOutAlong::Both;
  double tolerance = 0.05;
  bool add_points = true;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "even_out",
        .label = "Even out",
        .help = "Spaces the grid evenly by arc length and keeps the shape within a tolerance.",
        .stage = Stage::Grid,
        .group = "Counts",
        .icon = "ruler",
        .takes = kBody};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
