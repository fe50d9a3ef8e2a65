// A small picture of a part, drawn without a view.
#pragma once

#include <QImage>

#include "core/display/display.h"

namespace evenclay {

/// The shape seen from the front above, in its colour, on a clear ground of `pixels` × `pixels`. Null for shapes with
/// nothing to draw. Any thread.
QImage part_picture(const Shape& shape, std::uint32_t colour, int pixels);

}  // namespace evenclay
