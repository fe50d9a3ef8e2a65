// A polygon cut along the lines of a grid, as triangles: one face of a body in its parameter plane.
#pragma once

#include <array>
#include <cmath>
#include <cstdint>
#include <functional>
#include <vector>

#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// Lines of constant u and v, increasing; the polygons lie strictly within the first and last.
struct GridLines {
  std::vector<double> u, v;
};

/// Closed polygons with the inside at their left. Vertices 0 … are numbered through all polygons in
/// order; no side may cross a grid line except in its ends.
using Polygons = std::vector<std::vector<Parameter>>;

/// Triangles that cover the inside, counter-clockwise. Vertex numbers below the count of the
/// polygons' vertices are those; the others are `nodes` of the grid, in the order of first use.
struct CutGrid {
  std::vector<Parameter> nodes;
  std::vector<std::array<std::uint32_t, 3>> triangles;
};

/// How a surface bends about a place: a side (du, dv) of a triangle leaves it by |uu du² + 2 uv du dv + vv dv²| / 8.
struct PlaceBend {
  double uu = 0.0, uv = 0.0, vv = 0.0;
  double leaves(double du, double dv) const {
    return std::abs(uu * du * du + 2.0 * uv * du * dv + vv * dv * dv) / 8.0;
  }
};
using BendAt = std::function<PlaceBend(const Parameter&)>;

/// `bend` (may be empty) is asked at the middle of each cell: its sides are then chosen so that they leave the surface
/// least, else the shortest ones are.
CutGrid cut_grid(const Polygons& polygons, const GridLines& lines, const BendAt& bend = {});

/// A simple polygon (counter-clockwise) as triangles of places in it, by cutting off the ear with the
/// shortest new side first, as `bend` sees it. Collinear points are allowed. Source: ear clipping, G. Meisters,
/// Polygons have ears, 1975.
std::vector<std::array<std::uint32_t, 3>> triangles_of(const std::vector<Parameter>& polygon,
                                                       const PlaceBend* bend = nullptr);

}  // namespace evenclay
