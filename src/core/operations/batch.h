// One operation on several parts at once, with their common borders kept common.
#pragma once

#include <span>
#include <vector>

#include "core/document/document.h"

namespace evenclay {

struct BatchSteps {
  Document document;
  std::vector<StepId> steps;  ///< one for each part, in their order
};

/// The operation as a new last step of each part. Throws Error when a part is not there.
BatchSteps with_step_on(const Document& document, std::span<const PartId> parts,
                        const OperationPtr& operation);

/// Sets counts so that borders common to the parts stay common: Rebuild steps get the counts and
/// degrees of the first step along every direction that is linked to one of its directions (and
/// agree among each other elsewhere); Lighten steps get least counts from lightening all together,
/// with even knots. Steps of other kinds are returned as they are. Evaluates the parts; takes as
/// long as that and the lightening. Throws Error, Cancelled.
Document with_common_borders(const Document& document, std::span<const StepId> steps,
                             Progress& progress);

}  // namespace evenclay
