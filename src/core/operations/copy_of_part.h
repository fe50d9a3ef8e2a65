#pragma once

#include "core/document/operation.h"

namespace evenclay {

/// A part that begins as the finished shape of another one and follows it.
class CopyOfPartOperation : public OperationOf<CopyOfPartOperation> {
 public:
  PartId part = 0;

  std::string_view kind() const override { return "copy_of_part"; }
  std::string_view label() const override { return "Copy of part"; }
  std::string_view help() const override {
    return "Begins with the finished shape of another part and follows its changes.";
  }
  bool is_source() const override { return true; }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override { return "follows the part"; }
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
