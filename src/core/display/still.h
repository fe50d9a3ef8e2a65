// A small picture of parts, made without any window.
#pragma once

#include <string>
#include <vector>

#include "core/display/display.h"

namespace evenclay {

struct StillPart {
  std::shared_ptr<const DisplayMesh> mesh;
  std::uint32_t colour = 0xC9A48C;
};

struct StillView {
  int width = 640, height = 420;  ///< pixels, 16..8192
  double yaw = -50.0, pitch = 22.0;
  std::vector<Vec3> marks = {};  ///< places marked by a ring, seen through the model
};

/// PNG bytes: clay under a soft key light, a fill and the sky, four rays a pixel (Embree), on paper. Nothing but the paper when there
/// are no triangles. Throws Error when the size is out of range, Cancelled.
std::string still_png(const std::vector<StillPart>& parts, const StillView& view,
                      Progress& progress);

}  // namespace evenclay
