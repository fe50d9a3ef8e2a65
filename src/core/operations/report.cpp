#include "core/operations/report.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <nlohmann/json.hpp>

#include "core/base/parallel.h"
#include "core/body/body_mesh.h"
#include "core/body/topology.h"
#include "core/check/curve_measures.h"
#include "core/operations/offers.h"
#include "core/operations/watching.h"
#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

TriangleMesh limit_as_mesh(const Form& form, Progress& progress) {
  return limit_within(form, 1e-4 * size(form), 300'000, progress);
}

struct AsMeasurable {
  Measurable operator()(const Body& body) const { return body; }
  Measurable operator()(const TriangleMesh& mesh) const { return mesh; }
  Measurable operator()(const CurveSet&) const { return {}; }
  Measurable operator()(const Picture&) const { return {}; }
  Measurable operator()(const Cage&) const { return {}; }
  Measurable operator()(const PointCloud&) const { return {}; }
  Measurable operator()(const Form& form) const {
    Progress quiet;
    return std::make_shared<const TriangleMesh>(limit_as_mesh(form, quiet));
  }
};

}  // namespace

Measurable measurable(const Shape& shape) {
  return std::visit(AsMeasurable{}, shape);
}

namespace {

struct FaceReport {
  std::optional<LeastRadius> least;
  double area = 0.0, volume = 0.0;
  Box3 box;
};

// Face by face on all cores; whoever adds them up does so in their order.
std::vector<FaceReport> of_faces(const Body& body, const ReportOptions& o, bool closed,
                                 Progress& progress) {
  std::vector<FaceReport> all(body.faces.size());
  parallel_blocks(all.size(), 1, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t f = begin; f < end; ++f) {
      const Face& face = body.faces[f];
      all[f].least = least_radius(face, o.per_span, progress);
      if (!o.area_and_volume) continue;
      all[f].area = area(face, progress);
      all[f].box = tight_box(face, body, progress);
      if (closed) all[f].volume = volume(face, progress);
    }
  });
  return all;
}

void report_shape(const Body& body, const ReportOptions& o, Report& r, Progress& progress) {
  const Surface& first = *body.faces.front().surface;
  r.surfaces = body.faces.size();
  r.points_u = first.points.rows();
  r.points_v = first.points.columns();
  r.degree_u = first.u.degree;
  r.degree_v = first.v.degree;
  r.watertight = bounds_volume(body, 1e-6);
  std::set<const Surface*> counted;
  const std::vector<FaceReport> faces = of_faces(body, o, *r.watertight, progress);
  double volume_sum = 0.0;
  for (std::size_t f = 0; f < faces.size(); ++f) {
    if (counted.insert(body.faces[f].surface.get()).second)
      r.control_points += body.faces[f].surface->points.values().size();
    const auto& least = faces[f].least;
    if (least && (!r.least_radius || least->radius < r.least_radius->radius))
      r.least_radius = least;
    r.area += faces[f].area;
    volume_sum += faces[f].volume;
    r.box.add(faces[f].box);
  }
  if (counted.size() == 1) r.evenness = evenness(first);
  for (const Edge& e : body.edges) r.gap = std::max(r.gap.value_or(0.0), e.gap);
  if (*r.watertight && o.area_and_volume) r.volume = volume_sum;
}

void report_shape(const TriangleMesh& mesh, const ReportOptions&, Report& r, Progress&) {
  r.vertices = mesh.points.size();
  r.triangles = mesh.triangles.size();
  r.watertight = check_edges(mesh).watertight();
  r.area = area(mesh);
  r.box = box(mesh);
  if (*r.watertight) r.volume = volume(mesh);
}

void report_shape(const CurveSet& set, const ReportOptions&, Report& r, Progress&) {
  const Curve& first = set.curves.front();
  r.curves = set.curves.size();
  r.points_u = first.point_count();
  r.degree_u = first.knots.degree;
  double sum = 0.0;
  for (const Curve& c : set.curves) {
    r.control_points += c.points.size();
    sum += arc_length(c);
    r.box.add(tight_box(c));
    const auto least = least_radius(c);
    if (least && (!r.least_radius || least->radius < r.least_radius->radius))
      r.least_radius = LeastRadius{least->radius, least->at};
  }
  r.length = sum;
  if (set.curves.size() == 1) r.evenness = Evenness{evenness(first), 0.0};
}

void report_shape(const Form& form, const ReportOptions& o, Report& r, Progress& progress) {
  const std::shared_ptr<const FormLinks> links = links_of(form);
  const FormTopology& t = links->topology;
  r.control_points = form.points.size();
  r.form_faces = form.faces.size();
  r.form_edges = t.edges.size();
  r.watertight = t.borders == 0;
  if (!o.area_and_volume) {
    for (const Vec3& p : form.points) r.box.add(p);
    return;
  }
  if (!o.quick) r.crossings = crossings(form, 100'000, progress);
  const TriangleMesh mesh = limit_as_mesh(form, progress);
  r.form_stretch = form_stretch(mesh.points, mesh.triangles, corner_count(form));
  if (r.form_stretch) r.form_stretch->at_vertices.clear();
  r.area = area(mesh);
  r.box = box(mesh);
  if (*r.watertight) r.volume = volume(mesh);
}

void report_shape(const Cage& c, const ReportOptions&, Report& r, Progress&) {
  r.control_points = c.now.points.values().size();
  for (const Vec3& p : c.now.points.values()) r.box.add(p);
}

void report_shape(const PointCloud& cloud, const ReportOptions&, Report& r, Progress&) {
  r.points = cloud.points.size();
  r.box = box(cloud);
}

void report_shape(const Picture& p, const ReportOptions&, Report& r, Progress&) {
  for (const double x : {-0.5, 0.5})
    for (const double y : {-0.5, 0.5})
      r.box.add(p.frame.to_world({x * p.width, y * p.height, 0.0}));
  r.area = p.width * p.height;
}

// Curve by curve; nothing when the counts of curves differ.
std::optional<Deviation> curve_deviation(const CurveSet& a, const CurveSet& b, Progress& progress) {
  if (a.curves.size() != b.curves.size()) return std::nullopt;
  Deviation result;
  for (std::size_t k = 0; k < a.curves.size(); ++k) {
    const CurveDeviation d = deviation(a.curves[k], b.curves[k], progress);
    result.mean += d.mean / static_cast<double>(a.curves.size());
    result.percentile95 = std::max(result.percentile95, d.percentile95);
    if (k > 0 && d.max <= result.max) continue;
    result.max = d.max;
    result.at = d.at;
    result.signed_at = d.max;
  }
  return result;
}

bool is_compared(const Shape& shape) {
  return !std::holds_alternative<Picture>(shape) && !std::holds_alternative<Cage>(shape);
}

int axis_of(SymmetryPlane plane) {
  return plane == SymmetryPlane::YZ ? 0 : (plane == SymmetryPlane::XZ ? 1 : 2);
}

Report::Symmetry symmetry_about(const Shape& shape, SymmetryPlane plane, int per_span,
                                Progress& progress) {
  Report::Symmetry result{plane, 0.0, {}};
  if (const auto* set = std::get_if<CurveSet>(&shape)) {
    for (const Curve& c : set->curves)
      if (const auto gap = mirror_gap(c, axis_of(plane), progress); gap.max > result.max)
        result = {plane, gap.max, gap.at};
    return result;
  }
  const MirrorGap gap = mirror_gap(measurable(shape), axis_of(plane), progress, per_span);
  return {plane, gap.max, gap.at};
}

std::optional<Deviation> quick_against(const Shape& shape, const Shape& against,
                                       Progress& progress) {
  constexpr std::size_t kSamples = 1200;
  const auto* now = std::get_if<Body>(&shape);
  const auto* before = std::get_if<Body>(&against);
  if (now == nullptr || before == nullptr) return std::nullopt;
  return quick_deviation(*now, *before, kSamples, progress);
}

// From the scan to the surface only: what a scan does not show cannot be judged.
std::optional<Deviation> off_scan(const Shape& shape, const Shape& scan, bool quick,
                                  Progress& progress) {
  if (quick) return std::nullopt;
  const WatchPlaces w = watch_places(shape, scan, progress);
  const WatchReport r = watch_report(w.at, w.off, 1.0, 0.0);
  return Deviation{r.max, r.mean, r.percentile95, r.worst.front().at, r.worst.front().off};
}

}  // namespace

SymmetryPlane symmetry_of(const Operation& operation) {
  const auto* shapes = offer_of<ShapesPoints>(operation);
  return shapes != nullptr ? shapes->symmetry_planes() : SymmetryPlane::None;
}

int preview_per_span(const Shape& shape) {
  const auto* body = std::get_if<Body>(&shape);
  if (body == nullptr) return 3;
  std::size_t spans = 1;
  for (const Face& f : body->faces)
    spans += (breakpoints(f.surface->u).size() - 1) * (breakpoints(f.surface->v).size() - 1);
  constexpr double kSamples = 4000.0;
  return std::clamp(static_cast<int>(std::sqrt(kSamples / static_cast<double>(spans))), 1, 3);
}

Report report(const Shape& shape, const Shape* against, const ReportOptions& options,
              Progress& progress) {
  Report r;
  if (is_empty(shape)) return r;
  std::visit([&](const auto& s) { report_shape(s, options, r, progress); }, shape);
  progress.check();
  if (!is_compared(shape) || std::holds_alternative<PointCloud>(shape)) return r;
  const SymmetryPlane planes = options.quick ? SymmetryPlane::None : options.symmetry;
  for (const SymmetryPlane plane : planes_of(planes))
    r.symmetry.push_back(symmetry_about(shape, plane, options.per_span, progress));
  if (against == nullptr || is_empty(*against) || !is_compared(*against)) return r;
  const auto* now = std::get_if<CurveSet>(&shape);
  const auto* before = std::get_if<CurveSet>(against);
  if (now != nullptr && before != nullptr)
    r.deviation = curve_deviation(*now, *before, progress);
  else if (now == nullptr && before == nullptr && options.quick)
    r.deviation = quick_against(shape, *against, progress);
  if (r.deviation || now != nullptr || before != nullptr) return r;
  // The limit of a form would be walked over anew for each picture; and its triangles are too coarse to judge a
  // conversion by, which says itself how near it is.
  if (std::holds_alternative<Body>(shape) && is_scan(*against)) {
    r.deviation = off_scan(shape, *against, options.quick, progress);
    return r;
  }
  const bool form = std::holds_alternative<Form>(shape);
  if (form ? options.quick : std::holds_alternative<Form>(*against)) return r;
  if (std::holds_alternative<PointCloud>(*against)) return r;
  r.deviation = deviation(measurable(shape), measurable(*against), progress, options.per_span);
  return r;
}

namespace {

using Json = nlohmann::ordered_json;

Json watch_json(const WatchReport& w) {
  Json j{{"against", w.name},        {"band_mm", w.band}, {"inside_percent", 100.0 * w.inside},
         {"max_mm", w.max},          {"mean_mm", w.mean}, {"percentile_95_mm", w.percentile95},
         {"signed_mean_mm", w.bias}, {"places", w.places}};
  j["worst"] = Json::array();
  for (const WorstPlace& p : w.worst)
    j["worst"].push_back(Json{{"off_mm", p.off}, {"at", Json{p.at.x, p.at.y, p.at.z}}});
  j["histogram_percent"] = Json::array();
  for (const double share : w.histogram) j["histogram_percent"].push_back(100.0 * share);
  return j;
}

}  // namespace

std::string to_json(const Report& r) {
  const auto place = [](const Vec3& p) { return Json{p.x, p.y, p.z}; };
  Json j = Json::object();
  if (r.surfaces > 0) {
    j["grid"] = Json{{"surfaces", r.surfaces}, {"control_points", r.control_points},
                     {"points_u", r.points_u}, {"points_v", r.points_v},
                     {"degree_u", r.degree_u}, {"degree_v", r.degree_v}};
  } else if (r.curves > 0) {
    j["curve"] = Json{{"curves", r.curves},
                      {"control_points", r.control_points},
                      {"points", r.points_u},
                      {"degree", r.degree_u}};
  } else if (r.form_faces > 0) {
    j["form"] =
        Json{{"points", r.control_points}, {"edges", r.form_edges}, {"faces", r.form_faces}};
  } else if (r.points > 0) {
    j["scan"] = Json{{"points", r.points}};
  } else if (r.triangles > 0) {
    j["mesh"] = Json{{"vertices", r.vertices}, {"triangles", r.triangles}};
  }
  if (r.form_stretch)
    j["stretch"] = Json{{"worst_percent", r.form_stretch->worst},
                        {"mean_percent", r.form_stretch->mean},
                        {"at", place(r.form_stretch->at)}};
  if (r.crossings) {
    j["crossings"] = Json::array();
    for (const Crossing& c : *r.crossings)
      j["crossings"].push_back(Json{{"length_mm", c.length}, {"at", place(c.at)}});
  }
  if (r.watertight) j["closed"] = *r.watertight;
  if (r.gap) j["gap_mm"] = *r.gap;
  if (r.evenness) {
    j["evenness"] = Json{{"u_percent", r.evenness->u_percent}};
    if (r.surfaces > 0) j["evenness"]["v_percent"] = r.evenness->v_percent;
  }
  for (const Report::Symmetry& s : r.symmetry)
    j["symmetry"]
     [s.plane == SymmetryPlane::YZ ? "yz" : (s.plane == SymmetryPlane::XZ ? "xz" : "xy")] =
         Json{{"max_mm", s.max}, {"at", place(s.at)}};
  if (r.length) j["length_mm"] = *r.length;
  if (r.deviation)
    j["deviation"] = Json{{"max_mm", r.deviation->max},
                          {"mean_mm", r.deviation->mean},
                          {"percentile_95_mm", r.deviation->percentile95},
                          {"signed_mm", r.deviation->signed_at},
                          {"at", place(r.deviation->at)}};
  if (r.watched) j["watched"] = watch_json(*r.watched);
  if (r.least_radius) {
    j["least_radius_mm"] = r.least_radius->radius;
    j["least_radius_at"] = place(r.least_radius->at);
  }
  if (!r.box.empty()) {
    if (r.curves == 0) j["area_mm2"] = r.area;
    if (r.volume) j["volume_mm3"] = *r.volume;
    j["box"] = Json{{"min", place(r.box.min)}, {"max", place(r.box.max)}};
  }
  return j.dump(2);
}

}  // namespace evenclay
