#include "core/mesh/tessellate.h"

#include <algorithm>
#include <cmath>

#include "core/base/memory.h"
#include "core/base/parallel.h"

namespace evenclay {

namespace {

// Vertex numbers of the sample grid, with pole rows folded to one vertex.
struct Numbering {
  std::size_t rows, columns;
  bool pole[4];  // in the order of Border
  std::vector<std::uint32_t> number;
  std::vector<std::size_t> sample;  // of each vertex
};

Numbering number_vertices(const Surface& s, std::size_t rows, std::size_t columns, double tol) {
  Numbering n{rows, columns, {}, std::vector<std::uint32_t>(rows * columns), {}};
  for (std::size_t e = 0; e < 4; ++e) n.pole[e] = is_pole(s, kBorders[e], tol);
  std::int64_t pole_vertex[4] = {-1, -1, -1, -1};
  for (std::size_t i = 0; i < rows; ++i)
    for (std::size_t j = 0; j < columns; ++j) {
      std::int64_t* shared = nullptr;
      if (n.pole[0] && i == 0) shared = &pole_vertex[0];
      if (n.pole[1] && i + 1 == rows) shared = &pole_vertex[1];
      if (n.pole[2] && j == 0) shared = &pole_vertex[2];
      if (n.pole[3] && j + 1 == columns) shared = &pole_vertex[3];
      if (shared != nullptr && *shared >= 0) {
        n.number[i * columns + j] = static_cast<std::uint32_t>(*shared);
        continue;
      }
      const auto fresh = static_cast<std::uint32_t>(n.sample.size());
      if (shared != nullptr) *shared = fresh;
      n.number[i * columns + j] = fresh;
      n.sample.push_back(i * columns + j);
    }
  return n;
}

void add_triangles(const Surface& s, const Numbering& n, TriangleMesh& mesh) {
  const std::size_t cells_u = s.u.periodic ? n.rows : n.rows - 1;
  const std::size_t cells_v = s.v.periodic ? n.columns : n.columns - 1;
  make_room(mesh.triangles, cells_u * cells_v * 2);
  for (std::size_t i = 0; i < cells_u; ++i)
    for (std::size_t j = 0; j < cells_v; ++j) {
      const std::size_t i1 = (i + 1) % n.rows;
      const std::size_t j1 = (j + 1) % n.columns;
      const std::uint32_t a = n.number[i * n.columns + j];
      const std::uint32_t b = n.number[i1 * n.columns + j];
      const std::uint32_t c = n.number[i1 * n.columns + j1];
      const std::uint32_t d = n.number[i * n.columns + j1];
      if (a != b && b != c && c != a) mesh.triangles.push_back({a, b, c});
      if (a != c && c != d && d != a) mesh.triangles.push_back({a, c, d});
    }
}

}  // namespace

TriangleMesh tessellate(const Surface& s, const TessellationOptions& options, Progress& progress) {
  const std::vector<double> us = sample_places(s.u, options.per_span_u);
  const std::vector<double> vs = sample_places(s.v, options.per_span_v);
  GridSamples<double> grid;
  SurfaceEvaluator(s).grid(us, vs, grid, progress);
  const Numbering n = number_vertices(s, grid.rows, grid.columns, options.pole_tolerance);
  TriangleMesh mesh;
  make_room(mesh.points, n.sample.size());
  make_room(mesh.normals, n.sample.size());
  mesh.points.resize(n.sample.size());
  mesh.normals.resize(n.sample.size());
  parallel_blocks(n.sample.size(), 4096, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const std::size_t q = n.sample[k];
      mesh.points[k] = {grid.p[0][q], grid.p[1][q], grid.p[2][q]};
      const Vec3 du{grid.du[0][q], grid.du[1][q], grid.du[2][q]};
      const Vec3 dv{grid.dv[0][q], grid.dv[1][q], grid.dv[2][q]};
      const bool sound = has_sound_normal(du, dv, s.u.length(), s.v.length());
      mesh.normals[k] =
          sound ? normalized(cross(du, dv)) : normal(s, us[q / n.columns], vs[q % n.columns]);
    }
  });
  add_triangles(s, n, mesh);
  return mesh;
}

TessellationOptions for_tolerance(const Surface& s, double tolerance, std::size_t most_triangles) {
  const SurfaceEvaluator evaluator(s);
  const std::vector<double> bu = breakpoints(s.u);
  const std::vector<double> bv = breakpoints(s.v);
  double bend_u = 0.0;
  double bend_v = 0.0;
  // A few thousand places tell the bend well enough.
  const int per_span = (bu.size() - 1) * (bv.size() - 1) > 600 ? 1 : 2;
  const std::vector<double> us = sample_places(s.u, per_span);
  const std::vector<double> vs = sample_places(s.v, per_span);
  double longest_u = 0.0;
  double longest_v = 0.0;
  for (std::size_t k = 0; k + 1 < bu.size(); ++k)
    longest_u = std::max(longest_u, bu[k + 1] - bu[k]);
  for (std::size_t k = 0; k + 1 < bv.size(); ++k)
    longest_v = std::max(longest_v, bv[k + 1] - bv[k]);
  for (const double u : us)
    for (const double v : vs) {
      const PointSecond d = evaluator.seconds(u, v);
      bend_u = std::max(bend_u, length(d.duu));
      bend_v = std::max(bend_v, length(d.dvv));
    }
  // A chord over a parameter step h leaves the curve by |c''| h² / 8; each direction gets half.
  const auto parts = [&](double bend, double longest, bool straight) {
    if (straight) return 1;
    const double n = longest * std::sqrt(bend / (4.0 * tolerance));
    return static_cast<int>(std::clamp(std::ceil(n), 2.0, 256.0));
  };
  TessellationOptions options;
  options.per_span_u = parts(bend_u, longest_u, s.u.degree == 1 && !s.rational());
  options.per_span_v = parts(bend_v, longest_v, s.v.degree == 1 && !s.rational());
  const auto triangles = [&] {
    return 2.0 * static_cast<double>(options.per_span_u * options.per_span_v) *
           static_cast<double>((bu.size() - 1) * (bv.size() - 1));
  };
  while (triangles() > static_cast<double>(most_triangles) &&
         (options.per_span_u > 1 || options.per_span_v > 1)) {
    int& larger =
        options.per_span_u >= options.per_span_v ? options.per_span_u : options.per_span_v;
    --larger;
  }
  return options;
}

}  // namespace evenclay
