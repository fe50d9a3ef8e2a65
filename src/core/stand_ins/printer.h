// A stand-in for a printer that lays plastic in layers: how a form lies on its bed, its layers, time and material. The
// beds are made up; the sums are common practice, written out beside each value.
#pragma once

#include <array>
#include <span>
#include <string_view>
#include <vector>

#include "core/base/frame.h"
#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"

namespace evenclay {

struct PrintBed {
  std::string_view name, label;
  Vec3 size;  ///< width, depth and height, mm
};
std::span<const PrintBed> print_beds();

/// How it is printed; lengths in mm.
struct PrintSettings {
  Vec3 bed{220, 220, 250};
  double layer = 0.2;      ///< height of a layer, 0.02..2
  double line = 0.45;      ///< width of a line, 0.1..3
  double overhang = 45.0;  ///< degrees from the upright that still hold without support, 0..90
  int walls = 2;           ///< lines along each outline
  double infill = 0.15;    ///< share of the inside that is filled
  double support = 0.15;   ///< share of the support's volume that is filled
  double speed = 60.0;     ///< mm a second along a line
};

/// A form turned so that it lies on a bed: its turn, and what it costs there.
struct Lay {
  Frame turn;             ///< the world's axes as the form's own are turned to them; no origin
  double overhang = 0.0;  ///< mm² that lean over by more than the angle and do not lie on the bed
  double supported =
      0.0;  ///< mm³ beneath them down to the bed, as if nothing of the form were between
  double tips_at =
      0.0;    ///< degrees by which it may be tilted before it falls over; 0: it does not stand
  Vec3 size;  ///< of its box, turned about the upright so that it needs the smallest rectangle
  bool fits = false;
};

/// As the form stands, turned by degrees about x, then y, then z.
Lay lay_turned(const TriangleMesh& mesh, const std::array<double, 3>& degrees,
               const PrintSettings& settings);
/// Of the directions in which much of the form's area looks, the axes and the diagonals between them, the one to lie on
/// that fits the bed, stands, and has the least volume beneath its overhangs; of nearly equal ones (2 % of the form's box) the lowest. Throws Error
/// when there are no triangles, Cancelled.
Lay best_lay(const TriangleMesh& mesh, const PrintSettings& settings, Progress& progress);
/// The form on the middle of the bed, its lowest place at z = 0.
TriangleMesh laid(const TriangleMesh& mesh, const Lay& lay);

/// One layer: the outlines at the middle of its height, inside to the left.
struct Slice {
  double z = 0.0;  ///< where it was cut
  std::vector<std::vector<Vec3>> loops;
  std::size_t open = 0;  ///< outlines that do not close
  double area = 0.0;     ///< mm² inside
  double length = 0.0;   ///< mm of outlines
};
/// All layers of a form that stands on z = 0. Throws Error when there would be more than 20 000, Cancelled.
std::vector<Slice> slices(const TriangleMesh& mesh, double layer, Progress& progress);

struct PrintEstimate {
  double material = 0.0;  ///< mm³ of the form
  double support = 0.0;   ///< mm³ of its support
  double grams = 0.0;     ///< both, at 1.24 g/cm³ (polylactide, common practice)
  double filament = 0.0;  ///< m of thread of 1.75 mm
  double hours = 0.0;
};
/// Each layer: walls × outline × line + share × rest of its area, times its height; the first and last four layers are
/// filled. Time: length of all lines ÷ speed, a sixth more for ways between them, and 2 s a layer (common practice).
PrintEstimate estimate(const std::vector<Slice>& layers, double supported,
                       const PrintSettings& settings);

}  // namespace evenclay
