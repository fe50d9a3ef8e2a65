// Surfaces of a converted form put together to a body; only for convert.cpp.
#pragma once

#include <vector>

#include "core/subdivision/convert.h"
#include "core/subdivision/corner_patch.h"

namespace evenclay {

// A stretch of a surface's border: one edge of the form, as the border is walked.
struct BorderStretch {
  FormEdge walked{};
  double u0 = 0, v0 = 0, u1 = 0, v1 = 0;
};
struct Piece {
  Surface surface;
  Tag tag = 0;
  std::vector<std::vector<BorderStretch>> sides;  // four, counter-clockwise from v = first
};

/// The pieces as faces, joined along the form's edges; runs of edges between the same two pieces become one.
Body assembled(const Walker& walker, const std::vector<Piece>& pieces, int step);

/// Finds the greatest angle between pieces where the form is smooth.
void measure_joints(const Walker& walker, const std::vector<Piece>& pieces, ConvertedForm& result);

}  // namespace evenclay
