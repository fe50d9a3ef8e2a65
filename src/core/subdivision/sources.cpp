#include "core/subdivision/sources.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/mesh/cut_mesh.h"
#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

void need(bool holds, const std::string& sentence) {
  if (!holds) throw Error(sentence);
}

void need_count(int n, int least, int most, const char* what) {
  if (n < least || n > most)
    throw Error(say("{} faces {} cannot be used; choose {} to {}.", n, what, least, most));
}

std::uint32_t number(std::size_t k) {
  return static_cast<std::uint32_t>(k);
}

}  // namespace

Form make_form(std::vector<Vec3> points, const std::vector<std::vector<std::uint32_t>>& faces,
               int step) {
  Form form;
  for (std::size_t k = 0; k < points.size(); ++k) form.point_tags.push_back(make_tag(step, 1, k));
  form.points = std::move(points);
  for (std::size_t f = 0; f < faces.size(); ++f)
    form.faces.push_back({make_tag(step, 2, f), faces[f]});
  check(form);
  return form;
}

Form make_box_form(const Frame& frame, const Vec3& size, int nx, int ny, int nz, int step) {
  const std::array<int, 3> n{nx, ny, nz};
  for (const int k : n) need(k >= 1 && k <= 100, say("A box has 1 to 100 faces along each side."));
  need(size.x > 0.0 && size.y > 0.0 && size.z > 0.0, say("A box needs lengths greater than 0."));
  std::map<std::array<int, 3>, std::uint32_t> numbers;
  std::vector<Vec3> points;
  const auto point = [&](const std::array<int, 3>& at) {
    const auto [found, fresh] = numbers.try_emplace(at, number(points.size()));
    if (fresh)
      points.push_back(frame.to_world({size.x * (static_cast<double>(at[0]) / nx - 0.5),
                                       size.y * (static_cast<double>(at[1]) / ny - 0.5),
                                       size.z * (static_cast<double>(at[2]) / nz - 0.5)}));
    return found->second;
  };
  std::vector<std::vector<std::uint32_t>> faces;
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (const bool far : {false, true})
      for (int i = 0; i < n[(axis + 1) % 3]; ++i)
        for (int j = 0; j < n[(axis + 2) % 3]; ++j) {
          const auto at = [&](int a, int b) {
            std::array<int, 3> place{};
            place[axis] = far ? n[axis] : 0;
            place[(axis + 1) % 3] = i + a;
            place[(axis + 2) % 3] = j + b;
            return point(place);
          };
          std::vector<std::uint32_t> face{at(0, 0), at(1, 0), at(1, 1), at(0, 1)};
          if (!far) std::reverse(face.begin(), face.end());
          faces.push_back(std::move(face));
        }
  return make_form(std::move(points), faces, step);
}

Form make_rows_form(const std::vector<std::vector<Vec3>>& rows, bool around, bool closed, bool caps,
                    int step) {
  need(rows.size() >= (closed ? 3U : 2U) && !rows.front().empty(),
       say("A form of rows needs two rows at least, three when it is closed."));
  const std::size_t n = rows.front().size();
  need(n >= (around ? 3U : 2U), say("A row needs two points at least, three when it goes round."));
  std::vector<Vec3> points;
  for (const auto& row : rows) {
    need(row.size() == n, say("The rows have different counts of points."));
    points.insert(points.end(), row.begin(), row.end());
  }
  std::vector<std::vector<std::uint32_t>> faces;
  const std::size_t bands = closed ? rows.size() : rows.size() - 1;
  for (std::size_t r = 0; r < bands; ++r)
    for (std::size_t k = 0; k < (around ? n : n - 1); ++k) {
      const auto at = [&](std::size_t row, std::size_t place) {
        return number((row % rows.size()) * n + place % n);
      };
      faces.push_back({at(r, k), at(r, k + 1), at(r + 1, k + 1), at(r + 1, k)});
    }
  if (caps && around && !closed) {
    std::vector<std::uint32_t> first, last;
    for (std::size_t k = 0; k < n; ++k) {
      first.push_back(number(n - 1 - k));
      last.push_back(number((rows.size() - 1) * n + k));
    }
    faces.push_back(first);
    faces.push_back(last);
  }
  return make_form(std::move(points), faces, step);
}

Form make_plane_form(const Frame& frame, double length_x, double length_y, int nx, int ny,
                     int step) {
  need_count(nx, 1, 200, "along x");
  need_count(ny, 1, 200, "along y");
  need(length_x > 0.0 && length_y > 0.0, say("A plane needs lengths greater than 0."));
  std::vector<std::vector<Vec3>> rows;
  for (int j = 0; j <= ny; ++j) {
    rows.emplace_back();
    for (int i = 0; i <= nx; ++i)
      rows.back().push_back(frame.to_world({length_x * (static_cast<double>(i) / nx - 0.5),
                                            length_y * (static_cast<double>(j) / ny - 0.5), 0.0}));
  }
  return make_rows_form(rows, false, false, false, step);
}

namespace {

std::vector<Vec3> ring(const Frame& frame, double radius, double height, int n) {
  std::vector<Vec3> points;
  for (int k = 0; k < n; ++k) {
    const double a = 2.0 * std::numbers::pi * k / n;
    points.push_back(frame.to_world({radius * std::cos(a), radius * std::sin(a), height}));
  }
  return points;
}

}  // namespace

Form make_cylinder_form(const Frame& frame, double radius, double height, int around, int along,
                        bool caps, int step) {
  need_count(around, 3, 200, "around");
  need_count(along, 1, 200, "along");
  need(radius > 0.0 && height > 0.0, say("A cylinder needs a radius and a height greater than 0."));
  std::vector<std::vector<Vec3>> rows;
  constexpr double kInner = 0.6;  // share of the radius at which the ring inside a cap lies
  if (caps) rows.push_back(ring(frame, kInner * radius, 0.0, around));
  for (int k = 0; k <= along; ++k) rows.push_back(ring(frame, radius, height * k / along, around));
  if (caps) rows.push_back(ring(frame, kInner * radius, height, around));
  return make_rows_form(rows, true, false, caps, step);
}

Form make_ball_form(const Frame& frame, double radius, int n, int step) {
  need_count(n, 1, 50, "a side");
  need(radius > 0.0, say("A ball needs a radius greater than 0."));
  Form form = make_box_form({}, {2, 2, 2}, n, n, n, step);
  // Places of a side spread by equal angles, which keeps its faces alike.
  const auto spread = [](double x) { return std::tan(x * std::numbers::pi / 4.0); };
  for (Vec3& p : form.points) p = normalized(Vec3{spread(p.x), spread(p.y), spread(p.z)});
  const LimitPoints limit = limit_of(form);
  double mean = 0.0;
  for (const Vec3& p : limit.points) mean += length(p) / static_cast<double>(limit.points.size());
  for (Vec3& p : form.points) p = frame.to_world(p * (radius / mean));
  return form;
}

Form make_torus_form(const Frame& frame, double radius, double tube, int around, int across,
                     int step) {
  need_count(around, 3, 200, "around");
  need_count(across, 3, 200, "across");
  need(tube > 0.0 && radius > tube,
       say("A torus needs a radius greater than that of its tube, and both greater than 0."));
  std::vector<std::vector<Vec3>> rows;
  for (int k = 0; k < across; ++k) {
    const double a = 2.0 * std::numbers::pi * k / across;
    rows.push_back(ring(frame, radius + tube * std::cos(a), tube * std::sin(a), around));
  }
  return make_rows_form(rows, true, true, false, step);
}

namespace {

// A pair of triangles beside one edge, as the quadrangle that it would make.
struct Pair {
  double squareness = 0.0;  // greatest difference of a corner from a right angle, radians
  std::uint32_t a = 0, b = 0;
  std::vector<std::uint32_t> quad;
};

std::optional<Pair> pair_of(const TriangleMesh& m, std::uint32_t a, std::uint32_t b,
                            const FormEdge& shared, double flat_degrees) {
  const auto apex = [&](std::uint32_t t) {
    for (const std::uint32_t v : m.triangles[t])
      if (v != shared[0] && v != shared[1]) return v;
    return m.triangles[t][0];
  };
  const auto normal = [&](std::uint32_t t) {
    const auto& v = m.triangles[t];
    return normalized(cross(m.points[v[1]] - m.points[v[0]], m.points[v[2]] - m.points[v[0]]));
  };
  if (dot(normal(a), normal(b)) < std::cos(flat_degrees * std::numbers::pi / 180.0))
    return std::nullopt;
  const auto& t = m.triangles[a];
  std::size_t k = 0;
  while (t[k] != apex(a)) ++k;
  Pair pair{0.0, a, b, {t[k], t[(k + 1) % 3], apex(b), t[(k + 2) % 3]}};
  for (std::size_t c = 0; c < 4; ++c) {
    const Vec3& p = m.points[pair.quad[c]];
    const Vec3 x = normalized(m.points[pair.quad[(c + 1) % 4]] - p);
    const Vec3 y = normalized(m.points[pair.quad[(c + 3) % 4]] - p);
    const double angle = std::acos(std::clamp(dot(x, y), -1.0, 1.0));
    // A corner that turns in would make a quadrangle that is no convex one.
    if (dot(cross(x, y), normal(a)) <= 0.0) return std::nullopt;
    pair.squareness = std::max(pair.squareness, std::abs(angle - std::numbers::pi / 2.0));
  }
  return pair;
}

}  // namespace

Form make_mesh_form(const TriangleMesh& given, double flat_degrees, int step) {
  if (given.triangles.size() > 20'000)
    throw Error(
        say("The mesh has {} triangles; a form is made of at most 20000. Thin the mesh out first.",
            given.triangles.size()));
  need(!given.triangles.empty(), say("The mesh has no triangles to make a form of."));
  TriangleMesh bare = given;
  bare.normals.clear();
  const TriangleMesh mesh = welded(bare, 1e-6 * box(given).size());
  std::map<FormEdge, std::vector<std::uint32_t>> beside;
  for (std::uint32_t t = 0; t < mesh.triangles.size(); ++t)
    for (std::size_t k = 0; k < 3; ++k)
      beside[form_edge(mesh.triangles[t][k], mesh.triangles[t][(k + 1) % 3])].push_back(t);
  std::vector<Pair> pairs;
  for (const auto& [edge, both] : beside)
    if (both.size() == 2 && flat_degrees > 0.0)
      if (auto pair = pair_of(mesh, both[0], both[1], edge, flat_degrees))
        pairs.push_back(std::move(*pair));
  std::stable_sort(pairs.begin(), pairs.end(),
                   [](const Pair& x, const Pair& y) { return x.squareness < y.squareness; });
  std::vector<bool> taken(mesh.triangles.size(), false);
  std::vector<std::vector<std::uint32_t>> faces;
  for (const Pair& p : pairs) {
    if (taken[p.a] || taken[p.b]) continue;
    taken[p.a] = taken[p.b] = true;
    faces.push_back(p.quad);
  }
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    if (!taken[t]) faces.push_back({mesh.triangles[t].begin(), mesh.triangles[t].end()});
  // Vertices that no triangle uses would be points without a face.
  std::vector<std::uint32_t> place(mesh.points.size(), 0xFFFFFFFF);
  std::vector<Vec3> points;
  for (auto& face : faces)
    for (std::uint32_t& v : face) {
      if (place[v] == 0xFFFFFFFF) {
        place[v] = number(points.size());
        points.push_back(mesh.points[v]);
      }
      v = place[v];
    }
  return make_form(std::move(points), faces, step);
}

Form make_net_form(std::span<const Surface> surfaces, int step) {
  std::vector<Vec3> corners;
  Box3 box;
  std::vector<std::array<std::uint32_t, 4>> quads;
  for (const Surface& s : surfaces) {
    const int nu = s.points.rows();
    const int nv = s.points.columns();
    const std::size_t first = corners.size();
    for (int i = 0; i < nu; ++i)
      for (int j = 0; j < nv; ++j) corners.push_back(s.points(i, j));
    const auto at = [&](int i, int j) {
      return number(first + static_cast<std::size_t>(i % nu) * static_cast<std::size_t>(nv) +
                    static_cast<std::size_t>(j % nv));
    };
    for (int i = 0; i < (s.u.periodic ? nu : nu - 1); ++i)
      for (int j = 0; j < (s.v.periodic ? nv : nv - 1); ++j)
        quads.push_back({at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)});
  }
  need(!quads.empty(), say("There is no control net to make a form of."));
  for (const Vec3& p : corners) box.add(p);
  OnePlaces joined = one_places(corners, std::max(1e-9, 1e-7 * box.size()));
  std::vector<std::vector<std::uint32_t>> faces;
  for (const auto& q : quads) {
    std::vector<std::uint32_t> face;
    for (const std::uint32_t v : q)
      if (const std::uint32_t p = joined.number[v];
          face.empty() || (face.back() != p && face.front() != p))
        face.push_back(p);
    if (face.size() >= 3) faces.push_back(std::move(face));
  }
  return make_form(std::move(joined.places), faces, step);
}

}  // namespace evenclay
