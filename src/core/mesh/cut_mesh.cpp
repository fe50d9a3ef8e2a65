#include "core/mesh/cut_mesh.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>
#include <unordered_map>

namespace evenclay {

namespace {

class PlaneCut {
 public:
  PlaneCut(const TriangleMesh& mesh, const Vec3& through, const Vec3& normal, double near)
      : from_(mesh), number_(mesh.points.size(), kNone) {
    const Vec3 n = normalized(normal);
    height_.reserve(mesh.points.size());
    for (const Vec3& p : mesh.points) {
      const double h = dot(p - through, n);
      height_.push_back(std::abs(h) <= near ? 0.0 : h);
    }
  }
  TriangleMesh run() {
    for (const auto& t : from_.triangles) cut(t);
    return std::move(result_);
  }

 private:
  static constexpr std::uint32_t kNone = 0xFFFFFFFF;

  std::uint32_t kept(std::uint32_t v) {
    if (number_[v] == kNone) {
      number_[v] = static_cast<std::uint32_t>(result_.points.size());
      result_.points.push_back(from_.points[v]);
      if (!from_.normals.empty()) result_.normals.push_back(from_.normals[v]);
    }
    return number_[v];
  }
  std::uint32_t between(std::uint32_t a, std::uint32_t b) {
    if (a > b) std::swap(a, b);
    const auto [at, fresh] =
        crossed_.try_emplace({a, b}, static_cast<std::uint32_t>(result_.points.size()));
    if (fresh) {
      const double t = height_[a] / (height_[a] - height_[b]);
      result_.points.push_back(from_.points[a] * (1.0 - t) + from_.points[b] * t);
      if (!from_.normals.empty())
        result_.normals.push_back(normalized(from_.normals[a] * (1.0 - t) + from_.normals[b] * t));
    }
    return at->second;
  }
  void cut(const std::array<std::uint32_t, 3>& t) {
    std::vector<std::uint32_t> polygon;
    bool any_inside = false;
    for (std::size_t k = 0; k < 3; ++k) {
      const std::uint32_t a = t[k];
      const std::uint32_t b = t[(k + 1) % 3];
      any_inside = any_inside || height_[a] < 0.0;
      if (height_[a] <= 0.0) polygon.push_back(a);
      if (height_[a] * height_[b] < 0.0)
        polygon.push_back(kNone - 1 - static_cast<std::uint32_t>(k));
    }
    if (!any_inside || polygon.size() < 3) return;
    for (std::uint32_t& v : polygon) {
      if (v > kNone - 4) {
        const std::size_t k = kNone - 1 - v;
        v = between(t[k], t[(k + 1) % 3]);
      } else {
        v = kept(v);
      }
    }
    for (std::size_t k = 1; k + 1 < polygon.size(); ++k)
      result_.triangles.push_back({polygon[0], polygon[k], polygon[k + 1]});
  }

  const TriangleMesh& from_;
  std::vector<double> height_;
  std::vector<std::uint32_t> number_;
  std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> crossed_;
  TriangleMesh result_;
};

/// Cells are unsigned so that those of points very far out may wrap around: points of one cell are
/// compared by their distance anyhow.
struct Cell {
  std::uint64_t x, y, z;
  bool operator==(const Cell&) const = default;
};
struct CellHash {
  std::size_t operator()(const Cell& c) const {
    return static_cast<std::size_t>(c.x * 73856093U ^ c.y * 19349663U ^ c.z * 83492791U);
  }
};
/// The cell a coordinate lies in, counted in cells.
std::uint64_t cell_along(double coordinate, double side) {
  return static_cast<std::uint64_t>(std::llround(coordinate / side));
}

}  // namespace

TriangleMesh cut_by_plane(const TriangleMesh& mesh, const Vec3& through, const Vec3& normal,
                          double near) {
  return PlaneCut(mesh, through, normal, near).run();
}

OnePlaces one_places(std::span<const Vec3> points, double near) {
  const double side = std::max(near, 1e-12) * 2.0;
  std::unordered_map<Cell, std::vector<std::uint32_t>, CellHash> cells;
  OnePlaces result;
  const auto cell_of = [&](const Vec3& p) {
    return Cell{cell_along(p.x, side), cell_along(p.y, side), cell_along(p.z, side)};
  };
  const auto find = [&](const Vec3& p) -> std::uint32_t {
    const Cell c = cell_of(p);
    // From one below to one above; the sum wraps around as the cells do.
    for (std::uint64_t x = 0; x < 3; ++x)
      for (std::uint64_t y = 0; y < 3; ++y)
        for (std::uint64_t z = 0; z < 3; ++z)
          if (const auto at = cells.find({c.x + x - 1, c.y + y - 1, c.z + z - 1});
              at != cells.end())
            for (const std::uint32_t k : at->second)
              if (distance(result.places[k], p) <= near) return k;
    return 0xFFFFFFFF;
  };
  for (const Vec3& p : points) {
    std::uint32_t at = find(p);
    if (at == 0xFFFFFFFF) {
      at = static_cast<std::uint32_t>(result.places.size());
      cells[cell_of(p)].push_back(at);
      result.places.push_back(p);
    }
    result.number.push_back(at);
  }
  return result;
}

TriangleMesh welded(const TriangleMesh& mesh, double near) {
  OnePlaces one = one_places(mesh.points, near);
  TriangleMesh result;
  result.points = std::move(one.places);
  if (!mesh.normals.empty()) {
    result.normals.resize(result.points.size());
    for (std::size_t k = 0; k < mesh.normals.size(); ++k)
      result.normals[one.number[k]] += mesh.normals[k];
    for (Vec3& n : result.normals) n = normalized(n);
  }
  for (const auto& t : mesh.triangles) {
    const std::array<std::uint32_t, 3> n{one.number[t[0]], one.number[t[1]], one.number[t[2]]};
    if (n[0] != n[1] && n[1] != n[2] && n[2] != n[0]) result.triangles.push_back(n);
  }
  return result;
}

}  // namespace evenclay
