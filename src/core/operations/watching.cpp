#include "core/operations/watching.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/body_mesh.h"
#include "core/mesh/point_tree.h"
#include "core/operations/common.h"
#include "core/operations/report.h"

namespace evenclay {

namespace {

std::uint64_t mixed(std::uint64_t a, std::uint64_t b) {
  std::uint64_t z = (a << 32 | b) + 0x9E3779B97F4A7C15ULL;
  z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
  z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
  return z ^ (z >> 31);
}

// In a closed mesh every edge is walked both ways, so that the sum over all walks, one way less the other, is nothing; in an
// open one it practically never is (64 bits, mixed). One pass, no memory: this is asked of meshes of millions.
bool has_open_edges(const TriangleMesh& mesh) {
  std::uint64_t sum = 0;
  for (const auto& t : mesh.triangles)
    for (std::size_t k = 0; k < 3; ++k) {
      const std::uint64_t a = t[k], b = t[(k + 1) % 3];
      sum += mixed(a, b) - mixed(b, a);
    }
  return sum != 0;
}

}  // namespace

bool is_scan(const Shape& shape) {
  if (std::holds_alternative<PointCloud>(shape)) return true;
  const auto* mesh = std::get_if<TriangleMesh>(&shape);
  return mesh != nullptr && has_open_edges(*mesh);
}

std::vector<Vec3> scan_points(const Shape& shape) {
  if (const auto* cloud = std::get_if<PointCloud>(&shape)) return cloud->points;
  if (const auto* mesh = std::get_if<TriangleMesh>(&shape)) return mesh->points;
  return {};
}

namespace {

// Places 0..1 × 0..1 that fill every region alike.
// Source: M. Roberts, The unreasonable effectiveness of quasirandom sequences, 2018 (the R2 sequence).
std::array<double, 2> spread(std::size_t n) {
  constexpr double kA = 0.7548776662466927, kB = 0.5698402909980532;
  const auto x = static_cast<double>(n);
  return {std::fmod(0.5 + kA * x, 1.0), std::fmod(0.5 + kB * x, 1.0)};
}

// Calls place(triangle, b, c) for some `count` places spread by area.
template <typename Place>
void over_area(const std::vector<Vec3>& points,
               const std::vector<std::array<std::uint32_t, 3>>& triangles, double a_place,
               const Place& place) {
  double sum = 0.0;
  std::size_t n = 0;
  for (std::size_t t = 0; t < triangles.size(); ++t) {
    const Vec3& a = points[triangles[t][0]];
    sum += 0.5 * length(cross(points[triangles[t][1]] - a, points[triangles[t][2]] - a)) / a_place;
    for (; static_cast<double>(n) + 0.5 < sum; ++n) {
      auto [b, c] = spread(n);
      if (b + c > 1.0) {
        b = 1.0 - b;
        c = 1.0 - c;
      }
      place(t, b, c);
    }
  }
}

double area_of(const std::vector<Vec3>& points,
               const std::vector<std::array<std::uint32_t, 3>>& triangles) {
  double sum = 0.0;
  for (const auto& t : triangles)
    sum += 0.5 * length(cross(points[t[1]] - points[t[0]], points[t[2]] - points[t[0]]));
  return sum;
}

std::vector<Vec3> places_on(const TriangleMesh& mesh, std::size_t count, double& gap) {
  std::vector<Vec3> places;
  const double each = area(mesh) / static_cast<double>(count);
  gap = std::sqrt(each);
  over_area(mesh.points, mesh.triangles, each, [&](std::size_t t, double b, double c) {
    const auto& v = mesh.triangles[t];
    places.push_back(mesh.points[v[0]] * (1.0 - b - c) + mesh.points[v[1]] * b +
                     mesh.points[v[2]] * c);
  });
  return places;
}

std::vector<Vec3> places_on(const Body& body, std::size_t count, double& gap, Progress& progress) {
  const BodyMesh mesh = tessellate(
      body, {.chord = 1e-3 * std::max(size(body), 1e-6), .most_triangles = 200'000}, progress);
  double all = 0.0;
  for (const FaceMesh& f : mesh.faces) all += area_of(f.points, f.triangles);
  const double each = all / static_cast<double>(count);
  gap = std::sqrt(each);
  std::vector<Vec3> places;
  for (std::size_t k = 0; k < mesh.faces.size(); ++k) {
    const FaceMesh& f = mesh.faces[k];
    std::vector<Parameter> at;
    over_area(f.points, f.triangles, each, [&](std::size_t t, double b, double c) {
      const auto& v = f.triangles[t];
      at.push_back({f.uv[v[0]].u * (1.0 - b - c) + f.uv[v[1]].u * b + f.uv[v[2]].u * c,
                    f.uv[v[0]].v * (1.0 - b - c) + f.uv[v[1]].v * b + f.uv[v[2]].v * c});
    });
    const std::size_t before = places.size();
    places.resize(before + at.size());
    SurfaceEvaluator(*body.faces[k].surface).points(at, std::span(places).subspan(before));
  }
  return places;
}

std::vector<Vec3> places_on(const CurveSet& set, double& gap) {
  std::vector<Vec3> places;
  for (const Curve& c : set.curves) {
    std::vector<double> at = sample_places(c.knots, 64);
    if (c.knots.periodic) at.push_back(c.knots.last());
    for (const double t : at) places.push_back(evaluate(c, t));
  }
  gap = 0.0;
  for (std::size_t k = 1; k < places.size(); ++k)
    gap = std::max(gap, std::min(distance(places[k - 1], places[k]), 1.0));
  return places;
}

std::vector<Vec3> places_of(const Shape& shape, std::size_t count, double& gap,
                            Progress& progress) {
  if (const auto* body = std::get_if<Body>(&shape)) return places_on(*body, count, gap, progress);
  if (const auto* set = std::get_if<CurveSet>(&shape)) return places_on(*set, gap);
  if (is_scan(shape)) {
    std::vector<Vec3> points = scan_points(shape);
    gap = spacing(points);
    return points;
  }
  const Measurable m = measurable(shape);
  if (m.mesh == nullptr) return {};
  return places_on(*m.mesh, count, gap);
}

// How far places are from something without an outside: the nearest of its own places, between which the way is straight.
std::vector<double> unsigned_distances(std::span<const Vec3> places, std::vector<Vec3> there) {
  const PointTree tree(there);
  std::vector<double> off;
  std::vector<NearPoint> near;
  for (const Vec3& p : places) {
    tree.nearest(p, 3, near);
    double best = near.front().distance;
    for (std::size_t k = 1; k < near.size(); ++k) {
      const Vec3 a = there[near[0].index], d = there[near[k].index] - a;
      if (std::max(near[0].index, near[k].index) - std::min(near[0].index, near[k].index) != 1)
        continue;
      const double t = dot(d, d) > 0.0 ? std::clamp(dot(p - a, d) / dot(d, d), 0.0, 1.0) : 0.0;
      best = std::min(best, distance(p, a + d * t));
    }
    off.push_back(best);
  }
  return off;
}

bool has_sides(const Shape& shape) {
  return std::holds_alternative<Body>(shape) || std::holds_alternative<Form>(shape) ||
         std::holds_alternative<TriangleMesh>(shape);
}

}  // namespace

WatchPlaces watch_places(const Shape& shape, const Shape& against, Progress& progress,
                         std::size_t places) {
  if (is_empty(shape) || is_empty(against))
    throw Error(say("Deviation needs two shapes, but one of them is empty."));
  WatchPlaces w;
  // Points have no sides; they are measured against whatever has.
  const bool turned =
      (is_scan(against) && !is_scan(shape)) || (!has_sides(against) && has_sides(shape));
  const Shape& from = turned ? against : shape;
  const Shape& to = turned ? shape : against;
  w.of_scan = turned;
  w.at = places_of(from, places, w.spacing, progress);
  if (w.at.empty())
    throw Error(say(
        "Deviation is measured between surfaces, meshes, scans and curves. Choose one of those."));
  if (has_sides(to)) {
    w.off = signed_distances(w.at, measurable(to), progress);
  } else {
    double gap = 0.0;
    std::vector<Vec3> there = places_of(to, places, gap, progress);
    if (there.empty())
      throw Error(
          say("Deviation is measured between surfaces, meshes, scans and curves. Choose one of "
              "those."));
    w.off = unsigned_distances(w.at, std::move(there));
  }
  return w;
}

namespace {

WatchReport report_of(const WatchPlaces& w, double band) {
  Box3 box;
  for (const Vec3& p : w.at) box.add(p);
  return watch_report(w.at, w.off, band, std::max(0.08 * box.size(), 4.0 * w.spacing));
}

}  // namespace

WatchReport watched(const Shape& shape, const Shape& against, double band, Progress& progress) {
  return report_of(watch_places(shape, against, progress), band);
}

ShapePtr watched_shape(const Document& d, const Part& part, Evaluator& evaluator,
                       Progress& progress) {
  const PartRef& ref = part.watch.against;
  const Part* other = ref.empty() ? nullptr : find_part(d, ref.part);
  if (other == nullptr) return nullptr;
  if (ref.after != 0 && find_step(d, ref.after) == nullptr) return nullptr;  // that step is gone
  const PartResult r = evaluator.evaluate_until(d, ref.part, ref.after, progress);
  return r.shape;
}

namespace {

const Part& named_part(const Document& d, std::string_view name) {
  const Part* part = find_part(d, name);
  if (part != nullptr) return *part;
  std::string list;
  for (const Part& p : d.parts) list += (list.empty() ? "" : ", ") + p.name;
  throw Error(say("There is no part '{}'. There are: {}.", name, list));
}

}  // namespace

Document with_watch_words(const Document& d, std::string_view words) {
  const auto equal = words.find('=');
  if (equal == std::string_view::npos)
    throw Error(
        say("'{}' is not a watch; write Part=Other, with ' within 0.5' for the band.", words));
  const Part& part = named_part(d, words.substr(0, equal));
  std::string_view other = words.substr(equal + 1);
  Watch watch = part.watch;
  constexpr std::string_view kWithin = " within ";
  if (const auto within = other.rfind(kWithin); within != std::string_view::npos) {
    const std::vector<double> band = numbers_in(other.substr(within + kWithin.size()));
    if (band.size() != 1) throw Error(say("The band of a deviation is one number in mm."));
    watch.band = band[0];
    other = other.substr(0, within);
  }
  watch.against = other.empty() ? PartRef{} : named_reference(d, other);
  return with_watch(d, part.id, watch);
}

Document with_limit_words(const Document& d, std::string_view words) {
  const auto equal = words.find('=');
  const std::string_view name = words.substr(0, equal);
  const std::vector<double> x =
      equal == std::string_view::npos ? std::vector<double>() : numbers_in(words.substr(equal + 1));
  CheckLimits limits = d.limits;
  if (name == "pull" && x.size() == 3) {
    limits.pull = {x[0], x[1], x[2]};
    return with_limits(d, limits);
  }
  const std::pair<std::string_view, double CheckLimits::*> fields[] = {
      {"gap", &CheckLimits::gap},
      {"radius", &CheckLimits::radius},
      {"thickness", &CheckLimits::thickness},
      {"draft", &CheckLimits::draft},
      {"stretch", &CheckLimits::stretch},
      {"evenness", &CheckLimits::evenness},
      {"symmetry", &CheckLimits::symmetry},
      {"sliver", &CheckLimits::sliver}};
  for (const auto& [field, value] : fields)
    if (field == name && x.size() == 1) {
      limits.*value = x[0];
      return with_limits(d, limits);
    }
  throw Error(
      say("'{}' is not a limit; write gap, radius, thickness, draft, stretch, evenness, "
          "symmetry or sliver with a number, or pull=x,y,z.",
          words));
}

const Watcher::Answer& Watcher::measure(const ShapePtr& shape, const ShapePtr& against, double band,
                                        bool quick, Progress& progress) {
  const bool same = shape == shape_ && against == against_ && (quick || !quick_);
  if (same && band == band_ && answer_.report) return answer_;
  std::shared_ptr<WatchPlaces> places;
  const auto* body = std::get_if<Body>(shape.get());
  if (same && answer_.places) {
    places = std::make_shared<WatchPlaces>(*answer_.places);
  } else if (body != nullptr && is_scan(*against)) {
    if (against != scan_of_ || !scan_) {
      scan_ = std::make_unique<ScanWatch>(scan_points(*against));
      spacing_ = spacing(scan_->points());
      scan_of_ = against;
    }
    places = std::make_shared<WatchPlaces>();
    places->off = scan_->measure(*body, quick, progress);
    places->at = scan_->points();
    places->spacing = spacing_;
    places->of_scan = true;
  } else {
    // Few while the hand moves: it must not wait for the numbers.
    const std::size_t count = quick ? 1500 : 20'000;
    places = std::make_shared<WatchPlaces>(watch_places(*shape, *against, progress, count));
  }
  answer_ = {std::make_shared<const WatchReport>(report_of(*places, band)), places};
  shape_ = shape;
  against_ = against;
  band_ = band;
  quick_ = quick;
  return answer_;
}

}  // namespace evenclay
