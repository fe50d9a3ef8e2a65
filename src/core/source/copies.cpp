#include "core/source/copies.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace evenclay {

Placement moved_by(const Vec3& way) {
  Placement p;
  p.shift = way;
  return p;
}

Placement turned_about(const Vec3& through, const Vec3& axis, double degrees) {
  const double angle = degrees * std::numbers::pi / 180.0;
  const double c = std::cos(angle);
  const double s = std::sin(angle);
  // Rodrigues' rotation formula.
  const auto turn = [&](const Vec3& v) {
    return v * c + cross(axis, v) * s + axis * (dot(axis, v) * (1.0 - c));
  };
  Placement p{turn({1, 0, 0}), turn({0, 1, 0}), turn({0, 0, 1}), {}};
  p.shift = through - turn(through);
  return p;
}

Placement mirrored_in(const Vec3& through, const Vec3& normal) {
  const auto reflect = [&](const Vec3& v) { return v - normal * (2.0 * dot(normal, v)); };
  Placement p{reflect({1, 0, 0}), reflect({0, 1, 0}), reflect({0, 0, 1}), {}};
  p.shift = normal * (2.0 * dot(normal, through));
  return p;
}

Curve placed(const Curve& curve, const Placement& at) {
  Curve c = curve;
  for (Vec3& p : c.points) p = at(p);
  return c;
}

Body placed(const Body& body, const Placement& at, int step, std::uint64_t copy) {
  Body result = body;
  std::map<const Surface*, std::shared_ptr<const Surface>> moved;  // shared ones stay shared
  std::map<Tag, Tag> tags;
  std::uint64_t ordinal = copy << 32U;
  const auto tag = [&](Tag old) {
    if (old == 0) return old;
    Tag& t = tags[old];
    if (t == 0) t = make_tag(step, old, ordinal++);
    return t;
  };
  for (Face& f : result.faces) {
    auto& surface = moved[f.surface.get()];
    if (!surface) {
      Surface s = *f.surface;
      for (Vec3& p : s.points.values()) p = at(p);
      surface = std::make_shared<const Surface>(std::move(s));
    }
    f.surface = surface;
    f.flipped = f.flipped != at.mirrors();  // a mirror turns normals over
    f.tag = tag(f.tag);
    f.piece_of = tag(f.piece_of);
  }
  for (Edge& e : result.edges) {
    e.curve = placed(e.curve, at);
    e.tag = tag(e.tag);
  }
  return result;
}

TriangleMesh placed(const TriangleMesh& mesh, const Placement& at) {
  TriangleMesh m = mesh;
  for (Vec3& p : m.points) p = at(p);
  for (Vec3& n : m.normals) n = at(n) - at.shift;
  if (at.mirrors())
    for (auto& t : m.triangles) std::swap(t[1], t[2]);
  return m;
}

void append(Body& a, const Body& b) {
  const auto edges = static_cast<std::uint32_t>(a.edges.size());
  a.edges.insert(a.edges.end(), b.edges.begin(), b.edges.end());
  for (Face f : b.faces) {
    for (Loop& loop : f.loops)
      for (EdgeUse& use : loop) use.edge += edges;
    a.faces.push_back(std::move(f));
  }
}

}  // namespace evenclay
