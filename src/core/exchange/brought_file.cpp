#include "core/exchange/brought_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/exchange/mesh_file.h"
#include "core/exchange/points_file.h"
#include "core/exchange/step_file.h"

namespace evenclay {

const std::vector<std::string_view>& brought_endings() {
  static const std::vector<std::string_view> all{".step", ".stp", ".iges", ".igs", ".obj", ".stl",
                                                 ".ply",  ".xyz", ".txt",  ".asc", ".csv"};
  return all;
}

namespace {

BroughtFile with_bodies(StepFile&& content) {
  BroughtFile file;
  file.has_unit = true;
  for (StepBody& b : content.bodies)
    file.parts.push_back({b.name, b.colour, std::make_shared<const Shape>(std::move(b.body)),
                          std::move(b.face_colours)});
  return file;
}

}  // namespace

BroughtFile read_file(const std::string& name, const std::string& bytes, int step,
                      Progress& progress) {
  std::string ending = name.substr(std::min(name.size(), name.find_last_of('.')));
  std::transform(ending.begin(), ending.end(), ending.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  if (ending == ".step" || ending == ".stp") return with_bodies(read_step(bytes, step, progress));
  if (ending == ".iges" || ending == ".igs") return with_bodies(read_iges(bytes, step, progress));
  if (ending == ".xyz" || ending == ".txt" || ending == ".asc" || ending == ".csv")
    return read_points(name, bytes, progress);
  if (ending == ".stl")
    if (auto file = read_binary_stl(name, bytes, progress)) return std::move(*file);
  if (ending == ".ply")
    if (auto file = read_ply_points(name, bytes, progress)) return std::move(*file);
  if (ending == ".obj" || ending == ".stl" || ending == ".ply")
    return read_mesh(name, bytes, ending.substr(1), progress);
  std::string list;
  for (const std::string_view e : brought_endings())
    list += fmt::format("{}{}", list.empty() ? "" : ", ", e);
  throw Error(say("{} cannot be brought in. Files may end in {}.", name.substr(0, 200), list));
}

}  // namespace evenclay
