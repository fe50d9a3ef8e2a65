#include "core/body/body_mesh.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/body/cell_polygons.h"
#include "core/body/edge_points.h"
#include "core/body/grid_lines.h"
#include "core/body/region.h"
#include "core/body/topology.h"

namespace evenclay {

namespace {

// Inside a triangle whose three sides leave the surface alike it is a third farther away than they are; sides on edges may
// not take all of the chord.
constexpr double kEdgeShare = 0.7;
// Cells that borders cut are not always halved along the better diagonal, and the bend is looked at in places only.
constexpr double kLineShare = 0.83;

// --- points on edges ----------------------------------------------------------------------------------

struct EdgePoints {
  std::vector<double> t;
  std::vector<Vec3> p;
  std::vector<std::uint32_t> weld;
};

// --- the grid of a face -------------------------------------------------------------------------------

// The bend of a surface: the parts along its normal of its second derivatives. `u` and `v` are the greatest of duu and
// dvv in each strip of u and of v, `mixed_u` and `mixed_v` of duv.
struct Bend {
  std::vector<double> u, v, mixed_u, mixed_v;
  double speed_u = 0.0, speed_v = 0.0;  // greatest lengths of the first derivatives
};

PlaceBend place_bend(const PointSecond& d) {
  const Vec3 n = normalized(cross(d.du, d.dv));
  return {dot(n, d.duu), dot(n, d.duv), dot(n, d.dvv)};
}

Bend bend_of(const SurfaceEvaluator& s, const std::vector<double>& us,
             const std::vector<double>& vs) {
  const std::size_t nu = us.size() - 1, nv = vs.size() - 1;
  Bend bend;
  bend.u = bend.mixed_u = std::vector<double>(nu, 0.0);
  bend.v = bend.mixed_v = std::vector<double>(nv, 0.0);
  const int per = nu * nv > 600 ? 1 : (nu * nv > 200 ? 4 : 5);
  const double apart = per == 1 ? 0.0 : 0.996 / (per - 1);
  const double begin = per == 1 ? 0.5 : 0.002;
  std::vector<Parameter> at;
  std::vector<std::array<std::size_t, 2>> strip;
  for (std::size_t i = 0; i < nu; ++i)
    for (std::size_t j = 0; j < nv; ++j)
      for (int a = 0; a < per; ++a)
        for (int b = 0; b < per; ++b) {
          const double x = begin + apart * a, y = begin + apart * b;
          at.push_back({us[i] + (us[i + 1] - us[i]) * x, vs[j] + (vs[j + 1] - vs[j]) * y});
          strip.push_back({i, j});
        }
  std::vector<PointSecond> d(at.size());
  s.seconds(at, d);
  for (std::size_t k = 0; k < at.size(); ++k) {
    const auto [i, j] = strip[k];
    const PlaceBend here = place_bend(d[k]);
    const auto raise = [](double& most, double value) { most = std::max(most, std::abs(value)); };
    raise(bend.u[i], here.uu);
    raise(bend.v[j], here.vv);
    raise(bend.mixed_u[i], here.uv);
    raise(bend.mixed_v[j], here.uv);
    bend.speed_u = std::max(bend.speed_u, length(d[k].du));
    bend.speed_v = std::max(bend.speed_v, length(d[k].dv));
  }
  return bend;
}

struct FacePlan {
  const Face* face = nullptr;
  std::vector<bool> turned;
  SurfaceEvaluator evaluator;
  double low_u, high_u, low_v, high_v;
  std::vector<Parameter> loop_middles;
  Strips strips_u, strips_v;
  Bend bend;
  double fill = 1.0;  // share of the loops' box that is inside
  double widest;      // cells, mm; 0: as the bend allows
  GridLines lines;

  FacePlan(const Face& f, double most) : face(&f), evaluator(*f.surface), widest(most) {
    constexpr double kFine =
        2e-4;  // enough for boxes and senses; edges are laid by their own points
    std::vector<std::vector<Parameter>> polygons;
    for (const Loop& loop : f.loops) polygons.push_back(loop_polygon(loop, *f.surface, kFine));
    turned = loops_turned(polygons);
    low_u = low_v = std::numeric_limits<double>::infinity();
    high_u = high_v = -low_u;
    double area = 0.0;
    for (std::size_t l = 0; l < f.loops.size(); ++l) {
      const std::vector<Parameter>& polygon = polygons[l];
      double lu = 1e300, hu = -1e300, lv = 1e300, hv = -1e300;
      for (const Parameter& p : polygon) {
        lu = std::min(lu, p.u);
        hu = std::max(hu, p.u);
        lv = std::min(lv, p.v);
        hv = std::max(hv, p.v);
      }
      loop_middles.push_back({0.5 * (lu + hu), 0.5 * (lv + hv)});
      low_u = std::min(low_u, lu);
      high_u = std::max(high_u, hu);
      low_v = std::min(low_v, lv);
      high_v = std::max(high_v, hv);
      area += (turned[l] ? -0.5 : 0.5) * doubled_area(polygon);
    }
    fill = std::clamp(area / ((high_u - low_u) * (high_v - low_v)), 0.02, 1.0);
    const double mu = 1e-3 * (high_u - low_u) + 2.0 * kFine * f.surface->u.length();
    const double mv = 1e-3 * (high_v - low_v) + 2.0 * kFine * f.surface->v.length();
    strips_u = strips_of(f.surface->u, low_u - mu, high_u + mu);
    strips_v = strips_of(f.surface->v, low_v - mv, high_v + mv);
    bend = bend_of(evaluator, strips_u.at, strips_v.at);
  }

  // The greatest widths of cells. A triangle of legs hu and hv, cut off along the diagonal that leaves the surface less, leaves
  // it by at most max(a + c, 2 b) / 8 with a = hu² duu, b = hu hv duv, c = hv² dvv: at the middle of its longest side, or
  // nearer where it is acute. Here hu² max(duu, r duv) + hv² max(dvv, duv / r) ≤ 8 chord, half of it for each direction.
  std::vector<double> widths(const std::vector<double>& along, const std::vector<double>& mixed,
                             double share_of_mixed, double chord, double speed) const {
    constexpr double kFar = std::numeric_limits<double>::infinity();
    const double widest_here = widest > 0.0 && speed > 0.0 ? widest / speed : kFar;
    std::vector<double> most;
    for (std::size_t k = 0; k < along.size(); ++k) {
      const double b = std::max(along[k], mixed[k] * share_of_mixed);
      most.push_back(std::min(widest_here, b > 0.0 ? std::sqrt(4.0 * chord / b) : kFar));
    }
    return most;
  }
  // 2 hu hv m ≤ m (r hu² + hv² / r): the mixed term given to both directions by their bends.
  double ratio() const {
    const double a = *std::max_element(bend.u.begin(), bend.u.end());
    const double c = *std::max_element(bend.v.begin(), bend.v.end());
    if (a > 0.0 && c > 0.0) return std::sqrt(a / c);
    return bend.speed_v > 0.0 && bend.speed_u > 0.0 ? bend.speed_u / bend.speed_v : 1.0;
  }
  LinePlacer lines_u(double chord) const {
    return {strips_u, widths(bend.u, bend.mixed_u, ratio(), chord, bend.speed_u)};
  }
  LinePlacer lines_v(double chord) const {
    return {strips_v, widths(bend.v, bend.mixed_v, 1.0 / ratio(), chord, bend.speed_v)};
  }
  static std::vector<double> creases(const Strips& strips) {
    std::vector<double> at;
    for (std::size_t k = 0; k < strips.at.size(); ++k)
      if (strips.creased[k] != 0) at.push_back(strips.at[k]);
    return at;
  }
  double cells(double chord) const {
    const auto count = [](const Strips& strips, const LinePlacer& through) {
      const std::vector<double> stops = creases(strips);
      std::size_t n = 0;
      for (std::size_t k = 0; k + 1 < stops.size(); ++k) n += through.count(stops[k], stops[k + 1]);
      return static_cast<double>(n);
    };
    return count(strips_u, lines_u(chord)) * count(strips_v, lines_v(chord)) * fill;
  }

  void make_lines(double chord) {
    const auto fill_in = [&](const Strips& strips, const LinePlacer& through,
                             std::vector<double> middles, std::vector<double>& out) {
      // Every loop is crossed by lines through its middle, so that none lies inside one cell.
      std::sort(middles.begin(), middles.end());
      const double scale = strips.at.back() - strips.at.front();
      const std::vector<double> ends = creases(strips);
      out = {ends.front()};
      for (std::size_t k = 0; k + 1 < ends.size(); ++k) {
        std::vector<double> stops;
        for (const double m : middles)
          if (m > (stops.empty() ? ends[k] : stops.back()) + 1e-6 * scale &&
              m < ends[k + 1] - 1e-6 * scale)
            stops.push_back(m);
        stops.push_back(ends[k + 1]);
        const bool few = through.count(ends[k], ends[k + 1]) * 4 < stops.size();
        for (const double to : stops) {
          const double from = out.back();
          const std::vector<double> cells = few ? std::vector{to} : through.between(from, to);
          out.insert(out.end(), cells.begin(), cells.end());
        }
      }
    };
    std::vector<double> mu, mv;
    for (const Parameter& p : loop_middles) {
      mu.push_back(p.u);
      mv.push_back(p.v);
    }
    fill_in(strips_u, lines_u(chord), std::move(mu), lines.u);
    fill_in(strips_v, lines_v(chord), std::move(mv), lines.v);
  }

  PlaceBend bend_at(const Parameter& p) const {
    PointSecond d;
    evaluator.seconds({&p, 1}, {&d, 1});
    return place_bend(d);
  }
};

// --- where edges cross the lines ----------------------------------------------------------------------

// Adds the places where a curve crosses grid lines between two of its places, by halving.
class Crossings {
 public:
  Crossings(const GridLines& lines, const Curve& uv)
      : lines_(lines), uv_(uv), straight_(uv.knots.degree == 1 && uv.points.size() == 2) {}

  void add(const std::vector<double>& t, std::vector<double>& out) const {
    Vec3 a = place(t.front());
    for (std::size_t k = 0; k + 1 < t.size(); ++k) {
      const Vec3 b = place(t[k + 1]);
      cross(lines_.u, 0, t[k], a, t[k + 1], b, out);
      cross(lines_.v, 1, t[k], a, t[k + 1], b, out);
      a = b;
    }
  }

  /// uv at t, laid exactly onto a line that it is a hair beside.
  Parameter snapped(double t) const {
    const Vec3 p = place(t);
    return {snap(lines_.u, p.x), snap(lines_.v, p.y)};
  }

 private:
  static double hair(const std::vector<double>& lines) {
    return 1e-7 * (lines.back() - lines.front());
  }
  static double snap(const std::vector<double>& lines, double x) {
    const auto at = std::lower_bound(lines.begin(), lines.end(), x);
    if (at != lines.end() && *at - x < hair(lines)) return *at;
    if (at != lines.begin() && x - *(at - 1) < hair(lines)) return *(at - 1);
    return x;
  }
  Vec3 place(double t) const {
    if (!straight_) return uv_.point(t);
    const Curve& c = uv_.curve();
    const double share = (t - c.knots.first()) / c.knots.length();
    return c.points[0] * (1.0 - share) + c.points[1] * share;
  }
  void cross(const std::vector<double>& lines, std::size_t axis, double ta, const Vec3& a,
             double tb, const Vec3& b, std::vector<double>& out) const {
    const double h = hair(lines);
    const double low = std::min(a[axis], b[axis]) + h;
    const double high = std::max(a[axis], b[axis]) - h;
    for (auto at = std::lower_bound(lines.begin(), lines.end(), low);
         at != lines.end() && *at <= high; ++at)
      out.push_back(root(*at, axis, ta, a[axis], tb, b[axis]));
  }
  // Regula falsi with halving of the kept side (the Illinois rule).
  double root(double line, std::size_t axis, double ta, double fa, double tb, double fb) const {
    fa -= line;
    fb -= line;
    int side = 0;
    double t = ta;
    for (int k = 0; k < 60; ++k) {
      t = (fa * tb - fb * ta) / (fa - fb);
      const double f = place(t)[axis] - line;
      if (std::abs(f) < 1e-4 * hair(axis == 0 ? lines_.u : lines_.v)) break;
      if ((f < 0.0) == (fb < 0.0)) {
        tb = t;
        fb = f;
        if (side == -1) fa *= 0.5;
        side = -1;
      } else {
        ta = t;
        fa = f;
        if (side == 1) fb *= 0.5;
        side = 1;
      }
    }
    return t;
  }

  const GridLines& lines_;
  CurveEvaluator uv_;
  bool straight_;
};

void sort_places(std::vector<double>& t) {
  std::sort(t.begin(), t.end());
  // Crossings that two faces found at the same place differ by rounding; less than a hair's breadth.
  const double least = 1e-9 * (t.back() - t.front());
  const double last = t.back();
  t.erase(std::unique(t.begin(), t.end(), [&](double a, double b) { return b - a <= least; }),
          t.end());
  t.back() = last;
}

// Until no chord of any edge crosses a line of any of its faces.
void add_crossings(const Body& body, const std::vector<FacePlan>& plans,
                   std::vector<EdgePoints>& edges) {
  for (int pass = 0; pass < 4; ++pass) {
    std::vector<std::vector<double>> more(edges.size());
    for (std::size_t f = 0; f < body.faces.size(); ++f)
      for (const Loop& loop : body.faces[f].loops)
        for (const EdgeUse& use : loop)
          Crossings(plans[f].lines, use.uv).add(edges[use.edge].t, more[use.edge]);
    bool any = false;
    for (std::size_t e = 0; e < edges.size(); ++e) {
      if (more[e].empty()) continue;
      const std::size_t before = edges[e].t.size();
      edges[e].t.insert(edges[e].t.end(), more[e].begin(), more[e].end());
      sort_places(edges[e].t);
      any |= edges[e].t.size() > before;
    }
    if (!any) return;
  }
}

void place_points(const Body& body, const Topology& t, std::vector<EdgePoints>& edges,
                  std::uint32_t& weld) {
  weld = t.corner_count;
  std::vector<Vec3> corner(t.corner_count);
  std::vector<bool> known(t.corner_count, false);
  std::vector<bool> pole(edges.size(), false);
  for (const std::uint32_t e : t.poles) pole[e] = true;
  for (std::size_t e = 0; e < edges.size(); ++e) {
    const CurveEvaluator curve(body.edges[e].curve);
    EdgePoints& points = edges[e];
    for (std::size_t k = 0; k < points.t.size(); ++k) {
      const bool end = k == 0 || k + 1 == points.t.size() || pole[e];
      if (!end) {
        points.p.push_back(curve.point(points.t[k]));
        points.weld.push_back(weld++);
        continue;
      }
      const std::uint32_t c = t.corners[e][k == 0 ? 0 : 1];
      if (!known[c]) {
        corner[c] = curve.point(points.t[k]);
        known[c] = true;
      }
      points.p.push_back(corner[c]);
      points.weld.push_back(c);
    }
  }
}

// --- one face -----------------------------------------------------------------------------------------

struct Borders {
  Polygons polygons;
  std::vector<Vec3> points;
  std::vector<std::uint32_t> weld;
};

Borders borders_of(const Face& face, const FacePlan& plan, const std::vector<EdgePoints>& edges) {
  Borders b;
  for (std::size_t l = 0; l < face.loops.size(); ++l) {
    std::vector<Parameter> uv;
    std::vector<Vec3> p;
    std::vector<std::uint32_t> weld;
    for (const EdgeUse& use : face.loops[l]) {
      const EdgePoints& e = edges[use.edge];
      const Crossings crossings(plan.lines, use.uv);
      const std::size_t n = e.t.size();
      for (std::size_t k = 0; k + 1 < n; ++k) {
        const std::size_t at = use.forward ? k : n - 1 - k;
        uv.push_back(crossings.snapped(e.t[at]));
        p.push_back(e.p[at]);
        weld.push_back(e.weld[at]);
      }
    }
    if (plan.turned[l]) {
      std::reverse(uv.begin(), uv.end());
      std::reverse(p.begin(), p.end());
      std::reverse(weld.begin(), weld.end());
    }
    b.polygons.push_back(std::move(uv));
    b.points.insert(b.points.end(), p.begin(), p.end());
    b.weld.insert(b.weld.end(), weld.begin(), weld.end());
  }
  return b;
}

FaceMesh mesh_face(const Face& face, const FacePlan& plan, const std::vector<EdgePoints>& edges) {
  const Borders b = borders_of(face, plan, edges);
  const CutGrid cut =
      cut_grid(b.polygons, plan.lines, [&](const Parameter& p) { return plan.bend_at(p); });
  FaceMesh mesh;
  for (const auto& polygon : b.polygons)
    mesh.uv.insert(mesh.uv.end(), polygon.begin(), polygon.end());
  mesh.uv.insert(mesh.uv.end(), cut.nodes.begin(), cut.nodes.end());
  std::vector<PointTangents> d(mesh.uv.size());
  plan.evaluator.tangents(mesh.uv, d);
  const Surface& s = *face.surface;
  mesh.points = b.points;
  mesh.weld = b.weld;
  mesh.points.resize(mesh.uv.size());
  mesh.normals.resize(mesh.uv.size());
  for (std::size_t k = 0; k < mesh.uv.size(); ++k) {
    if (k >= b.points.size()) mesh.points[k] = d[k].p;
    const bool sound = has_sound_normal(d[k].du, d[k].dv, s.u.length(), s.v.length());
    const Vec3 n =
        sound ? normalized(cross(d[k].du, d[k].dv)) : normal(s, mesh.uv[k].u, mesh.uv[k].v);
    mesh.normals[k] = face.flipped ? -n : n;
  }
  mesh.triangles.reserve(cut.triangles.size());
  const auto weld = [&](std::uint32_t v) { return v < b.weld.size() ? b.weld[v] : ~v; };
  for (const auto& t : cut.triangles) {
    if (weld(t[0]) == weld(t[1]) || weld(t[1]) == weld(t[2]) || weld(t[2]) == weld(t[0])) continue;
    mesh.triangles.push_back(face.flipped ? std::array{t[0], t[2], t[1]} : t);
  }
  return mesh;
}

}  // namespace

BodyMesh tessellate(const Body& given, const BodyMeshOptions& options, Progress& progress) {
  if (!(options.chord > 0.0))
    throw Error(say("Triangles need a chord tolerance above 0 mm. Choose one, such as 0.01 mm."));
  const bool natural = std::any_of(given.faces.begin(), given.faces.end(),
                                   [](const Face& f) { return !f.trimmed(); });
  const Body body =
      natural ? with_explicit_borders(given, 1e-6 * std::max(size(given), 1e-9)) : given;
  BodyMesh result;
  if (body.faces.empty()) return result;
  std::vector<std::optional<FacePlan>> made(body.faces.size());
  parallel_blocks(body.faces.size(), 4, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t f = begin; f < end; ++f) made[f].emplace(body.faces[f], options.widest);
  });
  std::vector<FacePlan> plans;
  plans.reserve(made.size());
  for (auto& plan : made) plans.push_back(std::move(*plan));
  const auto triangles = [&](double chord) {
    double sum = 0.0;
    for (const FacePlan& plan : plans) sum += 2.0 * plan.cells(chord);
    return sum;
  };
  double chord = options.chord;
  for (int k = 0; k < 40 && triangles(chord) > static_cast<double>(options.most_triangles); ++k)
    chord *= 1.4;
  for (FacePlan& plan : plans) plan.make_lines(kLineShare * chord);
  std::vector<EdgePoints> edges(body.edges.size());
  parallel_blocks(edges.size(), 8, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t e = begin; e < end; ++e)
      edges[e].t = edge_places(body.edges[e], kEdgeShare * chord);
  });
  add_crossings(body, plans, edges);
  place_points(body, topology(body), edges, result.weld_count);
  result.faces.resize(body.faces.size());
  parallel_blocks(body.faces.size(), 4, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t f = begin; f < end; ++f)
      result.faces[f] = mesh_face(body.faces[f], plans[f], edges);
  });
  for (FaceMesh& face : result.faces)
    while (face.weld.size() < face.points.size()) face.weld.push_back(result.weld_count++);
  return result;
}

TriangleMesh welded(const BodyMesh& mesh, std::vector<std::uint32_t>* faces) {
  TriangleMesh result;
  std::vector<std::uint32_t> number(mesh.weld_count, 0xFFFFFFFFU);
  bool smooth = true;
  for (std::size_t f = 0; f < mesh.faces.size(); ++f) {
    const FaceMesh& face = mesh.faces[f];
    const auto place = [&](std::uint32_t v) {
      std::uint32_t& n = number[face.weld[v]];
      if (n == 0xFFFFFFFFU) {
        n = static_cast<std::uint32_t>(result.points.size());
        result.points.push_back(face.points[v]);
        result.normals.push_back(face.normals[v]);
      }
      constexpr double kAgree = 0.99985;  // cos 1°
      smooth &= dot(result.normals[n], face.normals[v]) > kAgree;
      return n;
    };
    for (const auto& t : face.triangles) {
      const std::array<std::uint32_t, 3> w{place(t[0]), place(t[1]), place(t[2])};
      if (w[0] == w[1] || w[1] == w[2] || w[2] == w[0]) continue;
      result.triangles.push_back(w);
      if (faces != nullptr) faces->push_back(static_cast<std::uint32_t>(f));
    }
  }
  if (!smooth) result.normals.clear();
  return result;
}

}  // namespace evenclay
