// Picking and moving control points of the chosen part, independent of how the mouse does it.
#pragma once

#include <QObject>
#include <functional>
#include <optional>

#include "app/window/app_model.h"
#include "core/nurbs/surface_evaluator.h"
#include "core/operations/shaped_points.h"
#include "core/points/form_selection.h"
#include "core/points/hand.h"

namespace evenclay {

/// The nets that are shown: control points of one part, and what shaping them would change.
struct EditableNets {
  Nets below;         ///< what lies under the shaping
  Shapings shapings;  ///< on the nets of `below`
  Nets shown;         ///< below with the shapings applied
  StepId step = 0;    ///< the Shaped points step that holds them; 0: one will be added on top
};

/// What a drag of picked points does, or of the skin itself.
enum class EditMode { Move, Scale, Turn, PullSkin, Weight };

/// What a click or a box takes: points, whole lines of the net, or whichever is there.
enum class PickFilter { Points, NetLines, Both };

/// What a dragged point snaps to.
struct SnapKinds {
  bool on = false;
  bool points = true, ends = true, edges = true, grid = false;
  double grid_mm = 5.0;  ///< spacing of the corners on the work plane
};

class PointEditor : public QObject {
  Q_OBJECT
 public:
  explicit PointEditor(AppModel& model);

  /// The net of the chosen step; nothing for meshes, or while it is not computed yet.
  const std::optional<EditableNets>& net() const { return net_; }
  /// Why points cannot be moved now; empty when they can.
  QString obstacle() const;

  bool net_visible() const { return net_visible_; }
  void set_net_visible(bool visible);

  // --- what is picked ---------------------------------------------------------------------------
  const Selection& picked() const { return picked_; }
  void pick(const Selection& points);
  PointIndex leader() const { return leader_; }
  void set_leader(PointIndex point) { leader_ = point; }
  /// Adds the row through each picked point.
  void extend_to_rows(int direction);
  /// Adds the ring through each picked point.
  void extend_to_rings();
  /// Adds all points between the leader and `to` when they share a row.
  void extend_to(PointIndex to);
  /// Points that fall into a region: by themselves, or by whole lines of the net that lie in it (or
  /// touch it), as the filter says.
  Selection found_in(const std::function<bool(const Vec3&)>& inside, bool touched) const;
  PickFilter filter() const { return filter_; }
  void set_filter(PickFilter filter);
  /// Boxes and lassos take only points that the part does not hide.
  bool visible_only() const { return visible_only_; }
  void set_visible_only(bool only);
  // --- faces, edges and points of a subdivision form --------------------------------------------
  /// The net of a form; null for anything else.
  const FormNet* form() const;
  /// What a click on a form takes: corners are its points.
  PickKind form_kind() const { return form_kind_; }
  /// What was picked is let go, or taken over as points.
  void set_form_kind(PickKind kind);
  /// Names of the picked faces, edges or points, in the order in which they were picked.
  const std::vector<Tag>& form_picked() const { return form_picked_; }
  /// The points they have are what the hand moves.
  void pick_form(std::vector<Tag> tags);
  /// The same with their mirror images while symmetry is on; empty when the part is no form.
  std::vector<Pick> form_picks() const;
  // Named selections of the chosen part; each change is one undo entry.
  void name_selection(const QString& name);
  void pick_named(const QString& name);
  void forget_named(const QString& name);
  QStringList names() const;
  void grow();
  void shrink();
  void pick_partners();
  void pick_checker(bool other);
  /// Every n-th of each picked row, the first one `start` behind its beginning. The rows run along u
  /// unless all picked points lie in one row along v.
  void pick_every(int n, int start);
  Vec3 picked_centre() const;
  const std::vector<MirrorMap>& mirrors() const { return mirrors_; }
  /// Mirrored partners of the picked points, without the picked ones.
  Selection partners() const;
  /// How much of a move each point takes: 1 for picked ones, less for those the falloff reaches.
  const PointShares& shares() const { return shares_; }
  const Falloff& falloff() const { return falloff_; }
  void set_falloff(const Falloff& falloff);
  bool held(PointIndex point) const;

  // --- how it is moved --------------------------------------------------------------------------
  EditMode mode() const { return mode_; }
  void set_mode(EditMode mode);
  Pivot pivot() const { return pivot_; }
  void set_pivot(Pivot pivot);
  Vec3 pivot_place() const;
  MoveDirection direction() const { return direction_; }
  void set_direction(MoveDirection direction);
  double ratio() const { return ratio_; }
  void set_ratio(double ratio);
  double step_length() const { return step_; }
  void set_step_length(double mm);  ///< 0: no steps
  const SnapKinds& snap() const { return snap_; }
  void set_snap(const SnapKinds& snap);
  const Frame& work_plane() const { return work_plane_; }
  /// One picked point: its tangent plane; two: through both, upright; three or more: through them.
  void set_work_plane_from_picked();
  void set_work_plane(const Frame& plane);
  SymmetryPlane symmetry() const;
  void set_symmetry(SymmetryPlane plane);
  void toggle_symmetry();

  /// Unit vector along which the leader moves, or about which it is turned; for free directions the
  /// screen's right, or its depth when turning.
  Vec3 axis(PointIndex point, const Frame& screen) const;

  // --- edits: each is one undo entry -------------------------------------------------------------
  // A drag: begin, any number of drag_… with the whole change since begin, then end or cancel.
  bool begin_drag();
  /// Where the skin is pulled in this drag.
  Vec3 pulled_place() const {
    return pulled_ && start_ ? skin_point(start_->shown, *pulled_) : Vec3{};
  }
  /// A drag of the skin at a place; every point may move, or those the falloff reaches.
  bool begin_pull(const SurfacePlace& place);
  void drag_to(const Move& move);
  /// The move that brings the leader just onto a place, as far as the direction allows.
  Move snapped(const Move& move, const Vec3& place) const;
  void drag_scale(double factor, const Frame& screen);
  void drag_turn(double degrees, const Frame& screen);
  void drag_pull(const Vec3& way);
  void drag_weight(double factor);  ///< of the weights the points had when the drag began
  void end_drag();
  void cancel_drag();
  bool dragging() const { return start_.has_value(); }
  /// How far the leader and the surface under it have moved in this drag (mm).
  double points_moved() const { return points_moved_; }
  double surface_moved() const { return surface_moved_; }

  /// The picked points, and their partners, go back to where the grid below has them, with its weights.
  bool bring_back();

  /// Typed edits of the picked points. False with a message when they cannot be.
  bool move_by(const Move& move);
  bool scale_by(double factor, const Frame& screen);
  bool turn_by(double degrees, const Frame& screen);
  bool set_weight(double weight);
  std::optional<double> picked_weight() const;  ///< of the leader
  /// Brings the picked points into order.
  bool arrange(const QString& label, const PointEdit& edit);
  /// The side of the leader decides.
  bool make_symmetric();
  /// Level to three points: asks for three points, which may be any of the part; then the points
  /// picked now are brought onto the plane through them.
  void begin_plane_points();
  std::size_t plane_points_missing() const { return plane_asked_ ? 3 - plane_points_.size() : 0; }
  void add_plane_point(PointIndex point);
  void cancel_plane_points();

 Q_SIGNALS:
  void changed();              ///< net, selection, direction or drag
  void form_picked_by_hand();  ///< not when picks followed a change of the form

 private:
  void refresh();
  void refresh_shares();
  void refresh_form_picks();
  void pick_named_on_form(const NamedPoints& named);
  std::vector<Tag> tags_of(const Selection& points) const;
  /// The hand on some nets, with what is picked and the rules as they are now.
  Hand hand(const EditableNets& nets) const;
  void drag(const PointEdit& edit);
  void show_dragged(const Shapings& shapings);
  void move_again();
  Vec3 scale_factors(double factor) const;
  Frame scale_frame(const Frame& screen) const;
  Document document_with(const EditableNets& net, const Shapings& shapings);
  OperationPtr operation_with(const EditableNets& net, const Shapings& shapings) const;
  const ShapesPoints* shaped_step() const;
  bool commit_edit(const QString& label, const PointEdit& edit);
  void measure_drag();
  QString move_label(std::size_t points) const;

  AppModel& model_;
  std::optional<EditableNets> net_;
  std::optional<EditableNets> start_;  // while dragging
  bool showing_ = false;               // the drag itself is changing the model
  std::optional<Document> added_;      // the document with the step a drag adds
  StepId added_step_ = 0;
  Shapings dragged_;
  QString drag_label_;
  std::optional<Hand> hand_;            // while dragging: as it was when the drag began
  std::optional<PointEdit> drag_edit_;  // what the drag does, with any falloff; none for weights
  // The last drag, as long as nothing else has been done: another falloff does it again.
  struct LastMove {
    StepId step = 0;
    Hand hand;
    Shapings result;
    PointEdit edit;
    Selection picked;
    QString label, merge;
  };
  std::optional<LastMove> last_move_;
  int moves_done_ = 0;  // numbers the drags, so that only their own falloff joins their undo entry
  bool plane_asked_ = false;
  std::vector<PointIndex> plane_points_;
  PickFilter filter_ = PickFilter::Points;
  bool visible_only_ = false;
  SnapKinds snap_;
  std::optional<SkinPlace> pulled_;  // while the skin is pulled
  PickKind form_kind_ = PickKind::Corner;
  std::vector<Tag> form_picked_;
  std::vector<MirrorMap> mirrors_;
  SymmetryPlane next_symmetry_ = SymmetryPlane::None;  // for a step that is not there yet
  SymmetryPlane last_symmetry_ = SymmetryPlane::XZ;
  Selection picked_;
  PointShares shares_;
  Falloff falloff_;
  PointIndex leader_;
  PartId picked_part_ = 0;
  EditMode mode_ = EditMode::Move;
  Pivot pivot_ = Pivot::Picked;
  MoveDirection direction_ = MoveDirection::OffSkin;
  Frame work_plane_;
  double ratio_ = 1.0;
  double step_ = 0.0;
  bool net_visible_ = true;
  bool too_many_ = false;  // points of what a cut or blend made
  double points_moved_ = 0.0;
  double surface_moved_ = 0.0;
};

QString direction_words(MoveDirection direction);

}  // namespace evenclay
