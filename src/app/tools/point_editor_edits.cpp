// The edits of PointEditor: drags, typed amounts, arranging; each is one undo entry.
#include <algorithm>

#include "app/tools/point_editor.h"
#include "core/base/error.h"
#include "core/points/snap.h"

namespace evenclay {

OperationPtr PointEditor::operation_with(const EditableNets& net, const Shapings& shapings) const {
  const Step* step = find_step(model_.document(), net.step);
  if (step != nullptr)
    if (const auto* shapes = offer_of<ShapesPoints>(*step->operation))
      return shapes->with_shapings(shapings);
  ShapedPointsOperation fresh;
  fresh.symmetry = next_symmetry_;
  return fresh.with_shapings(shapings);
}

Document PointEditor::document_with(const EditableNets& net, const Shapings& shapings) {
  const OperationPtr operation = operation_with(net, shapings);
  if (net.step != 0) return with_operation(model_.document(), net.step, operation);
  if (added_) return with_operation(*added_, added_step_, operation);
  Added added = with_step(model_.document(), model_.chosen_part(), operation);
  added_ = added.document;
  added_step_ = added.step;
  return added.document;
}

Hand PointEditor::hand(const EditableNets& nets) const {
  Hand h{nets.below, nets.shapings, nets.shown, symmetry(), mirrors_,
         {},         picked_,       leader_,    falloff_};
  if (const ShapesPoints* shaped = shaped_step()) h.holds = shaped->edge_rules();
  return h;
}

bool PointEditor::begin_drag() {
  if (picked_.empty()) return false;
  if (const QString why = obstacle(); !why.isEmpty()) {
    model_.say_trouble(why);
    return false;
  }
  if (std::all_of(picked_.begin(), picked_.end(),
                  [this](const PointIndex& p) { return held(p); })) {
    model_.say_trouble(tr(
        "The picked points are held by an edge. Let go of the hold in the settings of the step."));
    return false;
  }
  if (!model_.attempt([this] { check_symmetry(hand(*net_)); })) return false;
  if (model_.trial()) model_.keep_trial();
  start_ = net_;
  hand_ = hand(*net_);
  pulled_.reset();
  drag_edit_.reset();
  dragged_ = net_->shapings;
  drag_label_ = move_label(picked_.size());
  points_moved_ = 0.0;
  surface_moved_ = 0.0;
  return true;
}

bool PointEditor::begin_pull(const SurfacePlace& place) {
  if (const QString why = obstacle(); !why.isEmpty()) {
    model_.say_trouble(why);
    return false;
  }
  if (!model_.attempt([this] { check_symmetry(hand(*net_)); })) return false;
  if (model_.trial()) model_.keep_trial();
  const Nets& nets = net_->shown;
  const SkinPlace at = skin_place(nets, place.surface, place.u, place.v);
  start_ = net_;
  hand_ = hand(*net_);
  PullReach reach = pull_reach(*hand_, at);
  leader_ = reach.leader;
  shares_ = std::move(reach.shares);
  pulled_ = at;
  dragged_ = net_->shapings;
  drag_edit_.reset();
  drag_label_ = tr("Pull the skin");
  points_moved_ = 0.0;
  surface_moved_ = 0.0;
  return true;
}

void PointEditor::show_dragged(const Shapings& shapings) {
  dragged_ = shapings;
  net_->shapings = dragged_;
  net_->shown = with_shaping(start_->below, dragged_);
  showing_ = true;
  model_.preview_drag(document_with(*start_, dragged_));
  if (added_ && model_.chosen_step() != added_step_) model_.choose_step(added_step_);
  showing_ = false;
  measure_drag();
  Q_EMIT changed();
}

void PointEditor::drag(const PointEdit& edit) {
  if (!start_) return;
  drag_edit_ = edit;
  show_dragged(edited(*hand_, edit));
}

void PointEditor::drag_to(const Move& move) {
  Move whole = move;
  whole.plane_normal = work_plane_.z;
  drag(MovePoints{whole});
}

Move PointEditor::snapped(const Move& move, const Vec3& place) const {
  return start_ ? move_to(start_->shown, leader_, move, place) : move;
}

void PointEditor::drag_weight(double factor) {
  if (!start_) return;
  drag_label_ = tr("Weight of %1 points").arg(picked_.size());
  show_dragged(edited(*hand_, MultiplyWeight{factor}));
}

// One direction, the two of the work plane, or all three.
Vec3 PointEditor::scale_factors(double f) const {
  switch (direction_) {
    case MoveDirection::X:
      return {f, 1, 1};
    case MoveDirection::Y:
      return {1, f, 1};
    case MoveDirection::Z:
      return {1, 1, f};
    case MoveDirection::WorkPlane:
    case MoveDirection::InView:
      return {f, f, 1};
    default:
      return {f, f, f};
  }
}

Frame PointEditor::scale_frame(const Frame& screen) const {
  Frame frame;
  if (direction_ == MoveDirection::WorkPlane) frame = work_plane_;
  if (direction_ == MoveDirection::InView) frame = screen;
  frame.origin = pivot_place();
  return frame;
}

void PointEditor::drag_scale(double factor, const Frame& screen) {
  if (!start_) return;
  drag_label_ = tr("Scale %1 points").arg(picked_.size());
  drag(ScalePoints{scale_frame(screen), scale_factors(factor)});
}

void PointEditor::drag_turn(double degrees, const Frame& screen) {
  if (!start_) return;
  drag_label_ = tr("Turn %1 points").arg(picked_.size());
  drag(TurnPoints{pivot_place(), axis(leader_, screen), degrees});
}

void PointEditor::drag_pull(const Vec3& way) {
  if (!start_ || !pulled_) return;
  if (!model_.attempt([&] { drag(PullSkin{*pulled_, way}); })) cancel_drag();
}

void PointEditor::measure_drag() {
  if (!start_ || !net_) return;
  points_moved_ = distance(net_->shown.point(leader_), start_->shown.point(leader_));
  // A cage has no skin of its own, and that of a form is not followed while it is dragged.
  if (start_->shown.of(leader_).lattice() != nullptr || form() != nullptr) return;
  SkinPlace place{leader_.net, 0.0, 0.0};
  if (pulled_) {
    place = *pulled_;
  } else {
    const GrevillePlace g = greville(start_->shown, leader_);
    place.u = g.u;
    place.v = g.v;
  }
  surface_moved_ = distance(skin_point(net_->shown, place), skin_point(start_->shown, place));
}

QString PointEditor::move_label(std::size_t points) const {
  return points == 1 ? tr("Move 1 point") : tr("Move %1 points").arg(points);
}

void PointEditor::end_drag() {
  if (!start_) return;
  const bool did_move = dragged_ != start_->shapings;
  Document document = did_move ? document_with(*start_, dragged_) : Document{};
  const QString merge = QString("drag %1").arg(++moves_done_);
  last_move_.reset();
  if (did_move && drag_edit_)
    last_move_ = LastMove{added_ ? added_step_ : start_->step,
                          std::move(*hand_),
                          dragged_,
                          *drag_edit_,
                          picked_,
                          drag_label_,
                          merge};
  start_.reset();
  hand_.reset();
  added_.reset();
  pulled_.reset();
  drag_edit_.reset();
  refresh_shares();
  if (did_move)
    model_.commit_drag(std::move(document), drag_label_, merge);
  else
    model_.drop_drag();
  Q_EMIT changed();
}

// The last drag with the falloff as it is now, in the place of what it did; still one undo entry.
void PointEditor::move_again() {
  if (!last_move_ || !net_ || start_ || model_.trial()) return;
  LastMove& last = *last_move_;
  if (last.step != model_.chosen_step() || last.picked != picked_ ||
      net_->shapings != last.result) {
    last_move_.reset();
    return;
  }
  last.hand.falloff = falloff_;
  last.result = edited(last.hand, last.edit);
  net_->shapings = last.result;
  net_->shown = with_shaping(last.hand.below, last.result);
  EditableNets nets = *net_;
  nets.step = last.step;
  model_.commit(document_with(nets, last.result), last.label, last.merge);
}

void PointEditor::cancel_drag() {
  if (!start_) return;
  net_ = start_;
  start_.reset();
  hand_.reset();
  added_.reset();
  pulled_.reset();
  refresh_shares();
  model_.drop_drag();
  Q_EMIT changed();
}

bool PointEditor::move_by(const Move& move) {
  if (!begin_drag()) return false;
  drag_to(move);
  end_drag();
  return true;
}

bool PointEditor::scale_by(double factor, const Frame& screen) {
  if (!begin_drag()) return false;
  drag_scale(factor, screen);
  end_drag();
  return true;
}

bool PointEditor::turn_by(double degrees, const Frame& screen) {
  if (!begin_drag()) return false;
  drag_turn(degrees, screen);
  end_drag();
  return true;
}

bool PointEditor::commit_edit(const QString& label, const PointEdit& edit) {
  if (const QString why = obstacle(); !why.isEmpty()) {
    model_.say_trouble(why);
    return false;
  }
  if (model_.trial()) model_.keep_trial();
  return model_.attempt([&] {
    const Shapings shapings = edited(hand(*net_), edit);
    added_.reset();
    Document document = document_with(*net_, shapings);
    const StepId fresh = added_ ? added_step_ : 0;
    added_.reset();
    model_.commit(std::move(document), label);
    if (fresh != 0) model_.choose_step(fresh);
  });
}

bool PointEditor::set_weight(double weight) {
  if (picked_.empty()) return false;
  return commit_edit(tr("Weight of %1 points").arg(picked_.size()), SetWeight{weight});
}

std::optional<double> PointEditor::picked_weight() const {
  if (!net_ || picked_.empty()) return std::nullopt;
  const PointIndex p = picked_.contains(leader_) ? leader_ : *picked_.begin();
  return net_->shown.weight(p);
}

bool PointEditor::arrange(const QString& label, const PointEdit& edit) {
  if (picked_.empty()) {
    model_.say_trouble(tr("Pick the points first that this is to work on."));
    return false;
  }
  return commit_edit(label, edit);
}

void PointEditor::begin_plane_points() {
  if (picked_.empty()) {
    model_.say_trouble(tr("Pick the points first that are to be brought onto the plane."));
    return;
  }
  plane_asked_ = true;
  plane_points_.clear();
  model_.say(
      tr("Click three points of the net; the picked ones go onto the plane through them. Esc "
         "leaves it."));
  Q_EMIT changed();
}

void PointEditor::cancel_plane_points() {
  plane_asked_ = false;
  plane_points_.clear();
  model_.say({});
  Q_EMIT changed();
}

void PointEditor::add_plane_point(PointIndex point) {
  if (!plane_asked_ || !net_) return;
  if (std::find(plane_points_.begin(), plane_points_.end(), point) == plane_points_.end())
    plane_points_.push_back(point);
  if (plane_points_.size() < 3) {
    model_.say(plane_points_.size() == 1 ? tr("Click the second point.")
                                         : tr("Click the third point."));
    Q_EMIT changed();
    return;
  }
  const std::vector<PointIndex> three = std::move(plane_points_);
  cancel_plane_points();
  const Nets& nets = net_->shown;
  model_.attempt([&] {
    arrange(
        tr("Level to three points"),
        LevelTo{plane_through(nets.point(three[0]), nets.point(three[1]), nets.point(three[2]))});
  });
}

bool PointEditor::make_symmetric() {
  const SymmetryPlane wanted = symmetry() != SymmetryPlane::None ? symmetry() : last_symmetry_;
  return commit_edit(tr("Make symmetric"), MakeSymmetric{wanted});
}

bool PointEditor::bring_back() {
  if (!net_ || picked_.empty()) return false;
  return commit_edit(picked_.size() == 1 ? tr("Bring 1 point back")
                                         : tr("Bring %1 points back").arg(picked_.size()),
                     BringBack{});
}

}  // namespace evenclay
