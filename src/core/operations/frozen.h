#pragma once

#include "core/document/document.h"
#include "core/document/evaluator.h"

namespace evenclay {

/// I3: a shape that is kept as it was, whatever became of the steps beneath: those are not computed while it is on;
/// without it they make the shape again.
class FrozenOperation : public OperationOf<FrozenOperation> {
 public:
  FileAttachment shape;  ///< shape_bytes() of what was kept

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "frozen",
        .label = "Frozen",
        .help = "The shape as it was, kept; the steps beneath are folded and not computed.",
        .stage = Stage::Deliver,
        .icon = "snowflake",
        .offered = false};
    return kInfo;
  }
  bool begins_anew() const override { return true; }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// The part with its shape after that step kept by a step Frozen behind it. Throws Error when the step failed or made
/// nothing, when the part already begins behind it, or when the step is not there.
Added with_frozen(const Document& document, StepId after, const StepResult& result);

/// The same by words, "Part" or "Part/Step": computes the part up to there. Throws also Cancelled.
Document with_frozen_words(const Document& document, std::string_view words, Evaluator& evaluator,
                           Progress& progress);

/// Whether the step is one that keeps a shape.
bool is_frozen(const Step& step);
/// Whether the part of the step has no other; without it there would be no shape.
bool is_only_step(const Document& document, StepId step);
/// The document with plain geometry only: each part that has a shape is one step that keeps it; parts without one,
/// and numbers that nothing uses any more, are left out. Looks, layers, views, limits and what is watched against a whole part stay.
/// Throws Error when a part has a failing step: it would be kept without what that step should do.
Document lean(const Document& document, const Evaluation& evaluation);

}  // namespace evenclay
