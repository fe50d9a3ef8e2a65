// What a dragged point may snap to: gathered when a drag begins, asked at each move of the hand.
#pragma once

#include <QString>

#include "app/tools/point_editor.h"
#include "app/view/camera.h"

namespace evenclay {

/// A place that was found, and what it is: "a point", "a curve's end" …
struct SnapPlace {
  Vec3 at;
  QString what;
};

class Snapper {
 public:
  /// Takes the control points that do not move, and ends and edges of all visible parts but the
  /// moving one.
  void gather(const AppModel& model, const PointEditor& editor);
  void clear();

  /// The place within 12 pixels of the cursor that counts most: points, then ends, then edges, then
  /// corners of the grid near `target`, where the point would go by itself.
  std::optional<SnapPlace> at(const Camera& camera, const QRect& viewport, const QPointF& cursor,
                              const Vec3& target) const;

 private:
  SnapKinds kinds_;
  Frame plane_;
  std::vector<Vec3> points_, ends_;
  // With a ball around each, so that only those near the cursor are searched.
  struct Near {
    CurveEvaluator curve;
    Vec3 centre;
    double radius;
  };
  std::vector<Near> edges_;
};

}  // namespace evenclay
