// A picture on a plane, to model over.
#pragma once

#include <memory>
#include <optional>
#include <string>

#include "core/base/frame.h"

namespace evenclay {

/// `bytes` are those of a PNG, JPEG, BMP or SVG file; whoever shows the picture decodes them. x of the frame is its
/// width, y its height, the origin its middle.
struct Picture {
  std::shared_ptr<const std::string> bytes;
  Frame frame;
  double width = 100.0, height = 100.0;  ///< mm
  double opacity = 1.0;                  ///< 0..1
  bool through = false;                  ///< seen through what lies before it
};

/// Width ÷ height of a picture, read from the head of the file; nothing when it is no PNG, JPEG, BMP or SVG.
/// Sources: ISO/IEC 15948 (PNG, IHDR), ITU-T T.81 (JPEG, frame header), the BITMAPINFOHEADER of BMP files, and the
/// width, height and viewBox of the svg element (W3C SVG 1.1, 7.2 and 7.7).
std::optional<double> picture_proportion(const std::string& bytes);

}  // namespace evenclay
