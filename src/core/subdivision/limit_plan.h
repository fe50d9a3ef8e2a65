// The limit of forms that differ in places only, as weights of their points: made once, then places and normals are a
// sparse sum, and after a few points have moved only what they reach is summed again.
#pragma once

#include <span>

#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"
#include "core/subdivision/form.h"

namespace evenclay {

class LimitPlan {
 public:
  /// Vertices and triangles are those of limit_mesh(form, levels), in the same order. `levels` 0 … 6. Throws Error,
  /// Cancelled.
  LimitPlan(const Form& form, int levels, Progress& progress);

  /// Whether it is the plan of that form: the same links and creases.
  bool fits(const Form& form, int levels) const;

  /// The limit for these points (as many as the form has). On all cores.
  TriangleMesh mesh(std::span<const Vec3> points) const;

  /// Brings a mesh that mesh() or update() made up to date after the points with these numbers have moved.
  void update(std::span<const Vec3> points, std::span<const std::uint32_t> moved,
              TriangleMesh& mesh) const;

  std::size_t vertices() const { return places_.begin.size() - 1; }

 private:
  struct Rows {  // of each row the places in index and weight where it begins; one more
    std::vector<std::uint32_t> begin{0}, index;
    std::vector<double> weight;
  };
  static Vec3 sum(const Rows& rows, std::size_t row, std::span<const Vec3> points);
  void find_reach(std::size_t controls);
  void vertex(std::size_t v, std::span<const Vec3> points, TriangleMesh& mesh) const;

  std::shared_ptr<const FormLinks> links_;
  std::map<FormEdge, double> creases_;
  int levels_ = 0;
  Rows places_;
  Rows tangents_;  // several rows a vertex, see tangents_begin_
  std::vector<std::uint32_t> tangents_begin_{0};
  std::vector<std::array<std::uint32_t, 3>> triangles_;
  std::vector<std::uint32_t> reach_begin_,
      reach_;  // of each control point the vertices that it moves

  friend class LimitPlanMaker;
};

}  // namespace evenclay
