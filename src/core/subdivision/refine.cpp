#include "core/subdivision/refine.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/subdivision/limit_plan.h"
#include "core/subdivision/limit_rules.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostFaces = 1'000'000;

// The faces and creases of a subdivided form; its points come in the order of the rules: points, edges, faces.
void connect(const Form& form, const FormTopology& t, Form& made) {
  const auto points = static_cast<std::uint32_t>(form.points.size());
  const auto edges = static_cast<std::uint32_t>(t.edges.size());
  made.point_tags = form.point_tags;
  for (const FormTopology::Edge& e : t.edges) made.point_tags.push_back(edge_tag(form, e.points));
  for (const FormFace& f : form.faces) made.point_tags.push_back(make_tag(0, f.tag, 0xFACE));
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) {
    const auto& p = form.faces[f].points;
    for (std::size_t k = 0; k < p.size(); ++k) {
      const std::uint32_t before = t.number.at(form_edge(p[(k + p.size() - 1) % p.size()], p[k]));
      const std::uint32_t behind = t.number.at(form_edge(p[k], p[(k + 1) % p.size()]));
      made.faces.push_back({make_tag(0, form.faces[f].tag, form.point_tags[p[k]]),
                            {p[k], points + behind, points + edges + f, points + before}});
    }
  }
  for (const auto& [edge, s] : form.creases) {
    const double next = next_sharpness(s);
    if (!(next > 0.0)) continue;
    const std::uint32_t middle = points + t.number.at(edge);
    for (const std::uint32_t p : edge) made.creases[form_edge(p, middle)] = next;
  }
}

}  // namespace

Form subdivided(const Form& form, Progress& progress) {
  std::size_t faces = 0;
  for (const FormFace& f : form.faces) faces += f.points.size();
  if (faces > kMostFaces)
    throw Error(
        say("Subdividing would make {} thousand faces; at most a million can be used. "
            "Subdivide only a part.",
            faces / 1000));
  const std::shared_ptr<const FormLinks> links = links_of(form);
  const FormTopology& t = links->topology;
  const SubdivisionRules<Vec3> rules(form, t, form.points);
  Form made;
  made.points.reserve(form.points.size() + t.edges.size() + form.faces.size());
  for (std::uint32_t p = 0; p < form.points.size(); ++p) {
    if (p % 4096 == 0) progress.check();
    made.points.push_back(rules.of_point(p));
  }
  for (const FormTopology::Edge& e : t.edges) made.points.push_back(rules.of_edge(e));
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) made.points.push_back(rules.of_face(f));
  connect(form, t, made);
  return made;
}

bool ready_for_limit(const Form& form) {
  for (const FormFace& f : form.faces)
    if (f.points.size() != 4) return false;
  for (const auto& [edge, s] : form.creases)
    if (s > 0.0 && s < kSharp) return false;
  return true;
}

void set_corners(const Form& form, const Fan& fan, const FanSector& sector, std::uint32_t point,
                 std::uint32_t vertex, std::vector<std::array<std::uint32_t, 4>>& corners) {
  for (std::size_t k = sector.first; k < sector.first + sector.count; ++k) {
    const std::uint32_t f = fan.faces[k % fan.faces.size()];
    const auto& points = form.faces[f].points;
    corners[f][static_cast<std::size_t>(std::find(points.begin(), points.end(), point) -
                                        points.begin())] = vertex;
  }
}

std::vector<FanSector> sectors_between(const Fan& fan, const std::vector<std::size_t>& sharp,
                                       PointRule rule) {
  if (rule == PointRule::Smooth) return {{0, fan.faces.size(), fan.closed}};
  std::vector<FanSector> sectors;
  for (std::size_t k = 0; k < sharp.size(); ++k) {
    const std::size_t end = k + 1 < sharp.size() ? sharp[k + 1]
                            : fan.closed         ? sharp[0] + fan.faces.size()
                                                 : fan.faces.size();
    if (end > sharp[k]) sectors.push_back({sharp[k], end - sharp[k], false});
  }
  return sectors;
}

std::vector<FanSector> sectors_at(const Form& form, const FormTopology& t, std::uint32_t p,
                                  const Fan& fan) {
  std::vector<std::size_t> sharp;
  for (std::size_t k = 0; k < fan.ends.size(); ++k)
    if (is_sharp(form, t, p, fan.ends[k])) sharp.push_back(k);
  return sectors_between(fan, sharp, rule_of(sharp.size(), fan.faces.size() == 1 && !fan.closed));
}

// Ties are settled alike however places were rounded.
bool halved_otherwise(const std::vector<Vec3>& points, const std::array<std::uint32_t, 4>& c) {
  return distance(points[c[0]], points[c[2]]) > distance(points[c[1]], points[c[3]]) * (1.0 + 1e-9);
}

std::array<std::array<std::uint32_t, 3>, 2> halved(const std::array<std::uint32_t, 4>& c,
                                                   bool otherwise) {
  if (otherwise) return {{{c[0], c[1], c[3]}, {c[1], c[2], c[3]}}};
  return {{{c[0], c[1], c[2]}, {c[0], c[2], c[3]}}};
}

void add_quad(const std::vector<Vec3>& points, const std::array<std::uint32_t, 4>& c,
              std::vector<std::array<std::uint32_t, 3>>& triangles) {
  for (const auto& half : halved(c, halved_otherwise(points, c))) triangles.push_back(half);
}

namespace {

// Between each tangent and the next.
Vec3 normal_of(const std::vector<Vec3>& tangents) {
  Vec3 sum;
  for (std::size_t k = 0; k + 1 < tangents.size(); ++k) {
    const Vec3 n = cross(tangents[k], tangents[k + 1]);
    if (length(n) > 1e-300) sum += n / length(n);
  }
  return length(sum) > 0.0 ? normalized(sum) : Vec3{0, 0, 1};
}

// The first points of a subdivided form are those of the form.
Form refined_for_limit(Form form, Progress& progress) {
  for (int k = 0; k < 12 && !ready_for_limit(form); ++k) form = subdivided(form, progress);
  return form;
}

}  // namespace

LimitPoints limit_of(const Form& form) {
  Progress quiet;
  const Form fine = refined_for_limit(form, quiet);
  const std::shared_ptr<const FormLinks> links = links_of(fine);
  const LimitRules<Vec3> limit(fine, links->topology, fine.points);
  LimitPoints result;
  for (std::uint32_t p = 0; p < form.points.size(); ++p) {
    const LimitAtPoint<Vec3> at = limit.at(p);
    result.points.push_back(at.place);
    Vec3 n;
    for (const auto& tangents : at.tangents) n += normal_of(tangents);
    result.normals.push_back(normalized(n));
  }
  return result;
}

TriangleMesh polygon_mesh(const Form& form) {
  TriangleMesh mesh;
  for (const FormFace& f : form.faces) {
    Vec3 middle, normal;
    for (const std::uint32_t p : f.points)
      middle += form.points[p] / static_cast<double>(f.points.size());
    for (std::size_t k = 0; k < f.points.size(); ++k)
      normal += cross(form.points[f.points[k]] - middle,
                      form.points[f.points[(k + 1) % f.points.size()]] - middle);
    normal = length(normal) > 0.0 ? normalized(normal) : Vec3{0, 0, 1};
    const auto first = static_cast<std::uint32_t>(mesh.points.size());
    const auto n = static_cast<std::uint32_t>(f.points.size());
    for (const std::uint32_t p : f.points) mesh.points.push_back(form.points[p]);
    mesh.points.push_back(middle);
    mesh.normals.resize(mesh.points.size(), normal);
    for (std::uint32_t k = 0; k < n; ++k)
      mesh.triangles.push_back({first + n, first + k, first + (k + 1) % n});
  }
  return mesh;
}

// Every subdivision leaves the quadrangles of a face together and in order, n of one with n sides, then four of each.
std::optional<std::uint32_t> face_of_triangle(const Form& form, std::size_t triangles,
                                              std::size_t triangle) {
  const std::size_t quads = triangles / 2;
  if (triangle >= triangles) return std::nullopt;
  if (quads == form.faces.size()) return static_cast<std::uint32_t>(triangle / 2);
  std::size_t sides = 0;
  for (const FormFace& f : form.faces) sides += f.points.size();
  // Of polygon_mesh() each side has one triangle, else each quadrangle two.
  const bool polygons = triangles == sides;
  if (sides == 0 || (!polygons && quads % sides != 0)) return std::nullopt;
  const std::size_t of_side = polygons ? 1 : quads / sides;
  std::size_t passed = 0;
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) {
    passed += form.faces[f].points.size() * of_side;
    if ((polygons ? triangle : triangle / 2) < passed) return f;
  }
  return std::nullopt;
}

namespace {

// Of the edges' middles from their chords, in the limit.
double greatest_sag(const Form& form, Progress& progress) {
  TriangleMesh mesh;
  if (const auto sag = LimitPlan(form, 1, progress, &mesh).greatest_sag(mesh)) return *sag;
  // Once subdivided, the first points are those of the form, and then follow those on its edges.
  const LimitPoints fine = limit_of(subdivided(form, progress));
  const std::shared_ptr<const FormLinks> links = links_of(form);
  const std::vector<FormTopology::Edge>& edges = links->topology.edges;
  double sag = 0.0;
  for (std::size_t e = 0; e < edges.size(); ++e) {
    const Vec3 middle = (fine.points[edges[e].points[0]] + fine.points[edges[e].points[1]]) * 0.5;
    sag = std::max(sag, distance(middle, fine.points[form.points.size() + e]));
  }
  return sag;
}

}  // namespace

int levels_for(const Form& form, double chord, std::size_t most_triangles, Progress& progress) {
  std::size_t quads = 0;
  for (const FormFace& f : form.faces) quads += f.points.size();
  int most = 0;  // 2 triangles for each quadrangle, four times as many a level
  while (most < 6 && (quads * 2) << (2 * most) <= most_triangles) ++most;
  if (most == 0) return 0;
  double sag = greatest_sag(form, progress);
  int levels = 0;
  for (; levels < most && sag > chord; ++levels) sag /= 4.0;
  return levels;
}

TriangleMesh limit_within(const Form& form, double chord, std::size_t most_triangles,
                          Progress& progress) {
  TriangleMesh mesh;
  const LimitPlan plan(form, levels_for(form, chord, most_triangles, progress), progress, &mesh);
  return mesh;
}

TriangleMesh limit_mesh(const Form& form, int levels, Progress& progress) {
  if (levels < 0 || levels > 6) throw Error(say("A form is drawn with 0 to 6 subdivisions."));
  Form fine = form;
  for (int k = 0; k < levels; ++k) fine = subdivided(fine, progress);
  fine = refined_for_limit(std::move(fine), progress);
  const std::shared_ptr<const FormLinks> links = links_of(fine);
  const LimitRules<Vec3> limit(fine, links->topology, fine.points);
  TriangleMesh mesh;
  // Of each face and corner the vertex of the mesh.
  std::vector<std::array<std::uint32_t, 4>> corners(fine.faces.size());
  for (std::uint32_t p = 0; p < fine.points.size(); ++p) {
    if (p % 4096 == 0) progress.check();
    const LimitAtPoint<Vec3> at = limit.at(p);
    for (std::size_t s = 0; s < at.sectors.size(); ++s) {
      const auto vertex = static_cast<std::uint32_t>(mesh.points.size());
      mesh.points.push_back(at.place);
      mesh.normals.push_back(normal_of(at.tangents[s]));
      set_corners(fine, at.fan, at.sectors[s], p, vertex, corners);
    }
  }
  for (const auto& c : corners) add_quad(mesh.points, c, mesh.triangles);
  return mesh;
}

}  // namespace evenclay
