// The measures of a shape as one value and as the JSON that the runner prints.
#pragma once

#include <memory>
#include <optional>
#include <string>

#include "core/check/measures.h"
#include "core/document/operation.h"
#include "core/document/shape.h"
#include "core/points/symmetry.h"
#include "core/subdivision/crossings.h"
#include "core/subdivision/form_stretch.h"

namespace evenclay {

/// What the gauges show of one shape; absent where it has no meaning.
struct WatchReport;  // core/check/watch.h

struct Report {
  int points_u = 0, points_v = 0, degree_u = 0, degree_v = 0;  ///< of the first surface or curve
  std::size_t surfaces = 0, curves = 0, control_points = 0;
  std::size_t vertices = 0, triangles = 0;  ///< of a mesh
  std::size_t points = 0;                   ///< of a scan without triangles
  /// Of a subdivision form, whose area, volume and box are those of a mesh within 1e-4 of its size of the limit.
  std::size_t form_faces = 0, form_edges = 0;
  std::optional<std::vector<Crossing>> crossings = {};  ///< of a form, unless the hand is moving it
  std::optional<FormStretch> form_stretch = {};         ///< of a form
  std::optional<bool> watertight;                       ///< meshes, and single surfaces (closed)
  std::optional<double> gap;                            ///< mm, the greatest of a body's edges
  std::optional<Evenness> evenness;  ///< of a single surface, or of a single curve (u)
  std::optional<double> length;      ///< mm, of curves
  std::optional<Deviation> deviation;
  std::shared_ptr<const WatchReport> watched = nullptr;  ///< against what the part is watched
  std::optional<LeastRadius> least_radius;
  double area = 0.0;             ///< mm²
  std::optional<double> volume;  ///< mm³, of closed shapes
  Box3 box;
  struct Symmetry {
    SymmetryPlane plane = SymmetryPlane::None;  ///< a single one
    double max = 0.0;                           ///< mm
    Vec3 at;
  };
  std::vector<Symmetry> symmetry;  ///< of the planes that were asked for
};

/// How much of the report is wanted; previews leave out what is slow.
struct ReportOptions {
  int per_span = 10;
  bool area_and_volume = true;
  /// While a hand moves points: deviation one way from the same parameters (quick_deviation), on few
  /// samples, and no symmetry.
  bool quick = false;
  SymmetryPlane symmetry = SymmetryPlane::None;  ///< planes whose symmetry is measured
};

/// Samples a span for gauges during a drag: 3, fewer where there are so many spans that the hand would
/// have to wait.
int preview_per_span(const Shape& shape);

/// `against` may be null; it is left out when one is a curve and the other is not. Throws Cancelled.
Report report(const Shape& shape, const Shape* against, const ReportOptions& options,
              Progress& progress);

/// The planes that a Shaped points step keeps; None for any other operation.
SymmetryPlane symmetry_of(const Operation& operation);

/// JSON text with units in the key names; see docs/runner.md.
std::string to_json(const Report& report);

/// Empty for curves, which have measures of their own.
Measurable measurable(const Shape& shape);

}  // namespace evenclay
