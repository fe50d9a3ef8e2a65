#include "core/body/join.h"

#include <algorithm>

#include "core/body/topology.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/knot_operations.h"

namespace evenclay {

int sense_of_meeting(const Curve& a, const Curve& b, double tolerance) {
  const CurveEvaluator ea(a);
  const CurveEvaluator eb(b);
  const auto at = [](const CurveEvaluator& e, double share) {
    return e.point(e.curve().knots.first() + share * e.curve().knots.length());
  };
  for (const int sense : {1, -1}) {
    bool meets = true;
    constexpr int kPlaces = 12;
    for (int k = 0; k <= kPlaces && meets; ++k) {
      const double share = static_cast<double>(k) / kPlaces;
      meets = distance(at(ea, share), at(eb, sense > 0 ? share : 1.0 - share)) <= tolerance;
    }
    if (meets) return sense;
  }
  return 0;
}

namespace {

Curve turned_round(const Curve& uv) {
  return first_row(reversed(strip_of(uv, {0, 0, 1}), Direction::U));
}

// The use of one edge becomes a use of another that lies on it.
void use_instead(EdgeUse& use, std::uint32_t edge, int sense, const KnotVector& domain) {
  use.edge = edge;
  if (sense < 0) {
    use.forward = !use.forward;
    use.uv = turned_round(use.uv);
  }
  use.uv = reparameterised(use.uv, domain.first(), domain.last());
}

// Which open edge each of them becomes, and in which sense.
struct Becomes {
  std::uint32_t edge;
  int sense;
};

std::vector<Becomes> pairs_of(const Body& body, const Topology& t, double tolerance) {
  std::vector<Becomes> becomes;
  for (std::uint32_t e = 0; e < body.edges.size(); ++e) becomes.push_back({e, 1});
  struct Middle {
    std::uint32_t edge;
    Vec3 at;
    bool taken;
  };
  std::vector<Middle> open;
  for (const std::uint32_t e : t.open_edges) {
    const Curve& c = body.edges[e].curve;
    open.push_back({e, evaluate(c, c.knots.first() + 0.5 * c.knots.length()), false});
  }
  // Sorted along x: only neighbours there are looked at.
  std::sort(open.begin(), open.end(), [](const Middle& a, const Middle& b) {
    return a.at.x != b.at.x ? a.at.x < b.at.x : a.edge < b.edge;
  });
  for (std::size_t a = 0; a < open.size(); ++a)
    for (std::size_t b = a + 1; b < open.size() && open[b].at.x - open[a].at.x <= tolerance; ++b) {
      if (open[a].taken || open[b].taken || distance(open[a].at, open[b].at) > tolerance) continue;
      const std::uint32_t kept = std::min(open[a].edge, open[b].edge);
      const std::uint32_t gone = std::max(open[a].edge, open[b].edge);
      const int sense = sense_of_meeting(body.edges[kept].curve, body.edges[gone].curve, tolerance);
      if (sense == 0) continue;
      open[a].taken = open[b].taken = true;
      becomes[gone] = {kept, sense};
    }
  return becomes;
}

// Without the edges that no loop uses.
void drop_unused(Body& body) {
  std::vector<std::uint32_t> number(body.edges.size(), 0);
  for (const Face& f : body.faces)
    for (const Loop& loop : f.loops)
      for (const EdgeUse& use : loop) number[use.edge] = 1;
  std::vector<Edge> edges;
  for (std::size_t e = 0; e < number.size(); ++e) {
    if (number[e] == 0) continue;
    number[e] = static_cast<std::uint32_t>(edges.size());
    edges.push_back(std::move(body.edges[e]));
  }
  body.edges = std::move(edges);
  for (Face& f : body.faces)
    for (Loop& loop : f.loops)
      for (EdgeUse& use : loop) use.edge = number[use.edge];
}

}  // namespace

JoinedBody joined(const Body& body, double tolerance) {
  JoinedBody result{with_explicit_borders(body, tolerance), 0, 0.0};
  Body& b = result.body;
  const std::vector<Becomes> becomes = pairs_of(b, topology(b), tolerance);
  for (Face& f : b.faces)
    for (Loop& loop : f.loops)
      for (EdgeUse& use : loop)
        if (const Becomes& to = becomes[use.edge]; to.edge != use.edge)
          use_instead(use, to.edge, to.sense, b.edges[to.edge].curve.knots);
  drop_unused(b);
  refresh_gaps(b);
  result.open = topology(b).open_edges.size();
  for (const Edge& e : b.edges) result.gap = std::max(result.gap, e.gap);
  return result;
}

}  // namespace evenclay
