// Whether places of one body are places of another by their parameters.
#pragma once

#include "core/body/body.h"

namespace evenclay {

/// As many faces with as many loops, and surfaces of the same domains and closed directions, in the same order; false for
/// empty bodies.
bool answer_each_other(const Body& a, const Body& b);

}  // namespace evenclay
