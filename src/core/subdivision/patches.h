// Where the limit of a form is a cubic B-spline, and how its smooth pieces are found there.
// Source: E. Catmull, J. Clark 1978: away from extraordinary points the limit is the uniform bicubic B-spline of the
// points around; border and crease rules are those of a B-spline with its outer row mirrored at the border.
#pragma once

#include <array>
#include <optional>

#include "core/subdivision/form.h"
#include "core/subdivision/weights.h"

namespace evenclay {

/// A quadrangle seen from one of its corners: points are that corner and the next ones counter-clockwise.
struct Cell {
  std::uint32_t face = 0;
  std::array<std::uint32_t, 4> points{};
};
/// The face with the corner `from` first. Only for quadrangles.
Cell cell_at(const Form& form, std::uint32_t face, std::uint32_t from);

/// The four sides of a cell: from its first to its second point (0, down), second to third (1, right), third to fourth
/// (2, up), fourth to first (3, left).
enum class Side { Down, Right, Up, Left };

/// What is needed again and again to walk over a form whose faces are quadrangles with sharp creases only.
class Walker {
 public:
  /// Throws Error as topology() does.
  explicit Walker(const Form& form);

  const Form& form() const { return form_; }
  const FormTopology& topology() const { return *topology_; }
  /// A border, or a crease of kSharp.
  bool sharp(std::uint32_t a, std::uint32_t b) const;
  /// The cell beyond a side, turned the same way; nothing across a sharp edge.
  std::optional<Cell> beyond(const Cell& cell, Side side) const;
  /// Whether the limit near that corner of a face is that of a B-spline.
  bool regular(std::uint32_t face, std::uint32_t corner) const;
  /// All four corners.
  bool regular(std::uint32_t face) const;
  /// Faces around a point between sharp edges, on the side of a face: their count, and whether they go all round.
  struct Sector {
    std::size_t faces = 0;
    bool closed = false;
    std::size_t sharp_edges = 0;  ///< at the point, all round
  };
  Sector sector(std::uint32_t face, std::uint32_t point) const;

 private:
  const Form& form_;
  std::shared_ptr<const FormLinks> links_;
  const FormTopology* topology_ = nullptr;
};

/// The 4 × 4 points that rule a cell whose corners are all regular: [i][j], i along its first side, j along its last, the
/// cell's own from 1 to 2.
using PatchPoints = std::array<std::array<Vec3, 4>, 4>;
PatchPoints patch_points(const Walker& walker, const Cell& cell);
/// The same as sums of points of the form: mirrored ones are weighed.
std::array<std::array<Weights, 4>, 4> patch_weights(const Walker& walker, const Cell& cell);

/// The four cubic B-spline functions of one span at t in 0 … 1, and their first derivatives.
std::array<double, 4> span_basis(double t);
std::array<double, 4> span_slope(double t);

/// Value and first derivatives of the uniform bicubic patch at (u, v) in 0 … 1.
struct PatchPlace {
  Vec3 p, du, dv;
};
PatchPlace evaluate(const PatchPoints& points, double u, double v);

}  // namespace evenclay
