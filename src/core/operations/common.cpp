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

void describe_surface_place(ParameterVisitor& v, double& place_u, double& place_v, int& surface) {
  v.number({"place_u", "Place along u", "Share of the way along u; pick it on the surface."},
           place_u, {0.0, 1.0, "", 0.01, 4});
  v.number({"place_v", "Place along v", "Share of the way along v; pick it on the surface."},
           place_v, {0.0, 1.0, "", 0.01, 4});
  v.count({"surface", "Surface", "Number of the surface in the part."}, surface, {1, 1000});
}

Surface& surface_numbered(SurfaceSet& set, int number) {
  if (number > static_cast<int>(set.surfaces.size()))
    throw Error(
        fmt::format("There is no surface {}; the part has {}.", number, set.surfaces.size()));
  return set.surfaces[static_cast<std::size_t>(number - 1)];
}

std::string grid_words(int nu, int nv, int pu, int pv) {
  return fmt::format("{} × {}, degree {} × {}", nu, nv, pu, pv);
}

}  // namespace evenclay
