// Files of other programs as parts.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/progress.h"
#include "core/document/shape.h"

namespace evenclay {

/// One body or mesh of a file, with the name and colour it has there.
struct BroughtPart {
  std::string name;
  std::optional<std::uint32_t> colour;  ///< 0xRRGGBB
  ShapePtr shape;
  std::map<Tag, std::uint32_t> face_colours = {};  ///< of faces that have their own, by their tags
};

struct BroughtFile {
  std::vector<BroughtPart> parts;
  std::string note;       ///< what was taken for granted, such as the unit; may be empty
  bool has_unit = false;  ///< the file says its unit, and lengths are mm already
};

/// By the ending of the name: .step .stp (ISO 10303-214 and -242), .iges .igs (IGES 5.3) by the B-rep kernel, with
/// lengths in mm whatever the file's unit; .obj .stl .ply as triangles, vertices in one place welded, lengths as
/// written; .ply without faces and .xyz .txt .asc .csv as points (points_file.h). Throws Error with a sentence when the ending is another one, the bytes are no such file,
/// hold no surfaces, break off, or hold more than fifty million triangles; Cancelled.
BroughtFile read_file(const std::string& name, const std::string& bytes, int step,
                      Progress& progress);

/// Endings that read_file() takes: ".step" …
const std::vector<std::string_view>& brought_endings();

}  // namespace evenclay
