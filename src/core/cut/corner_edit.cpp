#include "core/cut/corner_edit.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/frame.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/cut/flat_face.h"
#include "core/cut/prepared.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

bool is_straight(const Curve& c, double tolerance) {
  const Vec3 a = evaluate(c, c.knots.first()), b = evaluate(c, c.knots.last());
  const Vec3 way = b - a;
  if (length(way) < tolerance) return false;
  const Vec3 d = normalized(way);
  for (int k = 1; k < 12; ++k) {
    const Vec3 p = evaluate(c, c.knots.first() + c.knots.length() * k / 12.0) - a;
    if (length(p - d * dot(p, d)) > tolerance) return false;
  }
  return true;
}

bool is_flat(const Face& face, double tolerance) {
  const Surface& s = *face.surface;
  const FaceRegion region(face);
  const Parameter at = inner_place(region);
  const Vec3 o = evaluate(s, at.u, at.v), n = normal(s, at.u, at.v);
  for (const Loop& loop : face.loops)
    for (const Parameter& p : loop_polygon(loop, s, 1e-3))
      if (std::abs(dot(evaluate(s, p.u, p.v) - o, n)) > tolerance) return false;
  return true;
}

bool is_ruled_by_four(const Face& face) {
  const Surface& s = *face.surface;
  return s.u.degree == 1 && s.v.degree == 1 && s.points.rows() == 2 && s.points.columns() == 2;
}

// The uses of a face's first loop, counter-clockwise seen from outside, and the corner each begins at.
struct Walk {
  std::vector<const EdgeUse*> uses;
  std::vector<bool> forward;
  std::vector<std::uint32_t> corners;
};

Walk walk_of(const Face& face, const Topology& t, std::size_t loop) {
  Walk walk;
  const bool against = face.flipped != loops_turned(face)[loop];
  for (const EdgeUse& use : face.loops[loop]) walk.uses.push_back(&use);
  if (against) std::reverse(walk.uses.begin(), walk.uses.end());
  for (const EdgeUse* use : walk.uses) {
    const bool forward = use->forward != against;
    walk.forward.push_back(forward);
    walk.corners.push_back(t.corners[use->edge][forward ? 0 : 1]);
  }
  return walk;
}

Surface bilinear(const std::array<Vec3, 4>& p) {
  Surface s;
  s.u = s.v = {1, false, {0.0, 0.0, 1.0, 1.0}};
  s.points = Grid<Vec3>(2, 2);
  s.points(0, 0) = p[0];
  s.points(1, 0) = p[1];
  s.points(1, 1) = p[2];
  s.points(0, 1) = p[3];
  return s;
}

class Mover {
 public:
  Mover(const Body& body, const std::vector<Vec3>& places, double tolerance)
      : body_(body), places_(places), tolerance_(tolerance), t_(topology(body)) {}

  Body run() {
    find_moved();
    for (std::size_t e = 0; e < body_.edges.size(); ++e) move_edge(e);
    for (std::size_t f = 0; f < body_.faces.size(); ++f)
      if (touched(f)) rebuild(f);
    refresh_gaps(body_);
    return std::move(body_);
  }

 private:
  void find_moved() {
    const Corners now = corners_of(body_, tolerance_);
    for (std::size_t c = 0; c < places_.size(); ++c)
      moved_.push_back(distance(now.places[c], places_[c]) > 1e-12);
    for (std::size_t e = 0; e < body_.edges.size(); ++e)
      moved_edge_.push_back(!t_.uses[e].empty() &&
                            (moved_[t_.corners[e][0]] || moved_[t_.corners[e][1]]));
  }

  bool touched(std::size_t f) const {
    for (const Loop& loop : body_.faces[f].loops)
      for (const EdgeUse& use : loop)
        if (moved_edge_[use.edge]) return true;
    return false;
  }

  void move_edge(std::size_t e) {
    if (!moved_edge_[e]) return;
    Curve& c = body_.edges[e].curve;
    if (!is_straight(c, tolerance_))
      throw Error(
          say("The edge {} is curved and ends at a corner that moves. Move corners of "
              "straight edges, or "
              "shape the surface instead.",
              place_words(middle_of(body_.edges[e]))));
    const Vec3& a = places_[t_.corners[e][0]];
    const Vec3& b = places_[t_.corners[e][1]];
    if (distance(a, b) < tolerance_)
      throw Error(
          say("Two corners would meet at ({:.1f}, {:.1f}, {:.1f}). Leave some way between them.",
              a.x, a.y, a.z));
    c = line_curve(a, b, c.knots.first(), c.knots.last());
  }

  void rebuild(std::size_t f) {
    Face& face = body_.faces[f];
    // Its shape before says what it may become.
    const Face& old = face;
    const bool flat = is_flat(old, tolerance_);
    if (!flat && !is_ruled_by_four(old))
      throw Error(
          say("Face {} is curved. Corner edit moves corners between flat and ruled faces "
              "only; shape this one by its points.",
              f + 1));
    const Walk outer = walk_of(face, t_, 0);
    std::vector<Vec3> polygon;
    for (const std::uint32_t c : outer.corners) polygon.push_back(places_[c]);
    Vec3 out;
    for (std::size_t k = 0; k < polygon.size(); ++k)
      out += cross(polygon[k], polygon[(k + 1) % polygon.size()]);
    if (!(length(out) > tolerance_ * tolerance_))
      throw Error(say("Face {} would have no area. Move the corner less far.", f + 1));
    if (lies_flat(face, polygon.front(), normalized(out))) {
      lay_flat(body_, f, polygon.front(), normalized(out));
      return;
    }
    if (face.loops.size() != 1 || outer.uses.size() != 4)
      throw Error(
          say("Face {} has {} edges and would not stay flat. Move all its corners on that "
              "side alike, or "
              "split it into pieces of four edges first.",
              f + 1, outer.uses.size()));
    lay_ruled(face, outer, polygon);
  }

  // All its edges as they are now lie in the plane.
  bool lies_flat(const Face& face, const Vec3& o, const Vec3& n) const {
    for (const Loop& loop : face.loops)
      for (const EdgeUse& use : loop) {
        const Curve& c = body_.edges[use.edge].curve;
        for (int k = 0; k <= 12; ++k)
          if (std::abs(dot(evaluate(c, c.knots.first() + c.knots.length() * k / 12.0) - o, n)) >
              tolerance_)
            return false;
      }
    return true;
  }

  void lay_ruled(Face& face, const Walk& walk, const std::vector<Vec3>& p) {
    for (const EdgeUse* use : walk.uses)
      if (!is_straight(body_.edges[use->edge].curve, tolerance_))
        throw Error(say(
            "A face with a curved edge would not stay flat. Move the corner within its plane."));
    face.surface = std::make_shared<const Surface>(bilinear({p[0], p[1], p[2], p[3]}));
    face.flipped = false;
    static constexpr std::array<Vec3, 4> kCorners{Vec3{0, 0, 0}, Vec3{1, 0, 0}, Vec3{1, 1, 0},
                                                  Vec3{0, 1, 0}};
    Loop loop;
    for (std::size_t k = 0; k < 4; ++k) {
      const KnotVector& knots = body_.edges[walk.uses[k]->edge].curve.knots;
      const Vec3& from = kCorners[walk.forward[k] ? k : (k + 1) % 4];
      const Vec3& to = kCorners[walk.forward[k] ? (k + 1) % 4 : k];
      loop.push_back(
          {walk.uses[k]->edge, walk.forward[k], line_curve(from, to, knots.first(), knots.last())});
    }
    face.loops = {std::move(loop)};
  }

  Body body_;
  const std::vector<Vec3>& places_;
  double tolerance_;
  Topology t_;
  std::vector<bool> moved_, moved_edge_;
};

}  // namespace

Corners corners_of(const Body& body, double tolerance) {
  const Topology t = topology(body);
  Corners result;
  result.places.resize(t.corner_count);
  result.names.resize(t.corner_count, 0);
  std::vector<bool> straight;
  for (std::size_t e = 0; e < body.edges.size(); ++e) {
    const Curve& c = body.edges[e].curve;
    straight.push_back(is_straight(c, tolerance));
    if (t.uses[e].empty()) continue;
    result.places[t.corners[e][0]] = evaluate(c, c.knots.first());
    result.places[t.corners[e][1]] = evaluate(c, c.knots.last());
    for (const std::uint32_t corner : t.corners[e])
      result.names[corner] += body.edges[e].tag * 2654435761U;
  }
  for (Tag& name : result.names) name = make_tag(0, name, 801);
  for (const Face& face : body.faces) {
    std::vector<std::uint32_t> polygon;
    if (face.loops.size() == 1) {
      const Walk walk = walk_of(face, t, 0);
      polygon = walk.corners;
      for (const EdgeUse* use : walk.uses)
        if (!straight[use->edge]) polygon.clear();
      std::vector<std::uint32_t> sorted = polygon;
      std::sort(sorted.begin(), sorted.end());
      if (polygon.size() < 3 || std::adjacent_find(sorted.begin(), sorted.end()) != sorted.end())
        polygon.clear();
    }
    result.faces.push_back(std::move(polygon));
  }
  return result;
}

Body with_corners(const Body& body, const std::vector<Vec3>& places, double tolerance) {
  return Mover(body, places, tolerance).run();
}

}  // namespace evenclay
