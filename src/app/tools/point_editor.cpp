#include "app/tools/point_editor.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/error.h"

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
    case MoveDirection::OnSkin:
      return QObject::tr("on the skin, to the right");
    case MoveDirection::AlongU:
      return QObject::tr("along the net, u");
    case MoveDirection::AlongV:
      return QObject::tr("along the net, v");
    case MoveDirection::WorkPlane:
      return QObject::tr("in the work plane, to the right");
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
  mirrors_.clear();
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
  mirrors_ =
      find_mirrors(net.surface, symmetry(), kMirrorTolerance).value_or(std::vector<MirrorMap>{});
  net_ = std::move(net);
  refresh_shares();
  Q_EMIT changed();
}

void PointEditor::refresh_shares() {
  shares_ = net_ ? evenclay::shares(net_->surface, picked_, falloff_) : Grid<double>{};
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

// --- what is picked ---------------------------------------------------------------------------------

void PointEditor::pick(const Selection& points) {
  picked_ = net_ ? with_whole_poles(net_->surface, points, 1e-9) : Selection{};
  if (!picked_.empty() && !picked_.contains(leader_)) leader_ = *picked_.begin();
  refresh_shares();
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

void PointEditor::extend_to(PointIndex to) {
  if (!net_) return;
  Selection all = picked_;
  const Selection range = range_between(net_->surface, picked_.empty() ? to : leader_, to);
  all.insert(range.begin(), range.end());
  pick(all);
}

void PointEditor::grow() {
  if (net_) pick(grown(net_->surface, picked_));
}

void PointEditor::shrink() {
  if (net_) pick(shrunk(net_->surface, picked_));
}

void PointEditor::pick_partners() {
  if (mirrors_.empty()) {
    model_.say_trouble(tr("Switch symmetry on first; then every point has a partner."));
    return;
  }
  const Selection others = partners();
  pick(others.empty() ? picked_ : others);
}

void PointEditor::pick_checker(bool other) {
  pick(checker(picked_, other));
}

void PointEditor::pick_every(int n, int start) {
  if (picked_.size() < 2 || n < 2) {
    model_.say_trouble(tr("Pick a row with E or R first; then every n-th of it can be taken."));
    return;
  }
  const int i = picked_.begin()->i;
  const bool row_of_v =
      std::all_of(picked_.begin(), picked_.end(), [&](const PointIndex& p) { return p.i == i; });
  pick(every_nth(picked_, !row_of_v, n, start));
}

Vec3 PointEditor::picked_centre() const {
  Vec3 sum;
  if (!net_ || picked_.empty()) return sum;
  for (const PointIndex& p : picked_) sum += net_->surface.points(p.i, p.j);
  return sum / static_cast<double>(picked_.size());
}

Selection PointEditor::partners() const {
  Selection result;
  if (!net_) return result;
  Selection all = picked_;
  for (const MirrorMap& mirror : mirrors_) {
    const Selection so_far = all;
    for (const PointIndex& p : so_far) {
      const PointIndex q = mirror.partner(p.i, p.j);
      all.insert({p.surface, q.i, q.j});
    }
  }
  for (const PointIndex& p : all)
    if (!picked_.contains(p)) result.insert(p);
  return result;
}

void PointEditor::set_falloff(const Falloff& falloff) {
  falloff_ = falloff;
  refresh_shares();
  Q_EMIT changed();
}

bool PointEditor::held(PointIndex point) const {
  const ShapedPointsOperation* shaped = shaped_step();
  return shaped != nullptr && net_ && is_held(net_->surface, point, shaped->held_rows());
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
  Vec3 centre;
  for (const PointIndex& p : picked_) centre += net->surface.points(p.i, p.j);
  if (!picked_.empty()) centre = centre / static_cast<double>(picked_.size());
  switch (pivot_) {
    case Pivot::Picked:
      break;
    case Pivot::Part: {
      Box3 box;
      for (const Vec3& p : net->surface.points.values()) box.add(p);
      return box.centre();
    }
    case Pivot::Leader:
      return net->surface.points(leader_.i, leader_.j);
    case Pivot::Symmetry:
      for (const SymmetryPlane plane : planes_of(symmetry()))
        centre = (centre + mirrored(centre, plane)) * 0.5;
      break;
  }
  return centre;
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
    for (const PointIndex& k : picked_) p.push_back(net_->surface.points(k.i, k.j));
    LevelPlane plane{p.front(), {0, 0, 1}};
    if (p.size() == 1) plane.normal = skin_normal(net_->surface, *picked_.begin());
    if (p.size() == 2) plane = plane_through(p[0], p[1], p[0] + Vec3{0, 0, 1});
    if (p.size() == 3) plane = plane_through(p[0], p[1], p[2]);
    if (p.size() > 3) plane = mean_plane(net_->surface, picked_);
    Frame frame;
    frame.origin = plane.origin;
    frame.z = plane.normal;
    frame.x = normalized(cross(std::abs(frame.z.z) < 0.9 ? Vec3{0, 0, 1} : Vec3{1, 0, 0}, frame.z));
    frame.y = cross(frame.z, frame.x);
    set_work_plane(frame);
  });
}

const ShapedPointsOperation* PointEditor::shaped_step() const {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  return step != nullptr ? dynamic_cast<const ShapedPointsOperation*>(step->operation.get())
                         : nullptr;
}

SymmetryPlane PointEditor::symmetry() const {
  const ShapedPointsOperation* shaped = shaped_step();
  return shaped != nullptr ? shaped->symmetry : next_symmetry_;
}

void PointEditor::set_symmetry(SymmetryPlane plane) {
  if (plane != SymmetryPlane::None) last_symmetry_ = plane;
  if (net_ && !find_mirrors(net_->surface, plane, kMirrorTolerance)) {
    model_.say_trouble(
        tr("The control points are not symmetric about that plane within 0.01 mm. Choose another "
           "plane, or make them symmetric first (Make symmetric)."));
    return;
  }
  next_symmetry_ = plane;
  const Step* step = find_step(model_.document(), model_.chosen_step());
  if (step != nullptr && step->operation->kind() == "shaped_points") {
    auto copy = std::static_pointer_cast<ShapedPointsOperation>(step->operation->clone());
    copy->symmetry = plane;
    model_.change_operation(step->id, copy, tr("Symmetry"), {});
  } else {
    if (net_)
      mirrors_ =
          find_mirrors(net_->surface, plane, kMirrorTolerance).value_or(std::vector<MirrorMap>{});
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
      return net ? skin_normal(net->surface, point) : Vec3{0, 0, 1};
    case MoveDirection::AlongU:
    case MoveDirection::AlongV: {
      if (!net) return screen.x;
      Grid<double> one(net->surface.points.rows(), net->surface.points.columns());
      one(point.i, point.j) = 1.0;
      return normalized(moves_of(net->surface, one, {direction_, 1.0, {}})(point.i, point.j));
    }
    case MoveDirection::InView:
      return turning ? screen.z : screen.x;
    case MoveDirection::WorkPlane:
      return turning ? work_plane_.z : screen.x;
  }
  return {};
}

// --- edits --------------------------------------------------------------------------------------------

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
