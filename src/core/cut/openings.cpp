#include "core/cut/openings.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/body/region.h"
#include "core/check/curve_measures.h"
#include "core/cut/flat_face.h"
#include "core/cut/prepared.h"
#include "core/nurbs/hermite.h"

namespace evenclay {

namespace {

std::vector<Vec3> places_of(const Curve& curve, int pieces) {
  const CurveEvaluator e(curve);
  std::vector<Vec3> result;
  for (int k = 0; k < pieces; ++k)
    result.push_back(e.point(curve.knots.first() + curve.knots.length() * k / pieces));
  return result;
}

// The plane of least squares through the ring.
void fit_plane(const Body& body, Opening& ring) {
  std::vector<Vec3> all;
  for (const std::uint32_t e : ring.edges)
    for (const Vec3& p : places_of(body.edges[e].curve, 48)) all.push_back(p);
  Vec3 middle;
  for (const Vec3& p : all) middle += p * (1.0 / static_cast<double>(all.size()));
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  for (const Vec3& p : all) {
    const Eigen::Vector3d d(p.x - middle.x, p.y - middle.y, p.z - middle.z);
    spread += d * d.transpose();
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> solver(spread);
  const auto axis = [&](int k) {
    const Eigen::Vector3d v = solver.eigenvectors().col(k);
    return Vec3{v.x(), v.y(), v.z()};
  };
  ring.plane = {middle, axis(2), cross(axis(0), axis(2)), axis(0)};
  for (const Vec3& p : all)
    ring.off_plane = std::max(ring.off_plane, std::abs(ring.plane.to_local(p).z));
}

// An edge seen in the plane, in parameters 0..1 of a rectangle.
struct Rectangle {
  Frame plane;
  double x0, y0, length_x, length_y;
  Vec3 parameters(const Vec3& p) const {
    const Vec3 l = plane.to_local(p);
    return {(l.x - x0) / length_x, (l.y - y0) / length_y, 0.0};
  }
};

Curve laid_flat(const Curve& curve, const Rectangle& r) {
  if (!curve.rational() && !curve.knots.periodic) {
    Curve uv = curve;
    for (Vec3& p : uv.points) p = r.parameters(p);
    return uv;
  }
  const CurveEvaluator e(curve);
  const Vec3 origin = r.parameters({});
  const auto function = [&](double t) {
    CurveDerivatives c = e.derivatives(t, 1);
    c.p = r.parameters(c.p);
    c.d1 = r.parameters(c.d1) - origin;
    return c;
  };
  return hermite_curve(function, breakpoints(curve.knots), 1e-10);
}

// Large enough for the edges, with a margin.
Rectangle around(const Body& body, const std::vector<std::uint32_t>& edges, const Frame& plane) {
  Rectangle r{plane, 1e300, 1e300, 0.0, 0.0};
  double x1 = -1e300, y1 = -1e300;
  for (const std::uint32_t e : edges)
    for (const Vec3& p : places_of(body.edges[e].curve, 48)) {
      const Vec3 l = r.plane.to_local(p);
      r.x0 = std::min(r.x0, l.x);
      r.y0 = std::min(r.y0, l.y);
      x1 = std::max(x1, l.x);
      y1 = std::max(y1, l.y);
    }
  const double margin = 0.02 * std::max(x1 - r.x0, y1 - r.y0);
  r.x0 -= margin;
  r.y0 -= margin;
  r.length_x = x1 + margin - r.x0;
  r.length_y = y1 + margin - r.y0;
  return r;
}

Surface plane_of(const Rectangle& r) {
  Surface s;
  s.u = s.v = {1, false, {0.0, 0.0, 1.0, 1.0}};
  s.points = Grid<Vec3>(2, 2);
  for (int i = 0; i < 2; ++i)
    for (int j = 0; j < 2; ++j)
      s.points(i, j) = r.plane.origin + r.plane.x * (r.x0 + i * r.length_x) +
                       r.plane.y * (r.y0 + j * r.length_y);
  return s;
}

// Rings of open edges by the corners they share, whatever the sense in which faces walk them.
std::vector<Opening> rings_of(const Topology& t) {
  std::multimap<std::uint32_t, std::uint32_t> at_corner;
  for (const std::uint32_t e : t.open_edges)
    for (const std::uint32_t corner : t.corners[e]) at_corner.emplace(corner, e);
  std::set<std::uint32_t> taken;
  std::vector<Opening> result;
  for (const std::uint32_t begin : t.open_edges) {
    if (taken.contains(begin)) continue;
    Opening ring;
    std::uint32_t at = t.corners[begin][0];
    std::uint32_t next = begin;
    for (bool more = true; more;) {
      taken.insert(next);
      ring.edges.push_back(next);
      ring.ahead.push_back(t.corners[next][0] == at);
      at = t.corners[next][ring.ahead.back() ? 1 : 0];
      more = false;
      const auto [from, to] = at_corner.equal_range(at);
      for (auto k = from; k != to && !more; ++k) {
        if (taken.contains(k->second)) continue;
        next = k->second;
        more = true;
      }
    }
    if (at == t.corners[begin][0]) result.push_back(std::move(ring));
  }
  return result;
}

std::vector<Parameter> seen_in(const Frame& plane, const Body& body, const Opening& ring) {
  std::vector<Parameter> polygon;
  for (std::size_t n = 0; n < ring.edges.size(); ++n) {
    const Curve& c = body.edges[ring.edges[n]].curve;
    std::vector<Vec3> places = places_of(c, 48);
    if (!ring.ahead[n]) {
      places.push_back(c.points.back());
      std::reverse(places.begin(), places.end());
      places.pop_back();
    }
    for (const Vec3& p : places) {
      const Vec3 l = plane.to_local(p);
      polygon.push_back({l.x, l.y});
    }
  }
  return polygon;
}

}  // namespace

std::vector<Opening> openings(const Body& body) {
  const Topology t = topology(body);
  std::vector<Opening> result = rings_of(t);
  for (Opening& ring : result) {
    for (const std::uint32_t e : ring.edges) ring.length += arc_length(body.edges[e].curve);
    fit_plane(body, ring);
  }
  std::stable_sort(result.begin(), result.end(),
                   [](const Opening& a, const Opening& b) { return a.length > b.length; });
  return result;
}

const Opening* opening_of(std::span<const Opening> all, std::uint32_t edge) {
  for (const Opening& ring : all)
    if (std::find(ring.edges.begin(), ring.edges.end(), edge) != ring.edges.end()) return &ring;
  return nullptr;
}

bool walks_forward(const Body& body, const UsePlace& use) {
  const Face& face = body.faces[use.face];
  const bool turned = loops_turned(face)[use.loop];
  return face.loops[use.loop][use.place].forward != (face.flipped != turned);
}

std::size_t add_flat_face(Body& body, std::span<const Opening> rings, Tag tag) {
  const Topology t = topology(body);
  std::vector<std::uint32_t> edges;
  for (const Opening& ring : rings) edges.insert(edges.end(), ring.edges.begin(), ring.edges.end());
  const Rectangle r = around(body, edges, rings.front().plane);
  Face face;
  face.tag = tag;
  face.surface = std::make_shared<const Surface>(plane_of(r));
  for (const Opening& ring : rings) {
    Loop loop;
    for (std::size_t n = 0; n < ring.edges.size(); ++n)
      loop.push_back({ring.edges[n], ring.ahead[n], laid_flat(body.edges[ring.edges[n]].curve, r)});
    face.loops.push_back(std::move(loop));
  }
  // Its sense along its first edge must be against the neighbour's.
  const EdgeUse& first = face.loops.front().front();
  const bool turned = loops_turned(face).front();
  const bool sense = !walks_forward(body, t.uses[first.edge].front());
  face.flipped = (first.forward != sense) != turned;
  body.faces.push_back(std::move(face));
  return body.faces.size() - 1;
}

Capped capped(const Body& body, double tolerance, int step) {
  Capped result{body, {}, {}};
  std::vector<Opening> flat;
  for (Opening& ring : openings(body))
    (ring.flat(tolerance) ? flat : result.left).push_back(std::move(ring));
  std::vector<bool> used(flat.size(), false);
  for (std::size_t k = 0; k < flat.size(); ++k) {  // longest first: outer ones before inner ones
    if (used[k]) continue;
    std::vector<Opening> rings{flat[k]};
    const Frame& plane = flat[k].plane;
    const std::vector<Parameter> outer = seen_in(plane, body, flat[k]);
    for (std::size_t m = k + 1; m < flat.size(); ++m) {
      if (used[m] || std::abs(dot(plane.z, flat[m].plane.z)) < 1.0 - 1e-8) continue;
      const std::vector<Parameter> inner = seen_in(plane, body, flat[m]);
      if (std::abs(plane.to_local(flat[m].plane.origin).z) > tolerance ||
          !winds_round(outer, inner.front()))
        continue;
      used[m] = true;
      rings.push_back(flat[m]);
    }
    Tag edges = 0;
    for (const std::uint32_t e : flat[k].edges) edges += body.edges[e].tag;
    result.added.push_back(add_flat_face(result.body, rings, make_tag(step, edges, 601)));
  }
  refresh_gaps(result.body);
  return result;
}

void lay_flat(Body& body, std::size_t number, const Vec3& origin, const Vec3& out) {
  Face& face = body.faces[number];
  Frame plane = frame_along(out);
  plane.origin = origin;
  std::vector<std::uint32_t> edges;
  for (const Loop& loop : face.loops)
    for (const EdgeUse& use : loop) edges.push_back(use.edge);
  const Rectangle r = around(body, edges, plane);
  face.surface = std::make_shared<const Surface>(plane_of(r));
  face.flipped = false;
  for (Loop& loop : face.loops)
    for (EdgeUse& use : loop) use.uv = laid_flat(body.edges[use.edge].curve, r);
}

}  // namespace evenclay
