// Edges that follow the surfaces of their faces.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/body.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/projection.h"

namespace evenclay {

namespace {

// Evaluators of the surfaces, each made once.
class Evaluators {
 public:
  const SurfaceEvaluator& of(const Surface* s) {
    auto& slot = all_[s];
    if (!slot) slot.emplace(*s);
    return *slot;
  }

 private:
  std::map<const Surface*, std::optional<SurfaceEvaluator>> all_;
};

struct Side {
  const SurfaceEvaluator* surface;
  CurveEvaluator uv;
};

// Position and derivative of an edge on one of its faces.
CurveDerivatives on_face(const Side& side, double t) {
  const CurveDerivatives uv = side.uv.derivatives(t, 1);
  const PointTangents s = side.surface->tangents(uv.p.x, uv.p.y);
  CurveDerivatives c{};
  c.p = s.p;
  c.d1 = s.du * uv.d1.x + s.dv * uv.d1.y;
  return c;
}

CurveDerivatives between(const std::vector<Side>& sides, double t) {
  CurveDerivatives sum{};
  for (const Side& side : sides) {
    const CurveDerivatives c = on_face(side, t);
    sum.p += c.p;
    sum.d1 += c.d1;
  }
  sum.p *= 1.0 / static_cast<double>(sides.size());
  sum.d1 *= 1.0 / static_cast<double>(sides.size());
  return sum;
}

// Tolerances as shares of the body's size: of the laid curve, and below which an edge has no length.
constexpr double kLaid = 1e-7;
constexpr double kNoLength = 1e-9;

bool has_no_length(const std::vector<Side>& sides, const KnotVector& k, double size) {
  const Vec3 start = between(sides, k.first()).p;
  constexpr int kPlaces = 8;
  for (int n = 1; n <= kPlaces; ++n)
    if (distance(between(sides, k.first() + k.length() * n / kPlaces).p, start) > kNoLength * size)
      return false;
  return true;
}

double measured_gap(const Curve& edge, const std::vector<Side>& sides) {
  const CurveEvaluator curve(edge);
  const KnotVector& k = edge.knots;
  double gap = 0.0;
  constexpr int kPlaces = 50;  // a gap is looked for at so many places
  for (int n = 0; n <= kPlaces; ++n) {
    const double t = k.first() + k.length() * n / kPlaces;
    for (const Side& side : sides)
      gap = std::max(gap, distance(on_face(side, t).p, curve.point(t)));
  }
  return gap;
}

void lay(Edge& edge, const std::vector<Side>& sides, double size) {
  const KnotVector k = edge.curve.knots;
  if (has_no_length(sides, k, size)) {
    const Vec3 p = between(sides, k.first()).p;
    edge.curve = line_curve(p, p, k.first(), k.last());
    edge.gap = 0.0;
    return;
  }
  std::vector<double> breaks;
  for (const Side& side : sides)
    for (const double t : breakpoints(side.uv.curve().knots)) breaks.push_back(t);
  std::sort(breaks.begin(), breaks.end());
  breaks.erase(std::unique(breaks.begin(), breaks.end()), breaks.end());
  edge.curve = hermite_curve([&](double t) { return between(sides, t); }, breaks, kLaid * size);
  edge.gap = measured_gap(edge.curve, sides);
}

// The faces along each wanted edge.
std::vector<std::vector<Side>> sides_of(const Body& body, const std::vector<bool>& wanted,
                                        Evaluators& evaluators) {
  std::vector<std::vector<Side>> sides(body.edges.size());
  for (const Face& face : body.faces)
    for (const Loop& loop : face.loops)
      for (const EdgeUse& use : loop)
        if (wanted[use.edge])
          sides[use.edge].push_back({&evaluators.of(face.surface.get()), CurveEvaluator(use.uv)});
  return sides;
}

}  // namespace

void refresh_edges(Body& body, const std::vector<std::size_t>& faces) {
  std::vector<bool> wanted(body.edges.size(), faces.empty());
  for (const std::size_t f : faces)
    for (const Loop& loop : body.faces[f].loops)
      for (const EdgeUse& use : loop) wanted[use.edge] = true;
  Evaluators evaluators;
  const std::vector<std::vector<Side>> sides = sides_of(body, wanted, evaluators);
  const double scale = std::max(size(body), 1e-9);
  for (std::size_t e = 0; e < body.edges.size(); ++e)
    if (wanted[e] && !sides[e].empty()) lay(body.edges[e], sides[e], scale);
}

void refresh_gaps(Body& body) {
  Evaluators evaluators;
  const auto sides = sides_of(body, std::vector<bool>(body.edges.size(), true), evaluators);
  for (std::size_t e = 0; e < body.edges.size(); ++e)
    body.edges[e].gap = measured_gap(body.edges[e].curve, sides[e]);
}

namespace {

// On which borders of a clamped domain a parameter curve lies all along.
struct OnBorder {
  std::optional<double> u, v;
};
OnBorder border_of_use(const Curve& uv, const Surface& s) {
  OnBorder b;
  const auto all_at = [&](auto&& get, double value, double scale) {
    return std::all_of(uv.points.begin(), uv.points.end(),
                       [&](const Vec3& p) { return std::abs(get(p) - value) <= 1e-9 * scale; });
  };
  for (const double end : {s.u.first(), s.u.last()})
    if (all_at([](const Vec3& p) { return p.x; }, end, s.u.length())) b.u = end;
  for (const double end : {s.v.first(), s.v.last()})
    if (all_at([](const Vec3& p) { return p.y; }, end, s.v.length())) b.v = end;
  return b;
}

// An edge found again on a surface whose parameters run differently.
class Searcher {
 public:
  Searcher(const Surface& old_surface, const Surface& new_surface)
      : old_(old_surface),
        new_(new_surface),
        map_(scaled_map(old_surface, new_surface)),
        projector_(new_surface, 0) {}

  Curve search(const EdgeUse& use, const Curve& edge) const {
    const OnBorder border = border_of_use(use.uv, old_);
    const CurveEvaluator uv(use.uv);
    const CurveEvaluator curve(edge);
    // A pole's edge has no places to search: its parameters keep their shares.
    if (size(edge) <= kNoLength * size(new_)) {
      Curve scaled = use.uv;
      for (Vec3& p : scaled.points) p = mapped(p);
      return scaled;
    }
    const auto place = [&](double t) { return found(uv.point(t), curve.point(t), border); };
    const double h = edge.knots.length() * 1e-5;
    const auto function = [&](double t) {
      const double a = std::max(edge.knots.first(), t - h);
      const double b = std::min(edge.knots.last(), t + h);
      CurveDerivatives c{};
      c.p = place(t);
      c.d1 = (place(b) - place(a)) / (b - a);
      return c;
    };
    return hermite_curve(function, breakpoints(use.uv.knots),
                         1e-6 * (new_.u.length() + new_.v.length()), 200);
  }

 private:
  Vec3 mapped(const Vec3& p) const { return {map_.a * p.x + map_.e, map_.d * p.y + map_.f, 0.0}; }
  Vec3 found(const Vec3& old_place, const Vec3& at, const OnBorder& border) const {
    const Vec3 seed = mapped(old_place);
    const Projection p = projector_.closest_near(at, {seed.x, seed.y});
    Vec3 place{unwrapped(new_.u, p.u, seed.x), unwrapped(new_.v, p.v, seed.y), 0.0};
    if (border.u) place.x = seed.x;
    if (border.v) place.y = seed.y;
    return place;
  }
  // The same place of a closed direction, on the side of the seam where the seed is.
  static double unwrapped(const KnotVector& k, double value, double seed) {
    if (!k.periodic) return value;
    return value + std::round((seed - value) / k.length()) * k.length();
  }

  const Surface& old_;
  const Surface& new_;
  ParameterMap map_;
  SurfaceProjector projector_;
};

}  // namespace

Body with_surfaces(const Body& body, std::vector<Surface> surfaces, NewParameters parameters) {
  if (surfaces.size() != body.faces.size())
    throw Error(say("{} surfaces were made for {} faces.", surfaces.size(), body.faces.size()));
  Body result = body;
  std::vector<std::size_t> changed;
  for (std::size_t n = 0; n < surfaces.size(); ++n) {
    Face& face = result.faces[n];
    const Surface& old_surface = *body.faces[n].surface;
    if (surfaces[n] == old_surface) continue;
    face.surface = std::make_shared<const Surface>(std::move(surfaces[n]));
    if (!face.trimmed()) continue;
    changed.push_back(n);
    if (parameters == NewParameters::Scaled) {
      map_parameters(face, scaled_map(old_surface, *face.surface));
      continue;
    }
    const Searcher searcher(old_surface, *face.surface);
    for (Loop& loop : face.loops)
      for (EdgeUse& use : loop) use.uv = searcher.search(use, body.edges[use.edge].curve);
  }
  if (!changed.empty()) refresh_edges(result, changed);
  return result;
}

}  // namespace evenclay
