#include "core/display/display.h"
#include "core/base/memory.h"
#include "core/check/section.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/angles.h"
#include "core/base/parallel.h"
#include "core/body/body_mesh.h"
#include "core/body/edge_points.h"
#include "core/body/region.h"
#include "core/body/smooth_joint.h"
#include "core/body/topology.h"
#include "core/display/form_plans.h"
#include "core/display/maps.h"
#include "core/display/surface_mesh.h"
#include "core/nurbs/surface_evaluator.h"
#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

void add_mesh(const TriangleMesh& mesh, DisplayMesh& out) {
  const auto offset = static_cast<std::uint32_t>(out.vertices.size() / 6);
  const std::vector<Vec3> averaged =
      mesh.normals.empty() ? averaged_normals(mesh) : std::vector<Vec3>();
  const std::vector<Vec3>& normals = mesh.normals.empty() ? averaged : mesh.normals;
  make_room(out.vertices, out.vertices.size() + mesh.points.size() * 6);
  for (std::size_t k = 0; k < mesh.points.size(); ++k) {
    out.box.add(mesh.points[k]);
    for (const Vec3& p : {mesh.points[k], normals[k]})
      for (std::size_t c = 0; c < 3; ++c) out.vertices.push_back(static_cast<float>(p[c]));
  }
  make_room(out.indices, out.indices.size() + mesh.triangles.size() * 3);
  for (const auto& t : mesh.triangles)
    for (const std::uint32_t v : t) out.indices.push_back(v + offset);
}

std::vector<double> iso_places(const KnotVector& k) {
  const std::vector<double> breaks = breakpoints(k);
  std::vector<double> places;
  for (std::size_t s = 0; s + 1 < breaks.size(); ++s) {
    places.push_back(breaks[s]);
    places.push_back(0.5 * (breaks[s] + breaks[s + 1]));
  }
  if (!k.periodic) places.push_back(breaks.back());
  return places;
}

void add_iso_curves(const Surface& s, const FaceRegion& region, bool along_u, DisplayLines& lines) {
  const SurfaceEvaluator evaluator(s);
  const KnotVector& along = along_u ? s.u : s.v;
  const KnotVector& across = along_u ? s.v : s.u;
  std::vector<double> run = sample_places(along, 12);
  if (along.periodic) run.push_back(along.last());
  for (const double fixed : iso_places(across)) {
    Vec3 previous;
    for (std::size_t k = 0; k < run.size(); ++k) {
      const Vec3 p = along_u ? evaluator.point(run[k], fixed) : evaluator.point(fixed, run[k]);
      const double middle = k > 0 ? 0.5 * (run[k - 1] + run[k]) : 0.0;
      if (k > 0 && (along_u ? region.contains(middle, fixed) : region.contains(fixed, middle)))
        for (const Vec3& q : {previous, p})
          for (std::size_t c = 0; c < 3; ++c) lines.pieces.push_back(static_cast<float>(q[c]));
      previous = p;
    }
  }
}

}  // namespace

namespace {

// Vertices, normals and shares of the domain of a trimmed face as the graphics card takes them.
void add_face(const FaceMesh& mesh, const Surface& s, DisplayMesh& out) {
  const auto first = static_cast<std::uint32_t>(out.vertices.size() / 6);
  out.pieces.push_back({first, s.u.periodic, s.v.periodic});
  for (std::size_t k = 0; k < mesh.points.size(); ++k) {
    out.box.add(mesh.points[k]);
    for (const Vec3& p : {mesh.points[k], mesh.normals[k]})
      for (std::size_t c = 0; c < 3; ++c) out.vertices.push_back(static_cast<float>(p[c]));
    out.shares.push_back(static_cast<float>((mesh.uv[k].u - s.u.first()) / s.u.length()));
    out.shares.push_back(static_cast<float>((mesh.uv[k].v - s.v.first()) / s.v.length()));
  }
  for (const auto& t : mesh.triangles)
    for (const std::uint32_t v : t) out.indices.push_back(v + first);
}

// What was added from there on has its outside on the other side.
void turn_over(DisplayMesh& out, std::size_t vertices, std::size_t indices) {
  for (std::size_t k = vertices; k + 5 < out.vertices.size(); k += 6)
    for (std::size_t c = 3; c < 6; ++c) out.vertices[k + c] = -out.vertices[k + c];
  for (std::size_t k = indices; k + 2 < out.indices.size(); k += 3)
    std::swap(out.indices[k + 1], out.indices[k + 2]);
}

struct MakeDisplayMesh {
  const DisplayQuality& quality;
  Progress& progress;
  DisplayMesh& out;

  void operator()(const TriangleMesh& mesh) const {
    add_mesh(mesh, out);
    out.closed = check_edges(mesh).watertight();
    thin_quickly(out);
  }
  void operator()(const PointCloud& cloud) const { add_points(cloud, quality.most_triangles, out); }
  void operator()(const CurveSet& set) const {  // no triangles, but a place to look at
    for (const Curve& c : set.curves)
      for (const Vec3& p : c.points) out.box.add(p);
  }
  void operator()(const Cage& c) const {
    for (const Vec3& p : c.now.points.values()) out.box.add(p);
  }
  void operator()(const Form& form) const {
    if (quality.flat_faces) {
      add_mesh(polygon_mesh(form), out);
    } else if (quality.plans != nullptr) {
      add_mesh(quality.plans->limit(form, quality, progress), out);
    } else {
      const double chord = std::max(size(form), 1e-6) * quality.chord_share;
      add_mesh(limit_within(form, chord, quality.most_triangles, progress), out);
    }
    out.closed = links_of(form)->topology.borders == 0;
  }
  // Two triangles, to be picked; the picture itself is drawn by whoever shows it.
  void operator()(const Picture& p) const {
    const Vec3 n = p.frame.z;
    for (const auto& [x, y] : {std::pair{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}}) {
      const Vec3 at = p.frame.to_world({x * p.width, y * p.height, 0.0});
      out.box.add(at);
      for (const Vec3& v : {at, n})
        for (std::size_t c = 0; c < 3; ++c) out.vertices.push_back(static_cast<float>(v[c]));
    }
    out.indices = {0, 1, 2, 0, 2, 3};
  }
  static constexpr double kMeet = 1e-6;  // mm between borders that are drawn as one
  // The budget is the part's: whole surfaces share it alike, trimmed and joined ones through the chord.
  void operator()(const Body& body) const {
    if (body.faces.empty()) return;
    const double chord = std::max(size(body), 1e-6) * quality.chord_share;
    out.closed = bounds_volume(body, kMeet);
    if (is_trimmed(body) || (body.faces.size() > 1 && borders_meet(body, kMeet))) {
      // Lights and lines of zebra run on normals between vertices, which want more of them than the chord does.
      const BodyMesh mesh = tessellate(
          body, {.chord = 0.5 * chord, .most_triangles = quality.most_triangles}, progress);
      for (std::size_t f = 0; f < mesh.faces.size(); ++f)
        add_face(mesh.faces[f], *body.faces[f].surface, out);
      return;
    }
    for (const Face& f : body.faces) {
      const std::size_t vertices = out.vertices.size();
      const std::size_t indices = out.indices.size();
      add_surface(*f.surface,
                  for_tolerance(*f.surface, chord, quality.most_triangles / body.faces.size()),
                  progress, out);
      if (f.flipped) turn_over(out, vertices, indices);
    }
  }
};

}  // namespace

DisplayMesh display_mesh(const Shape& shape, const DisplayQuality& quality, Progress& progress) {
  DisplayMesh out;
  std::visit(MakeDisplayMesh{quality, progress, out}, shape);
  return out;
}

std::shared_ptr<const DisplayValues> deviation_values(const DisplayMesh& mesh, const Shape& other,
                                                      Progress& progress) {
  if (is_empty(other) || mesh.vertices.empty() || std::holds_alternative<CurveSet>(other) ||
      std::holds_alternative<Picture>(other) || std::holds_alternative<Cage>(other) ||
      std::holds_alternative<PointCloud>(other))
    return nullptr;
  std::vector<Vec3> points;
  points.reserve(mesh.vertices.size() / 6);
  for (std::size_t v = 0; v < mesh.vertices.size(); v += 6)
    points.push_back({static_cast<double>(mesh.vertices[v]),
                      static_cast<double>(mesh.vertices[v + 1]),
                      static_cast<double>(mesh.vertices[v + 2])});
  auto result = std::make_shared<DisplayValues>();
  for (const double d : signed_distances(points, measurable(other), progress)) {
    result->values.push_back(static_cast<float>(d));
    result->reach = std::max(result->reach, std::abs(d));
  }
  return result;
}

std::optional<SurfacePlace> place_in_triangle(const DisplayMesh& mesh, std::size_t triangle,
                                              double b, double c) {
  if (mesh.pieces.empty()) return std::nullopt;
  const std::uint32_t* t = &mesh.indices[3 * triangle];
  std::size_t piece = 0;
  while (piece + 1 < mesh.pieces.size() && mesh.pieces[piece + 1].first_vertex <= t[0]) ++piece;
  SurfacePlace place{static_cast<int>(piece), 0.0, 0.0};
  const auto between = [&](std::size_t direction, bool closed) {
    double s[3];
    for (std::size_t k = 0; k < 3; ++k)
      s[k] = static_cast<double>(mesh.shares[2 * t[k] + direction]);
    const double low = std::min({s[0], s[1], s[2]});
    const double high = std::max({s[0], s[1], s[2]});
    if (closed && high - low > 0.5)  // across the seam, where 0 is also 1
      for (double& x : s)
        if (x < 0.5) x += 1.0;
    const double share = s[0] * (1.0 - b - c) + s[1] * b + s[2] * c;
    return closed && share >= 1.0 ? share - 1.0 : share;
  };
  place.u = between(0, mesh.pieces[piece].closed_u);
  place.v = between(1, mesh.pieces[piece].closed_v);
  return place;
}

DisplayLines curve_lines(const Shape& shape, int per_span) {
  DisplayLines lines;
  if (const auto* cage = std::get_if<Cage>(&shape))
    for_each_leg(Nets(cage->now), [&](int, const Vec3& a, const Vec3& b) {
      for (const Vec3& q : {a, b})
        for (std::size_t c = 0; c < 3; ++c) lines.pieces.push_back(static_cast<float>(q[c]));
    });
  const auto* set = std::get_if<CurveSet>(&shape);
  if (set == nullptr) return lines;
  for (const Curve& c : set->curves) {
    const CurveEvaluator evaluator(c);
    std::vector<double> run = sample_places(c.knots, c.knots.degree == 1 ? 1 : per_span);
    if (c.knots.periodic) run.push_back(c.knots.last());
    Vec3 previous = evaluator.point(run.front());
    for (std::size_t k = 1; k < run.size(); ++k) {
      const Vec3 p = evaluator.point(run[k]);
      for (const Vec3& q : {previous, p})
        for (std::size_t a = 0; a < 3; ++a) lines.pieces.push_back(static_cast<float>(q[a]));
      previous = p;
    }
  }
  return lines;
}

namespace {

struct CollectEdges {
  std::vector<Curve>& out;
  void operator()(const TriangleMesh&) const {}
  void operator()(const CurveSet& set) const { out = set.curves; }
  void operator()(const Picture&) const {}
  void operator()(const Cage&) const {}
  void operator()(const Form&) const {}
  void operator()(const PointCloud&) const {}
  void operator()(const Body& body) const { out = edge_curves(body); }
};

}  // namespace

std::vector<Curve> edges_of(const Shape& shape) {
  std::vector<Curve> result;
  std::visit(CollectEdges{result}, shape);
  return result;
}

namespace {

// Where the edges of a form lie in the limit: creases and borders, or all of them.
void add_form_lines(const Form& form, bool sharp, DisplayLines& lines) {
  Progress quiet;
  Form fine = form;
  // The edges of the form are runs of edges of its subdivisions; of each its ends and its middle point.
  std::vector<std::array<std::uint32_t, 2>> runs;
  const std::shared_ptr<const FormLinks> links = links_of(form);
  for (const FormTopology::Edge& e : links->topology.edges)
    if (!sharp || e.border() || form.crease(e.points[0], e.points[1]) > 0.0)
      runs.push_back(e.points);
  if (runs.empty()) return;
  const int levels = form.faces.size() > 4000 ? 0 : (form.faces.size() > 500 ? 1 : 2);
  for (int k = 0; k < levels; ++k) {
    const std::shared_ptr<const FormLinks> finer = links_of(fine);
    std::vector<std::array<std::uint32_t, 2>> halves;
    const auto points = static_cast<std::uint32_t>(fine.points.size());
    for (const auto& [a, b] : runs) {
      const std::uint32_t middle = points + finer->topology.number.at(form_edge(a, b));
      halves.push_back({a, middle});
      halves.push_back({middle, b});
    }
    runs = std::move(halves);
    fine = subdivided(fine, quiet);
  }
  const LimitPoints limit = limit_of(fine);
  for (const auto& run : runs)
    for (const std::uint32_t p : run)
      for (std::size_t c = 0; c < 3; ++c)
        lines.pieces.push_back(static_cast<float>(limit.points[p][c]));
}

}  // namespace

DisplayLines iso_curves(const Shape& shape) {
  DisplayLines lines;
  if (const auto* form = std::get_if<Form>(&shape)) add_form_lines(*form, false, lines);
  if (const auto* body = std::get_if<Body>(&shape))
    for (const Face& f : body->faces) {
      const FaceRegion region(f);
      add_iso_curves(*f.surface, region, true, lines);
      add_iso_curves(*f.surface, region, false, lines);
    }
  return lines;
}

DisplayEdges edge_lines(const Shape& shape, double gap_limit) {
  DisplayEdges lines;
  if (const auto* form = std::get_if<Form>(&shape)) add_form_lines(*form, true, lines);
  const auto* body = std::get_if<Body>(&shape);
  if (body == nullptr || body->edges.empty()) return lines;
  const Topology t = topology(*body);
  const double chord = 2e-4 * std::max(size(*body), 1e-6);
  for (const auto* edges : {&t.open_edges, &t.joined_edges})
    for (const std::uint32_t e : *edges) {
      const auto& uses = t.uses[e];
      const bool gap = body->edges[e].gap > gap_limit;
      if (!gap && (is_seam(uses) || is_smooth_joint(*body, uses))) continue;
      std::vector<float>& to = gap                      ? lines.gaps
                               : edges == &t.open_edges ? lines.open
                                                        : lines.pieces;
      const std::vector<Vec3> points = polyline(body->edges[e].curve, chord);
      for (std::size_t k = 0; k + 1 < points.size(); ++k)
        for (const Vec3& q : {points[k], points[k + 1]})
          for (std::size_t a = 0; a < 3; ++a) to.push_back(static_cast<float>(q[a]));
    }
  return lines;
}

std::vector<Comb> section_combs(const Shape& shape, const SectionWish& wish, Progress& progress) {
  std::vector<Comb> result;
  const auto* body = std::get_if<Body>(&shape);
  if (body == nullptr) return result;
  const SectionPlane plane{wish.origin, wish.normal};
  for (const Face& f : body->faces) {
    progress.check();
    for (const SectionRun& run : section(*f.surface, plane, wish.per_span))
      result.push_back(section_comb(*f.surface, plane, run));
  }
  return result;
}

}  // namespace evenclay
