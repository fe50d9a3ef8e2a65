#include "app/tools/pattern_tool.h"

#include <QLocale>
#include <cmath>

#include "app/look/colours.h"
#include "app/view/layers.h"

namespace evenclay {

namespace {

constexpr double kNear = 9.0;  // pixels within which a handle is meant
constexpr int kPieces = 48;    // of a border line
constexpr double kLeast = 0.02;

double& limit(PatternFrame& f, std::size_t which) {
  double* all[] = {&f.region.s_from, &f.region.s_to, &f.region.t_from, &f.region.t_to};
  return *all[which];
}

double mixed_number(double a, double b, double share) {
  return a + (b - a) * share;
}

}  // namespace

const PlacesPattern* PatternTool::step() const {
  const Step* s = find_step(c_.model.document(), c_.model.chosen_step());
  return s != nullptr && s->enabled ? offer_of<PlacesPattern>(*s->operation) : nullptr;
}

std::optional<PatternFrame> PatternTool::frame() const {
  if (dragged_) return now_;
  if (step() == nullptr || !c_.model.pattern()) return std::nullopt;
  return c_.model.pattern()->frame;
}

// Between the places that the worker sent.
Vec3 PatternTool::place(double u, double v) const {
  const Grid<Vec3>& g = c_.model.pattern()->target;
  const auto part = [](double share, int count) {
    const double x = std::clamp(share, 0.0, 1.0) * (count - 1);
    const int k = std::min(static_cast<int>(x), count - 2);
    return std::pair{k, x - k};
  };
  const auto [i, a] = part(u, g.rows());
  const auto [j, b] = part(v, g.columns());
  return (g(i, j) * (1 - b) + g(i, j + 1) * b) * (1 - a) +
         (g(i + 1, j) * (1 - b) + g(i + 1, j + 1) * b) * a;
}

std::vector<Vec3> PatternTool::border(const PatternFrame& f, std::size_t which) const {
  const ChartRegion& r = f.region;
  std::vector<Vec3> line;
  for (int k = 0; k <= kPieces; ++k) {
    const double x = static_cast<double>(k) / kPieces;
    const double u = mixed_number(r.s_from, r.s_to, x);
    const double v = mixed_number(r.t_from, r.t_to, x);
    switch (which) {
      case 0:
        line.push_back(place(r.s_from, v));
        break;
      case 1:
        line.push_back(place(r.s_to, v));
        break;
      case 2:
        line.push_back(place(u, r.t_from));
        break;
      default:
        line.push_back(place(u, r.t_to));
        break;
    }
  }
  return line;
}

std::array<Vec3, 4> PatternTool::corners(const PatternFrame& f) const {
  const ChartRegion& r = f.region;
  return {place(r.s_from, r.t_from), place(r.s_to, r.t_from), place(r.s_to, r.t_to),
          place(r.s_from, r.t_to)};
}

std::array<std::array<Vec3, 2>, 2> PatternTool::arrows(const PatternFrame& f) const {
  const ChartRegion& r = f.region;
  const bool u_ends = f.corner == TargetCorner::UMaxVMin || f.corner == TargetCorner::UVMax;
  const bool v_ends = f.corner == TargetCorner::UVMax || f.corner == TargetCorner::UMinVMax;
  const double u = u_ends ? r.s_to : r.s_from;
  const double v = v_ends ? r.t_to : r.t_from;
  constexpr double kLength = 0.14;
  const double du = kLength * (r.s_to - r.s_from) * (u_ends ? -1 : 1);
  const double dv = kLength * 2.0 * (r.t_to - r.t_from) * (v_ends ? -1 : 1);
  return {{{place(u, v), place(u + du, v)}, {place(u, v), place(u, v + dv)}}};
}

// On the screen, and not on the far side of the target.
bool PatternTool::seen(const Vec3& at, std::size_t k, QPointF& on_screen) const {
  const OnScreen o = to_screen(c_.views.camera(k), c_.views.rect(k), at);
  on_screen = o.at;
  if (o.depth <= 0.0) return false;
  const Grid<Vec3>& g = c_.model.pattern()->target;
  Box3 box;
  for (const Vec3& p : g.values()) box.add(p);
  const Vec3 toward = c_.views.camera(k).axes().z;
  // Closed targets hide what lies behind their middle.
  const bool closed = c_.model.pattern()->around_u || c_.model.pattern()->around_v;
  return !closed || dot(at - box.centre(), toward) > -0.05 * box.size();
}

std::optional<PatternTool::Handle> PatternTool::under(const QPointF& at) const {
  const auto f = frame();
  if (!f) return std::nullopt;
  const std::size_t k = c_.views.at(at);
  std::optional<Handle> best;
  double nearest = kNear;
  const auto look_at = [&](const Vec3& p, Handle h) {
    QPointF o;
    if (!seen(p, k, o)) return;
    const double d = std::hypot(o.x() - at.x(), o.y() - at.y());
    if (d >= nearest) return;
    nearest = d;
    best = h;
  };
  const auto tips = arrows(*f);
  for (std::size_t n = 0; n < 2; ++n) look_at(tips[n][1], {Handle::Kind::Arrow, n});
  const auto all = corners(*f);
  for (std::size_t n = 0; n < 4; ++n) look_at(all[n], {Handle::Kind::Corner, n});
  if (best) return best;
  for (std::size_t n = 0; n < 4; ++n) {
    // A closed direction has no borders to drag while the pattern goes all the way round.
    const auto& facts = *c_.model.pattern();
    const bool whole = n < 2 ? facts.around_u && f->region.s_to - f->region.s_from > 1 - 1e-9
                             : facts.around_v && f->region.t_to - f->region.t_from > 1 - 1e-9;
    if (whole) continue;
    for (const Vec3& p : border(*f, n)) look_at(p, {Handle::Kind::Border, n});
  }
  return best;
}

std::optional<PatternFrame> PatternTool::clicked() const {
  auto changed = frame();
  if (!changed || !under_ || dragged_ || under_->kind == Handle::Kind::Border) return std::nullopt;
  if (under_->kind == Handle::Kind::Corner)
    changed->corner = static_cast<TargetCorner>(under_->which);
  else
    (under_->which == 0 ? changed->flip_u : changed->flip_v) ^= true;
  return changed;
}

bool PatternTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton) return false;
  const auto f = frame();
  const auto handle = under(e.at);
  if (!f || !handle) return false;
  if (!c_.model.may_change(c_.model.chosen_part())) return true;
  start_ = now_ = *f;
  has_moved_ = false;
  if (handle->kind == Handle::Kind::Border) {
    dragged_ = handle->which;
    return true;
  }
  PatternFrame changed = *f;
  if (handle->kind == Handle::Kind::Corner)
    changed.corner = static_cast<TargetCorner>(handle->which);
  else
    (handle->which == 0 ? changed.flip_u : changed.flip_v) ^= true;
  const StepId id = c_.model.chosen_step();
  c_.model.attempt([&] {
    c_.model.change_operation(id, step()->with_frame(changed),
                              handle->kind == Handle::Kind::Corner
                                  ? QObject::tr("Corner of the pattern")
                                  : QObject::tr("Flip the pattern"),
                              {});
  });
  return true;
}

// The share of the way whose place on the screen is nearest to the cursor, not farther off than a quarter.
double PatternTool::share_at(const QPointF& at, std::size_t which, double now) const {
  const std::size_t k = c_.views.at(at);
  const ChartRegion& r = start_.region;
  constexpr int kSteps = 200;
  double best = now;
  double nearest = 1e300;
  for (int n = 0; n <= kSteps; ++n) {
    const double x = static_cast<double>(n) / kSteps;
    if (std::abs(x - now) > 0.25) continue;
    for (int m = 0; m <= 8; ++m) {
      const double y = m / 8.0;
      const Vec3 p = which < 2 ? place(x, mixed_number(r.t_from, r.t_to, y))
                               : place(mixed_number(r.s_from, r.s_to, y), x);
      QPointF o;
      if (!seen(p, k, o)) continue;
      const double d = std::hypot(o.x() - at.x(), o.y() - at.y());
      if (d >= nearest) continue;
      nearest = d;
      best = x;
    }
  }
  return best;
}

void PatternTool::show(const PatternFrame& changed, const QString& label) {
  const StepId id = c_.model.chosen_step();
  c_.model.attempt([&] {
    const OperationPtr operation = step()->with_frame(changed);
    if (c_.model.trial())
      c_.model.change_operation(id, operation, label, QString("%1.frame").arg(id));
    else
      c_.model.preview_drag(with_operation(c_.model.document(), id, operation));
  });
}

void PatternTool::move(const HandEvent& e) {
  if (!dragged_ || step() == nullptr) return;
  double x = share_at(e.at, *dragged_, limit(now_, *dragged_));
  // Whole hundredths, unless Shift asks for tenths of them.
  const double grain = e.modifiers.testFlag(Qt::ShiftModifier) ? 1000.0 : 100.0;
  x = std::round(x * grain) / grain;
  PatternFrame f = now_;
  limit(f, *dragged_) = x;
  ChartRegion& r = f.region;
  if (r.s_to - r.s_from < kLeast || r.t_to - r.t_from < kLeast) return;
  if (x == limit(now_, *dragged_)) return;
  now_ = f;
  has_moved_ = true;
  show(now_, QObject::tr("Band of the pattern"));
  c_.view.update();
}

void PatternTool::release(const HandEvent&) {
  if (!dragged_) return;
  dragged_.reset();
  if (has_moved_ && !c_.model.trial() && c_.model.dragging())
    c_.model.commit_drag(c_.model.document(), QObject::tr("Band of the pattern"), {});
}

void PatternTool::cancel() {
  if (!dragged_) return;
  if (c_.model.trial())
    show(start_, QObject::tr("Band of the pattern"));
  else
    c_.model.drop_drag();
  dragged_.reset();
}

bool PatternTool::hover(const QPointF& at) {
  under_ = under(at);
  if (!under_) return false;
  c_.view.setCursor(under_->kind == Handle::Kind::Border ? Qt::SizeAllCursor
                                                         : Qt::PointingHandCursor);
  return true;
}

QString PatternTool::hover_words() const {
  if (!under_) return {};
  if (under_->kind == Handle::Kind::Corner) return QObject::tr("a click lets the tiles begin here");
  if (under_->kind == Handle::Kind::Arrow)
    return under_->which == 0 ? QObject::tr("a click mirrors the tiles along u")
                              : QObject::tr("a click mirrors the tiles along v");
  return QObject::tr("drag the border of the pattern");
}

QString PatternTool::words() const {
  if (!dragged_) return {};
  static const char* const names[] = {"u from", "u to", "v from", "v to"};
  PatternFrame f = now_;
  return QString::fromUtf8("%1 %2 %").arg(names[*dragged_],
                                          QLocale().toString(100.0 * limit(f, *dragged_), 'f', 1));
}

void PatternTool::add_to(Scene& scene) const {
  const auto f = frame();
  if (!f) return;
  const look::Colours& c = look::colours();
  for (std::size_t n = 0; n < 4; ++n) {
    const bool lit =
        (under_ && under_->kind == Handle::Kind::Border && under_->which == n) || dragged_ == n;
    LineItem line{{}, lit ? c.water : c.ink, lit ? 3.0F : 1.6F, false};
    const std::vector<Vec3> places = border(*f, n);
    for (std::size_t k = 1; k < places.size(); ++k)
      add_piece(line.pieces, places[k - 1], places[k]);
    scene.lines.push_back(std::move(line));
  }
  // The corner where tiles begin: clay along the tile's x, water along its y, on the target as on the base.
  const bool turned = f->corner == TargetCorner::UMaxVMin || f->corner == TargetCorner::UMinVMax;
  const auto tips = arrows(*f);
  for (std::size_t n = 0; n < 2; ++n) {
    const bool x = (n == 0) != turned;
    LineItem arrow{{}, x ? c.clay : c.water, 3.5F, true};
    add_piece(arrow.pieces, tips[n][0], tips[n][1]);
    scene.lines.push_back(std::move(arrow));
    scene.points.push_back({tips[n][1], under_ == Handle{Handle::Kind::Arrow, n}
                                            ? PointState::Hovered
                                            : PointState::Plain});
  }
  // What a click would make of it, before it is made: the arrows as they would lie then.
  if (const auto next = clicked()) {
    auto there = arrows(*next);
    if (under_->kind == Handle::Kind::Arrow)  // mirrored: that arrow the other way round
      std::swap(there[under_->which][0], there[under_->which][1]);
    const bool across =
        next->corner == TargetCorner::UMaxVMin || next->corner == TargetCorner::UMinVMax;
    for (std::size_t n = 0; n < 2; ++n) {
      LineItem arrow{{}, (n == 0) != across ? c.clay : c.water, 2.0F, true};
      add_piece(arrow.pieces, there[n][0], there[n][1]);
      add_piece(arrow.pieces, there[n][1],
                there[n][1] + (there[1 - n][0] - there[1 - n][1]) * 0.15 +
                    (there[n][0] - there[n][1]) * 0.25);
      scene.lines.push_back(std::move(arrow));
      scene.points.push_back({there[n][1], PointState::Partner});
    }
  }
  const auto all = corners(*f);
  for (std::size_t n = 0; n < 4; ++n) {
    const bool begins = static_cast<std::size_t>(f->corner) == n;
    const bool lit = under_ == Handle{Handle::Kind::Corner, n};
    scene.points.push_back({all[n], lit      ? PointState::Hovered
                                    : begins ? PointState::Picked
                                             : PointState::Plain});
  }
  const auto& base = c_.model.pattern()->base;
  LineItem rest{{}, c.quiet_ink, 1.2F, false};
  add_piece(rest.pieces, base[1], base[2]);
  add_piece(rest.pieces, base[2], base[3]);
  scene.lines.push_back(std::move(rest));
  LineItem x{{}, c.clay, 3.0F, true};
  add_piece(x.pieces, base[0], base[1]);
  scene.lines.push_back(std::move(x));
  LineItem y{{}, c.water, 3.0F, true};
  add_piece(y.pieces, base[0], base[3]);
  scene.lines.push_back(std::move(y));
}

}  // namespace evenclay
