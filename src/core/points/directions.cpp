// The directions in which points are moved.
#include <algorithm>
#include <cmath>
#include <memory>

#include "core/nurbs/surface_evaluator.h"
#include "core/points/shaping.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

// Of a curve that lies on a skin.
const Vec3* normal_on_skin(const Nets& nets, PointIndex p) {
  if (at(p.net) >= nets.normals.size() || at(p.i) >= nets.normals[at(p.net)].size()) return nullptr;
  return &nets.normals[at(p.net)][at(p.i)];
}

// Normals of all points of a part: Greville places and evaluators are prepared once.
class Skin {
 public:
  explicit Skin(const Nets& nets) : nets_(nets), prepared_(nets.nets.size()) {}

  Vec3 normal(PointIndex p) const {
    const auto found = nets_.united_of.find(p);
    if (found == nets_.united_of.end()) return alone(p);
    Vec3 sum;
    int last_net = -1;
    for (const PointIndex& q : nets_.united[found->second]) {
      if (q.net != last_net) sum += alone(q);  // a pole's row has one normal
      last_net = q.net;
    }
    return normalized(sum);
  }

 private:
  struct Prepared {
    std::vector<double> u, v;
    std::unique_ptr<SurfaceEvaluator> surface;
    Vec3 area;  // of a curve: the vector of the area it goes round, its ends joined
  };

  const Prepared& prepared(int net) const {
    auto& p = prepared_[at(net)];
    if (!p) {
      const Net& n = nets_.nets[at(net)];
      p = std::make_unique<Prepared>();
      if (n.form() != nullptr) return *p;
      p->u = greville_places(*n.knots(0));
      if (n.knots(1) != nullptr) p->v = greville_places(*n.knots(1));
      if (n.surface() != nullptr) p->surface = std::make_unique<SurfaceEvaluator>(*n.surface());
      if (n.curve() != nullptr) p->area = area_vector(n.curve()->points);
    }
    return *p;
  }

  Vec3 alone(PointIndex p) const {
    const Net& net = nets_.of(p);
    if (const Vec3* given = normal_on_skin(nets_, p)) return *given;
    if (const Surface* s = net.surface()) {
      const Prepared& ready = prepared(p.net);
      const double u = ready.u[at(p.i)];
      const double v = ready.v[at(p.j)];
      const PointTangents t = ready.surface->tangents(u, v);
      if (has_sound_normal(t.du, t.dv, s->u.length(), s->v.length()))
        return normalized(cross(t.du, t.dv));
      return evenclay::normal(*s, u, v);
    }
    if (const Curve* c = net.curve()) {
      const Prepared& ready = prepared(p.net);
      return of_curve(*c, ready.u[at(p.i)], ready.area);
    }
    if (const FormNet* f = net.form()) return of_form(*f, static_cast<std::uint32_t>(p.i));
    Box3 box;
    for (const Vec3& q : net.lattice()->points.values()) box.add(q);
    return normalized(nets_.point(p) - box.centre());
  }

  // Of the faces around, larger ones counting more (M. Newell's sum over each polygon).
  static Vec3 of_form(const FormNet& net, std::uint32_t p) {
    Vec3 sum;
    for (const std::uint32_t f : net.links->topology.faces_of_point[p]) {
      const auto& points = net.links->faces[f].points;
      for (std::size_t k = 1; k + 1 < points.size(); ++k)
        sum += cross(net.points[points[k]] - net.points[points[0]],
                     net.points[points[k + 1]] - net.points[points[0]]);
    }
    return length(sum) > 0.0 ? normalized(sum) : Vec3{0, 0, 1};
  }

  static Vec3 area_vector(const std::vector<Vec3>& polygon) {
    Vec3 sum;
    for (std::size_t k = 0; k < polygon.size(); ++k)
      sum += cross(polygon[k] - polygon[0], polygon[(k + 1) % polygon.size()] - polygon[0]);
    return sum;
  }

  static Vec3 of_curve(const Curve& c, double t, const Vec3& area) {
    const Vec3 tangent = normalized(evenclay::derivatives(c, t, 1).d1);
    const Vec3 outward = cross(tangent, area);
    if (length(outward) > 1e-9 * length(area) && length(area) > 1e-12 * size(c) * size(c))
      return normalized(outward);
    const Vec3 up = std::abs(tangent.z) < 0.999 ? Vec3{0, 0, 1} : Vec3{1, 0, 0};
    return normalized(cross(tangent, up));
  }

  const Nets& nets_;
  mutable std::vector<std::unique_ptr<Prepared>> prepared_;  // local to one call: never shared
};

// The leg towards the next point of the row, or from the one before; at an end whichever there is.
Vec3 displacement_of(const Nets& nets, const Skin& skin, PointIndex p, const Move& move) {
  const auto within = [&](const Vec3& normal) {
    return move.vector - normal * dot(move.vector, normal);
  };
  const auto along = [&](int direction) {
    return leg_direction(nets, p, direction, move.amount >= 0.0) * move.amount;
  };
  switch (move.direction) {
    case MoveDirection::X:
      return {move.amount, 0, 0};
    case MoveDirection::Y:
      return {0, move.amount, 0};
    case MoveDirection::Z:
      return {0, 0, move.amount};
    case MoveDirection::OffSkin:
      return skin.normal(p) * move.amount;
    case MoveDirection::InView:
      return move.vector;
    case MoveDirection::OnSkin:
      if (const Curve* c = nets.of(p).curve(); c != nullptr && !normal_on_skin(nets, p)) {
        const Vec3 tangent = normalized(derivatives(*c, greville(nets, p).u, 1).d1);
        return tangent * dot(move.vector, tangent);
      }
      return within(skin.normal(p));
    case MoveDirection::AlongU:
      return along(0);
    case MoveDirection::AlongV:
      return along(1);
    case MoveDirection::AlongW:
      return along(2);
    case MoveDirection::WorkPlane:
      return within(normalized(move.plane_normal));
  }
  return {};
}

}  // namespace

Vec3 skin_normal(const Nets& nets, PointIndex p) {
  return Skin(nets).normal(p);
}

Vec3 leg_direction(const Nets& nets, PointIndex p, int direction, bool forward) {
  const Net& net = nets.of(p);
  if (direction >= net.directions()) return {};
  const auto after = neighbour(net, p, direction, 1);
  const auto before = neighbour(net, p, direction, -1);
  if (!before) forward = true;
  if (!after) forward = false;
  if (forward && after) return normalized(nets.point(*after) - nets.point(p));
  return before ? normalized(nets.point(p) - nets.point(*before)) : Vec3{};
}

PointMoves moves_of(const Nets& nets, const PointShares& shares, const Move& move) {
  PointMoves field(nets);
  const Skin skin(nets);
  for_each_point(nets, [&](PointIndex p) {
    if (shares(p) > 0.0)
      field(p) = displacement_of(nets, skin, nets.representative(p), move) * shares(p);
  });
  return field;
}

}  // namespace evenclay
