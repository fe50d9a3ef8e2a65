#include "core/subdivision/limit_rows.h"

#include "core/base/parallel.h"
#include "core/subdivision/limit_rules.h"
#include "core/subdivision/refine.h"

namespace evenclay {

LimitRows::LimitRows(const Form& form, int levels, Progress& progress) {
  RowMaker maker(form.points.size());
  SparseRows rows = unit_rows(form.points.size());
  Form fine = form;
  fine.links = links_of(form);
  for (int k = 0; k < 18 && (k < levels || !ready_for_limit(fine)); ++k) {
    rows = maker.subdivided_rows(fine, rows, progress);
    fine = linked(subdivided(fine, progress));
  }
  std::vector<Weights> units;
  for (std::uint32_t p = 0; p < fine.points.size(); ++p) units.emplace_back(p);
  const LimitRules<Weights> limit(fine, fine.links->topology, units);
  std::vector<std::array<std::uint32_t, 4>> corners(fine.faces.size());
  for (std::uint32_t p = 0; p < fine.points.size(); ++p) {
    if (p % 4096 == 0) progress.check();
    const LimitAtPoint<Weights> at = limit.at(p);
    for (std::size_t s = 0; s < at.sectors.size(); ++s) {
      const auto vertex = static_cast<std::uint32_t>(vertices());
      maker.append(at.place, rows, places_);
      for (const Weights& t : at.tangents[s]) maker.append(t, rows, tangents_);
      tangents_begin_.push_back(static_cast<std::uint32_t>(tangents_.begin.size() - 1));
      set_corners(fine, at.fan, at.sectors[s], p, vertex, corners);
    }
  }
  // How a quadrangle is halved is settled once, by the shape it has now.
  TriangleMesh now;
  now.points.resize(vertices());
  for (std::size_t v = 0; v < vertices(); ++v) now.points[v] = sum(places_, v, form.points);
  for (const auto& c : corners) add_quad(now.points, c, triangles_);
  find_reach(form.points.size());
}

// Which vertices each point moves, or turns the normals of.
void LimitRows::find_reach(std::size_t controls) {
  std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;  // control point, vertex
  std::vector<std::uint32_t> last(controls, 0xFFFFFFFF);
  for (std::uint32_t v = 0; v < vertices(); ++v) {
    const auto take = [&](const SparseRows& rows, std::size_t row) {
      for (std::uint32_t k = rows.begin[row]; k < rows.begin[row + 1]; ++k)
        if (std::uint32_t& seen = last[rows.index[k]]; seen != v) {
          seen = v;
          pairs.emplace_back(rows.index[k], v);
        }
    };
    take(places_, v);
    for (std::uint32_t t = tangents_begin_[v]; t < tangents_begin_[v + 1]; ++t) take(tangents_, t);
  }
  reach_ = Reach(pairs, controls);
}

void LimitRows::vertex(std::size_t v, std::span<const Vec3> points, TriangleMesh& mesh) const {
  mesh.points[v] = sum(places_, v, points);
  const std::uint32_t first = tangents_begin_[v];
  const std::uint32_t last = tangents_begin_[v + 1];
  Vec3 before = sum(tangents_, first, points);
  Vec3 normal;
  for (std::uint32_t t = first + 1; t < last; ++t) {
    const Vec3 next = sum(tangents_, t, points);
    const Vec3 n = cross(before, next);
    if (const double l = length(n); l > 1e-300) normal += n / l;
    before = next;
  }
  mesh.normals[v] = length(normal) > 0.0 ? normalized(normal) : Vec3{0, 0, 1};
}

TriangleMesh LimitRows::mesh(std::span<const Vec3> points) const {
  TriangleMesh result;
  result.points.resize(vertices());
  result.normals.resize(vertices());
  result.triangles = triangles_;
  Progress quiet;
  parallel_blocks(vertices(), 4096, quiet, [&](std::size_t from, std::size_t to) {
    for (std::size_t v = from; v < to; ++v) vertex(v, points, result);
  });
  return result;
}

void LimitRows::update(std::span<const Vec3> points, std::span<const std::uint32_t> moved,
                       TriangleMesh& mesh) const {
  for (const std::uint32_t p : moved)
    for (const std::uint32_t v : reach_.of(p)) vertex(v, points, mesh);
}

}  // namespace evenclay
