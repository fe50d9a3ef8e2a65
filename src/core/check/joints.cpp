#include "core/check/joints.h"

#include <algorithm>
#include <map>

#include "core/base/error.h"
#include "core/body/projector.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/check/curve_measures.h"

namespace evenclay {

namespace {

// A use of an edge seen from its face.
struct Side {
  const Face* face;
  const EdgeUse* use;
  bool turned;  // its loop is walked against its order to have the face at the left

  // At a share of the edge: parameters, and the unit direction into the face.
  void at(double share, double& u, double& v, Vec3& inward) const {
    const KnotVector& k = use->uv.knots;
    const CurveDerivatives c = derivatives(use->uv, k.first() + share * k.length(), 1);
    u = c.p.x;
    v = c.p.y;
    const SurfaceDerivatives s = derivatives(*face->surface, u, v, 1);
    const Vec3 along = (s.du() * c.d1.x + s.dv() * c.d1.y) * (use->forward != turned ? 1.0 : -1.0);
    inward = normalized(cross(normal(*face->surface, u, v), along));
  }
};

Side side_of(const Body& body, const UsePlace& u) {
  const Face& face = body.faces[u.face];
  return {&face, &face.loops[u.loop][u.place], loops_turned(face)[u.loop]};
}

double step_of(const Surface& a, const Surface& b) {
  return 2e-4 * std::max(size(a), size(b));
}

Vec3 direction(const Curve& c, double share) {
  return normalized(derivatives(c, c.knots.first() + share * c.knots.length(), 1).d1);
}

}  // namespace

std::vector<Joint> joints_of(const Body& given, int places, Progress& progress) {
  const Body body = with_explicit_borders(given, 1e-6);
  const Topology t = topology(body);
  std::map<std::pair<std::size_t, std::size_t>, Joint> found;
  std::map<std::pair<std::size_t, std::size_t>, double> worst;
  for (const std::uint32_t e : t.joined_edges) {
    progress.check();
    if (t.uses[e].size() != 2 || t.uses[e][0].face == t.uses[e][1].face) continue;
    const Side a = side_of(body, t.uses[e][0]);
    const Side b = side_of(body, t.uses[e][1]);
    const std::size_t first = t.uses[e][0].face, second = t.uses[e][1].face;
    const std::pair key(std::min(first, second), std::max(first, second));
    Joint& joint = found[key];
    joint.face_a = key.first;
    joint.face_b = key.second;
    joint.length += arc_length(body.edges[e].curve);
    for (int k = 0; k < places; ++k) {
      const double share = (k + 0.5) / places;
      JointPlace p{a.face->surface.get(),
                   b.face->surface.get(),
                   0,
                   0,
                   0,
                   0,
                   direction(body.edges[e].curve, share),
                   {}};
      Vec3 into_a;
      a.at(share, p.ua, p.va, into_a);
      b.at(share, p.ub, p.vb, p.into_b);
      const double angle = measure(joint.measured, p, step_of(*p.a, *p.b));
      if (const auto [at, fresh] = worst.try_emplace(key, -1.0); angle > at->second) {
        at->second = angle;
        joint.at = evaluate(*p.a, p.ua, p.va);
      }
    }
  }
  std::vector<Joint> result;
  for (auto& [key, joint] : found) {
    settle(joint.measured);
    result.push_back(joint);
  }
  return result;
}

Joint joint_with(const Body& given, const std::vector<std::size_t>& edges, const Body& b,
                 int places, Progress& progress) {
  const Topology t = topology(given);
  const BodyProjector onto(b);
  Joint joint;
  double worst = -1.0;
  for (const std::size_t e : edges) {
    progress.check();
    if (t.uses[e].empty()) continue;
    const Side a = side_of(given, t.uses[e][0]);
    joint.length += arc_length(given.edges[e].curve);
    joint.face_a = t.uses[e][0].face;
    for (int k = 0; k < places; ++k) {
      const double share = (k + 0.5) / places;
      JointPlace p{
          a.face->surface.get(), nullptr, 0, 0, 0, 0, direction(given.edges[e].curve, share), {}};
      Vec3 into_a;
      a.at(share, p.ua, p.va, into_a);
      const BodyProjection near = onto.closest(evaluate(*p.a, p.ua, p.va));
      joint.face_b = static_cast<std::size_t>(near.face);
      p.b = b.faces[joint.face_b].surface.get();
      p.ub = near.u;
      p.vb = near.v;
      p.into_b = -into_a;
      const double angle = measure(joint.measured, p, step_of(*p.a, *p.b));
      if (angle > worst) {
        worst = angle;
        joint.at = near.point;
      }
    }
  }
  settle(joint.measured);
  return joint;
}

}  // namespace evenclay
