#include "core/body/topology.h"

#include <algorithm>
#include <functional>
#include <map>

#include "core/base/union_find.h"
#include "core/body/join.h"
#include "core/body/region.h"
#include "core/nurbs/hermite.h"

namespace evenclay {

namespace {

// Numbers of corners: ends of edges that follow each other in a loop are one.
void number_corners(const Body& body, Topology& t) {
  UnionFind ends(body.edges.size() * 2);
  const auto end_of = [](const EdgeUse& u, bool last) {
    return 2 * u.edge + (u.forward == last ? 1U : 0U);
  };
  for (const Face& face : body.faces)
    for (const Loop& loop : face.loops)
      for (std::size_t k = 0; k < loop.size(); ++k)
        ends.join(end_of(loop[k], true), end_of(loop[(k + 1) % loop.size()], false));
  for (const std::uint32_t e : t.poles) ends.join(2 * e, 2 * e + 1);
  std::map<std::uint32_t, std::uint32_t> number;
  t.corners.resize(body.edges.size());
  for (std::uint32_t e = 0; e < body.edges.size(); ++e)
    for (std::uint32_t k = 0; k < 2; ++k) {
      const auto fresh = static_cast<std::uint32_t>(number.size());
      t.corners[e][k] = number.try_emplace(ends.root(2 * e + k), fresh).first->second;
    }
  t.corner_count = static_cast<std::uint32_t>(number.size());
}

void find_shells(const Body& body, Topology& t) {
  UnionFind faces(body.faces.size());
  for (const auto& uses : t.uses)
    for (const UsePlace& u : uses) faces.join(uses.front().face, u.face);
  std::map<std::uint32_t, std::size_t> number;
  for (std::uint32_t f = 0; f < body.faces.size(); ++f) {
    const auto [at, fresh] = number.try_emplace(faces.root(f), t.shells.size());
    if (fresh) t.shells.emplace_back();
    t.shells[at->second].push_back(f);
  }
}

void find_chains(const Body& body, Topology& t) {
  // The corner where the face's walk along an open edge begins, and where it ends.
  const auto walk = [&](std::uint32_t e) {
    const UsePlace& u = t.uses[e].front();
    const bool forward = body.faces[u.face].loops[u.loop][u.place].forward;
    return std::array<std::uint32_t, 2>{t.corners[e][forward ? 0 : 1],
                                        t.corners[e][forward ? 1 : 0]};
  };
  std::multimap<std::uint32_t, std::uint32_t> starting;
  std::map<std::uint32_t, int> arriving;
  for (const std::uint32_t e : t.open_edges) {
    starting.emplace(walk(e)[0], e);
    ++arriving[walk(e)[1]];
  }
  std::vector<std::uint32_t> begins;  // open ends first, then anywhere on a ring
  for (const std::uint32_t e : t.open_edges)
    if (arriving[walk(e)[0]] == 0) begins.push_back(e);
  begins.insert(begins.end(), t.open_edges.begin(), t.open_edges.end());
  std::vector<bool> taken(body.edges.size(), false);
  for (const std::uint32_t begin : begins) {
    if (taken[begin]) continue;
    std::vector<std::uint32_t> chain;
    constexpr std::uint32_t kNone = 0xFFFFFFFFU;
    for (std::uint32_t e = begin; e != kNone;) {
      taken[e] = true;
      chain.push_back(e);
      const auto [from, to] = starting.equal_range(walk(e)[1]);
      e = kNone;
      for (auto k = from; k != to && e == kNone; ++k)
        if (!taken[k->second]) e = k->second;
    }
    t.open_chains.push_back(std::move(chain));
  }
}

// Whether outside is on the same side for both faces along a joined edge.
bool walked_both_ways(const Body& body, const std::vector<UsePlace>& uses,
                      const std::vector<std::vector<bool>>& turned) {
  if (uses.size() != 2) return false;
  bool sense[2];
  for (std::size_t k = 0; k < 2; ++k) {
    const UsePlace& u = uses[k];
    const Face& face = body.faces[u.face];
    sense[k] = face.loops[u.loop][u.place].forward != (face.flipped != turned[u.face][u.loop]);
  }
  return sense[0] != sense[1];
}

bool is_closed_body(const Body& body, const Topology& t) {
  if (body.faces.empty() || !t.open_edges.empty()) return false;
  std::vector<std::vector<bool>> turned;
  for (const Face& face : body.faces) {
    if (!face.trimmed() && !is_closed(*face.surface, 1e-9)) return false;
    turned.push_back(loops_turned(face));
  }
  return std::all_of(t.joined_edges.begin(), t.joined_edges.end(),
                     [&](std::uint32_t e) { return walked_both_ways(body, t.uses[e], turned); });
}

}  // namespace

Topology topology(const Body& body, double no_length) {
  Topology t;
  t.uses.resize(body.edges.size());
  for (std::uint32_t f = 0; f < body.faces.size(); ++f)
    for (std::uint32_t l = 0; l < body.faces[f].loops.size(); ++l)
      for (std::uint32_t k = 0; k < body.faces[f].loops[l].size(); ++k)
        t.uses[body.faces[f].loops[l][k].edge].push_back({f, l, k});
  for (std::uint32_t e = 0; e < body.edges.size(); ++e) {
    if (t.uses[e].empty()) continue;
    if (size(body.edges[e].curve) < no_length)
      t.poles.push_back(e);
    else
      (t.uses[e].size() == 1 ? t.open_edges : t.joined_edges).push_back(e);
  }
  number_corners(body, t);
  find_shells(body, t);
  find_chains(body, t);
  t.closed = is_closed_body(body, t);
  return t;
}

namespace {

// One natural border of one face: the line in the parameter plane, and the curve in space over the
// same domain.
struct NaturalBorder {
  std::size_t face;
  Border border;
  Curve uv, curve;
  bool pole;
  Vec3 middle;
};

NaturalBorder natural_border(const Face& face, std::size_t number, Border border) {
  const Surface& s = *face.surface;
  const bool of_u = border == Border::UMin || border == Border::UMax;
  const KnotVector& along = of_u ? s.v : s.u;
  const KnotVector& fixed = of_u ? s.u : s.v;
  const bool low = border == Border::UMin || border == Border::VMin;
  const double at = low ? fixed.first() : fixed.last();
  const double a = along.first();
  const double b = along.last();
  NaturalBorder result{number, border, {}, {}, is_pole(s, border, 1e-9), {}};
  result.uv =
      of_u ? line_curve({at, a, 0}, {at, b, 0}, a, b) : line_curve({a, at, 0}, {b, at, 0}, a, b);
  const SurfaceEvaluator evaluator(s);
  if (result.pole) {
    const Vec3 p = of_u ? evaluator.point(at, a) : evaluator.point(a, at);
    result.curve = line_curve(p, p, a, b);
    return result;
  }
  const auto function = [&](double t) {
    const PointTangents d = of_u ? evaluator.tangents(at, t) : evaluator.tangents(t, at);
    CurveDerivatives c{};
    c.p = d.p;
    c.d1 = of_u ? d.dv : d.du;
    return c;
  };
  result.curve = hermite_curve(function, breakpoints(along), 1e-8 * size(s));
  result.middle = evaluate(result.curve, 0.5 * (a + b));
  return result;
}

// The parameter line walked so that it fits an edge with the domain `k` and the given sense.
Curve fitted_to(const Curve& uv, const KnotVector& k, int sense) {
  const Vec3& a = sense > 0 ? uv.points.front() : uv.points.back();
  const Vec3& b = sense > 0 ? uv.points.back() : uv.points.front();
  return line_curve(a, b, k.first(), k.last());
}

}  // namespace

Body with_explicit_borders(const Body& body, double tolerance) {
  Body result = body;
  struct Placed {
    std::uint32_t edge;
    int sense;
  };
  std::vector<NaturalBorder> borders;
  for (std::size_t f = 0; f < body.faces.size(); ++f)
    if (!body.faces[f].trimmed())
      for (const Border b : kBorders) borders.push_back(natural_border(body.faces[f], f, b));
  std::vector<Placed> placed(borders.size());
  std::vector<std::size_t> first_of_edge;  // which border made each new edge
  const auto old_edges = static_cast<std::uint32_t>(body.edges.size());
  std::vector<bool> used_twice;
  for (std::size_t n = 0; n < borders.size(); ++n) {
    int sense = 0;
    for (std::size_t e = 0; e < first_of_edge.size() && !borders[n].pole; ++e) {
      const NaturalBorder& other = borders[first_of_edge[e]];
      if (other.pole || used_twice[e]) continue;
      // Nearly all others are elsewhere; looking at one place spares the rest.
      if (distance(other.middle, borders[n].middle) > tolerance) continue;
      sense = sense_of_meeting(other.curve, borders[n].curve, tolerance);
      if (sense == 0) continue;
      placed[n] = {old_edges + static_cast<std::uint32_t>(e), sense};
      used_twice[e] = true;
      break;
    }
    if (sense != 0) continue;
    placed[n] = {static_cast<std::uint32_t>(result.edges.size()), 1};
    const Tag face = body.faces[borders[n].face].tag;
    result.edges.push_back(
        {make_tag(0, face, static_cast<std::uint64_t>(borders[n].border)), borders[n].curve, 0.0});
    first_of_edge.push_back(n);
    used_twice.push_back(false);
  }
  // Counter-clockwise in the parameter plane: v first, u last, v last, u first.
  for (std::size_t n = 0; n < borders.size(); n += 4) {
    Loop loop;
    for (const auto& [place, along] :
         {std::pair<std::size_t, bool>{2, true}, {1, true}, {3, false}, {0, false}}) {
      const Placed& p = placed[n + place];
      const KnotVector& k = result.edges[p.edge].curve.knots;
      loop.push_back(
          {p.edge, (p.sense > 0) == along, fitted_to(borders[n + place].uv, k, p.sense)});
    }
    result.faces[borders[n].face].loops.push_back(std::move(loop));
  }
  refresh_gaps(result);
  return result;
}

bool borders_meet(const Body& body, double tolerance) {
  struct Sample {
    std::size_t face;
    Vec3 a, m, b;
  };
  std::vector<Sample> all;
  for (std::size_t f = 0; f < body.faces.size(); ++f) {
    if (body.faces[f].trimmed()) continue;
    const Surface& s = *body.faces[f].surface;
    for (const Border border : kBorders) {
      const bool of_u = border == Border::UMin || border == Border::UMax;
      const bool low = border == Border::UMin || border == Border::VMin;
      if ((of_u ? s.u : s.v).periodic || is_pole(s, border, tolerance)) continue;
      const auto at = [&](double share) {
        const KnotVector& fixed = of_u ? s.u : s.v;
        const KnotVector& along = of_u ? s.v : s.u;
        const double x = low ? fixed.first() : fixed.last();
        const double y = along.first() + along.length() * share;
        return of_u ? evaluate(s, x, y) : evaluate(s, y, x);
      };
      all.push_back({f, at(0.0), at(0.5), at(1.0)});
    }
  }
  for (std::size_t k = 0; k < all.size(); ++k)
    for (std::size_t m = k + 1; m < all.size(); ++m) {
      if (all[k].face == all[m].face || distance(all[k].m, all[m].m) > tolerance) continue;
      const auto near = [&](const Vec3& a, const Vec3& b) { return distance(a, b) <= tolerance; };
      if ((near(all[k].a, all[m].a) && near(all[k].b, all[m].b)) ||
          (near(all[k].a, all[m].b) && near(all[k].b, all[m].a)))
        return true;
    }
  return false;
}

bool bounds_volume(const Body& body, double tolerance) {
  if (body.faces.size() == 1 && !body.faces.front().trimmed())
    return is_closed(*body.faces.front().surface, 1e-9);
  const bool meet = !is_trimmed(body) && borders_meet(body, tolerance);
  return topology(meet ? with_explicit_borders(body, tolerance) : body).closed;
}

std::vector<Curve> edge_curves(const Body& body) {
  constexpr double kPole = 1e-9;  // mm
  std::vector<Curve> result;
  const Topology t = topology(body);
  for (const auto* edges : {&t.open_edges, &t.joined_edges})
    for (const std::uint32_t e : *edges) result.push_back(body.edges[e].curve);
  for (const Face& f : body.faces)
    for (const Border border : kBorders) {
      const Surface& s = *f.surface;
      const bool of_u = border == Border::UMin || border == Border::UMax;
      if (f.trimmed() || (of_u ? s.u : s.v).periodic || is_pole(s, border, kPole)) continue;
      result.push_back(border_of(s, border));
    }
  return result;
}

}  // namespace evenclay
