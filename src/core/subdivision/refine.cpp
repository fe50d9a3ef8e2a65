#include "core/subdivision/refine.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/subdivision/fan.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostFaces = 1'000'000;

// What a point does while it is subdivided, by how many sharp edges meet there.
enum class Rule { Smooth, Crease, Corner };

Rule rule_of(std::size_t sharp_edges, bool lone_corner) {
  if (lone_corner || sharp_edges > 2) return Rule::Corner;
  return sharp_edges == 2 ? Rule::Crease : Rule::Smooth;
}

double next_sharpness(double s) {
  return s >= kSharp ? kSharp : std::max(0.0, s - 1.0);
}

class Subdivider {
 public:
  Subdivider(const Form& form, Progress& progress)
      : form_(form), t_(topology(form)), progress_(progress) {}

  Form run() {
    std::size_t faces = 0;
    for (const FormFace& f : form_.faces) faces += f.points.size();
    if (faces > kMostFaces)
      throw Error(
          fmt::format("Subdividing would make {} thousand faces; at most a million can be used. "
                      "Subdivide only a part.",
                      faces / 1000));
    made_.points.reserve(form_.points.size() + t_.edges.size() + form_.faces.size());
    place_faces();
    for (std::uint32_t p = 0; p < form_.points.size(); ++p) {
      if (p % 4096 == 0) progress_.check();
      made_.points.push_back(place_of_point(p));
      made_.point_tags.push_back(form_.point_tags[p]);
    }
    for (const FormTopology::Edge& e : t_.edges) {
      made_.points.push_back(place_of_edge(e));
      const Tag a = form_.point_tags[e.points[0]];
      const Tag b = form_.point_tags[e.points[1]];
      made_.point_tags.push_back(make_tag(0, std::min(a, b), std::max(a, b)));
    }
    for (std::size_t f = 0; f < form_.faces.size(); ++f) {
      made_.points.push_back(middles_[f]);
      made_.point_tags.push_back(make_tag(0, form_.faces[f].tag, 0xFACE));
    }
    connect();
    return std::move(made_);
  }

 private:
  double sharpness(const FormTopology::Edge& e) const {
    return e.border() ? kSharp : form_.crease(e.points[0], e.points[1]);
  }
  void place_faces() {
    for (const FormFace& f : form_.faces) {
      Vec3 sum;
      for (const std::uint32_t p : f.points) sum += form_.points[p];
      middles_.push_back(sum / static_cast<double>(f.points.size()));
    }
  }
  Vec3 place_of_edge(const FormTopology::Edge& e) const {
    const Vec3 middle = (form_.points[e.points[0]] + form_.points[e.points[1]]) * 0.5;
    const double s = sharpness(e);
    if (s >= 1.0) return middle;
    const Vec3 smooth = middle * 0.5 + (middles_[static_cast<std::size_t>(e.faces[0])] +
                                        middles_[static_cast<std::size_t>(e.faces[1])]) *
                                           0.25;
    return smooth * (1.0 - s) + middle * s;
  }
  Vec3 smooth_place(std::uint32_t p) const {
    const auto n = static_cast<double>(t_.edges_of_point[p].size());
    Vec3 faces, ends;
    for (const std::uint32_t f : t_.faces_of_point[p]) faces += middles_[f];
    for (const std::uint32_t e : t_.edges_of_point[p]) {
      const FormEdge& points = t_.edges[e].points;
      ends += form_.points[points[0] == p ? points[1] : points[0]];
    }
    return (faces / n + ends / n + form_.points[p] * (n - 2.0)) / n;
  }
  // By the sharp edges after `falls` subdivisions.
  Vec3 by_rule(std::uint32_t p, Rule rule, int falls) const {
    if (rule == Rule::Smooth) return smooth_place(p);
    if (rule == Rule::Corner) return form_.points[p];
    Vec3 sum = form_.points[p] * 6.0;
    for (const std::uint32_t e : t_.edges_of_point[p]) {
      double s = sharpness(t_.edges[e]);
      for (int k = 0; k < falls; ++k) s = next_sharpness(s);
      const FormEdge& points = t_.edges[e].points;
      if (s > 0.0) sum += form_.points[points[0] == p ? points[1] : points[0]];
    }
    return sum / 8.0;
  }
  // Where creases run out within this subdivision, the rules of before and after are mixed by their share.
  Vec3 place_of_point(std::uint32_t p) const {
    const bool lone = t_.faces_of_point[p].size() == 1;
    std::size_t now = 0, then = 0, ending = 0;
    double share = 0.0;
    for (const std::uint32_t e : t_.edges_of_point[p]) {
      const double s = sharpness(t_.edges[e]);
      if (!(s > 0.0)) continue;
      ++now;
      if (next_sharpness(s) > 0.0) {
        ++then;
        continue;
      }
      ++ending;
      share += s;
    }
    const Rule before = rule_of(now, lone);
    const Rule after = rule_of(then, lone);
    if (before == after || ending == 0) return by_rule(p, before, 0);
    const double weight = std::min(1.0, share / static_cast<double>(ending));
    return by_rule(p, before, 0) * weight + by_rule(p, after, 1) * (1.0 - weight);
  }
  void connect() {
    const auto points = static_cast<std::uint32_t>(form_.points.size());
    const auto edges = static_cast<std::uint32_t>(t_.edges.size());
    for (std::uint32_t f = 0; f < form_.faces.size(); ++f) {
      const auto& p = form_.faces[f].points;
      for (std::size_t k = 0; k < p.size(); ++k) {
        const std::uint32_t before =
            t_.number.at(form_edge(p[(k + p.size() - 1) % p.size()], p[k]));
        const std::uint32_t behind = t_.number.at(form_edge(p[k], p[(k + 1) % p.size()]));
        made_.faces.push_back({make_tag(0, form_.faces[f].tag, form_.point_tags[p[k]]),
                               {p[k], points + behind, points + edges + f, points + before}});
      }
    }
    for (const auto& [edge, s] : form_.creases) {
      const double next = next_sharpness(s);
      if (!(next > 0.0)) continue;
      const std::uint32_t middle = points + t_.number.at(edge);
      for (const std::uint32_t p : edge) made_.creases[form_edge(p, middle)] = next;
    }
  }

  const Form& form_;
  const FormTopology t_;
  Progress& progress_;
  std::vector<Vec3> middles_;
  Form made_;
};

}  // namespace

Form subdivided(const Form& form, Progress& progress) {
  return Subdivider(form, progress).run();
}

namespace {

bool ready_for_limit(const Form& form) {
  for (const FormFace& f : form.faces)
    if (f.points.size() != 4) return false;
  for (const auto& [edge, s] : form.creases)
    if (s > 0.0 && s < kSharp) return false;
  return true;
}

// A run of faces between two sharp edges, or the whole closed fan.
struct Sector {
  std::size_t first = 0, count = 0;  // faces of the fan
  bool closed = false;
};

class Limit {
 public:
  explicit Limit(const Form& form) : form_(form), t_(topology(form)) {}

  struct AtPoint {
    Vec3 place;
    Fan fan;
    std::vector<Sector> sectors;
    std::vector<Vec3> normals;  // of each sector
  };
  AtPoint at(std::uint32_t p) const {
    AtPoint a;
    a.fan = fan_of(form_, t_, p);
    std::vector<std::size_t> sharp;  // places in fan.ends
    for (std::size_t k = 0; k < a.fan.ends.size(); ++k)
      if (is_sharp(form_, t_, p, a.fan.ends[k])) sharp.push_back(k);
    const Rule rule = rule_of(sharp.size(), a.fan.faces.size() == 1 && !a.fan.closed);
    a.sectors = sectors_of(a.fan, sharp, rule);
    if (rule == Rule::Smooth && sharp.size() == 1) {
      at_dart(p, a, sharp[0]);
      return a;
    }
    a.place = place_of(p, a.fan, sharp, rule);
    for (const Sector& s : a.sectors) a.normals.push_back(normal_of(p, a.fan, s, rule));
    return a;
  }

 private:
  static std::vector<Sector> sectors_of(const Fan& fan, const std::vector<std::size_t>& sharp,
                                        Rule rule) {
    if (rule == Rule::Smooth) return {{0, fan.faces.size(), fan.closed}};
    std::vector<Sector> sectors;
    for (std::size_t k = 0; k < sharp.size(); ++k) {
      const std::size_t end = k + 1 < sharp.size() ? sharp[k + 1]
                              : fan.closed         ? sharp[0] + fan.faces.size()
                                                   : fan.faces.size();
      if (end > sharp[k]) sectors.push_back({sharp[k], end - sharp[k], false});
    }
    return sectors;
  }
  const Vec3& end(const Fan& fan, std::size_t k) const {
    return form_.points[fan.ends[k % fan.ends.size()]];
  }
  const Vec3& diagonal(const Fan& fan, std::size_t k) const {
    return form_.points[fan.diagonals[k % fan.diagonals.size()]];
  }
  Vec3 place_of(std::uint32_t p, const Fan& fan, const std::vector<std::size_t>& sharp,
                Rule rule) const {
    const Vec3& v = form_.points[p];
    if (rule == Rule::Corner) return v;
    if (rule == Rule::Crease) return (v * 4.0 + end(fan, sharp[0]) + end(fan, sharp[1])) / 6.0;
    const auto n = static_cast<double>(fan.faces.size());
    Vec3 ends, diagonals;
    for (std::size_t k = 0; k < fan.faces.size(); ++k) {
      ends += end(fan, k);
      diagonals += diagonal(fan, k);
    }
    return (v * (n * n) + ends * 4.0 + diagonals) / (n * (n + 5.0));
  }
  Vec3 normal_of(std::uint32_t p, const Fan& fan, const Sector& s, Rule rule) const {
    Vec3 n;
    if (rule == Rule::Smooth && s.count > 2)
      n = smooth_normal(fan);
    else if (rule == Rule::Crease)
      n = crease_normal(p, fan, s);
    if (length(n) > 1e-12) return normalized(n);
    for (std::size_t k = s.first; k < s.first + s.count; ++k)
      n += normalized(cross(end(fan, k) - form_.points[p], end(fan, k + 1) - form_.points[p]));
    return normalized(n);
  }
  // Where a single crease ends no mask is known to be exact: the ring around the point is subdivided on until it has
  // shrunk to nothing, each from the one before.
  void at_dart(std::uint32_t p, AtPoint& a, std::size_t sharp) const {
    const std::size_t n = a.fan.faces.size();
    Vec3 v = form_.points[p];
    std::vector<Vec3> ends, diagonals;
    for (std::size_t k = 0; k < n; ++k) {
      ends.push_back(end(a.fan, k));
      diagonals.push_back(diagonal(a.fan, k));
    }
    const auto count = static_cast<double>(n);
    Vec3 normal;
    for (int level = 0; level < 40; ++level) {
      std::vector<Vec3> middles;
      for (std::size_t k = 0; k < n; ++k)
        middles.push_back((v + ends[k] + diagonals[k] + ends[(k + 1) % n]) * 0.25);
      Vec3 faces, around;
      for (std::size_t k = 0; k < n; ++k) {
        faces += middles[k];
        around += ends[k];
      }
      const Vec3 next = (faces / count + around / count + v * (count - 2.0)) / count;
      for (std::size_t k = 0; k < n; ++k) {
        const Vec3 smooth = (v + ends[k] + middles[k] + middles[(k + n - 1) % n]) * 0.25;
        ends[k] = k == sharp ? (v + ends[k]) * 0.5 : smooth;
      }
      v = next;
      diagonals = std::move(middles);
      // Later the ring is too small for a sound normal.
      if (level == 16)
        for (std::size_t k = 0; k < n; ++k) normal += cross(ends[k] - v, ends[(k + 1) % n] - v);
    }
    a.place = v;
    a.normals = {normalized(normal)};
  }
  // The two tangents are the second Fourier components of the ring around.
  Vec3 smooth_normal(const Fan& fan) const {
    const std::size_t n = fan.faces.size();
    const double turn = 2.0 * std::numbers::pi / static_cast<double>(n);
    const double c = std::cos(turn);
    const double a = 1.0 + c + std::cos(0.5 * turn) * std::sqrt(2.0 * (9.0 + c));
    Vec3 x, y;
    for (std::size_t k = 0; k < n; ++k) {
      const double now = turn * static_cast<double>(k);
      const double next = now + turn;
      x += end(fan, k) * (a * std::cos(now)) + diagonal(fan, k) * (std::cos(now) + std::cos(next));
      y += end(fan, k) * (a * std::sin(now)) + diagonal(fan, k) * (std::sin(now) + std::sin(next));
    }
    return cross(x, y);
  }
  // Along the crease, and into the sector (H. Biermann, A. Levin, D. Zorin, Piecewise smooth subdivision surfaces with
  // normal control, 2000, from memory).
  Vec3 crease_normal(std::uint32_t p, const Fan& fan, const Sector& s) const {
    const Vec3& v = form_.points[p];
    const Vec3 along = end(fan, s.first) - end(fan, s.first + s.count);
    Vec3 inward;
    if (s.count == 1) {
      inward = end(fan, s.first) * 3.0 + end(fan, s.first + 1) * 3.0 - v * 6.0;
    } else {
      const double angle = std::numbers::pi / static_cast<double>(s.count);
      const double c = std::cos(angle);
      const double r = (c + 1.0) / std::sin(angle);
      inward = v * (4.0 * r * (c - 1.0)) -
               (end(fan, s.first) + end(fan, s.first + s.count)) * (r * (1.0 + 2.0 * c)) +
               diagonal(fan, s.first) * std::sin(angle);
      for (std::size_t k = 1; k < s.count; ++k) {
        const double now = std::sin(angle * static_cast<double>(k));
        const double next = std::sin(angle * static_cast<double>(k + 1));
        inward += end(fan, s.first + k) * (4.0 * now) + diagonal(fan, s.first + k) * (now + next);
      }
    }
    return cross(along, inward);
  }

  const Form& form_;
  const FormTopology t_;
};

// The first points of a subdivided form are those of the form.
Form refined_for_limit(Form form, Progress& progress) {
  for (int k = 0; k < 12 && !ready_for_limit(form); ++k) form = subdivided(form, progress);
  return form;
}

}  // namespace

LimitPoints limit_of(const Form& form) {
  Progress quiet;
  const Form fine = refined_for_limit(form, quiet);
  const Limit limit(fine);
  LimitPoints result;
  for (std::uint32_t p = 0; p < form.points.size(); ++p) {
    const Limit::AtPoint at = limit.at(p);
    result.points.push_back(at.place);
    Vec3 n;
    for (const Vec3& s : at.normals) n += s;
    result.normals.push_back(normalized(n));
  }
  return result;
}

// Every subdivision leaves the quadrangles of a face together and in order, n of one with n sides, then four of each.
std::optional<std::uint32_t> face_of_triangle(const Form& form, std::size_t triangles,
                                              std::size_t triangle) {
  const std::size_t quads = triangles / 2;
  if (triangle >= triangles) return std::nullopt;
  if (quads == form.faces.size()) return static_cast<std::uint32_t>(triangle / 2);
  std::size_t sides = 0;
  for (const FormFace& f : form.faces) sides += f.points.size();
  if (sides == 0 || quads % sides != 0) return std::nullopt;
  const std::size_t of_side = quads / sides;
  std::size_t passed = 0;
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) {
    passed += form.faces[f].points.size() * of_side;
    if (triangle / 2 < passed) return f;
  }
  return std::nullopt;
}

int levels_for(const Form& form, double chord, std::size_t most_triangles, Progress& progress) {
  std::size_t quads = 0;
  for (const FormFace& f : form.faces) quads += f.points.size();
  int most = 0;  // 2 triangles for each quadrangle, four times as many a level
  while (most < 6 && (quads * 2) << (2 * most) <= most_triangles) ++most;
  if (most == 0) return 0;
  // Once subdivided, the first points are those of the form, and then follow those on its edges.
  const LimitPoints fine = limit_of(subdivided(form, progress));
  const std::vector<FormTopology::Edge>& edges = links_of(form)->topology.edges;
  double sag = 0.0;
  for (std::size_t e = 0; e < edges.size(); ++e) {
    const Vec3 middle = (fine.points[edges[e].points[0]] + fine.points[edges[e].points[1]]) * 0.5;
    sag = std::max(sag, distance(middle, fine.points[form.points.size() + e]));
  }
  int levels = 0;
  for (; levels < most && sag > chord; ++levels) sag /= 4.0;
  return levels;
}

TriangleMesh limit_mesh(const Form& form, int levels, Progress& progress) {
  if (levels < 0 || levels > 6) throw Error("A form is drawn with 0 to 6 subdivisions.");
  Form fine = form;
  for (int k = 0; k < levels; ++k) fine = subdivided(fine, progress);
  fine = refined_for_limit(std::move(fine), progress);
  const Limit limit(fine);
  TriangleMesh mesh;
  // Of each face and corner the vertex of the mesh.
  std::vector<std::array<std::uint32_t, 4>> corners(fine.faces.size());
  for (std::uint32_t p = 0; p < fine.points.size(); ++p) {
    if (p % 4096 == 0) progress.check();
    const Limit::AtPoint at = limit.at(p);
    for (std::size_t s = 0; s < at.sectors.size(); ++s) {
      const auto vertex = static_cast<std::uint32_t>(mesh.points.size());
      mesh.points.push_back(at.place);
      mesh.normals.push_back(at.normals[s]);
      for (std::size_t k = at.sectors[s].first; k < at.sectors[s].first + at.sectors[s].count;
           ++k) {
        const std::uint32_t f = at.fan.faces[k % at.fan.faces.size()];
        const auto& points = fine.faces[f].points;
        corners[f][static_cast<std::size_t>(std::find(points.begin(), points.end(), p) -
                                            points.begin())] = vertex;
      }
    }
  }
  for (const auto& c : corners) {
    const bool other = distance(mesh.points[c[0]], mesh.points[c[2]]) >
                       distance(mesh.points[c[1]], mesh.points[c[3]]);
    if (other) {
      mesh.triangles.push_back({c[0], c[1], c[3]});
      mesh.triangles.push_back({c[1], c[2], c[3]});
    } else {
      mesh.triangles.push_back({c[0], c[1], c[2]});
      mesh.triangles.push_back({c[0], c[2], c[3]});
    }
  }
  return mesh;
}

}  // namespace evenclay
