// The brightness of a picture file.
#pragma once

#include <string>

#include "core/base/grid.h"

namespace evenclay {

/// Means of the brightness (0 black … 1 white; over white where it is transparent) in rows × columns equal parts of a
/// PNG, JPEG or BMP file: rows from its left to its right, columns from its bottom to its top. Throws Error when it
/// cannot be read, or is larger than 8192 × 8192 pixels.
Grid<double> grey_samples(const std::string& bytes, int rows, int columns);

}  // namespace evenclay
