// Pictures of parts in their materials, traced by rays: the same studio as the look Presentation, without any window.
#pragma once

#include <string>
#include <vector>

#include "core/display/display.h"
#include "core/document/document.h"

namespace evenclay {

struct StudioPart {
  std::shared_ptr<const DisplayMesh> mesh;
  std::uint32_t colour = 0xC9A48C;
  Material material = {};
  /// Lies closely on others, as a pattern does on its target: where both are within 0.25 % of the size, this one is seen.
  bool on_top = false;
};

/// A part as it is seen: its faces by their looks, each look a StudioPart of its own.
std::vector<StudioPart> studio_parts(const Part& part, const Shape& shape,
                                     const std::shared_ptr<const DisplayMesh>& mesh);

struct StudioPicture {
  int width = 1280, height = 800;  ///< pixels, 16..8192
  SavedView view = {};  ///< from where; a `height` of 0 frames all parts from its yaw and pitch
  bool transparent = false;  ///< no ground but the shadow
  int rays = 16;             ///< a pixel, 1..256; more are smoother
};

/// Red, green, blue and alpha of each pixel from the top left, not premultiplied.
struct Pixels {
  int width = 0, height = 0;
  std::vector<unsigned char> bytes;
};

/// The parts on a floor at their lowest place, under a broad key light over the viewer's shoulder, a fill and the sky, in a
/// room that smooth surfaces mirror; soft shadows and hollow darkness by tracing (Embree), materials after B. Walter and
/// others 2007 (microfacets) and C. Schlick 1994 (Fresnel). The same bytes on any number of cores. Throws Error when a size is out of
/// range or there is nothing to show, Cancelled.
Pixels studio_picture(const std::vector<StudioPart>& parts, const StudioPicture& wish,
                      Progress& progress);

/// PNG bytes (ISO/IEC 15948) with the alpha. Throws Error when it is too large for the writer.
std::string png_of(const Pixels& pixels);

}  // namespace evenclay
