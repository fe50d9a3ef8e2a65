#include "core/operations/common.h"

#include <fmt/format.h>

#include <array>
#include <charconv>

#include "core/base/error.h"

namespace evenclay {

void describe_flat_plane(ParameterVisitor& v, FlatPlane& plane) {
  static constexpr std::array<Choice, 3> planes{{{"xy", "x–y, seen from top"},
                                                 {"xz", "x–z, seen from front"},
                                                 {"yz", "y–z, seen from side"}}};
  visit_choice(v, {"plane", "Lies in", "The world plane it lies in."}, plane, planes);
}

Frame frame_in(FlatPlane plane, const Vec3& origin) {
  if (plane == FlatPlane::XZ) return {origin, {1, 0, 0}, {0, 0, 1}, {0, -1, 0}};
  if (plane == FlatPlane::YZ) return {origin, {0, 1, 0}, {0, 0, 1}, {1, 0, 0}};
  return {origin};
}

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

namespace {

[[noreturn]] void refuse_mesh(std::string_view label) {
  throw Error(fmt::format(
      "{} works on surfaces, but the shape below is a mesh. Put this step before the mesh is "
      "made, or on the part the mesh was made from.",
      label));
}

}  // namespace

const SurfaceSet& surfaces_of(const Shape& shape, std::string_view label) {
  const auto* set = std::get_if<SurfaceSet>(&shape);
  if (std::holds_alternative<CurveSet>(shape))
    throw Error(fmt::format(
        "{} works on surfaces, but the part is a curve. Choose a part made of surfaces.", label));
  if (set == nullptr) refuse_mesh(label);
  if (set->surfaces.empty())
    throw Error(fmt::format(
        "{} has no surface to work on. Mend or switch on the steps below it first.", label));
  return *set;
}

Nets nets_of(const Shape& shape, std::string_view label) {
  std::vector<Net> nets;
  if (const auto* curves = std::get_if<CurveSet>(&shape))
    nets.assign(curves->curves.begin(), curves->curves.end());
  else if (const auto* set = std::get_if<SurfaceSet>(&shape))
    nets.assign(set->surfaces.begin(), set->surfaces.end());
  else
    refuse_mesh(label);
  if (nets.empty())
    throw Error(fmt::format(
        "{} has nothing to work on. Mend or switch on the steps below it first.", label));
  return Nets(std::move(nets));
}

Shape shape_of(const Nets& nets) {
  CurveSet curves;
  SurfaceSet surfaces;
  for (const Net& n : nets.nets) {
    if (n.curve() != nullptr) curves.curves.push_back(*n.curve());
    if (n.surface() != nullptr) surfaces.surfaces.push_back(*n.surface());
  }
  if (!curves.curves.empty()) return curves;
  return surfaces;
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

std::vector<double> numbers_in(std::string_view text) {
  std::vector<double> result;
  const char* at = text.data();
  const char* end = text.data() + text.size();
  while (at < end) {
    double value = 0.0;
    const auto [next, error] = std::from_chars(at, end, value);
    if (error != std::errc()) throw Error(fmt::format("'{}' is not a list of numbers.", text));
    result.push_back(value);
    at = next;
    if (at < end && *at != ',') throw Error(fmt::format("'{}' is not a list of numbers.", text));
    if (at < end) ++at;
  }
  return result;
}

std::string grid_words(int nu, int nv, int pu, int pv) {
  return fmt::format("{} × {}, degree {} × {}", nu, nv, pu, pv);
}

}  // namespace evenclay
