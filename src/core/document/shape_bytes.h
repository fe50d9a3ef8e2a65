// Shapes as bytes, for steps that keep a shape instead of making one.
#pragma once

#include <string>
#include <string_view>

#include "core/document/shape.h"

namespace evenclay {

/// Every kind of shape, to the bit: the shape read back makes the same bytes again. Written as CBOR (RFC 8949), numbers
/// that come in rows as little-endian binary strings; docs/file-format.md has the names.
std::string shape_bytes(const Shape& shape);

/// Throws Error with a sentence when the bytes are cut off, foreign or hold a shape that cannot be; never asks for much
/// more memory than there are bytes.
Shape shape_from_bytes(std::string_view bytes);

}  // namespace evenclay
