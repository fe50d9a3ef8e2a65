// The limit of forms that differ in places only: what hangs together is worked out once, then faces are evaluated by tables,
// and after a few points have moved only the faces they reach are evaluated again.
// Sources: as in refine.h; regular faces are uniform bicubic patches (patches.h), others have matrices (face_stencils.h).
#pragma once

#include <memory>
#include <optional>
#include <span>

#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"
#include "core/subdivision/form.h"

namespace evenclay {

class LimitRows;
struct LimitTables;

class LimitPlan {
 public:
  /// Triangles are those of limit_mesh(form, levels), in the same order; vertices are numbered otherwise. `levels` 0 … 6.
  /// `first` gets the limit of the form as it is, which is known then. Throws Error, Cancelled.
  LimitPlan(const Form& form, int levels, Progress& progress, TriangleMesh* first = nullptr);
  ~LimitPlan();
  LimitPlan(LimitPlan&&) noexcept;
  LimitPlan& operator=(LimitPlan&&) noexcept;

  /// Whether it is the plan of that form: the same links and creases.
  bool fits(const Form& form, int levels) const;

  /// The limit for these points (as many as the form has). On all cores.
  TriangleMesh mesh(std::span<const Vec3> points) const;
  /// The same into a mesh that mesh() made.
  void renew(std::span<const Vec3> points, TriangleMesh& mesh) const;

  /// Brings a mesh that mesh() or update() made up to date after the points with these numbers have moved.
  void update(std::span<const Vec3> points, std::span<const std::uint32_t> moved,
              TriangleMesh& mesh) const;

  std::size_t vertices() const;

  /// How far the middles of the form's edges lie from the chords of their ends in a mesh of this plan, at most. Nothing unless each
  /// edge is halved just once in it.
  std::optional<double> greatest_sag(const TriangleMesh& mesh) const;

 private:
  std::shared_ptr<const FormLinks> links_;
  std::map<FormEdge, double> creases_;
  int levels_ = 0;
  std::unique_ptr<const LimitTables> tables_;  // null where `rows_` serve
  std::unique_ptr<const LimitRows> rows_;      // of forms that have no tables
};

}  // namespace evenclay
