#include "app/tools/point_editor.h"

namespace evenclay {

namespace {
constexpr double kMirrorTolerance = 0.01;  // mm, said in the message when it is missed
}

QString direction_words(MoveDirection direction) {
  switch (direction) {
    case MoveDirection::X:
      return QObject::tr("along x");
    case MoveDirection::Y:
      return QObject::tr("along y");
    case MoveDirection::Z:
      return QObject::tr("along z");
    case MoveDirection::OffSkin:
      return QObject::tr("off the skin");
    case MoveDirection::InView:
      return QObject::tr("to the right in the view");
  }
  return {};
}

PointEditor::PointEditor(AppModel& model) : model_(model) {
  connect(&model_, &AppModel::answered, this, &PointEditor::refresh);
  connect(&model_, &AppModel::chosen_changed, this, [this] {
    if (picked_part_ != model_.chosen_part()) {
      picked_.clear();
      picked_part_ = model_.chosen_part();
    }
    if (!start_) net_.reset();
    Q_EMIT changed();
  });
}

void PointEditor::refresh() {
  if (start_) {
    measure_drag();
    Q_EMIT changed();
    return;
  }
  if (!model_.up_to_date()) return;
  net_.reset();
  mirror_.reset();
  const auto answer = model_.answer();
  const Step* step = find_step(model_.document(), model_.chosen_step());
  const auto* set = answer->shown ? std::get_if<SurfaceSet>(answer->shown.get()) : nullptr;
  if (step == nullptr || set == nullptr || set->surfaces.empty() ||
      answer->shown_step != step->id) {
    picked_.clear();
    Q_EMIT changed();
    return;
  }
  EditableNet net;
  net.surface = set->surfaces.front();
  if (answer->shaping) {
    net.step = step->id;
    net.below = std::get<SurfaceSet>(*answer->before).surfaces.front();
    net.shaping = *answer->shaping;
  } else {
    net.below = net.surface;
    net.shaping = no_shaping(net.surface);
  }
  const int rows = net.surface.points.rows();
  const int columns = net.surface.points.columns();
  std::erase_if(picked_, [&](const PointIndex& p) { return p.i >= rows || p.j >= columns; });
  mirror_ = find_mirror(net.surface, symmetry(), kMirrorTolerance);
  net_ = std::move(net);
  Q_EMIT changed();
}

QString PointEditor::obstacle() const {
  if (!net_) return tr("This part has no control points to move. Choose a part made of surfaces.");
  const Step* step = find_step(model_.document(), model_.chosen_step());
  if (step == nullptr) return tr("Choose a part first.");
  if (net_->step == 0 && !model_.chosen_is_last())
    return tr(
        "Points are moved in the last build step or in a Shaped points step. Choose one of "
        "them in the list on the right.");
  if (!model_.up_to_date()) return tr("The shape is still being computed. Try again in a moment.");
  return {};
}

void PointEditor::set_net_visible(bool visible) {
  net_visible_ = visible;
  Q_EMIT changed();
}

void PointEditor::pick(const Selection& points) {
  picked_ = net_ ? with_whole_poles(net_->surface, points, 1e-9) : Selection{};
  if (!picked_.empty() && !picked_.contains(leader_)) leader_ = *picked_.begin();
  Q_EMIT changed();
}

void PointEditor::extend_to_rows(bool along_u) {
  if (!net_) return;
  Selection all = picked_;
  for (const PointIndex& p : picked_) {
    const Selection row = row_through(net_->surface, p, along_u);
    all.insert(row.begin(), row.end());
  }
  pick(all);
}

Vec3 PointEditor::picked_centre() const {
  Vec3 sum;
  if (!net_ || picked_.empty()) return sum;
  for (const PointIndex& p : picked_) sum += net_->surface.points(p.i, p.j);
  return sum / static_cast<double>(picked_.size());
}

Selection PointEditor::partners() const {
  Selection result;
  if (!mirror_ || !net_) return result;
  for (const PointIndex& p : picked_) {
    PointIndex q = mirror_->partner(p.i, p.j);
    q.surface = p.surface;
    if (!picked_.contains(q)) result.insert(q);
  }
  return result;
}

void PointEditor::set_direction(MoveDirection direction) {
  direction_ = direction;
  Q_EMIT changed();
}

void PointEditor::set_ratio(double ratio) {
  ratio_ = ratio;
  Q_EMIT changed();
}

void PointEditor::set_step_length(double mm) {
  step_ = mm;
  Q_EMIT changed();
}

SymmetryPlane PointEditor::symmetry() const {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  const auto* shaped =
      step != nullptr ? dynamic_cast<const ShapedPointsOperation*>(step->operation.get()) : nullptr;
  return shaped != nullptr ? shaped->symmetry : next_symmetry_;
}

void PointEditor::set_symmetry(SymmetryPlane plane) {
  if (plane != SymmetryPlane::None) last_symmetry_ = plane;
  if (plane != SymmetryPlane::None && net_ &&
      !find_mirror(net_->surface, plane, kMirrorTolerance)) {
    model_.say_trouble(
        tr("The control points are not symmetric about that plane within 0.01 mm. Choose another "
           "plane, or make the shape below symmetric first."));
    return;
  }
  next_symmetry_ = plane;
  const Step* step = find_step(model_.document(), model_.chosen_step());
  if (step != nullptr && step->operation->kind() == "shaped_points") {
    auto copy = std::static_pointer_cast<ShapedPointsOperation>(step->operation->clone());
    copy->symmetry = plane;
    model_.change_operation(step->id, copy, tr("Symmetry"), {});
  } else {
    if (net_) mirror_ = find_mirror(net_->surface, plane, kMirrorTolerance);
    Q_EMIT changed();
  }
}

void PointEditor::toggle_symmetry() {
  const SymmetryPlane now = symmetry();
  if (now != SymmetryPlane::None) last_symmetry_ = now;
  set_symmetry(now == SymmetryPlane::None ? last_symmetry_ : SymmetryPlane::None);
}

Vec3 PointEditor::axis(PointIndex point, const Vec3& screen_right) const {
  switch (direction_) {
    case MoveDirection::X:
      return {1, 0, 0};
    case MoveDirection::Y:
      return {0, 1, 0};
    case MoveDirection::Z:
      return {0, 0, 1};
    case MoveDirection::OffSkin: {
      const auto& net = start_ ? start_ : net_;
      return net ? skin_normal(net->surface, point) : Vec3{0, 0, 1};
    }
    case MoveDirection::InView:
      return screen_right;
  }
  return {};
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

bool PointEditor::begin_drag() {
  if (picked_.empty()) return false;
  if (const QString why = obstacle(); !why.isEmpty()) {
    model_.say_trouble(why);
    return false;
  }
  if (model_.trial()) model_.keep_trial();
  start_ = net_;
  dragged_ = net_->shaping;
  points_moved_ = 0.0;
  surface_moved_ = 0.0;
  return true;
}

void PointEditor::drag_to(const Move& move) {
  if (!start_) return;
  dragged_ = moved(start_->shaping, start_->surface, picked_, move, mirror_, leader_);
  net_->shaping = dragged_;
  net_->surface = apply(start_->below, dragged_);
  model_.preview_drag(document_with(*start_, dragged_));
  if (added_ && model_.chosen_step() != added_step_) model_.choose_step(added_step_);
  measure_drag();
  Q_EMIT changed();
}

void PointEditor::measure_drag() {
  if (!start_ || !net_) return;
  points_moved_ = distance(net_->surface.points(leader_.i, leader_.j),
                           start_->surface.points(leader_.i, leader_.j));
  const GrevillePlace g = greville(start_->surface, leader_);
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
  if (did_move)
    model_.commit(std::move(document), move_label(picked_.size()));
  else
    model_.drop_drag();
  Q_EMIT changed();
}

void PointEditor::cancel_drag() {
  if (!start_) return;
  net_ = start_;
  start_.reset();
  added_.reset();
  model_.drop_drag();
  Q_EMIT changed();
}

bool PointEditor::move_by(const Move& move) {
  if (!begin_drag()) return false;
  drag_to(move);
  end_drag();
  return true;
}

bool PointEditor::set_weight(double weight) {
  if (picked_.empty()) return false;
  if (const QString why = obstacle(); !why.isEmpty()) {
    model_.say_trouble(why);
    return false;
  }
  return model_.attempt([&] {
    const Shaping shaping = with_weight(net_->shaping, net_->below, picked_, weight, mirror_);
    added_.reset();
    Document document = document_with(*net_, shaping);
    const StepId fresh = added_ ? added_step_ : 0;
    added_.reset();
    model_.commit(std::move(document), tr("Weight of %1 points").arg(picked_.size()));
    if (fresh != 0) model_.choose_step(fresh);
  });
}

std::optional<double> PointEditor::picked_weight() const {
  if (!net_ || picked_.empty()) return std::nullopt;
  const PointIndex p = picked_.contains(leader_) ? leader_ : *picked_.begin();
  return net_->surface.weight(p.i, p.j);
}

}  // namespace evenclay
