#include "core/cut/flat_skin.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>
#include <vector>

#include "core/base/error.h"
#include "core/base/mitre.h"
#include "core/base/say.h"
#include "core/body/topology.h"
#include "core/cut/flat_face.h"
#include "core/cut/prepared.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

constexpr double kFlat = 1e-9;  // of the size

// The outside of a flat face; nothing where its control points leave the plane.
std::optional<Vec3> outside_of(const Face& face) {
  const Surface& s = *face.surface;
  const SurfaceEvaluator at(s);
  const PointTangents t =
      at.tangents(s.u.first() + 0.43 * s.u.length(), s.v.first() + 0.57 * s.v.length());
  const Vec3 across = cross(t.du, t.dv);
  if (!(length(across) > 0.0)) return std::nullopt;
  const Vec3 n = normalized(across);
  Box3 box;
  for (const Vec3& p : s.points.values()) box.add(p);
  for (const Vec3& p : s.points.values())
    if (std::abs(dot(p - t.p, n)) > kFlat * box.size()) return std::nullopt;
  return face.flipped ? -n : n;
}

// To rounding: its control points lie on one line.
bool is_exactly_straight(const Curve& c) {
  const Vec3 a = c.points.front(), way = c.points.back() - a;
  const double l = length(way);
  if (!(l > 0.0) || c.knots.periodic) return false;
  return std::ranges::all_of(
      c.points, [&](const Vec3& p) { return length(cross(p - a, way)) <= kFlat * l * l; });
}

// What each corner moves by for 1 mm; nothing where its planes do not meet again.
std::optional<std::vector<Vec3>> corner_moves(const Body& body, const Topology& t,
                                              const std::vector<Vec3>& outsides) {
  std::vector<std::set<std::uint32_t>> faces(t.corner_count);
  for (std::size_t e = 0; e < body.edges.size(); ++e)
    for (const UsePlace& use : t.uses[e])
      for (const std::uint32_t corner : t.corners[e]) faces[corner].insert(use.face);
  std::vector<Vec3> moves;
  for (const std::set<std::uint32_t>& around : faces) {
    Mitre mitre;
    for (const std::uint32_t f : around) mitre.add(outsides[f]);
    moves.push_back(mitre.move());
    for (const std::uint32_t f : around)
      if (std::abs(dot(moves.back(), outsides[f]) - 1.0) > 1e-9) return std::nullopt;
  }
  return moves;
}

// An edge keeps its direction, since its planes only move: it shrinks or grows.
void check_edges_stay(const Body& body, const Topology& t, const std::vector<Vec3>& moves,
                      double mm) {
  double least = std::numeric_limits<double>::infinity();
  std::size_t first = 0;
  for (std::size_t e = 0; e < body.edges.size(); ++e) {
    const Curve& c = body.edges[e].curve;
    const Vec3 way = c.points.back() - c.points.front();
    const double growth =
        dot(moves[t.corners[e][1]] - moves[t.corners[e][0]], way) / length_squared(way);
    if (const double reach = -1.0 / (growth * std::copysign(1.0, mm));
        reach > 0.0 && reach < least) {
      least = reach;
      first = e;
    }
  }
  if (least > std::abs(mm)) return;
  throw Error(say("The edge {} would turn round. Up to {:.2f} mm there is room.",
                  place_words(middle_of(body.edges[first])),
                  std::floor(0.999 * least * 100.0) / 100.0));
}

}  // namespace

std::optional<Body> flat_skin(const Body& body, double mm) {
  std::vector<Vec3> outsides;
  for (const Face& f : body.faces) {
    const std::optional<Vec3> out = outside_of(f);
    if (!out) return std::nullopt;
    outsides.push_back(*out);
  }
  if (!std::ranges::all_of(body.edges, [](const Edge& e) { return is_exactly_straight(e.curve); }))
    return std::nullopt;
  if (mm == 0.0) return body;
  const Topology t = topology(body);
  const auto moves = corner_moves(body, t, outsides);
  if (!moves) return std::nullopt;
  check_edges_stay(body, t, *moves, mm);
  Body made = body;
  for (std::size_t e = 0; e < made.edges.size(); ++e) {
    Edge& edge = made.edges[e];
    const auto& [from, to] = t.corners[e];
    edge.curve = line_curve(edge.curve.points.front() + (*moves)[from] * mm,
                            edge.curve.points.back() + (*moves)[to] * mm, edge.curve.knots.first(),
                            edge.curve.knots.last());
    edge.gap = 0.0;
  }
  for (std::size_t f = 0; f < made.faces.size(); ++f) {
    const Edge& any = made.edges[made.faces[f].loops.front().front().edge];
    lay_flat(made, f, any.curve.points.front(), outsides[f]);
  }
  return made;
}

}  // namespace evenclay
