#include "core/source/convert.h"

#include <algorithm>
#include <optional>

#include "core/base/error.h"
#include "core/body/region.h"
#include "core/nurbs/fit.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/projection.h"
#include "core/nurbs/refit.h"
#include "core/source/border_surface.h"
#include "core/source/compatible.h"

namespace evenclay {

namespace {

// On closed directions a surface refitted stays closed.
Surface on_grid(const Surface& s, int nu, int nv, Progress& progress) {
  return refit(s, uniform_knots(nu, 3, s.u.periodic), uniform_knots(nv, 3, s.v.periodic), {},
               progress);
}

// The four edges of the face's only loop, as they are walked; nothing when there are others.
std::optional<std::vector<Curve>> four_edges(const Face& face, const Body& body) {
  if (face.loops.size() != 1 || face.loops[0].size() != 4) return std::nullopt;
  std::vector<Curve> result;
  for (const EdgeUse& use : face.loops[0]) {
    const Curve& c = body.edges[use.edge].curve;
    if (c.knots.periodic || !(size(c) > 1e-9 * size(*face.surface))) return std::nullopt;
    result.push_back(use.forward ? c : reversed(c));
  }
  for (std::size_t k = 0; k < 4; ++k)
    for (std::size_t n = k + 1; n < 4; ++n)
      if (face.loops[0][k].edge == face.loops[0][n].edge) return std::nullopt;  // a seam
  return result;
}

Surface between_edges(const Face& face, const std::vector<Curve>& edges, int nu, int nv,
                      Progress& progress) {
  double gap = 1e-6 * size(*face.surface);
  for (std::size_t k = 0; k < 4; ++k)
    gap = std::max(gap,
                   2.0 * distance(evaluate(edges[k], edges[k].knots.last()),
                                  evaluate(edges[(k + 1) % 4], edges[(k + 1) % 4].knots.first())));
  const Surface patch = coons(four_borders(edges, gap));
  const SurfaceProjector onto(*face.surface);
  const KnotVector ku = uniform_knots(nu, 3, false);
  const KnotVector kv = uniform_knots(nv, 3, false);
  const FitSamples u = fit_samples(ku, breakpoints(ku));
  const FitSamples v = fit_samples(kv, breakpoints(kv));
  std::vector<Vec3> places;
  for (const double a : u.places)
    for (const double b : v.places)
      places.push_back(evaluate(patch, patch.u.first() + a * patch.u.length(),
                                patch.v.first() + b * patch.v.length()));
  std::vector<Projection> feet(places.size());
  onto.closest(places, feet, progress);
  std::vector<double> values;
  for (std::size_t k = 0; k < places.size(); ++k) {
    const std::size_t i = k / v.places.size();
    const std::size_t j = k % v.places.size();
    const bool border = i == 0 || j == 0 || i + 1 == u.places.size() || j + 1 == v.places.size();
    const Vec3& p = border ? places[k] : feet[k].point;
    values.insert(values.end(), {p.x, p.y, p.z});
  }
  const std::vector<double> x =
      fit_grid(ku, kv, {u.places, u.weights, v.places, v.weights}, values, 3, progress);
  Surface s{ku, kv, Grid<Vec3>(nu, nv), {}};
  for (std::size_t k = 0; k < s.points.values().size(); ++k)
    s.points.values()[k] = {x[3 * k], x[3 * k + 1], x[3 * k + 2]};
  return s;
}

// The rectangle of parameters around the loops; closed directions that are not used whole are opened.
Surface cut_to_loops(const Face& face) {
  Surface s = *face.surface;
  const FaceRegion region(face);
  const auto cut = [&](Direction d, double low, double high) {
    const KnotVector k = knots_of(s, d);
    const double near = 1e-6 * k.length();
    if (high - low > k.length() - near) return;
    if (k.periodic) {
      s = opened(s, d, into_domain(k, low));
      const double begin = knots_of(s, d).first();
      high = begin + (high - low);
      low = begin;
    }
    if (high < knots_of(s, d).last() - near) s = split(s, d, high).first;
    if (low > knots_of(s, d).first() + near) s = split(s, d, low).second;
  };
  cut(Direction::U, region.u_low(), region.u_high());
  cut(Direction::V, region.v_low(), region.v_high());
  return s;
}

}  // namespace

Converted converted(const Face& face, const Body& body, int nu, int nv, Progress& progress) {
  if (!face.trimmed()) {
    if (!face.surface->rational()) return {*face.surface, Conversion::Unchanged};
    return {on_grid(*face.surface, nu, nv, progress), Conversion::Unweighted};
  }
  if (const auto edges = four_edges(face, body)) {
    try {
      return {between_edges(face, *edges, nu, nv, progress), Conversion::FourBorders};
    } catch (const Error&) {
      // Borders that cannot be blended: the surface's own parameters are taken instead.
    }
  }
  return {on_grid(cut_to_loops(face), nu, nv, progress), Conversion::TrimsLost};
}

}  // namespace evenclay
