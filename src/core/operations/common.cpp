#include "core/operations/common.h"

#include <fmt/format.h>

#include "core/base/error.h"

namespace evenclay {

void describe_place(ParameterVisitor& visitor, Vec3& place, std::string_view label,
                    std::string_view name) {
  static constexpr const char* axes[3] = {"x", "y", "z"};
  for (std::size_t a = 0; a < 3; ++a) {
    const std::string n = fmt::format("{}_{}", name, axes[a]);
    const std::string l = fmt::format("{} {}", label, axes[a]);
    const std::string h = fmt::format("{} along {}.", label, axes[a]);
    visitor.number({n, l, h}, place[a], {-100000.0, 100000.0, "mm", 1.0, 3});
  }
}

const SurfaceSet& surfaces_of(const Shape& shape, std::string_view label) {
  const auto* set = std::get_if<SurfaceSet>(&shape);
  if (set == nullptr)
    throw Error(fmt::format(
        "{} works on surfaces, but the shape below is a mesh. Put this step before the mesh is "
        "made, or on the part the mesh was made from.",
        label));
  if (set->surfaces.empty())
    throw Error(fmt::format(
        "{} has no surface to work on. Mend or switch on the steps below it first.", label));
  return *set;
}

Outcome each_surface(const Shape& shape, std::string_view label,
                     const std::function<Surface(const Surface&)>& change) {
  SurfaceSet result;
  for (const Surface& s : surfaces_of(shape, label).surfaces) result.surfaces.push_back(change(s));
  return {std::move(result), {}};
}

std::string grid_words(int nu, int nv, int pu, int pv) {
  return fmt::format("{} × {}, degree {} × {}", nu, nv, pu, pv);
}

}  // namespace evenclay
