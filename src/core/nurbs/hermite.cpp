#include "core/nurbs/hermite.h"

#include <cassert>

namespace evenclay {

namespace {

struct Node {
  double t;
  Vec3 p, d;
};

Node node_at(const CurveFunction& f, double t) {
  const CurveDerivatives c = f(t);
  return {t, c.p, c.d1};
}

// Middle of the cubic piece between two nodes.
Vec3 middle(const Node& a, const Node& b) {
  return (a.p + b.p) * 0.5 + (a.d - b.d) * ((b.t - a.t) / 8.0);
}

void add_pieces(const CurveFunction& f, const Node& a, const Node& b, double tolerance, int depth,
                std::size_t most, std::vector<Node>& out) {
  const Node m = node_at(f, 0.5 * (a.t + b.t));
  const bool close = distance(m.p, middle(a, b)) <= tolerance;
  if (close || depth == 0 || out.size() + 1 >= most) {
    out.push_back(b);
    return;
  }
  add_pieces(f, a, m, tolerance, depth - 1, most, out);
  add_pieces(f, m, b, tolerance, depth - 1, most, out);
}

}  // namespace

Curve hermite_curve(const CurveFunction& f, std::span<const double> breaks, double tolerance,
                    int most) {
  assert(breaks.size() >= 2 && most >= 1);
  constexpr int kDepth = 12;
  std::vector<Node> nodes{node_at(f, breaks.front())};
  for (std::size_t k = 1; k < breaks.size(); ++k)
    add_pieces(f, nodes.back(), node_at(f, breaks[k]), tolerance, kDepth,
               static_cast<std::size_t>(most), nodes);
  // A piece over h has the control points p0, p0 + h d0 / 3, p1 − h d1 / 3, p1; with double knots the
  // ones at the nodes are not stored.
  Curve c;
  c.knots.degree = 3;
  c.points.push_back(nodes.front().p);
  c.knots.knots.assign(4, nodes.front().t);
  for (std::size_t k = 1; k < nodes.size(); ++k) {
    const Node& a = nodes[k - 1];
    const Node& b = nodes[k];
    const double h = (b.t - a.t) / 3.0;
    c.points.push_back(a.p + a.d * h);
    c.points.push_back(b.p - b.d * h);
    const bool end = k + 1 == nodes.size();
    c.knots.knots.insert(c.knots.knots.end(), end ? 4 : 2, b.t);
  }
  c.points.push_back(nodes.back().p);
  return c;
}

Curve line_curve(const Vec3& a, const Vec3& b, double t0, double t1) {
  return {{1, false, {t0, t0, t1, t1}}, {a, b}, {}};
}

Curve reparameterised(const Curve& curve, double first, double last) {
  Curve c = curve;
  const double f = (last - first) / curve.knots.length();
  for (double& t : c.knots.knots) t = first + (t - curve.knots.first()) * f;
  return c;
}

}  // namespace evenclay
