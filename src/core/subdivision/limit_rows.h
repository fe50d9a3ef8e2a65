// The limit of a form with every vertex as a sum of its points: for any form at all, where limit_plan.h has no tables.
#pragma once

#include <span>

#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"
#include "core/subdivision/form.h"
#include "core/subdivision/weights.h"

namespace evenclay {

class LimitRows {
 public:
  /// Vertices and triangles are those of limit_mesh(form, levels), in the same order. Throws Error, Cancelled.
  LimitRows(const Form& form, int levels, Progress& progress);

  /// The limit for these points (as many as the form has). On all cores.
  TriangleMesh mesh(std::span<const Vec3> points) const;

  /// Brings a mesh that mesh() or update() made up to date after the points with these numbers have moved.
  void update(std::span<const Vec3> points, std::span<const std::uint32_t> moved,
              TriangleMesh& mesh) const;

  std::size_t vertices() const { return places_.size(); }

 private:
  void find_reach(std::size_t controls);
  void vertex(std::size_t v, std::span<const Vec3> points, TriangleMesh& mesh) const;

  SparseRows places_;
  SparseRows tangents_;  // several rows a vertex, see tangents_begin_
  std::vector<std::uint32_t> tangents_begin_{0};
  std::vector<std::array<std::uint32_t, 3>> triangles_;
  Reach reach_;  // of each point the vertices that it moves
};

}  // namespace evenclay
