#include "core/cut/edge_chain.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/cut/prepared.h"
#include "core/cut/round.h"
#include "core/nurbs/quadrature.h"

namespace evenclay {

namespace {

constexpr int kLeastSteps = 64;

// Edges in walking order, each with the corner it is left by.
struct Walk {
  std::vector<std::pair<std::size_t, bool>> edges;  // forward
  bool closed = false;
};

Walk walk_of(const Topology& t, const std::vector<std::size_t>& edges) {
  const auto degree = [&](std::uint32_t corner) {
    int n = 0;
    for (const std::size_t e : edges)
      n += (t.corners[e][0] == corner ? 1 : 0) + (t.corners[e][1] == corner ? 1 : 0);
    return n;
  };
  Walk walk;
  std::size_t first = edges.front();
  bool forward = true;
  for (const std::size_t e : edges)
    for (const std::size_t end : {std::size_t{0}, std::size_t{1}})
      if (degree(t.corners[e][end]) == 1) {
        first = e;
        forward = end == 0;
      }
  std::vector<std::size_t> left = edges;
  std::uint32_t at = t.corners[first][forward ? 0 : 1];
  const std::uint32_t begin = at;
  std::size_t next = first;
  while (true) {
    const bool f = t.corners[next][0] == at;
    walk.edges.emplace_back(next, f);
    std::erase(left, next);
    at = t.corners[next][f ? 1 : 0];
    const auto found = std::find_if(left.begin(), left.end(), [&](std::size_t e) {
      return t.corners[e][0] == at || t.corners[e][1] == at;
    });
    if (found == left.end()) break;
    next = *found;
  }
  if (!left.empty())
    throw Error(say(
        "The picked edges do not hang together in one line. Pick edges that follow each other."));
  walk.closed = at == begin;
  return walk;
}

Vec3 leaving(const Curve& c, bool end, bool forward) {
  const Vec3 d = derivatives(c, end ? c.knots.last() : c.knots.first(), 1).d1;
  return normalized(d) * (forward ? 1.0 : -1.0);
}

// Parameters at which a curve in the parameter plane crosses knot lines of the surface; not where it runs along them.
std::vector<double> crossings(const Curve& uv, const Surface& s) {
  std::vector<double> result;
  const CurveEvaluator e(uv);
  constexpr int kSamples = 256;
  const KnotVector& k = uv.knots;
  std::vector<Vec3> at;
  for (int n = 0; n <= kSamples; ++n) at.push_back(e.point(k.first() + k.length() * n / kSamples));
  const auto along = [&](const KnotVector& knots, auto&& get) {
    for (const double line : breakpoints(knots)) {
      for (int n = 0; n < kSamples; ++n) {
        const auto i = static_cast<std::size_t>(n);
        double low = k.first() + k.length() * n / kSamples, high = low + k.length() / kSamples;
        const double before = get(at[i]) - line, after = get(at[i + 1]) - line;
        if (before == 0.0 && after != 0.0) result.push_back(low);
        if (!(before * after < 0.0)) continue;
        for (int pass = 0; pass < 40; ++pass) {
          const double middle = 0.5 * (low + high);
          ((get(e.point(middle)) - line) * before > 0.0 ? low : high) = middle;
        }
        result.push_back(0.5 * (low + high));
      }
    }
  };
  along(s.u, [](const Vec3& p) { return p.x; });
  along(s.v, [](const Vec3& p) { return p.y; });
  return result;
}

}  // namespace

EdgeChain::EdgeChain(const Body& body, const std::vector<std::size_t>& edges) : body_(body) {
  if (edges.empty()) throw Error(say("No edge is picked. Click an edge of the part."));
  const Topology t = topology(body);
  const Walk walk = walk_of(t, edges);
  closed_ = walk.closed;
  for (const auto& [e, forward] : walk.edges) {
    const UsePlace& use = t.uses[e].front();
    Link link{e,        forward,   length_,
              {0.0},    {},        use.face,
              use.loop, use.place, loops_turned(body.faces[use.face])[use.loop]};
    const CurveEvaluator c(body.edges[e].curve);
    const KnotVector& k = c.curve().knots;
    const int steps = std::max(kLeastSteps, 8 * static_cast<int>(breakpoints(k).size()));
    // mm by a step of the parameter.
    const auto speed = [&](double step) {
      const double share = step / steps;
      const double at = k.first() + (forward ? share : 1.0 - share) * k.length();
      return evenclay::length(c.derivatives(at, 1).d1) * k.length() / steps;
    };
    const auto slope = [&](double step) { return 1.0 / std::max(speed(step), 1e-300); };
    link.slopes.push_back(slope(0));
    for (int n = 1; n <= steps; ++n) {
      const double piece = integrate(n - 1, n, speed);
      link.lengths.push_back(link.lengths.back() + piece);
      link.slopes.push_back(slope(n));
    }
    length_ += link.lengths.back();
    links_.push_back(std::move(link));
    order_.push_back(e);
  }
  const double limit = std::cos(5.0 * std::numbers::pi / 180.0);
  for (std::size_t k = 0; k + (closed_ ? 0 : 1) < links_.size(); ++k) {
    const Link& a = links_[k];
    const Link& b = links_[(k + 1) % links_.size()];
    const Curve& ca = body.edges[a.edge].curve;
    const Curve& cb = body.edges[b.edge].curve;
    if (dot(leaving(ca, a.forward, a.forward), leaving(cb, !b.forward, b.forward)) < limit)
      throw Error(
          say("The picked edges turn at a corner {}. Pick only edges that go on smoothly, or round "
              "the corner first.",
              place_words(a.forward ? ca.points.back() : ca.points.front())));
  }
}

std::pair<const EdgeChain::Link*, double> EdgeChain::find(double share) const {
  double way =
      closed_ ? (share - std::floor(share)) * length_ : std::clamp(share, 0.0, 1.0) * length_;
  const Link* link = &links_.back();
  for (const Link& l : links_)
    if (way <= l.begin + l.lengths.back()) {
      link = &l;
      break;
    }
  way = std::clamp(way - link->begin, 0.0, link->lengths.back());
  const auto above = std::upper_bound(link->lengths.begin() + 1, link->lengths.end() - 1, way);
  const auto n = static_cast<std::size_t>(above - link->lengths.begin());
  const double low = link->lengths[n - 1], high = link->lengths[n];
  // A cubic between the steps, so that places run smoothly.
  const double h = high - low;
  const double w = h > 0.0 ? (way - low) / h : 0.0;
  const double step = static_cast<double>(n - 1) + w * w * (3.0 - 2.0 * w) +
                      h * w * (1.0 - w) * ((1.0 - w) * link->slopes[n - 1] - w * link->slopes[n]);
  const KnotVector& k = body_.edges[link->edge].curve.knots;
  const double s = step / static_cast<double>(link->lengths.size() - 1);
  return {link, k.first() + (link->forward ? s : 1.0 - s) * k.length()};
}

Vec3 EdgeChain::point(double share) const {
  const auto [link, t] = find(share);
  return evaluate(body_.edges[link->edge].curve, t);
}

std::vector<double> EdgeChain::knots() const {
  std::vector<double> result;
  for (const Link& link : links_) {
    const Face& face = body_.faces[link.face];
    const Curve& uv = face.loops[link.loop][link.place].uv;
    for (const double t : crossings(uv, *face.surface)) {
      const double share = share_of(link, t);
      if (share > 1e-9 && share < 1.0 - 1e-9) result.push_back(share);
    }
    result.push_back(link.begin / length_);  // where the next edge begins
  }
  std::sort(result.begin(), result.end());
  return result;
}

// Newton's method on the way up to the parameter: the step itself is a fair start.
double EdgeChain::share_of(const Link& link, double t) const {
  const Curve& curve = body_.edges[link.edge].curve;
  const KnotVector& k = curve.knots;
  const std::size_t steps = link.lengths.size() - 1;
  double s = (t - k.first()) / k.length() * static_cast<double>(steps);
  if (!link.forward) s = static_cast<double>(steps) - s;
  const auto n = std::min(static_cast<std::size_t>(std::max(s, 0.0)), steps - 1);
  double way =
      link.lengths[n] + (link.lengths[n + 1] - link.lengths[n]) * (s - static_cast<double>(n));
  for (int pass = 0; pass < 4; ++pass) {
    const auto [at, found] = find((link.begin + way) / length_);
    if (at != &link) break;
    way +=
        (link.forward ? t - found : found - t) * evenclay::length(derivatives(curve, found, 1).d1);
    way = std::clamp(way, 0.0, link.lengths.back());
  }
  return (link.begin + way) / length_;
}

ChainPlace EdgeChain::at(double share, int order) const {
  const auto [link, t] = find(share);
  const Face& face = body_.faces[link->face];
  const EdgeUse& use = face.loops[link->loop][link->place];
  const CurveDerivatives uv = derivatives(use.uv, t, 1);
  const SurfaceDerivatives s = derivatives(*face.surface, uv.p.x, uv.p.y, std::max(order, 1));
  ChainPlace result;
  result.face = link->face;
  result.u = uv.p.x;
  result.v = uv.p.y;
  result.p = s.p();
  const Vec3 n = normal(*face.surface, uv.p.x, uv.p.y);
  const Vec3 along = normalized(s.du() * uv.d1.x + s.dv() * uv.d1.y);
  // The face lies to the left of its loop as it is walked.
  result.out = -normalized(cross(n, along * (use.forward != link->turned ? 1.0 : -1.0)));
  result.along = along * (link->forward ? 1.0 : -1.0);
  const double e = dot(s.du(), s.du()), f = dot(s.du(), s.dv()), g = dot(s.dv(), s.dv());
  const double det = e * g - f * f;
  if (!(det > 1e-14 * e * g))
    throw Error(
        say("The edge runs through a pole, where the face has no direction. Pick another edge."));
  const double a = (g * dot(result.out, s.du()) - f * dot(result.out, s.dv())) / det;
  const double b = (e * dot(result.out, s.dv()) - f * dot(result.out, s.du())) / det;
  result.d2 = s.duu() * (a * a) + s.duv() * (2.0 * a * b) + s.dvv() * (b * b);
  result.d3 = s.d[3][0] * (a * a * a) + s.d[2][1] * (3.0 * a * a * b) +
              s.d[1][2] * (3.0 * a * b * b) + s.d[0][3] * (b * b * b);
  return result;
}

ChainPair nearest_chains(const Body& a, const Body& b, bool same) {
  const auto chains = [](const Body& body) {
    const Topology t = topology(body);
    std::vector<std::vector<std::size_t>> result;
    std::vector<bool> taken(body.edges.size(), false);
    for (const std::uint32_t e : t.open_edges) {
      if (taken[e]) continue;
      std::vector<std::size_t> chain = smooth_chain(body, t, e);
      for (const std::size_t k : chain) taken[k] = true;
      result.push_back(std::move(chain));
    }
    return result;
  };
  const auto of_a = chains(a);
  const auto of_b = same ? of_a : chains(b);
  ChainPair best;
  double least = 1e300;
  for (std::size_t i = 0; i < of_a.size(); ++i)
    for (std::size_t k = same ? i + 1 : 0; k < of_b.size(); ++k) {
      try {
        const EdgeChain ca(a, of_a[i]);
        const EdgeChain cb(b, of_b[k]);
        if (ca.closed() != cb.closed()) continue;
        double sum = 0.0;
        constexpr int kPlaces = 24;
        for (int n = 0; n < kPlaces; ++n) {
          double near = 1e300;
          for (int m = 0; m < kPlaces; ++m)
            near = std::min(near,
                            distance(ca.point((n + 0.5) / kPlaces), cb.point((m + 0.5) / kPlaces)));
          sum += near;
        }
        if (sum >= least) continue;
        least = sum;
        best = {of_a[i], of_b[k]};
      } catch (const Error&) {
        continue;
      }
    }
  return best;
}

}  // namespace evenclay
