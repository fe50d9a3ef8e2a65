#include "core/body/body.h"

#include <fmt/format.h>

#include <algorithm>
#include <cassert>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

// Mixing of splitmix64 (S. Vigna, public domain, from memory).
std::uint64_t mixed(std::uint64_t x) {
  x += 0x9E3779B97F4A7C15ULL;
  x = (x ^ (x >> 30U)) * 0xBF58476D1CE4E5B9ULL;
  x = (x ^ (x >> 27U)) * 0x94D049BB133111EBULL;
  return x ^ (x >> 31U);
}

}  // namespace

Tag make_tag(int step, Tag origin, std::uint64_t ordinal) {
  const Tag tag = mixed(mixed(mixed(static_cast<std::uint64_t>(step)) ^ origin) ^ ordinal);
  return tag != 0 ? tag : 1;
}

Body body_of(std::vector<Surface> surfaces, int step) {
  Body body;
  for (Surface& s : surfaces) {
    Face face;
    face.tag = make_tag(step, 0, body.faces.size());
    face.surface = std::make_shared<const Surface>(std::move(s));
    body.faces.push_back(std::move(face));
  }
  return body;
}

namespace {

void check_loop(const Loop& loop, const Face& face, const Body& body, std::size_t number) {
  if (loop.empty())
    throw Error(
        say("Face {} has a border loop without edges. Read or cut the part again.", number + 1));
  const double scale = face.surface->u.length() + face.surface->v.length();
  for (std::size_t k = 0; k < loop.size(); ++k) {
    const EdgeUse& use = loop[k];
    if (use.edge >= body.edges.size())
      throw Error(say("Face {} names edge {}, but the part has {}.", number + 1, use.edge + 1,
                      body.edges.size()));
    const KnotVector& a = body.edges[use.edge].curve.knots;
    const KnotVector& b = use.uv.knots;
    if (a.periodic || b.periodic || a.first() != b.first() || a.last() != b.last())
      throw Error(say("An edge of face {} does not run as its curve does.", number + 1));
    const EdgeUse& next = loop[(k + 1) % loop.size()];
    const Vec3& end = use.forward ? use.uv.points.back() : use.uv.points.front();
    const Vec3& begin = next.forward ? next.uv.points.front() : next.uv.points.back();
    if (distance(end, begin) > 1e-4 * scale)
      throw Error(say(
          "The border of face {} is open in its parameters by {:.3g}. Read or cut the part again.",
          number + 1, distance(end, begin)));
  }
}

}  // namespace

void check(const Body& body) {
  for (const Edge& e : body.edges) check(e.curve);
  for (std::size_t n = 0; n < body.faces.size(); ++n) {
    const Face& face = body.faces[n];
    if (!face.surface) throw Error(say("Face {} has no surface.", n + 1));
    check(*face.surface);
    for (const Loop& loop : face.loops) check_loop(loop, face, body, n);
  }
}

bool is_trimmed(const Body& body) {
  return std::any_of(body.faces.begin(), body.faces.end(),
                     [](const Face& f) { return f.trimmed(); });
}

double size(const Body& body) {
  Box3 box;
  for (const Face& f : body.faces)
    for (const Vec3& p : f.surface->points.values()) box.add(p);
  return box.size();
}

std::vector<Surface> surfaces_of(const Body& body) {
  std::vector<Surface> result;
  result.reserve(body.faces.size());
  for (const Face& f : body.faces) result.push_back(*f.surface);
  return result;
}

int face_with_tag(const Body& body, Tag tag) {
  for (std::size_t n = 0; n < body.faces.size(); ++n)
    if (body.faces[n].tag == tag) return static_cast<int>(n);
  return -1;
}

ParameterMap scaled_map(const Surface& from, const Surface& to) {
  ParameterMap m;
  m.a = to.u.length() / from.u.length();
  m.d = to.v.length() / from.v.length();
  m.e = to.u.first() - from.u.first() * m.a;
  m.f = to.v.first() - from.v.first() * m.d;
  return m;
}

void map_parameters(Face& face, const ParameterMap& m) {
  for (Loop& loop : face.loops)
    for (EdgeUse& use : loop)
      for (Vec3& p : use.uv.points)
        p = {m.a * p.x + m.b * p.y + m.e, m.c * p.x + m.d * p.y + m.f, 0.0};
}

}  // namespace evenclay
