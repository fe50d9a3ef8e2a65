#pragma once

#include "core/base/say.h"
#include "core/document/operation.h"

namespace evenclay {

/// A part that begins as the finished shape of another one and follows it.
class CopyOfPartOperation : public OperationOf<CopyOfPartOperation> {
 public:
  PartRef part;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "copy_of_part",
        .label = "Copy of part",
        .help = "Begins with the finished shape of another part and follows its changes.",
        .stage = Stage::Source,
        .group = "",
        .icon = "layers",
        .takes = kNothing,
        .offered = false};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override { return say("follows the part"); }
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
