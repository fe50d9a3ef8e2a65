#pragma once

#include "core/operations/common.h"

namespace evenclay {

/// Which way a row lifts its point.
enum class LiftWay { X, Y, Z, OffSkin };

/// A point by its number, and the way it is lifted.
struct LiftRow {
  PointIndex point;
  /// As the address is written: [i], [i,j] or [net,i,j], which in a cage is [i,j,k].
  int numbers = 2;
  LiftWay way = LiftWay::OffSkin;
};

/// The rows as text: "[4,2] off; [5,2] z".
class LiftRows : public DataParameter {
 public:
  static constexpr std::size_t kMost = 200;
  std::vector<LiftRow> rows;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
  void set(std::string_view address, std::string_view text) override;
  std::string summary() const override;
  std::optional<std::string> typed() const override;
};

/// I5: a step of rows, each a point's number, a direction and an amount in mm that may be a formula over the named
/// numbers. A row whose point is gone waits and says so; the others hold.
class LiftedPointsOperation : public OperationOf<LiftedPointsOperation> {
 public:
  LiftRows rows;
  std::vector<double> amounts;  ///< one for each row

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "lifted_points",
        .label = "Lifted points",
        .help = "Points by their numbers, each lifted by an amount or a formula over the numbers.",
        .stage = Stage::Shaped,
        .group = "Numbers",
        .icon = "arrow-up-from-line",
        .takes = kBody | kCurves | kCage,
        .hint = "A row stands for each picked point; type amounts or formulas on the right."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
