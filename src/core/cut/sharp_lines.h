// Faces split where their surface has a corner.
#pragma once

#include "core/body/body.h"

namespace evenclay {

/// Whole faces (without loops) whose surface has a sharp grid line are split along it, so that every face is smooth
/// inside, and offset, mitre and rounding find an edge there. A line is sharp where its knot leaves no common tangent and
/// the normals on both sides differ by more than 0.1° somewhere; closed directions are opened at one. The first piece
/// keeps its face's place and name, the others follow behind all faces with names of `step`. Faces with loops stay.
Body split_at_sharp_lines(const Body& body, int step);

}  // namespace evenclay
