// Picking and moving control points of the chosen part, independent of how the mouse does it.
#pragma once

#include <QObject>
#include <optional>

#include "app/window/app_model.h"
#include "core/operations/shaped_points.h"

namespace evenclay {

/// The net that is shown: control points of one surface, and what shaping them would change.
struct EditableNet {
  Surface below;    ///< the surface under the shaping
  Shaping shaping;  ///< on the grid of `below`
  Surface surface;  ///< below with the shaping applied
  StepId step = 0;  ///< the Shaped points step that holds it; 0: one will be added on top
};

class PointEditor : public QObject {
  Q_OBJECT
 public:
  explicit PointEditor(AppModel& model);

  /// The net of the chosen step; nothing for meshes, or while it is not computed yet.
  const std::optional<EditableNet>& net() const { return net_; }
  /// Why points cannot be moved now; empty when they can.
  QString obstacle() const;

  bool net_visible() const { return net_visible_; }
  void set_net_visible(bool visible);

  const Selection& picked() const { return picked_; }
  void pick(const Selection& points);
  PointIndex leader() const { return leader_; }
  void set_leader(PointIndex point) { leader_ = point; }
  /// Adds the row through each picked point.
  void extend_to_rows(bool along_u);
  Vec3 picked_centre() const;
  const std::optional<MirrorMap>& mirror() const { return mirror_; }
  /// Mirrored partners of the picked points, without the picked ones.
  Selection partners() const;

  MoveDirection direction() const { return direction_; }
  void set_direction(MoveDirection direction);
  double ratio() const { return ratio_; }
  void set_ratio(double ratio);
  double step_length() const { return step_; }
  void set_step_length(double mm);  ///< 0: no steps
  SymmetryPlane symmetry() const;
  void set_symmetry(SymmetryPlane plane);
  void toggle_symmetry();

  /// Unit vector along which the leader moves; for InView the screen's right.
  Vec3 axis(PointIndex point, const Vec3& screen_right) const;

  // A drag: begin, any number of drag_to with the whole move since begin, then end or cancel.
  bool begin_drag();
  void drag_to(const Move& move);
  void end_drag();
  void cancel_drag();
  bool dragging() const { return start_.has_value(); }
  /// How far the leader and the surface under it have moved in this drag (mm).
  double points_moved() const { return points_moved_; }
  double surface_moved() const { return surface_moved_; }

  /// A typed move of the picked points: one undo entry. False with a message when it cannot be.
  bool move_by(const Move& move);
  bool set_weight(double weight);
  std::optional<double> picked_weight() const;  ///< of the leader

 Q_SIGNALS:
  void changed();  ///< net, selection, direction or drag

 private:
  void refresh();
  Document document_with(const EditableNet& net, const Shaping& shaping);
  std::shared_ptr<ShapedPointsOperation> operation_of(const EditableNet& net) const;
  void measure_drag();
  QString move_label(std::size_t points) const;

  AppModel& model_;
  std::optional<EditableNet> net_;
  std::optional<EditableNet> start_;  // while dragging
  std::optional<Document> added_;     // the document with the step a drag adds
  StepId added_step_ = 0;
  Shaping dragged_;
  std::optional<MirrorMap> mirror_;
  SymmetryPlane next_symmetry_ = SymmetryPlane::None;  // for a step that is not there yet
  SymmetryPlane last_symmetry_ = SymmetryPlane::XZ;
  Selection picked_;
  PointIndex leader_;
  PartId picked_part_ = 0;
  MoveDirection direction_ = MoveDirection::OffSkin;
  double ratio_ = 1.0;
  double step_ = 0.0;
  bool net_visible_ = true;
  double points_moved_ = 0.0;
  double surface_moved_ = 0.0;
};

QString direction_words(MoveDirection direction);

}  // namespace evenclay
