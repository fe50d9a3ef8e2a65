// The heights of a flowed pattern from its step's settings.
#pragma once

#include "core/operations/flow_pattern.h"

namespace evenclay {

/// Throws Error when a part of the settings is no curve or no picture.
HeightRule height_rule(const FlowPatternOperation& flow, const Inputs& inputs, const Chart& chart,
                       const FlowOptions& options);

}  // namespace evenclay
