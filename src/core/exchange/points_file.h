// Lists of points, and triangles in the binary form that scanners write.
#pragma once

#include <optional>

#include "core/exchange/brought_file.h"

namespace evenclay {

/// .xyz, .txt, .asc, .csv: a point a line, three numbers or more between blanks, commas or semicolons; the fourth to sixth are a
/// normal when they have length 1 in nearly all lines. Lines without three numbers are passed over. Points that are no numbers
/// and points that occur twice are left out and counted in the note. Throws Error when no point is left, or more than fifty
/// million; Cancelled.
BroughtFile read_points(const std::string& name, const std::string& bytes, Progress& progress);

/// .ply without faces, ASCII or binary; nothing when it has faces or is no such file (mesh_file.h reads those). Source: G. Turk,
/// The PLY polygon file format, 1994. Throws like read_points().
std::optional<BroughtFile> read_ply_points(const std::string& name, const std::string& bytes,
                                           Progress& progress);

/// Binary STL: 80 bytes, a count, 50 bytes a triangle (3D Systems, StereoLithography interface specification, 1989). Nothing when the
/// size does not fit the count. Corners at one place are one; triangles with corners that are no numbers are left out
/// and counted. Memory: about 90 bytes a triangle. Throws like read_points().
std::optional<BroughtFile> read_binary_stl(const std::string& name, const std::string& bytes,
                                           Progress& progress);

}  // namespace evenclay
