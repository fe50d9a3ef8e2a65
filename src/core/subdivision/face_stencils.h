// The limit of one quadrangle that is no B-spline patch, as a dense matrix of the points around it; faces that hang
// together alike share one.
// Source: the limit of a face depends on the faces around its corners alone; after one subdivision all but the quarters at
// its special corners are B-spline patches (J. Stam, Exact evaluation of Catmull-Clark subdivision surfaces, 1998, who
// uses eigenvectors where this multiplies the subdivisions out).
#pragma once

#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <vector>

#include "core/subdivision/patches.h"

namespace evenclay {

/// The faces around the corners of a cell, how they hang together and which edges there are sharp.
struct Neighbourhood {
  std::vector<int>
      signature;  ///< equal where two hang together alike, and the limits have the same weights
  std::vector<std::uint32_t>
      points;  ///< of the form; the corners of the cell first; one may occur twice
};
/// Of a cell of a form of quadrangles whose creases are sharp or none. Nothing where a corner inside the form has less than
/// three faces.
std::optional<Neighbourhood> neighbourhood(const Form& form, const FormTopology& topology,
                                           const Cell& cell);

/// Places and two directions in the tangent plane (their cross product points outwards) on a grid of cells × cells
/// pieces of a face: planes[(kind * columns + column) * grid + i * (cells + 1) + j], kinds in this order, a column for each
/// point of the neighbourhood, i along the cell's first side. Directions at special corners of the cell are left 0.
struct FaceStencil {
  std::size_t columns = 0, grid = 0;
  std::vector<double> planes;
};

/// Makes each matrix once.
class FaceStencils {
 public:
  /// `levels` 0 … 6: 2^levels cells a side. Throws Cancelled.
  std::uint32_t number(const std::vector<int>& signature, int levels, Progress& progress);
  const FaceStencil& stencil(std::uint32_t number) const { return all_[number]; }

 private:
  FaceStencil make(const std::vector<int>& signature, int levels, Progress& progress);
  std::map<std::pair<std::vector<int>, int>, std::uint32_t> numbers_;
  std::vector<FaceStencil> all_;
};

}  // namespace evenclay
