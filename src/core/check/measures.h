// Every measure, defined once; gauges, runner and tests all call these.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/mesh/triangle_mesh.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// Two-sided deviation of two shapes, in mm.
struct Deviation {
  double max = 0.0;
  double mean = 0.0;          ///< weighted by area
  double percentile95 = 0.0;  ///< of the samples' distances, weighted by area
  Vec3 at;                    ///< place on the first shape (or on the second, if worst there)
  double signed_at = 0.0;     ///< positive where the first lies outside the second
};

/// Anything that can be measured: the faces of a body (copied, which is cheap), or a mesh (which must
/// outlive this).
struct Measurable {
  Body body;
  const TriangleMesh* mesh = nullptr;
  std::shared_ptr<const TriangleMesh> own = {};  ///< the mesh, where nobody else keeps it

  Measurable() = default;
  Measurable(std::shared_ptr<const TriangleMesh> m) : mesh(m.get()), own(std::move(m)) {}  // NOLINT
  Measurable(Body b) : body(std::move(b)) {}            // NOLINT: a body is measurable
  Measurable(const TriangleMesh& m) : mesh(&m) {}       // NOLINT
  Measurable(const Surface& s) : body(body_of({s})) {}  // NOLINT
};

/// At least `per_span` × `per_span` samples a span plus the borders, both ways; the worst places
/// are then refined by search on the surface. 10 a span is the definition; fewer is for previews.
/// Throws Error when either side is empty, Cancelled.
Deviation deviation(const Measurable& a, const Measurable& b, Progress& progress,
                    int per_span = 10);

/// The deviation of surfaces from those before while a hand moves points: one way, on at most
/// `samples` places, each from the place with the same parameters there. Coarse: a place whose nearest
/// point lies elsewhere is taken too far. Nothing when the faces do not answer each other in number,
/// domain and closed directions. Throws Cancelled.
std::optional<Deviation> quick_deviation(const Body& now, const Body& before, std::size_t samples,
                                         Progress& progress);

/// Distance of each point from a shape, in mm: positive on the side its normals point to. Runs on all
/// cores. Throws Error when the shape is empty, Cancelled.
std::vector<double> signed_distances(std::span<const Vec3> points, const Measurable& shape,
                                     Progress& progress);

/// Greatest distance between a shape and its mirror image about the plane through the origin across
/// a world axis (0 x, 1 y, 2 z), and the place on the shape. Sampled `per_span` × `per_span` a span,
/// the borders included. Throws Error when the shape is empty, Cancelled.
struct MirrorGap {
  double max = 0.0;  ///< mm
  Vec3 at;
};
MirrorGap mirror_gap(const Measurable& shape, int axis, Progress& progress, int per_span = 10);

/// How evenly the parameter runs in a direction, 0..100: along 16 iso-curves (those shorter than
/// 1e-6 of the longest left out) the arc lengths over 64 equal parameter steps;
/// 100 · max(0, 1 − standard deviation ÷ mean), averaged over the curves.
struct Evenness {
  double u_percent = 0.0;
  double v_percent = 0.0;
};
Evenness evenness(const Surface& surface);

/// Principal curvatures (1/mm) from the fundamental forms, |k1| >= |k2|; positive bends towards
/// the normal's side. Source: M. do Carmo, Differential Geometry of Curves and Surfaces, 1976,
/// section 3.3. Nothing where the surface has no tangent plane.
struct Curvature {
  double k1 = 0.0, k2 = 0.0;
  double gaussian() const { return k1 * k2; }
  double mean() const { return 0.5 * (k1 + k2); }
};
std::optional<Curvature> curvature(const Surface& surface, double u, double v);
std::optional<Curvature> curvature(const PointSecond& derivatives);

/// Smallest radius of curvature of the surface and its place; nothing on a flat surface.
struct LeastRadius {
  double radius = 0.0;  ///< mm
  Vec3 at;
};
std::optional<LeastRadius> least_radius(const Surface& surface, int per_span = 10);
/// … of a face, looking only inside its loops. Throws Cancelled.
std::optional<LeastRadius> least_radius(const Face& face, int per_span, Progress& progress);

/// Area and volume by Gauss quadrature (8 points, spans halved until settled); the volume counts
/// the signed cone from the origin to each surface, so it is meant for closed surfaces.
double area(const Surface& surface);
double volume(const Surface& surface);

/// … of a face. Inside loops the integral is taken along u up to the loops and then along the loops
/// (Green's theorem), 1e-8 on smooth loops. Volumes of flipped faces count the other way, so that the
/// sum over a closed body is its volume. Throws Cancelled.
double area(const Face& face, Progress& progress);
double volume(const Face& face, Progress& progress);

/// The tight box: extremes searched on the surface, not the box of its control points.
Box3 tight_box(const Surface& surface);
/// … of a face; `edges` are its body's. Throws Cancelled.
Box3 tight_box(const Face& face, const Body& body, Progress& progress);

}  // namespace evenclay
