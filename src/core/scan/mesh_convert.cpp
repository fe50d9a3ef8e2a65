#include "core/scan/mesh_convert.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <utility>

#include "core/base/error.h"
#include "core/base/least_rectangle.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/mesh/cut_mesh.h"
#include "core/nurbs/projection.h"
#include "core/scan/fit_scan.h"
#include "core/scan/mesh_regions.h"

namespace evenclay {

namespace {

constexpr double kTurn = std::numbers::pi / 3.0;
constexpr std::uint32_t kMostRegions = 500;
constexpr double kWhole = 0.99;  // share of the rectangle from which a region counts as all of it
constexpr int kSamplesPerPoint = 16;    // for each control point
constexpr double kBareSmoothing = 0.7;  // of what no sample holds
constexpr double kBorderFine =
    1e-3;  // of the region's size: how far the border may be straightened

struct Samples {
  std::vector<Vec3> places;
  Vec3 off;  // the mean normal
  double area = 0.0;
};

using Triangles = std::vector<std::uint32_t>;

// Vertices, and of large triangles the middles of equal pieces.
Samples samples_of(const TriangleMesh& mesh, const Triangles& triangles, int wanted) {
  Samples s;
  std::vector<std::uint32_t> vertices;
  for (const std::uint32_t t : triangles) {
    const auto& v = mesh.triangles[t];
    const Vec3 n =
        cross(mesh.points[v[1]] - mesh.points[v[0]], mesh.points[v[2]] - mesh.points[v[0]]);
    s.off += n;
    s.area += 0.5 * length(n);
    vertices.insert(vertices.end(), v.begin(), v.end());
  }
  std::sort(vertices.begin(), vertices.end());
  vertices.erase(std::unique(vertices.begin(), vertices.end()), vertices.end());
  for (const std::uint32_t v : vertices) s.places.push_back(mesh.points[v]);
  const double piece = s.area / wanted;
  for (const std::uint32_t t : triangles) {
    const auto& v = mesh.triangles[t];
    const Vec3 a = mesh.points[v[0]], e = mesh.points[v[1]] - a, f = mesh.points[v[2]] - a;
    const int k =
        std::min(256, static_cast<int>(std::ceil(std::sqrt(0.5 * length(cross(e, f)) / piece))));
    if (k < 2) continue;
    for (int i = 0; i < k; ++i)
      for (int j = 0; i + j < k; ++j) {
        s.places.push_back(a + e * ((i + 1.0 / 3.0) / k) + f * ((j + 1.0 / 3.0) / k));
        if (i + j + 1 < k)
          s.places.push_back(a + e * ((i + 2.0 / 3.0) / k) + f * ((j + 2.0 / 3.0) / k));
      }
  }
  return s;
}

// z along the mean normal, x along the longer side of the least rectangle around the places.
Frame lying(const Samples& s) {
  Frame f = frame_facing(s.places, s.off, {});
  std::vector<Vec3> flat;
  for (const Vec3& p : s.places) flat.push_back(f.to_local(p));
  const LeastRectangle r = least_rectangle(std::move(flat));
  const Vec3 x = f.x * r.x.x + f.y * r.x.y;
  return {f.origin, x, cross(f.z, x), f.z};
}

// Which places of a line between two are enough to leave it by at most `fine` (U. Ramer 1972; D. Douglas, T. Peucker 1973).
// Runs wait in a list: a border of a million vertices may halve a million times.
void keep_between(const std::vector<Vec3>& line, std::size_t first, std::size_t last, double fine,
                  std::vector<char>& kept) {
  std::vector<std::pair<std::size_t, std::size_t>> waiting{{first, last}};
  while (!waiting.empty()) {
    const auto [a, b] = waiting.back();
    waiting.pop_back();
    const Vec3 way = line[b] - line[a];
    const double square = dot(way, way);
    std::size_t worst = a;
    double most = fine;
    for (std::size_t k = a + 1; k < b; ++k) {
      const Vec3 d = line[k] - line[a];
      const double t = square > 0.0 ? std::clamp(dot(d, way) / square, 0.0, 1.0) : 0.0;
      if (const double off = length(d - way * t); off > most) {
        most = off;
        worst = k;
      }
    }
    if (worst == a) continue;
    kept[worst] = 1;
    waiting.emplace_back(a, worst);
    waiting.emplace_back(worst, b);
  }
}

std::vector<Vec3> straightened(std::vector<Vec3> line, double fine) {
  line.push_back(line.front());
  std::vector<char> kept(line.size(), 0);
  const std::size_t half = line.size() / 2;
  kept[0] = kept[half] = 1;
  keep_between(line, 0, half, fine, kept);
  keep_between(line, half, line.size() - 1, fine, kept);
  std::vector<Vec3> few;
  for (std::size_t k = 0; k + 1 < line.size(); ++k)
    if (kept[k] != 0) few.push_back(line[k]);
  return few;
}

// Places between two on a surface until straight lines leave it by at most `fine`; b itself is not added.
void refine_between(const Surface& s, const Vec3& a, const Vec3& b, double fine, int depth,
                    std::vector<Vec3>& line) {
  const Vec3 middle = (a + b) * 0.5;
  const Vec3 chord = (evaluate(s, a.x, a.y) + evaluate(s, b.x, b.y)) * 0.5;
  if (depth == 0 || distance(evaluate(s, middle.x, middle.y), chord) <= fine) {
    line.push_back(a);
    return;
  }
  refine_between(s, a, middle, fine, depth - 1, line);
  refine_between(s, middle, b, fine, depth - 1, line);
}

// A closed polygon of parameters as a curve.
Curve border_curve(const Surface& s, const std::vector<Vec3>& corners, double fine) {
  std::vector<Vec3> line;
  for (std::size_t k = 0; k < corners.size(); ++k)
    refine_between(s, corners[k], corners[(k + 1) % corners.size()], fine, 6, line);
  line.push_back(corners.front());
  return make_curve(std::move(line), 1, false);
}

// Control points about whose own places there are no samples, in the order of the grid.
std::vector<char> bare_points(const Surface& s, std::span<const Projection> feet) {
  constexpr double kAbout = 0.75;  // spans
  const auto reach = [](const KnotVector& k) {
    return kAbout / static_cast<double>(breakpoints(k).size() - 1);
  };
  const auto about = [](const std::vector<double>& places, double most, double t) {
    std::vector<std::size_t> near;
    for (std::size_t i = 0; i < places.size(); ++i)
      if (std::abs(places[i] - t) <= most) near.push_back(i);
    return near;
  };
  const std::vector<double> gu = greville_places(s.u), gv = greville_places(s.v);
  const double reach_u = reach(s.u), reach_v = reach(s.v);
  std::vector<char> bare(gu.size() * gv.size(), 1);
  for (const Projection& at : feet)
    for (const std::size_t i : about(gu, reach_u, at.u))
      for (const std::size_t j : about(gv, reach_v, at.v)) bare[i * gv.size() + j] = 0;
  return bare;
}

// Where a region leaves its rectangle bare the points of a close fit would run far away: there they stay where a smooth one
// has them.
ScanFit fitted(const Samples& s, ScanFitPlan plan, Progress& progress) {
  const double wanted = plan.smoothing;
  plan.smoothing = std::max(plan.smoothing, kBareSmoothing);
  const Surface smooth = fit_scan(s.places, plan, progress).surface;
  std::vector<Projection> feet(s.places.size());
  SurfaceProjector(smooth).closest(s.places, feet, progress);
  return fit_again(smooth, s.places, bare_points(smooth, feet), wanted,
                   std::numeric_limits<double>::infinity(), progress);
}

class Converter {
 public:
  Converter(const TriangleMesh& mesh, const MeshConvertPlan& plan, Progress& progress)
      : mesh_(mesh), plan_(plan), progress_(progress) {}

  MeshConverted run() {
    const std::vector<Triangles> regions =
        triangles_by_region(regions_of(mesh_, plan_.sharp, kTurn, kMostRegions, progress_));
    for (std::size_t r = 0; r < regions.size(); ++r) {
      progress_.report(static_cast<double>(r) / static_cast<double>(regions.size()));
      region(r, regions[r]);
    }
    if (made_.body.faces.empty())
      throw Error(
          say("No region of the mesh is wide enough for a surface. Take a greater angle for sharp "
              "edges."));
    made_.mean = sum_ / std::max(1.0, static_cast<double>(measured_));
    return std::move(made_);
  }

 private:
  void region(std::size_t r, const Triangles& triangles) {
    const Samples s =
        samples_of(mesh_, triangles, kSamplesPerPoint * plan_.points_u * plan_.points_v);
    ScanFitPlan fit;
    fit.points_u = plan_.points_u;
    fit.points_v = plan_.points_v;
    fit.smoothing = plan_.smoothing;
    fit.leave_out_stray = false;
    ScanFit found;
    try {
      fit.frame = lying(s);
      Progress inner;
      found = fitted(s, fit, inner);
    } catch (const Error&) {  // in one line, or hardly wider
      ++made_.left_out;
      return;
    }
    progress_.check();
    for (const double d : found.off) sum_ += std::abs(d);
    measured_ += found.off.size();
    made_.max = std::max(made_.max, found.max);
    Face face;
    face.tag = make_tag(plan_.step, 0, r);
    face.surface = std::make_shared<const Surface>(std::move(found.surface));
    trim(face, triangles, std::sqrt(s.area));
    made_.body.faces.push_back(std::move(face));
  }

  // To the borders of the region, unless they are those of the surface.
  void trim(Face& face, const Triangles& triangles, double size) {
    const SurfaceProjector onto(*face.surface);
    std::vector<std::vector<Vec3>> loops;
    double inside = 0.0;
    for (const auto& border : borders_of(mesh_, triangles)) {
      std::vector<Vec3> line;
      for (const std::uint32_t v : border) line.push_back(mesh_.points[v]);
      line = straightened(std::move(line), kBorderFine * size);
      for (Vec3& p : line) {
        const Projection foot = onto.closest(p);
        p = {foot.u, foot.v, 0.0};
      }
      if (line.size() < 3) continue;
      std::vector<Parameter> polygon;
      for (const Vec3& p : line) polygon.push_back({p.x, p.y});
      inside += 0.5 * doubled_area(polygon);
      loops.push_back(std::move(line));
    }
    if (loops.empty() || inside > kWhole) return;
    ++made_.trimmed;
    for (std::size_t k = 0; k < loops.size(); ++k) {
      EdgeUse use{static_cast<std::uint32_t>(made_.body.edges.size()), true,
                  border_curve(*face.surface, loops[k], kBorderFine * size)};
      Edge edge;
      edge.tag = make_tag(plan_.step, face.tag, k + 1);
      edge.curve = use.uv;
      for (Vec3& p : edge.curve.points) p = evaluate(*face.surface, p.x, p.y);
      made_.body.edges.push_back(std::move(edge));
      face.loops.push_back({std::move(use)});
    }
  }

  const TriangleMesh& mesh_;
  const MeshConvertPlan& plan_;
  Progress& progress_;
  MeshConverted made_;
  double sum_ = 0.0;
  std::size_t measured_ = 0;
};

}  // namespace

MeshConverted converted(const TriangleMesh& given, const MeshConvertPlan& plan,
                        Progress& progress) {
  if (given.triangles.empty()) throw Error(say("The mesh has no triangles to convert."));
  const TriangleMesh mesh = welded(given, 1e-9 * box(given).size());
  MeshConverted made = Converter(mesh, plan, progress).run();
  refresh_gaps(made.body);
  return made;
}

}  // namespace evenclay
