#include "core/display/surface_mesh.h"

#include <cmath>
#include <mutex>

#include "core/base/parallel.h"

namespace evenclay {

namespace {

// Shorter than this share of its legs a cross product in floats is rounding, as at a pole.
constexpr float kUnsound = 1e-5F;

struct Source {
  const Surface& surface;
  const std::vector<double>&us, &vs;
  const GridSamples<float>& grid;
  float lu, lv;  // lengths of the domain
};

// Position and normal of sample q into six floats.
void write_vertex(const Source& s, std::size_t q, float* out) {
  const GridSamples<float>& g = s.grid;
  const float ux = g.du[0][q] * s.lu, uy = g.du[1][q] * s.lu, uz = g.du[2][q] * s.lu;
  const float vx = g.dv[0][q] * s.lv, vy = g.dv[1][q] * s.lv, vz = g.dv[2][q] * s.lv;
  const float nx = uy * vz - uz * vy, ny = uz * vx - ux * vz, nz = ux * vy - uy * vx;
  const float area = nx * nx + ny * ny + nz * nz;
  const float legs = ux * ux + uy * uy + uz * uz + vx * vx + vy * vy + vz * vz;
  for (std::size_t c = 0; c < 3; ++c) out[c] = g.p[c][q];
  if (area > kUnsound * kUnsound * legs * legs) {
    const float f = 1.0F / std::sqrt(area);
    out[3] = nx * f;
    out[4] = ny * f;
    out[5] = nz * f;
    return;
  }
  const Vec3 n = normal(s.surface, s.us[q / g.columns], s.vs[q % g.columns]);
  for (std::size_t c = 0; c < 3; ++c) out[3 + c] = static_cast<float>(n[c]);
}

// Rows begin..end of vertices and shares; returns their box.
Box3 write_rows(const Source& s, std::size_t begin, std::size_t end, float* vertices,
                float* shares) {
  const std::size_t columns = s.grid.columns;
  float low[3] = {1e30F, 1e30F, 1e30F};
  float high[3] = {-1e30F, -1e30F, -1e30F};
  for (std::size_t i = begin; i < end; ++i) {
    const auto share_u = static_cast<float>((s.us[i] - s.surface.u.first()) / s.surface.u.length());
    for (std::size_t j = 0; j < columns; ++j) {
      const std::size_t q = i * columns + j;
      float* v = vertices + 6 * q;
      write_vertex(s, q, v);
      for (std::size_t c = 0; c < 3; ++c) {
        low[c] = std::min(low[c], v[c]);
        high[c] = std::max(high[c], v[c]);
      }
      shares[2 * q] = share_u;
      shares[2 * q + 1] =
          static_cast<float>((s.vs[j] - s.surface.v.first()) / s.surface.v.length());
    }
  }
  const auto at = [](const float* x) {
    return Vec3{static_cast<double>(x[0]), static_cast<double>(x[1]), static_cast<double>(x[2])};
  };
  return {at(low), at(high)};
}

// Two triangles of each cell; those with two corners on one pole are none.
void write_triangles(const Surface& s, std::size_t rows, std::size_t columns, std::uint32_t first,
                     Progress& progress, std::vector<std::uint32_t>& indices) {
  const std::size_t cells_u = s.u.periodic ? rows : rows - 1;
  const std::size_t cells_v = s.v.periodic ? columns : columns - 1;
  const auto pole = [&](Border e) { return is_pole(s, e, 1e-9); };
  const bool low_u = pole(Border::UMin), high_u = pole(Border::UMax);
  const bool low_v = pole(Border::VMin), high_v = pole(Border::VMax);
  const std::size_t start = indices.size();
  const bool whole = !low_u && !high_u && !low_v && !high_v;
  if (whole) indices.resize(start + cells_u * cells_v * 6);
  const auto corners = [&](std::size_t i, std::size_t j) {
    const std::size_t i1 = i + 1 == rows ? 0 : i + 1;
    const std::size_t j1 = j + 1 == columns ? 0 : j + 1;
    const auto n = [&](std::size_t a, std::size_t b) {
      return first + static_cast<std::uint32_t>(a * columns + b);
    };
    return std::array<std::uint32_t, 4>{n(i, j), n(i1, j), n(i1, j1), n(i, j1)};
  };
  if (whole) {
    parallel_blocks(cells_u, 32, progress, [&](std::size_t begin, std::size_t end) {
      std::uint32_t* out = indices.data() + start + begin * cells_v * 6;
      for (std::size_t i = begin; i < end; ++i)
        for (std::size_t j = 0; j < cells_v; ++j) {
          const auto [a, b, c, d] = corners(i, j);
          for (const std::uint32_t k : {a, b, c, a, c, d}) *out++ = k;
        }
    });
    return;
  }
  indices.reserve(start + cells_u * cells_v * 6);
  for (std::size_t i = 0; i < cells_u; ++i)
    for (std::size_t j = 0; j < cells_v; ++j) {
      const auto [a, b, c, d] = corners(i, j);
      // a–b lies on v's first border, c–d on its last, a–d on u's first, b–c on its last.
      const bool ab = low_v && j == 0, cd = high_v && j + 2 == columns;
      const bool ad = low_u && i == 0, bc = high_u && i + 2 == rows;
      if (!ab && !bc) indices.insert(indices.end(), {a, b, c});
      if (!cd && !ad) indices.insert(indices.end(), {a, c, d});
    }
}

}  // namespace

void add_surface(const Surface& s, const TessellationOptions& options, Progress& progress,
                 DisplayMesh& out) {
  const std::vector<double> us = sample_places(s.u, options.per_span_u);
  const std::vector<double> vs = sample_places(s.v, options.per_span_v);
  GridSamples<float> grid;
  SurfaceEvaluator(s).grid(us, vs, grid, progress);
  const auto first = static_cast<std::uint32_t>(out.vertices.size() / 6);
  const std::size_t count = grid.rows * grid.columns;
  out.pieces.push_back({first, s.u.periodic, s.v.periodic});
  out.vertices.resize(out.vertices.size() + 6 * count);
  out.shares.resize(out.shares.size() + 2 * count);
  const Source source{
      s, us, vs, grid, static_cast<float>(s.u.length()), static_cast<float>(s.v.length())};
  std::mutex box;
  const std::size_t block = std::max<std::size_t>(1, 8192 / grid.columns);
  parallel_blocks(grid.rows, block, progress, [&](std::size_t begin, std::size_t end) {
    const Box3 part = write_rows(source, begin, end, out.vertices.data() + 6 * first,
                                 out.shares.data() + 2 * static_cast<std::size_t>(first));
    const std::scoped_lock lock(box);
    out.box.add(part);
  });
  write_triangles(s, grid.rows, grid.columns, first, progress, out.indices);
}

}  // namespace evenclay
