// The innermost loops of limits, compiled twice as core/nurbs/kernels.h tells, and chosen at run time. Raw numbers only.
#pragma once

#include <cstddef>

namespace evenclay::limit_kernels {

/// Places of a row in whole groups of four.
constexpr std::size_t in_fours(std::size_t places) {
  return (places + 3) / 4 * 4;
}

/// Cubic B-spline functions of one span and their slopes at `places` places (2 … 65): [function * in_fours(places) + place],
/// the last again behind it.
struct SpanTables {
  std::size_t places;
  const double *basis, *slope;
};

/// Where places of a face and unit normals go, three numbers each; normals without a direction are (0, 0, 1). The inner
/// ones row by row, then the four sides with their ends: the first column, the last row, the last column, the first row.
struct FaceOut {
  double *points, *normals;                  ///< (places − 2)²
  double *side_points[4], *side_normals[4];  ///< places each
};

/// A face as a 4 × 4 patch: points as planes, [row * 4 + column].
using PatchFn = void (*)(const SpanTables&, const double* x, const double* y, const double* z,
                         const FaceOut& out);

/// A face by its matrix (face_stencils.h), of places × places.
using StencilFn = void (*)(const double* planes, std::size_t columns, std::size_t places,
                           const double* x, const double* y, const double* z, const FaceOut& out);

struct Table {
  PatchFn patch;
  StencilFn stencil;
};
extern const Table kBaseline, kAvx2;
const Table& best();

}  // namespace evenclay::limit_kernels
