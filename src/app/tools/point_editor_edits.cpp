// The edits of PointEditor: drags, typed amounts, arranging; each is one undo entry.
#include <algorithm>
#include <limits>

#include "app/tools/point_editor.h"
#include "core/base/error.h"

namespace evenclay {

namespace {
constexpr double kMirrorTolerance = 0.01;  // mm
}

std::shared_ptr<ShapedPointsOperation> PointEditor::operation_of(const EditableNet& net) const {
  const Step* step = find_step(model_.document(), net.step);
  if (step != nullptr && step->operation->kind() == "shaped_points")
    return std::static_pointer_cast<ShapedPointsOperation>(step->operation->clone());
  auto fresh = std::make_shared<ShapedPointsOperation>();
  fresh->symmetry = next_symmetry_;
  return fresh;
}

Document PointEditor::document_with(const EditableNet& net, const Shaping& shaping) {
  auto operation = operation_of(net);
  if (operation->point.surfaces.empty()) operation->point.surfaces.resize(1);
  operation->point.surfaces.front() = shaping;
  if (net.step != 0) return with_operation(model_.document(), net.step, operation);
  if (added_) return with_operation(*added_, added_step_, operation);
  Added added = with_step(model_.document(), model_.chosen_part(), operation);
  added_ = added.document;
  added_step_ = added.step;
  return added.document;
}

ShapeRules PointEditor::rules() const {
  ShapeRules r;
  r.mirrors = mirrors_;
  r.leader = leader_;
  if (const ShapedPointsOperation* shaped = shaped_step()) r.held_rows = shaped->held_rows();
  return r;
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
  if (model_.trial()) model_.keep_trial();
  start_ = net_;
  pulled_.reset();
  dragged_ = net_->shaping;
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
  if (model_.trial()) model_.keep_trial();
  const Surface& s = net_->surface;
  const Parameter at{s.u.first() + place.u * s.u.length(), s.v.first() + place.v * s.v.length()};
  // The control point whose place is nearest leads; the falloff counts from it.
  double nearest = std::numeric_limits<double>::infinity();
  const Vec3 skin = evaluate(s, at.u, at.v);
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j)
      if (const double d = distance(s.points(i, j), skin); d < nearest) {
        nearest = d;
        leader_ = {0, i, j};
      }
  const bool limited = falloff_.reach_along > 0 || falloff_.reach_across > 0;
  shares_ = limited ? evenclay::shares(s, {leader_}, falloff_)
                    : Grid<double>(s.points.rows(), s.points.columns(), 1.0);
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j)
      if (held({0, i, j})) shares_(i, j) = 0.0;
  start_ = net_;
  pulled_ = at;
  dragged_ = net_->shaping;
  drag_label_ = tr("Pull the skin");
  points_moved_ = 0.0;
  surface_moved_ = 0.0;
  return true;
}

void PointEditor::drag_field(const Grid<Vec3>& field) {
  if (!start_) return;
  dragged_ = with_moves(start_->shaping, start_->surface, field, shares_, rules());
  net_->shaping = dragged_;
  net_->surface = apply(start_->below, dragged_);
  model_.preview_drag(document_with(*start_, dragged_));
  if (added_ && model_.chosen_step() != added_step_) model_.choose_step(added_step_);
  measure_drag();
  Q_EMIT changed();
}

void PointEditor::drag_to(const Move& move) {
  if (!start_) return;
  Move whole = move;
  whole.plane_normal = work_plane_.z;
  drag_field(moves_of(start_->surface, shares_, whole));
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
  drag_field(scale(start_->surface, shares_, scale_frame(screen), scale_factors(factor)));
}

void PointEditor::drag_turn(double degrees, const Frame& screen) {
  if (!start_) return;
  drag_label_ = tr("Turn %1 points").arg(picked_.size());
  drag_field(turn(start_->surface, shares_, pivot_place(), axis(leader_, screen), degrees));
}

void PointEditor::drag_pull(const Vec3& way) {
  if (!start_ || !pulled_) return;
  const bool fine = model_.attempt([&] {
    // Mirrored moves reach the place too: ask for what is still missing until it follows exactly.
    Vec3 asked = way;
    const Vec3 from = evaluate(start_->surface, pulled_->u, pulled_->v);
    Grid<Vec3> field;
    for (int pass = 0; pass < (mirrors_.empty() ? 1 : 12); ++pass) {
      field = pull_skin(start_->surface, shares_, pulled_->u, pulled_->v, asked);
      const Surface trial = apply(
          start_->below, with_moves(start_->shaping, start_->surface, field, shares_, rules()));
      asked += way - (evaluate(trial, pulled_->u, pulled_->v) - from);
    }
    drag_field(field);
  });
  if (!fine) cancel_drag();
}

void PointEditor::measure_drag() {
  if (!start_ || !net_) return;
  points_moved_ = distance(net_->surface.points(leader_.i, leader_.j),
                           start_->surface.points(leader_.i, leader_.j));
  const GrevillePlace g =
      pulled_ ? GrevillePlace{pulled_->u, pulled_->v} : greville(start_->surface, leader_);
  surface_moved_ = distance(evaluate(net_->surface, g.u, g.v), evaluate(start_->surface, g.u, g.v));
}

QString PointEditor::move_label(std::size_t points) const {
  return points == 1 ? tr("Move 1 point") : tr("Move %1 points").arg(points);
}

void PointEditor::end_drag() {
  if (!start_) return;
  const bool did_move = dragged_ != start_->shaping;
  Document document = did_move ? document_with(*start_, dragged_) : Document{};
  start_.reset();
  added_.reset();
  pulled_.reset();
  refresh_shares();
  if (did_move)
    model_.commit(std::move(document), drag_label_);
  else
    model_.drop_drag();
  Q_EMIT changed();
}

void PointEditor::cancel_drag() {
  if (!start_) return;
  net_ = start_;
  start_.reset();
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

bool PointEditor::commit_shaping(const QString& label, const std::function<Shaping()>& make) {
  if (const QString why = obstacle(); !why.isEmpty()) {
    model_.say_trouble(why);
    return false;
  }
  if (model_.trial()) model_.keep_trial();
  return model_.attempt([&] {
    const Shaping shaping = make();
    added_.reset();
    Document document = document_with(*net_, shaping);
    const StepId fresh = added_ ? added_step_ : 0;
    added_.reset();
    model_.commit(std::move(document), label);
    if (fresh != 0) model_.choose_step(fresh);
  });
}

bool PointEditor::set_weight(double weight) {
  if (picked_.empty()) return false;
  return commit_shaping(tr("Weight of %1 points").arg(picked_.size()), [&] {
    Selection all = picked_;
    const Selection mirrored_ones = partners();
    all.insert(mirrored_ones.begin(), mirrored_ones.end());
    return with_weight(net_->shaping, net_->below, all, weight, std::nullopt);
  });
}

std::optional<double> PointEditor::picked_weight() const {
  if (!net_ || picked_.empty()) return std::nullopt;
  const PointIndex p = picked_.contains(leader_) ? leader_ : *picked_.begin();
  return net_->surface.weight(p.i, p.j);
}

bool PointEditor::arrange(const QString& label, const FieldMaker& field) {
  if (picked_.empty()) {
    model_.say_trouble(tr("Pick the points first that this is to work on."));
    return false;
  }
  return commit_shaping(label, [&] {
    return with_moves(net_->shaping, net_->surface, field(net_->surface, shares_, picked_), shares_,
                      rules());
  });
}

bool PointEditor::make_symmetric() {
  const SymmetryPlane wanted = symmetry() != SymmetryPlane::None ? symmetry() : last_symmetry_;
  return commit_shaping(tr("Make symmetric"), [&] {
    Shaping result = net_->shaping;
    Surface now = net_->surface;
    for (const SymmetryPlane plane : planes_of(wanted)) {
      // How far from symmetric a hand-shaped net may be: partners are found on the grid.
      auto map = find_mirror(net_->below, plane, kMirrorTolerance);
      if (!map) map = find_mirror(now, plane, 0.25 * size(now));
      if (!map || !map->on_grid)
        throw Error(
            "No side of this net answers the other: rows and columns do not mirror. Rebuild it to "
            "an even count first.");
      result = made_symmetric(result, now, *map, leader_);
      now = apply(net_->below, result);
    }
    return result;
  });
}

}  // namespace evenclay
