#include "core/cut/flat_rims.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <optional>
#include <set>

#include "core/base/error.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/cut/edge_edit.h"
#include "core/nurbs/curve.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

// Skins that lie flatter to the plane than this run off before they meet it.
constexpr double kSteepest = 0.9;

double share(const Curve& c, double s) {
  return c.knots.first() + c.knots.length() * s;
}

// The height of places of one face above a plane.
class Heights {
 public:
  Heights(const Surface& surface, const FlatOpening& o) : surface_(surface), e_(surface), o_(o) {}

  double at(const Vec3& uv) const { return dot(e_.point(uv.x, uv.y) - o_.at, o_.out); }
  bool inside(const Vec3& uv) const {
    const auto within = [](double x, const KnotVector& k) {
      return k.periodic ||
             (x >= k.first() - 1e-9 * k.length() && x <= k.last() + 1e-9 * k.length());
    };
    return within(uv.x, surface_.u) && within(uv.y, surface_.v);
  }
  Vec3 point(const Vec3& uv) const { return e_.point(uv.x, uv.y); }
  // mm for one unit of the parameters, at most.
  double speed(const Vec3& uv) const {
    const PointTangents t = e_.tangents(uv.x, uv.y);
    return std::max({length(t.du), length(t.dv), 1e-12});
  }
  // The place of height 0 up the steepest way from a place.
  std::optional<Vec3> dropped(Vec3 uv) const {
    for (int k = 0; k < 30; ++k) {
      const PointTangents t = e_.tangents(uv.x, uv.y);
      const double h = dot(t.p - o_.at, o_.out);
      if (std::abs(h) < kExact) return inside(uv) ? std::optional(uv) : std::nullopt;
      const double hu = dot(t.du, o_.out), hv = dot(t.dv, o_.out);
      const double e = dot(t.du, t.du), f = dot(t.du, t.dv), g = dot(t.dv, t.dv);
      const double area = e * g - f * f;
      if (!(area > 1e-14 * e * g)) return std::nullopt;
      const Vec3 up{(g * hu - f * hv) / area, (e * hv - f * hu) / area, 0.0};
      const double slope = hu * up.x + hv * up.y;  // squared, of the face against the plane
      if (!(slope > 1.0 - kSteepest * kSteepest)) return std::nullopt;
      uv = uv - up * (h / slope);
    }
    return std::nullopt;
  }
  static constexpr double kExact = 1e-9;  // mm

 private:
  const Surface& surface_;
  SurfaceEvaluator e_;
  const FlatOpening& o_;
};

// A parameter curve that goes straight on beyond its ends.
class CarriedOn {
 public:
  explicit CarriedOn(const Curve& uv) : e_(uv), first_(uv.knots.first()), last_(uv.knots.last()) {}
  CurveDerivatives at(double t) const {
    const double end = std::clamp(t, first_, last_);
    CurveDerivatives d = e_.derivatives(end, 1);
    d.p = d.p + d.d1 * (t - end);
    return d;
  }

 private:
  CurveEvaluator e_;
  double first_, last_;
};

// Where a curve through a face, from one of its ends on, has height 0: back along it when that end stands out, else on beyond.
std::optional<double> meets_plane(const Heights& heights, const CarriedOn& curve,
                                  const KnotVector& k, bool at_last) {
  const double end = at_last ? k.last() : k.first();
  const double on = (at_last ? 1.0 : -1.0) * k.length();
  const auto height = [&](double t) { return heights.at(curve.at(t).p); };
  const double h = height(end);
  if (std::abs(h) < Heights::kExact) return end;
  const double step = (h > 0.0 ? -1.0 : 1.0) / 64.0;
  double near = 0.0, far = 0.0;  // shares of the length, from the end on
  for (int n = 1;; ++n) {
    far = step * n;
    if (n > 60 || !heights.inside(curve.at(end + on * far).p)) return std::nullopt;
    if ((height(end + on * far) > 0.0) != (h > 0.0)) break;
    near = far;
  }
  for (int n = 0; n < 60; ++n) {
    const double middle = 0.5 * (near + far);
    ((height(end + on * middle) > 0.0) == (h > 0.0) ? near : far) = middle;
  }
  return end + on * 0.5 * (near + far);
}

// Moves the edges of one opening; throws nothing, but says when it cannot.
class Mover {
 public:
  Mover(Body& body, const FlatOpening& o, double tolerance)
      : body_(body),
        o_(o),
        tolerance_(tolerance),
        t_(topology(body)),
        round_(o.edges.begin(), o.edges.end()) {}

  bool move() {
    for (const std::uint32_t e : o_.edges)
      if (t_.uses[e].size() != 1) return false;
    return move_legs() && move_rim() && fits();
  }

 private:
  EdgeUse& use_of(const UsePlace& p) { return body_.faces[p.face].loops[p.loop][p.place]; }
  const Heights& heights(std::size_t face) {
    const auto at = heights_.find(face);
    if (at != heights_.end()) return at->second;
    return heights_.try_emplace(face, *body_.faces[face].surface, o_).first->second;
  }

  // The edges that end at the opening's corners, cut off or carried on to the plane.
  bool move_legs() {
    std::set<std::uint32_t> corners, legs_at;
    for (const std::uint32_t e : o_.edges)
      corners.insert(t_.corners[e].begin(), t_.corners[e].end());
    for (std::uint32_t e = 0; e < body_.edges.size(); ++e) {
      if (round_.contains(e) || t_.uses[e].empty()) continue;
      for (const bool at_last : {false, true}) {
        const std::uint32_t corner = t_.corners[e][at_last ? 1 : 0];
        if (!corners.contains(corner)) continue;
        // An open edge of another opening, or two legs at one corner.
        if (t_.uses[e].size() < 2 || !legs_at.insert(corner).second) return false;
        if (!move_leg(e, at_last)) return false;
      }
    }
    return true;
  }

  bool move_leg(std::uint32_t e, bool at_last) {
    const KnotVector k = body_.edges[e].curve.knots;
    std::optional<double> end;
    for (const UsePlace& p : t_.uses[e]) {
      const Heights& h = heights(p.face);
      EdgeUse& use = use_of(p);
      const CarriedOn curve(use.uv);
      if (!end) end = meets_plane(h, curve, k, at_last);
      if (!end) return false;
      const double first = at_last ? k.first() : *end, last = at_last ? *end : k.last();
      if (!(last - first > 1e-6 * k.length())) return false;
      std::vector<double> breaks{first};
      for (const double b : breakpoints(use.uv.knots))
        if (b > first + 1e-9 * k.length() && b < last - 1e-9 * k.length()) breaks.push_back(b);
      breaks.push_back(last);
      const double fine = 1e-3 * tolerance_ / h.speed(curve.at(*end).p);
      use.uv = reparameterised(hermite_curve([&](double t) { return curve.at(t); }, breaks, fine),
                               k.first(), k.last());
      corners_.push_back({t_.corners[e][at_last ? 1 : 0], p.face,
                          evaluate(use.uv, at_last ? k.last() : k.first())});
      touched_.insert(p.face);
    }
    return true;
  }

  // Where a corner went in the parameters of a face; of several places (a seam) the one nearest to where it was.
  std::optional<Vec3> corner_place(std::uint32_t corner, std::size_t face, const Vec3& was) const {
    std::optional<Vec3> best;
    for (const CornerPlace& c : corners_)
      if (c.corner == corner && c.face == face &&
          (!best || distance(c.uv, was) < distance(*best, was)))
        best = c.uv;
    return best;
  }

  bool move_rim() {
    for (const std::uint32_t e : o_.edges) {
      const UsePlace p = t_.uses[e].front();
      EdgeUse& use = use_of(p);
      const Heights& h = heights(p.face);
      const CurveEvaluator old(use.uv);
      const KnotVector k = use.uv.knots;
      const auto way = [&](std::size_t end) {
        const Vec3 was = old.point(end == 0 ? k.first() : k.last());
        const std::optional<Vec3> to = corner_place(t_.corners[e][end], p.face, was);
        return to ? *to - was : Vec3{};
      };
      const Vec3 begin = way(0), end = way(1);
      bool sound = true;
      const auto place = [&](double t) {
        const double s = (t - k.first()) / k.length();
        const std::optional<Vec3> found = h.dropped(old.point(t) + begin * (1.0 - s) + end * s);
        sound = sound && found.has_value();
        return found.value_or(Vec3{});
      };
      // Differences of second order, from within the edge.
      const double d = 1e-5 * k.length();
      const auto derived = [&](double t) {
        CurveDerivatives r;
        r.p = place(t);
        if (t - d < k.first())
          r.d1 = (place(t + d) * 4.0 - r.p * 3.0 - place(t + 2.0 * d)) / (2.0 * d);
        else if (t + d > k.last())
          r.d1 = (r.p * 3.0 - place(t - d) * 4.0 + place(t - 2.0 * d)) / (2.0 * d);
        else
          r.d1 = (place(t + d) - place(t - d)) / (2.0 * d);
        return r;
      };
      const double fine = 0.05 * tolerance_ / h.speed(place(share(use.uv, 0.5)));
      const Curve moved = hermite_curve(derived, breakpoints(k), fine);
      if (!sound) return false;
      use.uv = moved;
      touched_.insert(p.face);
    }
    return true;
  }

  // The curves in space follow; joints stay joints, and the rim lies in the plane.
  bool fits() {
    const double gap = greatest_gap(body_);
    refresh_edges(body_, {touched_.begin(), touched_.end()});
    if (greatest_gap(body_) > std::max(gap, tolerance_)) return false;
    for (const std::uint32_t e : o_.edges)
      for (int n = 0; n <= 32; ++n) {
        const Curve& c = body_.edges[e].curve;
        if (std::abs(dot(evaluate(c, share(c, n / 32.0)) - o_.at, o_.out)) > tolerance_)
          return false;
      }
    return true;
  }

  struct CornerPlace {
    std::uint32_t corner;
    std::size_t face;
    Vec3 uv;
  };
  Body& body_;
  const FlatOpening& o_;
  double tolerance_;
  Topology t_;
  std::set<std::uint32_t> round_;
  std::map<std::size_t, Heights> heights_;
  std::vector<CornerPlace> corners_;
  std::set<std::size_t> touched_;
};

// On which border of its face's surface an edge lies all along.
std::optional<Border> border_of(const Curve& uv, const Surface& s) {
  const auto all = [&](auto&& off, double scale) {
    return std::all_of(uv.points.begin(), uv.points.end(),
                       [&](const Vec3& p) { return std::abs(off(p)) <= 1e-9 * scale; });
  };
  if (!s.u.periodic) {
    if (all([&](const Vec3& p) { return p.x - s.u.first(); }, s.u.length())) return Border::UMin;
    if (all([&](const Vec3& p) { return p.x - s.u.last(); }, s.u.length())) return Border::UMax;
  }
  if (!s.v.periodic) {
    if (all([&](const Vec3& p) { return p.y - s.v.first(); }, s.v.length())) return Border::VMin;
    if (all([&](const Vec3& p) { return p.y - s.v.last(); }, s.v.length())) return Border::VMax;
  }
  return std::nullopt;
}

// How far along the face the second skin falls short of the plane; 0 where it reaches it.
double falls_short(const Face& face, const Curve& uv, const FlatOpening& o, double thickness) {
  double most = 0.0;
  for (int n = 0; n <= 8; ++n) {
    const Vec3 at = evaluate(uv, share(uv, n / 8.0));
    const double s = dot(normal(*face.surface, at.x, at.y), o.out) * (face.flipped ? -1.0 : 1.0);
    if (s > 0.0 && s < kSteepest) most = std::max(most, thickness * s / std::sqrt(1.0 - s * s));
  }
  return most;
}

}  // namespace

std::vector<FlatOpening> flat_openings(const Body& body, const std::vector<std::size_t>& open_faces,
                                       const std::vector<std::uint32_t>& edges, double thickness) {
  const Topology t = topology(body);
  const double near = 1e-5 * size(body);
  std::vector<FlatOpening> result;
  for (const std::size_t f : open_faces) {
    const Face& face = body.faces[f];
    const Parameter inside = inner_place(FaceRegion(face));
    FlatOpening o;
    o.face = f;
    o.at = evaluate(*face.surface, inside.u, inside.v);
    o.out = normal(*face.surface, inside.u, inside.v) * (face.flipped ? -1.0 : 1.0);
    double bent = 0.0;
    bool known = true;
    for (const Loop& loop : face.loops)
      for (const EdgeUse& use : loop) {
        known = known && t.uses[use.edge].size() == 2 && edges[use.edge] != 0xFFFFFFFFU;
        o.edges.push_back(edges[use.edge]);
        for (int k = 0; k < 5; ++k) {
          const double s = (k + 0.5) / 5.0;
          const Curve& edge = body.edges[use.edge].curve;
          bent = std::max(bent, std::abs(dot(evaluate(edge, share(edge, s)) - o.at, o.out)));
          for (const UsePlace& other : t.uses[use.edge]) {
            if (other.face == f) continue;
            const Face& skin = body.faces[other.face];
            const Curve& in = skin.loops[other.loop][other.place].uv;
            const Vec3 uv = evaluate(in, share(in, s));
            o.off = std::max(o.off,
                             thickness * std::abs(dot(normal(*skin.surface, uv.x, uv.y), o.out)));
          }
        }
      }
    if (!known) o.edges.clear();
    if (bent <= near) result.push_back(std::move(o));
  }
  return result;
}

Body grown_for_rims(const Body& skin, const std::vector<FlatOpening>& openings, double thickness,
                    const GrowSurface& grow, Progress& progress) {
  const Topology t = topology(skin);
  std::map<const Surface*, std::array<double, 4>> wanted;
  for (const FlatOpening& o : openings)
    for (const std::uint32_t e : o.edges)
      for (const UsePlace& p : t.uses[e]) {
        const Face& face = skin.faces[p.face];
        const Curve& uv = face.loops[p.loop][p.place].uv;
        const std::optional<Border> border = border_of(uv, *face.surface);
        if (!border) continue;
        double& mm = wanted[face.surface.get()][static_cast<std::size_t>(*border)];
        mm = std::max(mm, falls_short(face, uv, o, thickness));
      }
  Body result = skin;
  for (const auto& [surface, by] : wanted) {
    Surface grown = *surface;
    for (const Border b : kBorders) {
      progress.check();
      const double mm = by[static_cast<std::size_t>(b)];
      if (!(mm > 0.0)) continue;
      try {
        // Bends beyond the border make the way longer.
        grown = grow(grown, b, 1.5 * mm + 0.05 * thickness);
      } catch (const Error&) {
        continue;
      }
    }
    const auto shared = std::make_shared<const Surface>(std::move(grown));
    for (Face& f : result.faces)
      if (f.surface.get() == surface) f.surface = shared;
  }
  return result;
}

bool end_in_plane(Body& second, const FlatOpening& opening, double tolerance) {
  if (opening.edges.empty()) return false;
  Body moved = second;
  if (!Mover(moved, opening, tolerance).move()) return false;
  second = std::move(moved);
  return true;
}

}  // namespace evenclay
