#include "core/cut/split_sides.h"

#include <fmt/format.h>

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRep_Builder.hxx>
#include <TopoDS_Compound.hxx>
#include <algorithm>
#include <cmath>
#include <gp_Pln.hxx>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/cut/edge_edit.h"
#include "core/cut/flat_offset.h"
#include "core/cut/offset_body.h"
#include "core/cut/prepared.h"
#include "core/kernel/convert.h"
#include "core/nurbs/hermite.h"

namespace evenclay {

namespace {

// Lowest and highest place of the body's control points along a direction.
std::array<double, 2> extent(const Body& body, const Vec3& z) {
  std::array<double, 2> e{1e300, -1e300};
  for (const Face& f : body.faces)
    for (const Vec3& p : f.surface->points.values()) {
      e[0] = std::min(e[0], dot(p, z));
      e[1] = std::max(e[1], dot(p, z));
    }
  return e;
}

class PlaneSides : public SplitSides {
 public:
  PlaneSides(const Frame& plane, const Body& body) : plane_(plane), reach_(2.0 * size(body) + 1.0) {
    for (const Face& f : body.faces)
      for (const Vec3& p : f.surface->points.values())
        reach_ = std::max(reach_, 2.0 * distance(p, plane.origin));
  }
  double side(const Vec3& p) const override { return plane_.to_local(p).z; }
  TopoDS_Shape band(double offset) const override {
    const Vec3 o = plane_.origin + plane_.z * offset;
    const gp_Pln pln(gp_Pnt(o.x, o.y, o.z), gp_Dir(plane_.z.x, plane_.z.y, plane_.z.z));
    return BRepBuilderAPI_MakeFace(pln, -reach_, reach_, -reach_, reach_).Face();
  }

 private:
  Frame plane_;
  double reach_;
};

class BodySides : public SplitSides {
 public:
  BodySides(const std::vector<Body>& bodies, const OffsetSurface& offset)
      : bodies_(bodies), offset_(offset) {
    for (const Body& b : bodies) projectors_.emplace_back(b);
  }
  double side(const Vec3& p) const override {
    double least = 1e300;
    for (std::size_t k = 0; k < bodies_.size(); ++k) {
      const BodyProjection near = projectors_[k].closest(p);
      const Face& f = bodies_[k].faces[static_cast<std::size_t>(near.face)];
      const Vec3 out = normal(*f.surface, near.u, near.v) * (f.flipped ? -1.0 : 1.0);
      const double d = dot(p - near.point, out) < 0.0 ? -near.distance : near.distance;
      if (d < 0.0) return d;  // inside any of them
      least = std::min(least, d);
    }
    return least;
  }
  TopoDS_Shape band(double offset) const override {
    if (offset != 0.0) return beside(bodies_.front(), offset);
    BRep_Builder builder;
    TopoDS_Compound all;
    builder.MakeCompound(all);
    for (const Body& b : bodies_) {
      refuse_collapsed(b);
      builder.Add(all, kernel::to_kernel(with_edges(b)).all);
    }
    return all;
  }

 private:
  // The faces at a distance; outside lies their normal's side. A single one goes on as far as its surface does.
  TopoDS_Shape beside(const Body& body, double offset) const {
    Progress quiet;
    if (body.faces.size() == 1) {
      const Face& face = body.faces.front();
      return kernel::to_kernel(
                 body_of({offset_(*face.surface, face.flipped ? -offset : offset)}, 1))
          .all;
    }
    const Body with = with_edges(body);
    const Body moved = offset_body(with, offset, offset_, quiet);
    if (greatest_gap(moved) - greatest_gap(with) > kSmooth * std::abs(offset))
      throw Error(say(
          "The faces of the other part meet at angles, where a gap along them has no one width. "
          "Round those edges first, take one face as a part of its own, or set the gap to 0."));
    return kernel::to_kernel(moved).all;
  }
  static constexpr double kSmooth =
      0.01;  // how far smooth faces may come apart, as a share of the distance

  const std::vector<Body>& bodies_;
  const OffsetSurface& offset_;
  std::vector<BodyProjector> projectors_;
};

// Curves seen along a direction.
class CurveSides : public SplitSides {
 public:
  CurveSides(const std::vector<Curve>& curves, const Vec3& direction, SplitReach reach,
             const Body& body)
      : frame_(frame_along(direction)) {
    const auto [low, high] = extent(body, frame_.z);
    margin_ = 0.1 * (high - low) + 1.0;
    low_ = low - margin_;
    high_ = high + margin_;
    const double far = 2.0 * (size(body) + 1.0);
    double least = 1e300, most = -1e300;
    for (const Curve& c : curves)
      for (const Vec3& p : c.points) {
        least = std::min(least, dot(p, frame_.z));
        most = std::max(most, dot(p, frame_.z));
      }
    if (reach == SplitReach::Forwards) low_ = least;
    if (reach == SplitReach::Backwards) high_ = most;
    if (!(high_ > low_))
      throw Error(say(
          "The curve lies beyond the part on that side. Choose the other reach, or both ways."));
    for (const Curve& c : curves) {
      flat_.emplace_back(c, frame_, far);
      polygons_.push_back(flat_.back().polygon());
    }
  }

  double side(const Vec3& p) const override {
    const Vec3 l = frame_.to_local(p);
    if (l.z < low_ || l.z > high_) return 1e6;  // beyond the reach nothing is split off
    double nearest = 1e300, result = 0.0;
    bool inside = false, any_closed = false;
    for (std::size_t k = 0; k < flat_.size(); ++k) {
      const FlatDistance d = signed_distance(polygons_[k], flat_[k].closed(), {l.x, l.y});
      any_closed |= flat_[k].closed();
      if (flat_[k].closed()) inside ^= winds_round(polygons_[k], {l.x, l.y});
      if (d.distance < nearest) {
        nearest = d.distance;
        result = d.left ? d.distance : -d.distance;
      }
    }
    return any_closed ? (inside ? -nearest : nearest) : result;
  }

  TopoDS_Shape band(double offset) const override {
    BRep_Builder builder;
    TopoDS_Compound all;
    builder.MakeCompound(all);
    const Vec3 way = frame_.z * (high_ - low_);
    for (const FlatCurve& f : flat_) {
      // The first side lies to the left of an open curve and outside of a closed one.
      const double beside = f.closed() ? (f.counter_clockwise() ? -offset : offset) : offset;
      // As one wire, so that the kernel need not look for where the pieces meet.
      BRepBuilderAPI_MakeWire wire;
      for (Curve c : f.beside(beside)) {
        for (Vec3& p : c.points) p = frame_.to_world({p.x, p.y, low_});
        wire.Add(kernel::to_kernel(c));
      }
      if (!wire.IsDone())
        throw Error(say("The pieces of the curve do not meet. Close it or join it first."));
      builder.Add(all, BRepPrimAPI_MakePrism(wire.Wire(), gp_Vec(way.x, way.y, way.z)));
    }
    return all;
  }

 private:
  Frame frame_;
  double low_ = 0.0, high_ = 0.0, margin_ = 0.0;
  std::vector<FlatCurve> flat_;
  std::vector<std::vector<Parameter>> polygons_;
};

// Curves laid on the nearest skin, carried along its normals.
class NormalSides : public SplitSides {
 public:
  NormalSides(const std::vector<Curve>& curves, const Body& body)
      : body_(body), projector_(body), reach_(0.05 * size(body) + 0.5) {
    for (const Curve& c : curves) runs_.push_back(laid(c));
  }

  double side(const Vec3& p) const override {
    double nearest = 1e300, result = 0.0;
    for (const Run& run : runs_) {
      const std::size_t n = run.places.size();
      for (std::size_t k = 0; k + 1 < n; ++k) {
        const Vec3 a = run.places[k].at, d = run.places[k + 1].at - a;
        const double share = std::clamp(dot(p - a, d) / std::max(dot(d, d), 1e-300), 0.0, 1.0);
        const double away = distance(p, a + d * share);
        if (away >= nearest) continue;
        nearest = away;
        const Vec3 out = run.places[k].out;
        // Seen against the normal, left is out × along.
        const double left = dot(cross(out, d), p - a);
        result = (run.closed ? run.inside_left != (left > 0.0) : left > 0.0) ? away : -away;
      }
    }
    return result;
  }

  TopoDS_Shape band(double offset) const override {
    BRep_Builder builder;
    TopoDS_Compound all;
    builder.MakeCompound(all);
    for (const Run& run : runs_) {
      const double left = run.closed && run.inside_left ? -offset : offset;
      builder.Add(all, BRepBuilderAPI_MakeFace(kernel::to_kernel(ruled_along(run, left)), 1e-6));
    }
    return all;
  }

 private:
  struct Place {
    Vec3 at, out, along;
  };
  struct Run {
    std::vector<Place> places;
    bool closed = false, inside_left = false;
  };

  Place on_skin(const Vec3& p) const {
    const BodyProjection near = projector_.closest(p);
    const Face& f = body_.faces[static_cast<std::size_t>(near.face)];
    return {near.point, normal(*f.surface, near.u, near.v) * (f.flipped ? -1.0 : 1.0), {}};
  }

  Run laid(const Curve& curve) const {
    Run run;
    const CurveEvaluator e(curve);
    constexpr int kPlaces = 240;
    for (int k = 0; k <= kPlaces; ++k)
      run.places.push_back(
          on_skin(e.point(curve.knots.first() + curve.knots.length() * k / kPlaces)));
    run.closed = distance(run.places.front().at, run.places.back().at) < 1e-6 * reach_;
    const std::size_t n = run.places.size();
    for (std::size_t k = 0; k < n; ++k) {
      const Vec3& a = run.places[k > 0 ? k - 1 : (run.closed ? n - 2 : 0)].at;
      const Vec3& b = run.places[k + 1 < n ? k + 1 : (run.closed ? 1 : n - 1)].at;
      run.places[k].along = normalized(b - a);
    }
    // The smaller loop is the inside: its area vector against the normals says which way it is walked.
    Vec3 area;
    for (std::size_t k = 0; k + 1 < n; ++k)
      area += cross(run.places[k].at - run.places[0].at, run.places[k + 1].at - run.places[0].at);
    Vec3 out;
    for (const Place& p : run.places) out += p.out;
    run.inside_left = dot(area, out) > 0.0;
    return run;
  }

  Surface ruled_along(const Run& run, double left) const {
    std::vector<Place> moved;
    for (const Place& p : run.places) {
      if (left == 0.0) {
        moved.push_back(p);
        continue;
      }
      moved.push_back(on_skin(p.at + normalized(cross(p.out, p.along)) * left));
      moved.back().along = p.along;
    }
    // As few places as carry the strip past all of them: the kernel's work grows with the square of its spans.
    const double near = 2e-5 * size(body_);
    for (const std::size_t stride : {8, 4, 2})
      if (const auto strip = strip_through(moved, run.closed, stride, near)) return *strip;
    return *strip_through(moved, run.closed, 1, near);
  }

  // A cubic strip with every stride-th place as values and differences as slopes; nothing when it passes another place
  // farther off than `near`.
  std::optional<Surface> strip_through(const std::vector<Place>& all, bool closed,
                                       std::size_t stride, double near) const {
    std::vector<double> breaks;
    for (std::size_t k = 0; k * stride < all.size(); ++k) breaks.push_back(static_cast<double>(k));
    const auto side = [&](double along_out) {
      std::vector<Vec3> at;
      for (std::size_t k = 0; k < all.size(); k += stride)
        at.push_back(all[k].at + all[k].out * along_out);
      const std::size_t n = at.size();
      return hermite_curve(
          [&](double t) {
            const auto k = static_cast<std::size_t>(std::lround(t));
            CurveDerivatives c{};
            c.p = at[k];
            const std::size_t before = k > 0 ? k - 1 : (closed ? n - 2 : 0);
            const std::size_t after = k + 1 < n ? k + 1 : (closed ? 1 : n - 1);
            c.d1 = (at[after] - at[before]) *
                   (1.0 / ((k > 0 || closed ? 1.0 : 0.0) + (k + 1 < n || closed ? 1.0 : 0.0)));
            return c;
          },
          breaks, 1e300);
    };
    const Curve low = side(-reach_), high = side(reach_);
    const CurveEvaluator on_low(low), on_high(high);
    for (std::size_t k = 0; k < all.size() && stride > 1; ++k) {
      const double t = static_cast<double>(k) / static_cast<double>(stride);
      // On the skin the strip runs half-way between its sides.
      const Vec3 on = (on_low.point(t) + on_high.point(t)) * 0.5;
      const Vec3 off = all[k].at - on;
      if (length(off - all[k].along * dot(off, all[k].along)) > near) return std::nullopt;
    }
    return ruled_between(low, high);
  }

  const Body& body_;
  BodyProjector projector_;
  double reach_;
  std::vector<Run> runs_;
};

}  // namespace

std::unique_ptr<SplitSides> sides_of(const Splitter& s, const Body& body) {
  if (s.plane) return std::make_unique<PlaneSides>(*s.plane, body);
  if (!s.curves.empty()) {
    if (s.along_normals) return std::make_unique<NormalSides>(s.curves, body);
    if (!(length(s.direction) > 0.0))
      throw Error(say("The direction of the cut has no length. Choose another one."));
    return std::make_unique<CurveSides>(s.curves, s.direction, s.reach, body);
  }
  for (const Body& b : s.bodies)
    if (b.faces.empty()) throw Error(say("The part that should split has no faces."));
  if (s.bodies.empty())
    throw Error(
        say("Nothing splits yet. Choose a part with a curve or a surface in the settings, or a "
            "plane."));
  return std::make_unique<BodySides>(s.bodies, s.offset);
}

}  // namespace evenclay
