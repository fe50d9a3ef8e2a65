// What the display worker has drawn and measured, kept while it is the same.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <tuple>
#include <utility>
#include <vector>

#include "core/check/watch.h"
#include "core/display/display.h"
#include "core/display/form_plans.h"
#include "core/display/maps.h"
#include "core/display/pattern_display.h"
#include "core/display/rays.h"
#include "core/document/evaluator.h"
#include "core/operations/offers.h"
#include "core/operations/report.h"
#include "core/operations/watching.h"

namespace evenclay {

/// The last answer to a question and what it was asked about. `Asked` is a value that compares.
template <typename Asked, typename Answer>
class Last {
 public:
  /// Asks `make` only when this is another question than the last one.
  template <typename Make>
  const Answer& of(Asked asked, const Make& make) {
    if (asked_ && *asked_ == asked) return answer_;
    answer_ = make();  // when it throws, the last one stays
    asked_ = std::move(asked);
    return answer_;
  }

 private:
  std::optional<Asked> asked_;
  Answer answer_{};
};

/// Drawn shapes by identity, and what was measured of them; only the worker's thread touches it. Shapes that are kept keep
/// their addresses taken. All throw Cancelled.
class DisplayCache {
 public:
  struct Drawn {
    ShapePtr shape;
    std::shared_ptr<const DisplayMesh> mesh, small;
    std::shared_ptr<const DisplayLines> lines, curves;
    std::shared_ptr<const DisplayEdges> edges;
    std::shared_ptr<const MeshRays> rays;
    std::size_t last_used = 0;
  };
  using MeshPtr = std::shared_ptr<const DisplayMesh>;
  using ValuesPtr = std::shared_ptr<const DisplayValues>;

  Evaluator evaluator;
  bool quick_gauges = true;
  std::map<PartId, ShapePtr> followed;  ///< what was drawn of parts that follow in this drag
  std::map<PartId, double> cost;        ///< seconds a part that follows a drag took the last time

  /// A new answer begins. What was drawn another way is forgotten: faces of forms flat, or gaps marked from `tolerance` on.
  void begin(bool flat_faces, double tolerance);
  /// What thirty answers did not use goes.
  void forget_old();
  bool flat_faces() const { return flat_faces_; }
  double gap_limit() const { return gap_limit_; }
  DisplayQuality with_plans(DisplayQuality quality);

  const Drawn& draw(const ShapePtr& shape, Progress& progress);
  /// For side views and far away.
  MeshPtr small_mesh(const Shape& shape, const MeshPtr& mesh, Progress& progress);
  static std::shared_ptr<const DisplayLines> lines_of_curves(const Shape& shape);

  std::shared_ptr<const Report> measured(const ShapePtr& shape, const ShapePtr& before,
                                         SymmetryPlane symmetry, Progress& progress);
  ValuesPtr map(MapKind kind, const MeshPtr& mesh, const ShapePtr& shape, const Vec3& pull,
                Progress& progress);
  /// What the chosen part is watched against, measured; null where it is not, or cannot be.
  const Watcher::Answer* watch(const Document& d, PartId chosen, const ShapePtr& shown, bool quick,
                               Progress& progress);
  /// The deviation in colours from what is watched, else from the shape before.
  ValuesPtr off(const MeshPtr& mesh, const Watcher::Answer* watch, const ShapePtr& before,
                Progress& progress);

  std::shared_ptr<const std::vector<Comb>> sections(const ShapePtr& shape,
                                                    const std::optional<SectionWish>& wish,
                                                    Progress& progress);
  /// Where the plane of the sections meets what the part is watched against.
  std::shared_ptr<const DisplayLines> watched_section(const Document& d, PartId chosen,
                                                      const std::optional<SectionWish>& wish,
                                                      Progress& progress);
  /// The tile among its neighbours.
  std::shared_ptr<const TileDisplay> tile(const ShapePtr& shape, Progress& progress);
  /// The plot of counts of an operation on `before`; null where there is none.
  std::shared_ptr<const std::vector<CountPlace>> plot(const OperationPtr& operation,
                                                      const ShapePtr& before, Progress& progress);

  /// Patterns that are shown: what lies under them is not drawn.
  void take_pattern(const Part& part, const PartResult& result);
  void cover(const Document& d, DisplayPart& part);

 private:
  struct Covered {
    MeshPtr from, mesh;
    std::shared_ptr<const PatternFacts> facts;
  };
  MeshPtr rest_of(const MeshPtr& mesh, const Shape& shape,
                  const std::shared_ptr<const PatternFacts>& facts);

  std::map<const Shape*, Drawn> drawn_;
  std::map<std::tuple<const Shape*, const Shape*, SymmetryPlane>,
           std::pair<std::vector<ShapePtr>, std::shared_ptr<const Report>>>
      reports_;
  std::size_t clock_ = 0;
  FormPlans plans_;
  bool flat_faces_ = false;
  double gap_limit_ = 0.01;  // mm
  Watcher watcher_;
  std::map<PartId, std::shared_ptr<const PatternFacts>> patterns_;
  std::vector<Covered> covered_;  // the last ones: what did not change stays the same mesh

  Last<std::pair<MeshPtr, ShapePtr>, ValuesPtr> deviation_;
  Last<std::tuple<MeshPtr, MapKind, Vec3>, ValuesPtr> map_;
  Last<std::pair<MeshPtr, std::shared_ptr<const WatchPlaces>>, ValuesPtr> watched_;
  Last<std::pair<ShapePtr, SectionWish>, std::shared_ptr<const DisplayLines>> watched_section_;
  Last<std::pair<ShapePtr, SectionWish>, std::shared_ptr<const std::vector<Comb>>> sections_;
  Last<ShapePtr, std::shared_ptr<const TileDisplay>> tile_;
  Last<std::pair<ShapePtr, OperationPtr>, std::shared_ptr<const std::vector<CountPlace>>> plot_;
};

}  // namespace evenclay
