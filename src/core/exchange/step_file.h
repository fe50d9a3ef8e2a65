// Reading STEP and IGES files.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"

namespace evenclay {

/// One body of a file, with the name and colour it has there.
struct StepBody {
  std::string name;
  std::optional<std::uint32_t> colour;  ///< 0xRRGGBB
  Body body;
  std::map<Tag, std::uint32_t> face_colours = {};  ///< of faces that have their own, by their tags
};

struct StepFile {
  std::vector<StepBody> bodies;
  std::size_t faces_left_out = 0;  ///< that could not be read
};

/// ISO 10303-214 and -242 by the B-rep kernel: solids, shells and faces with their places in the
/// assembly, lengths in mm whatever the file's unit. Every surface becomes a B-spline, exactly where it
/// can be. Faces and edges are tagged by `step` and their order. Throws Error with a sentence when the
/// bytes are no STEP file, hold no faces, or break off; Cancelled.
StepFile read_step(const std::string& bytes, int step, Progress& progress);

/// The same for IGES 5.3: surfaces, trimmed surfaces and solids.
StepFile read_iges(const std::string& bytes, int step, Progress& progress);

}  // namespace evenclay
