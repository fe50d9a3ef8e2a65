#pragma once

#include "core/cut/trim.h"
#include "core/operations/body_picks.h"

namespace evenclay {

/// G2: an opening cut by a closed curve of another part. See core/cut/trim.h.
class TrimAwayOperation : public OperationOf<TrimAwayOperation> {
 public:
  PartRef curve;
  Carried carried;
  TrimReach reach = TrimReach::BothWays;
  TrimKeep keep = TrimKeep::Outside;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "trim_away",
        .label = "Trim away",
        .help = "Cuts an opening along a closed curve; the points beneath stay shapeable.",
        .stage = Stage::CutAndJoin,
        .group = "Cut",
        .icon = "scissors",
        .takes = kBody,
        .hint = "Choose the curve that cuts in the settings; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
