#include "app/tools/point_editor.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/error.h"
#include "core/operations/common.h"

namespace evenclay {

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
    case MoveDirection::OnSkin:
      return QObject::tr("on the skin, to the right");
    case MoveDirection::AlongU:
      return QObject::tr("along the net, u");
    case MoveDirection::AlongV:
      return QObject::tr("along the net, v");
    case MoveDirection::AlongW:
      return QObject::tr("along the net, w");
    case MoveDirection::WorkPlane:
      return QObject::tr("in the work plane, to the right");
  }
  return {};
}

PointEditor::PointEditor(AppModel& model) : model_(model) {
  connect(&model_, &AppModel::answered, this, &PointEditor::refresh);
  connect(&model_, &AppModel::interrupting, this, [this] {
    if (!showing_) cancel_drag();
  });
  connect(&model_, &AppModel::chosen_changed, this, [this] {
    plane_asked_ = false;
    if (picked_part_ != model_.chosen_part()) {
      picked_.clear();
      form_picked_.clear();
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
  too_many_ = false;
  mirrors_.clear();
  const auto answer = model_.answer();
  const Step* step = find_step(model_.document(), model_.chosen_step());
  // A drawn curve is changed by its own places (CurveTool).
  const auto* drawn = step != nullptr ? offer_of<DrawsPoints>(*step->operation) : nullptr;
  const bool own_places = drawn != nullptr && !drawn->places_are_net();
  if (step == nullptr || own_places || !answer->shown || answer->shown_step != step->id ||
      (kind_of(*answer->shown) & (kMesh | kPoints)) != 0 ||
      std::holds_alternative<Picture>(*answer->shown) || is_empty(*answer->shown)) {
    picked_.clear();
    Q_EMIT changed();
    return;
  }
  EditableNets net;
  if (answer->hand_nets) {
    net.step = step->id;
    net.below = *answer->hand_nets;
    net.shapings = *answer->shapings;
    net.shown = with_shaping(net.below, net.shapings);
  } else if (net.shown = nets_of(*answer->shown, {}); answer->shapings) {
    net.step = step->id;
    net.below = nets_of(*answer->before, {});
    net.shapings = *answer->shapings;
    net.shown.united = net.below.united;
    net.shown.united_of = net.below.united_of;
  } else {
    net.below = net.shown;
    net.shapings = ShapedPointsOperation().offered(*answer->shown).shapings;
  }
  // What was cut or joined may have more points than a hand can use, such as a blend: they would hide it.
  constexpr std::size_t kUsable = 600;
  too_many_ = net.step == 0 && step->operation->info().stage == Stage::CutAndJoin &&
              net.shown.size() > kUsable;
  if (too_many_) {
    picked_.clear();
    Q_EMIT changed();
    return;
  }
  std::erase_if(picked_, [&](const PointIndex& p) { return !net.shown.contains(p); });
  if (!net.shown.contains(leader_)) leader_ = {};
  mirrors_ =
      find_mirrors(net.shown, symmetry(), kMirrorTolerance).value_or(std::vector<MirrorMap>{});
  net_ = std::move(net);
  if (form() != nullptr) {
    if (mode_ == EditMode::PullSkin || mode_ == EditMode::Weight) mode_ = EditMode::Move;
    if (direction_ == MoveDirection::AlongU || direction_ == MoveDirection::AlongV ||
        direction_ == MoveDirection::AlongW)
      direction_ = MoveDirection::OffSkin;
  }
  refresh_form_picks();
  refresh_shares();
  Q_EMIT changed();
}

void PointEditor::refresh_shares() {
  shares_ = net_ ? evenclay::shares(net_->shown, picked_, falloff_) : PointShares{};
}

QString PointEditor::obstacle() const {
  const Step* chosen = find_step(model_.document(), model_.chosen_step());
  if (!net_ && chosen != nullptr && offer_of<DrawsPoints>(*chosen->operation) != nullptr)
    return tr(
        "The places of this curve are dragged themselves. Add Rebuild to shape control points.");
  if (!net_ && too_many_)
    return tr(
        "What this step made has too many control points to be moved by hand. Shape the steps "
        "below it, "
        "or add Rebuild or Lighten.");
  if (!net_)
    return tr("This part has no control points to move. Choose a part made of surfaces or curves.");
  const Step* step = find_step(model_.document(), model_.chosen_step());
  if (step == nullptr) return tr("Choose a part first.");
  if (const Part* part = part_of_step(model_.document(), step->id);
      is_locked(model_.document(), *part))
    return tr("%1 is locked. Unlock it in the list of parts first.")
        .arg(QString::fromStdString(part->name));
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

// --- how it is moved --------------------------------------------------------------------------------

void PointEditor::set_mode(EditMode mode) {
  mode_ = mode;
  Q_EMIT changed();
}

void PointEditor::set_pivot(Pivot pivot) {
  pivot_ = pivot;
  Q_EMIT changed();
}

Vec3 PointEditor::pivot_place() const {
  const auto& net = start_ ? start_ : net_;
  if (!net) return {};
  return evenclay::pivot_place(net->shown, picked_, leader_, symmetry(), pivot_);
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

void PointEditor::set_work_plane(const Frame& plane) {
  work_plane_ = plane;
  model_.say(tr("The work plane is set. Choose Plane in the bar to move in it."));
  Q_EMIT changed();
}

void PointEditor::set_work_plane_from_picked() {
  if (!net_ || picked_.empty()) {
    model_.say_trouble(
        tr("Pick one, two or three points first; the work plane goes through them."));
    return;
  }
  model_.attempt([&] {
    std::vector<Vec3> p;
    for (const PointIndex& k : picked_) p.push_back(net_->shown.point(k));
    LevelPlane plane{p.front(), {0, 0, 1}};
    if (p.size() == 1) plane.normal = skin_normal(net_->shown, *picked_.begin());
    if (p.size() == 2) plane = plane_through(p[0], p[1], p[0] + Vec3{0, 0, 1});
    if (p.size() == 3) plane = plane_through(p[0], p[1], p[2]);
    if (p.size() > 3) plane = mean_plane(net_->shown, picked_);
    Frame frame;
    frame.origin = plane.origin;
    frame.z = plane.normal;
    frame.x = normalized(cross(std::abs(frame.z.z) < 0.9 ? Vec3{0, 0, 1} : Vec3{1, 0, 0}, frame.z));
    frame.y = cross(frame.z, frame.x);
    set_work_plane(frame);
  });
}

const ShapesPoints* PointEditor::shaped_step() const {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  return step != nullptr ? offer_of<ShapesPoints>(*step->operation) : nullptr;
}

SymmetryPlane PointEditor::symmetry() const {
  const ShapesPoints* shaped = shaped_step();
  return shaped != nullptr ? shaped->symmetry_planes() : next_symmetry_;
}

void PointEditor::set_symmetry(SymmetryPlane plane) {
  if (plane != SymmetryPlane::None) last_symmetry_ = plane;
  if (net_ && !find_mirrors(net_->shown, plane, kMirrorTolerance)) {
    model_.say_trouble(
        tr("The control points are not symmetric about that plane within 0.01 mm. Choose another "
           "plane, or make them symmetric first (Make symmetric)."));
    return;
  }
  next_symmetry_ = plane;
  const Step* step = find_step(model_.document(), model_.chosen_step());
  if (const ShapesPoints* shaped = shaped_step(); shaped != nullptr) {
    model_.change_operation(step->id, shaped->with_symmetry(plane), tr("Symmetry"), {});
  } else {
    if (net_)
      mirrors_ =
          find_mirrors(net_->shown, plane, kMirrorTolerance).value_or(std::vector<MirrorMap>{});
    Q_EMIT changed();
  }
}

void PointEditor::toggle_symmetry() {
  const SymmetryPlane now = symmetry();
  if (now != SymmetryPlane::None) last_symmetry_ = now;
  set_symmetry(now == SymmetryPlane::None ? last_symmetry_ : SymmetryPlane::None);
}

Vec3 PointEditor::axis(PointIndex point, const Frame& screen) const {
  const auto& net = start_ ? start_ : net_;
  const bool turning = mode_ == EditMode::Turn;
  switch (direction_) {
    case MoveDirection::X:
      return {1, 0, 0};
    case MoveDirection::Y:
      return {0, 1, 0};
    case MoveDirection::Z:
      return {0, 0, 1};
    case MoveDirection::OffSkin:
    case MoveDirection::OnSkin:
      if (direction_ == MoveDirection::OnSkin && !turning) return screen.x;
      return net ? skin_normal(net->shown, point) : Vec3{0, 0, 1};
    case MoveDirection::AlongU:
    case MoveDirection::AlongV: {
      if (!net) return screen.x;
      return leg_direction(net->shown, point, direction_ == MoveDirection::AlongU ? 0 : 1, true);
    }
    case MoveDirection::AlongW:
      return net ? leg_direction(net->shown, point, 2, true) : screen.x;
    case MoveDirection::InView:
      return turning ? screen.z : screen.x;
    case MoveDirection::WorkPlane:
      return turning ? work_plane_.z : screen.x;
  }
  return {};
}

}  // namespace evenclay
