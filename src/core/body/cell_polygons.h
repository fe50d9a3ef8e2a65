// A polygon cut along the lines of a grid, as triangles: one face of a body in its parameter plane.
#pragma once

#include <array>
#include <cstdint>
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
CutGrid cut_grid(const Polygons& polygons, const GridLines& lines);

/// A simple polygon (counter-clockwise) as triangles of places in it, by cutting off the ear with the
/// shortest new side first. Collinear points are allowed. Source: ear clipping, G. Meisters, Polygons
/// have ears, 1975.
std::vector<std::array<std::uint32_t, 3>> triangles_of(const std::vector<Parameter>& polygon);

}  // namespace evenclay
