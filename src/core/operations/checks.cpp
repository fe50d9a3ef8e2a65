#include "core/operations/checks.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/body/topology.h"
#include "core/check/joints.h"
#include "core/check/walls.h"
#include "core/exchange/export.h"
#include "core/mesh/area_vector.h"
#include "core/mesh/ray_scene.h"
#include "core/operations/common.h"
#include "core/operations/offers.h"
#include "core/operations/report.h"
#include "core/operations/watching.h"

namespace evenclay {

std::string_view name_of(CheckLevel level) {
  return level == CheckLevel::Good ? "good" : (level == CheckLevel::Caution ? "caution" : "bad");
}

namespace {

// Collects the lines of one part.
class Lines {
 public:
  Lines(const Document& d, const Part& part, Progress& progress)
      : d_(d), part_(part), progress_(progress) {}
  const CheckLimits& limits() const { return d_.limits; }
  Progress& progress() { return progress_; }
  void add(std::string what, CheckLevel level, std::string says, std::optional<Vec3> at = {},
           double value = 0.0) {
    lines.push_back({part_.id, part_.name, std::move(what), level, std::move(says), at, value});
  }
  std::vector<CheckLine> lines;

 private:
  const Document& d_;
  const Part& part_;
  Progress& progress_;
};

constexpr CheckLevel good_if(bool good, CheckLevel otherwise = CheckLevel::Bad) {
  return good ? CheckLevel::Good : otherwise;
}

void check_grid(const Report& r, Lines& l) {
  if (r.evenness) {
    const double worse = r.surfaces > 0 ? std::min(r.evenness->u_percent, r.evenness->v_percent)
                                        : r.evenness->u_percent;
    l.add("Evenness", good_if(worse >= l.limits().evenness, CheckLevel::Caution),
          fmt::format("{:.0f} %", worse), {}, worse);
  }
  if (r.least_radius && r.least_radius->radius < 1e6) {
    const double radius = r.least_radius->radius;
    l.add("Least radius", good_if(radius >= l.limits().radius), fmt::format("{:.2f} mm", radius),
          r.least_radius->at, radius);
  }
  for (const Report::Symmetry& s : r.symmetry)
    l.add("Symmetry",
          good_if(s.max <= l.limits().symmetry,
                  s.max <= 10.0 * l.limits().symmetry ? CheckLevel::Caution : CheckLevel::Bad),
          say("off {:.4f} mm", s.max), s.at, s.max);
}

// Joints that bend by less than this are meant to be smooth.
constexpr double kNearlySmooth = 15.0;  // degrees

void check_joints(const Body& body, Lines& l) {
  const Joint* worst = nullptr;
  const std::vector<Joint> joints = joints_of(body, 16, l.progress());
  for (const Joint& j : joints) {
    if (j.measured.angle > kNearlySmooth && j.measured.level >= 0) continue;
    if (worst == nullptr || j.measured.level < worst->measured.level ||
        (j.measured.level == worst->measured.level && j.measured.angle > worst->measured.angle))
      worst = &j;
  }
  if (worst == nullptr) return;
  const Continuity& c = worst->measured;
  const CheckLevel level =
      c.level < 0 ? CheckLevel::Bad : (c.level == 0 ? CheckLevel::Caution : CheckLevel::Good);
  const std::string held = c.level < 0 ? "a gap" : fmt::format("G{}", c.level);
  l.add("Worst smooth joint", level,
        say("{}: gap {:.4f} mm, {:.3f}°, curvature {:.0f} %", held, c.gap, c.angle,
            100.0 * c.curvature),
        worst->at, c.angle);
}

void check_edges_of(const Body& body, Lines& l) {
  const Body whole = with_explicit_borders(body, 1e-6 * std::max(size(body), 1e-6));
  const Topology t = topology(whole);
  if (t.closed) {
    l.add("Closed", CheckLevel::Good, "bounds a volume");
  } else {
    std::optional<Vec3> at;
    if (!t.open_edges.empty()) {
      const Curve& c = whole.edges[t.open_edges.front()].curve;
      at = evaluate(c, c.knots.first() + 0.5 * c.knots.length());
    }
    const CheckLevel level = body.faces.size() > 1 ? CheckLevel::Caution : CheckLevel::Good;
    l.add("Open edges", level, fmt::format("{}", t.open_edges.size()), at,
          static_cast<double>(t.open_edges.size()));
  }
  const Edge* widest = nullptr;
  for (const std::uint32_t e : t.joined_edges)
    if (widest == nullptr || whole.edges[e].gap > widest->gap) widest = &whole.edges[e];
  if (widest != nullptr)
    l.add("Greatest gap", good_if(widest->gap <= l.limits().gap),
          fmt::format("{:.4f} mm", widest->gap),
          evaluate(widest->curve, widest->curve.knots.first() + 0.5 * widest->curve.knots.length()),
          widest->gap);
}

void check_triangles(const TriangleMesh& m, Lines& l) {
  const EdgeReport edges = check_edges(m);
  l.add("Watertight",
        good_if(edges.watertight(), edges.tangled == 0 ? CheckLevel::Caution : CheckLevel::Bad),
        edges.watertight() ? std::string("yes")
                           : say("{} open edges, {} tangled", edges.open, edges.tangled),
        {}, static_cast<double>(edges.open));
  if (l.limits().sliver <= 0.0) return;
  std::size_t slivers = 0;
  double worst = 0.0;
  std::optional<Vec3> at;
  for (const auto& t : m.triangles) {
    double longest = 0.0;
    for (std::size_t k = 0; k < 3; ++k)
      longest = std::max(longest, distance(m.points[t[k]], m.points[t[(k + 1) % 3]]));
    const double area = length(area_vector(m, t));
    const double ratio = area > 0.0 ? longest * longest / (2.0 * area) : 1e9;
    slivers += ratio > l.limits().sliver ? 1U : 0U;
    if (ratio <= worst) continue;
    worst = ratio;
    at = middle_of(m, t);
  }
  l.add("Slivers", good_if(slivers == 0, CheckLevel::Caution),
        say("{} triangles, the thinnest {:.0f} : 1", slivers, std::min(worst, 1e6)), at,
        static_cast<double>(slivers));
}

void check_thickness(const TriangleMesh& m, const RayScene& rays, Lines& l) {
  const std::vector<double> thick = wall_thickness(m, rays, l.progress());
  const auto least = std::min_element(thick.begin(), thick.end());
  if (least == thick.end() || *least == kNoWall) return;
  const auto k = static_cast<std::size_t>(least - thick.begin());
  l.add("Thickness", good_if(*least >= l.limits().thickness), say("at least {:.3f} mm", *least),
        middle_of(m, m.triangles[k]), *least);
}

void check_draft(const TriangleMesh& m, const RayScene& rays, Lines& l) {
  const Vec3 pull = l.limits().pull;
  double least = 90.0, steep = 0.0, caught = 0.0;
  std::optional<Vec3> at, where;
  const double start = 1e-5 * box(m).size();
  std::vector<char> under(m.triangles.size(), 0);
  parallel_blocks(m.triangles.size(), 256, l.progress(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const Vec3 n = area_vector(m, m.triangles[k]);
      if (!(length(n) > 1e-12)) continue;
      const double up = dot(normalized(n), pull);
      if (std::abs(up) < 1e-3) continue;  // a wall along the pull belongs to either half
      const Vec3 way = up > 0.0 ? pull : -pull;
      under[k] = rays.first({middle_of(m, m.triangles[k]) + normalized(n) * start, way}) ? 1 : 0;
    }
  });
  for (std::size_t k = 0; k < m.triangles.size(); ++k) {
    const Vec3 n = area_vector(m, m.triangles[k]);
    const double size = length(n);
    if (!(size > 1e-12)) continue;
    const double angle = std::abs(90.0 - degrees_between(n, pull));
    if (under[k] != 0) {
      caught += size;
      if (!where) where = middle_of(m, m.triangles[k]);
    }
    if (angle < l.limits().draft) steep += size;
    if (angle < least) {
      least = angle;
      at = middle_of(m, m.triangles[k]);
    }
  }
  l.add("Draft", good_if(steep <= 0.0),
        say("least {:.1f}°; {:.0f} mm² below {:g}°", least, steep, l.limits().draft), at, least);
  l.add("Undercut", good_if(caught <= 0.0),
        caught > 0.0 ? say("{:.0f} mm² cannot leave along the pull", caught) : std::string("none"),
        where, caught);
}

void check_walls(const Shape& shape, Lines& l) {
  const bool closed = std::holds_alternative<TriangleMesh>(shape) ||
                      std::holds_alternative<Body>(shape) || std::holds_alternative<Form>(shape);
  if (!closed || (l.limits().thickness <= 0.0 && l.limits().draft <= 0.0)) return;
  const Vec3 extent = rough_box(shape).max - rough_box(shape).min;
  const TriangleMesh m = mesh_of(shape, std::max(3e-4 * length(extent), 1e-6), l.progress());
  const RayScene rays(m);
  if (l.limits().thickness > 0.0 && check_edges(m).watertight()) check_thickness(m, rays, l);
  if (l.limits().draft > 0.0) check_draft(m, rays, l);
}

void check_watch(const Shape& shape, const Shape* watched, double band, Lines& l) {
  if (watched == nullptr || is_empty(*watched)) return;
  try {
    const WatchReport r = evenclay::watched(shape, *watched, band, l.progress());
    const CheckLevel level = r.max <= band
                                 ? CheckLevel::Good
                                 : (r.inside >= 0.95 ? CheckLevel::Caution : CheckLevel::Bad);
    l.add("Watched deviation", level,
          say("max {:.3f} mm, mean {:.3f} mm, {:.1f} % within ±{:g} mm", r.max, r.mean,
              100.0 * r.inside, band),
          r.worst.empty() ? std::optional<Vec3>() : r.worst.front().at, r.max);
  } catch (const Error& e) {
    l.add("Watched deviation", CheckLevel::Caution, e.what());
  }
}

// What each kind of shape is asked.
struct Ask {
  const Report& report;
  Lines& l;
  void operator()(const Body& body) const {
    check_grid(report, l);
    check_edges_of(body, l);
    check_joints(body, l);
  }
  void operator()(const TriangleMesh& mesh) const { check_triangles(mesh, l); }
  void operator()(const CurveSet&) const { check_grid(report, l); }
  void operator()(const Form&) const {
    if (report.crossings)
      l.add("Crossings", good_if(report.crossings->empty()),
            report.crossings->empty() ? std::string("none")
                                      : say("{}, the longest {:.1f} mm", report.crossings->size(),
                                            report.crossings->front().length),
            report.crossings->empty() ? std::optional<Vec3>() : report.crossings->front().at,
            static_cast<double>(report.crossings->size()));
    l.add("Closed", CheckLevel::Good,
          report.watertight.value_or(false) ? "bounds a volume" : "has open borders");
  }
  void operator()(const Picture&) const {}
  void operator()(const Cage&) const {}
  void operator()(const PointCloud&) const {}
};

SymmetryPlane kept_symmetry(const Part& part) {
  SymmetryPlane plane = SymmetryPlane::None;
  for (const Step& s : part.steps)
    if (s.enabled && symmetry_of(*s.operation) != SymmetryPlane::None)
      plane = symmetry_of(*s.operation);
  return plane;
}

// Steps behind the symmetric shaping that need not keep it, such as cuts, would make its check a nuisance.
bool only_shaped(const Part& part) {
  return std::none_of(part.steps.begin(), part.steps.end(), [](const Step& s) {
    return s.enabled && s.operation->info().stage == Stage::CutAndJoin;
  });
}

}  // namespace

std::vector<CheckLine> checks_of(const Document& d, const Part& part, const PartResult& result,
                                 const Shape* watched, Progress& progress) {
  Lines l(d, part, progress);
  for (std::size_t k = 0; k < result.steps.size() && k < part.steps.size(); ++k)
    if (result.steps[k].failed)
      l.add("Step", CheckLevel::Bad,
            fmt::format("{}, {}: {}", k + 1, part.steps[k].name, result.steps[k].message));
  if (!result.shape || is_empty(*result.shape)) {
    if (l.lines.empty()) l.add("Shape", CheckLevel::Bad, "there is none");
    return l.lines;
  }
  const Shape& shape = *result.shape;
  const bool pattern = !result.steps.empty() && result.steps.back().pattern;
  if (is_scan(shape) && !pattern && part.steps.size() == 1) {
    l.add("Scan", CheckLevel::Good, say("{} points", scan_points(shape).size()), {},
          static_cast<double>(scan_points(shape).size()));
    return l.lines;
  }
  ReportOptions options;
  options.area_and_volume = std::holds_alternative<Form>(shape);
  if (only_shaped(part)) options.symmetry = kept_symmetry(part);
  const Report r = report(shape, nullptr, options, progress);
  std::visit(Ask{r, l}, shape);
  if (pattern) {
    const Stretch& s = result.steps.back().pattern->stretch;
    l.add("Stretch", good_if(s.worst <= d.limits.stretch, CheckLevel::Caution),
          say("worst {:.0f} %, mean {:.0f} %", s.worst, s.mean), s.at, s.worst);
  }
  check_walls(shape, l);
  check_watch(shape, watched, part.watch.band, l);
  return l.lines;
}

CheckList all_checks(const Document& d, Evaluator& evaluator, Progress& progress) {
  CheckList list;
  std::vector<const Part*> parts;
  for (const Part& p : d.parts)
    if (is_visible(d, p)) parts.push_back(&p);
  for (std::size_t k = 0; k < parts.size(); ++k) {
    progress.report(static_cast<double>(k) / static_cast<double>(parts.size()));
    const PartResult result =
        evaluator.evaluate(d, progress, {parts[k]->id}).parts.at(parts[k]->id);
    const ShapePtr watched = watched_shape(d, *parts[k], evaluator, progress);
    const std::vector<CheckLine> lines = checks_of(d, *parts[k], result, watched.get(), progress);
    list.lines.insert(list.lines.end(), lines.begin(), lines.end());
  }
  list.parts = parts.size();
  progress.report(1.0);
  return list;
}

std::string checks_json(const Document& d, const CheckList& list) {
  using Json = nlohmann::ordered_json;
  const CheckLimits& m = d.limits;
  Json j{{"limits", Json{{"gap_mm", m.gap},
                         {"radius_mm", m.radius},
                         {"thickness_mm", m.thickness},
                         {"draft_degrees", m.draft},
                         {"pull", {m.pull.x, m.pull.y, m.pull.z}},
                         {"stretch_percent", m.stretch},
                         {"evenness_percent", m.evenness},
                         {"symmetry_mm", m.symmetry},
                         {"sliver", m.sliver}}}};
  j["parts"] = Json::array();
  for (const CheckLine& l : list.lines) {
    if (j["parts"].empty() || j["parts"].back()["id"] != l.part)
      j["parts"].push_back(Json{{"id", l.part}, {"name", l.part_name}, {"checks", Json::array()}});
    Json line{{"check", l.what}, {"level", name_of(l.level)}, {"says", l.says}, {"value", l.value}};
    if (l.at) line["at"] = Json{l.at->x, l.at->y, l.at->z};
    j["parts"].back()["checks"].push_back(std::move(line));
  }
  return j.dump(2);
}

}  // namespace evenclay
