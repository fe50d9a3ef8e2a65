#include "core/operations/report.h"

#include <algorithm>
#include <cmath>

#include <nlohmann/json.hpp>

namespace evenclay {

Measurable measurable(const Shape& shape) {
  if (const auto* set = std::get_if<SurfaceSet>(&shape)) return {set->surfaces, nullptr};
  return {{}, &std::get<TriangleMesh>(shape)};
}

namespace {

void report_surfaces(const SurfaceSet& set, const ReportOptions& o, Report& r) {
  const Surface& first = set.surfaces.front();
  r.surfaces = set.surfaces.size();
  r.points_u = first.points.rows();
  r.points_v = first.points.columns();
  r.degree_u = first.u.degree;
  r.degree_v = first.v.degree;
  for (const Surface& s : set.surfaces) {
    r.control_points += s.points.values().size();
    const auto least = least_radius(s, o.per_span);
    if (least && (!r.least_radius || least->radius < r.least_radius->radius))
      r.least_radius = least;
    if (o.area_and_volume) {
      r.area += area(s);
      r.box.add(tight_box(s));
    }
  }
  if (set.surfaces.size() != 1) return;
  r.evenness = evenness(first);
  r.watertight = is_closed(first, 1e-9);
  if (*r.watertight && o.area_and_volume) r.volume = volume(first);
}

void report_mesh(const TriangleMesh& mesh, Report& r) {
  r.vertices = mesh.points.size();
  r.triangles = mesh.triangles.size();
  r.watertight = check_edges(mesh).watertight();
  r.area = area(mesh);
  r.box = box(mesh);
  if (*r.watertight) r.volume = volume(mesh);
}

}  // namespace

int preview_per_span(const Shape& shape) {
  const auto* set = std::get_if<SurfaceSet>(&shape);
  if (set == nullptr) return 3;
  std::size_t spans = 1;
  for (const Surface& s : set->surfaces)
    spans += (breakpoints(s.u).size() - 1) * (breakpoints(s.v).size() - 1);
  constexpr double kSamples = 4000.0;
  return std::clamp(static_cast<int>(std::sqrt(kSamples / static_cast<double>(spans))), 1, 3);
}

Report report(const Shape& shape, const Shape* against, const ReportOptions& options,
              Progress& progress) {
  Report r;
  if (is_empty(shape)) return r;
  if (const auto* set = std::get_if<SurfaceSet>(&shape))
    report_surfaces(*set, options, r);
  else
    report_mesh(std::get<TriangleMesh>(shape), r);
  progress.check();
  if (against != nullptr && !is_empty(*against))
    r.deviation = deviation(measurable(shape), measurable(*against), progress, options.per_span);
  return r;
}

std::string to_json(const Report& r) {
  using Json = nlohmann::ordered_json;
  const auto place = [](const Vec3& p) { return Json{p.x, p.y, p.z}; };
  Json j = Json::object();
  if (r.surfaces > 0) {
    j["grid"] = Json{{"surfaces", r.surfaces}, {"control_points", r.control_points},
                     {"points_u", r.points_u}, {"points_v", r.points_v},
                     {"degree_u", r.degree_u}, {"degree_v", r.degree_v}};
  } else if (r.triangles > 0) {
    j["mesh"] = Json{{"vertices", r.vertices}, {"triangles", r.triangles}};
  }
  if (r.watertight) j["closed"] = *r.watertight;
  if (r.evenness)
    j["evenness"] =
        Json{{"u_percent", r.evenness->u_percent}, {"v_percent", r.evenness->v_percent}};
  if (r.deviation)
    j["deviation"] = Json{{"max_mm", r.deviation->max},
                          {"mean_mm", r.deviation->mean},
                          {"percentile_95_mm", r.deviation->percentile95},
                          {"signed_mm", r.deviation->signed_at},
                          {"at", place(r.deviation->at)}};
  if (r.least_radius) {
    j["least_radius_mm"] = r.least_radius->radius;
    j["least_radius_at"] = place(r.least_radius->at);
  }
  if (!r.box.empty()) {
    j["area_mm2"] = r.area;
    if (r.volume) j["volume_mm3"] = *r.volume;
    j["box"] = Json{{"min", place(r.box.min)}, {"max", place(r.box.max)}};
  }
  return j.dump(2);
}

}  // namespace evenclay
