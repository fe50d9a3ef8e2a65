// What lies under a place of the screen.
#pragma once

#include <optional>

#include "app/tools/point_editor.h"
#include "app/view/picking.h"
#include "app/view/viewports.h"

namespace evenclay {

class ScenePicker {
 public:
  ScenePicker(const AppModel& model, const PointEditor& editor, const Viewports& views)
      : model_(model), editor_(editor), views_(views) {}

  /// What a press there picks, as the editor's filter says: a point, or a whole line of the net.
  struct Pressed {
    PointIndex leader;
    Selection points;
    Tag tag = 0;  ///< of a face, edge or point of a form
  };
  std::optional<Pressed> pressed_at(const QPointF& at) const;
  /// The place of the chosen part that is seen there.
  std::optional<SurfacePlace> place_at(const QPointF& at) const;
  /// The same of any part.
  std::optional<SurfacePlace> place_on(PartId part, const QPointF& at) const;
  /// The visible part whose surface is in front there; 0 when there is none.
  PartId part_at(const QPointF& at) const;
  /// Points between which and the eye of viewport k the chosen part lies are left out.
  Selection without_hidden(const Selection& points, std::size_t k) const;
  /// Whether the chosen part itself hides a place from the eye of the main view.
  bool is_behind(const Vec3& at) const;

 private:
  std::optional<Pressed> form_at(const QPointF& at) const;
  std::optional<Tag> form_edge_at(const QPointF& at) const;
  std::optional<Tag> form_face_at(const QPointF& at) const;
  std::optional<PointIndex> point_at(const QPointF& at) const;
  std::optional<Pressed> net_line_at(const QPointF& at) const;
  std::optional<SurfacePlace> place_on_curves(const QPointF& at, const Shape& shape) const;
  bool hides(std::size_t k, const Vec3& at, double margin) const;

  const AppModel& model_;
  const PointEditor& editor_;
  const Viewports& views_;
};

}  // namespace evenclay
