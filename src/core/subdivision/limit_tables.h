// What a LimitPlan keeps: how the faces of a form lie in the mesh of its limit, and by what each is evaluated.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <vector>

#include "core/subdivision/face_stencils.h"

namespace evenclay {

/// A quadrangle of the form, once that has been subdivided until limits are known. Its cell begins at any of its corners.
struct LimitFace {
  static constexpr std::uint32_t kPatch = 0xFFFFFFFF;
  /// Vertices between two corners, as this face walks along the side when it is its own, else against it.
  struct Strip {
    std::uint32_t first = 0;
    bool own = false;
  };
  std::uint32_t first_point = 0, points = 16;  ///< in LimitTables::gather
  std::uint32_t stencil = kPatch;              ///< a B-spline patch, or the matrix with that number
  std::uint32_t turn = 0;                  ///< the corner of the face with which the cell begins
  std::array<std::uint32_t, 4> corners{};  ///< vertices, of the cell
  std::array<bool, 4> own_corners{};       ///< evaluated with this face
  std::array<Strip, 4> sides;
  std::uint32_t inner = 0;  ///< the first vertex inside
};

/// A vertex at a point that no patch reaches, by its rule.
struct LimitCorner {
  std::uint32_t vertex = 0;
  std::uint32_t place = 0;                        ///< row of LimitTables::rules
  std::uint32_t first_tangent = 0, tangents = 0;  ///< rows behind each other
};

struct LimitTables {
  std::size_t cells = 1;  ///< a side of a face
  std::size_t controls = 0, ready_points = 0, vertices = 0;
  SparseRows
      ready;  ///< of the points after subdivision over the form's; empty where they are the same
  SparseRows
      mirrored;  ///< points beyond sharp edges, over the ready ones; they are numbered behind those
  std::vector<std::uint32_t> gather;
  std::vector<LimitFace> faces;
  FaceStencils stencils;
  std::vector<LimitCorner> corners;
  SparseRows rules;            ///< over the ready points
  Reach faces_of, corners_of;  ///< of each point of the form
  std::vector<double> basis, slope;
  std::vector<char>
      halves;  ///< of each quadrangle how it is halved; set when the first limit is known
};

/// Nothing where a face has no matrix. Throws Error, Cancelled.
std::optional<LimitTables> limit_tables(const Form& form, int levels, Progress& progress);

/// Numbers of the vertices of a face on its grid, row by row, along the cell's first side.
void vertices_of(const LimitTables& tables, const LimitFace& face,
                 std::vector<std::uint32_t>& numbers);

}  // namespace evenclay
