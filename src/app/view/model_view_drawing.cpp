// What ModelView draws: the scene made from the model, and the overlay of text.
#include <QLabel>
#include <QLocale>
#include <QPainter>
#include <cmath>

#include "app/look/colours.h"
#include "app/view/model_view.h"
#include "app/view/picking.h"

namespace evenclay {

namespace {

void add_piece(std::vector<float>& pieces, const Vec3& a, const Vec3& b) {
  for (const Vec3& p : {a, b})
    for (std::size_t c = 0; c < 3; ++c) pieces.push_back(static_cast<float>(p[c]));
}

QString view_title(ViewName name) {
  switch (name) {
    case ViewName::Main:
      return QObject::tr("Main");
    case ViewName::Top:
      return QObject::tr("Top");
    case ViewName::Front:
      return QObject::tr("Front");
    case ViewName::Side:
      return QObject::tr("Side");
  }
  return {};
}

}  // namespace

void ModelView::initializeGL() {
  renderer_.initialize();
  connect(
      context(), &QOpenGLContext::aboutToBeDestroyed, this,
      [this] {
        makeCurrent();
        renderer_.release();
        doneCurrent();
      },
      Qt::DirectConnection);
}

Scene ModelView::scene() const {
  Scene s;
  s.look = look_;
  const Box3 box = box_of_all();
  s.size = std::max(box.size() + length(box.empty() ? Vec3{} : box.centre()), 10.0);
  for (const Part& part : model_.document().parts) {
    const auto found = model_.drawn().find(part.id);
    if (!part.look.visible || found == model_.drawn().end()) continue;
    if (found->second.curves)
      s.lines.push_back({found->second.curves->pieces,
                         part.id == model_.chosen_part() ? look::kInk : look::kQuietInk,
                         part.id == model_.chosen_part() ? 2.6F : 1.8F, false});
    if (found->second.edges && !found->second.edges->pieces.empty())
      s.lines.push_back({found->second.edges->pieces,
                         part.id == model_.chosen_part() ? look::kInk : look::kQuietInk, 1.6F,
                         false});
    s.meshes.push_back({found->second.mesh, found->second.small, found->second.lines,
                        QColor::fromRgb(part.look.colour),
                        part.id == model_.chosen_part() ? map_values() : nullptr});
  }
  s.reach = reach();
  s.stripes = stripes_;
  s.upright_stripes = upright_stripes_;
  s.single_band = single_band_;
  if (before_overlay_ || before_held_) s.ghost = model_.before_mesh();
  add_place_lines(s);
  if (combs_) add_combs(s);
  if (section_combs_) add_section_combs(s);
  add_snap_cue(s);
  add_net(s);
  add_symmetry_frame(s);
  return s;
}

void ModelView::add_net(Scene& s) const {
  const Part* part = find_part(model_.document(), model_.chosen_part());
  if (!editor_.net_visible() || !editor_.net() || part == nullptr || !part->look.visible) return;
  const Nets& nets = editor_.net()->shown;
  if (leg_colours_) {
    add_coloured_legs(s);
  } else {
    std::array<LineItem, 3> legs{{{{}, look::kClay, 1.5F, true},
                                  {{}, look::kWater, 1.5F, true},
                                  {{}, look::kQuietInk, 1.5F, true}}};
    for_each_leg(nets, [&](int direction, const Vec3& a, const Vec3& b) {
      add_piece(legs[static_cast<std::size_t>(direction)].pieces, a, b);
    });
    for (LineItem& l : legs)
      if (!l.pieces.empty()) s.lines.push_back(std::move(l));
  }
  const Selection partners = editor_.partners();
  const bool shared = editor_.shares().fits(nets);
  for_each_point(nets, [&](PointIndex p) {
    PointState state = PointState::Plain;
    if (partners.contains(p)) state = PointState::Partner;
    if (editor_.held(p)) state = PointState::Held;
    if (editor_.picked().contains(p)) state = PointState::Picked;
    if (hovered_ == p && hand_ == Hand::Idle) state = PointState::Hovered;
    s.points.push_back({nets.point(p), state, nets.weight(p), shared ? editor_.shares()(p) : 0.0});
  });
}

void ModelView::add_symmetry_frame(Scene& s) const {
  if (!editor_.net() || !editor_.net_visible()) return;
  for (const SymmetryPlane plane : planes_of(editor_.symmetry())) {
    Box3 box;
    const Nets& nets = editor_.net()->shown;
    for_each_point(nets, [&](PointIndex p) {
      box.add(nets.point(p));
      box.add(mirrored(nets.point(p), plane));
    });
    const Vec3 margin = Vec3{1, 1, 1} * (0.06 * box.size());
    const Vec3 a = box.min - margin;
    const Vec3 b = box.max + margin;
    std::array<Vec3, 4> c;
    if (plane == SymmetryPlane::YZ)
      c = {{{0, a.y, a.z}, {0, b.y, a.z}, {0, b.y, b.z}, {0, a.y, b.z}}};
    else if (plane == SymmetryPlane::XZ)
      c = {{{a.x, 0, a.z}, {b.x, 0, a.z}, {b.x, 0, b.z}, {a.x, 0, b.z}}};
    else
      c = {{{a.x, a.y, 0}, {b.x, a.y, 0}, {b.x, b.y, 0}, {a.x, b.y, 0}}};
    LineItem frame{{}, look::kQuietInk, 1.0F, true};
    for (std::size_t k = 0; k < 4; ++k) add_piece(frame.pieces, c[k], c[(k + 1) % 4]);
    s.lines.push_back(std::move(frame));
  }
}

// Arrows of the chosen direction at the picked points; one at the centre when all are parallel.
void ModelView::add_arrows(Scene& s, std::size_t k) const {
  if (!editor_.net() || !editor_.net_visible() || editor_.picked().empty()) return;
  const Camera& c = camera_of(k);
  const Frame axes = c.axes();
  const double scale = k == 0 ? 1.0 : 0.45;
  LineItem arrows{{}, look::kWater, k == 0 ? 2.2F : 1.4F, true};
  const auto arrow = [&](const Vec3& from, const Vec3& direction, double pixels) {
    const Vec3 d = direction * (pixels * pixel_size(c, viewport(k), from));
    const Vec3 side = normalized(cross(direction, axes.z)) * length(d) * 0.13;
    add_piece(arrows.pieces, from, from + d);
    add_piece(arrows.pieces, from + d, from + d * 0.78 + side);
    add_piece(arrows.pieces, from + d, from + d * 0.78 - side);
  };
  const MoveDirection d = editor_.direction();
  const bool free =
      d == MoveDirection::InView || d == MoveDirection::OnSkin || d == MoveDirection::WorkPlane;
  const bool own = d == MoveDirection::OffSkin || d == MoveDirection::AlongU ||
                   d == MoveDirection::AlongV || d == MoveDirection::AlongW;
  if (editor_.mode() == EditMode::PullSkin || editor_.mode() == EditMode::Weight) return;
  if (editor_.mode() == EditMode::Scale || editor_.mode() == EditMode::Turn) {
    // A cross at the centre; turning shows its axis as well.
    const Vec3 centre = editor_.pivot_place();
    const double arm = 9.0 * scale * pixel_size(c, viewport(k), centre);
    for (const Vec3& w : {axes.x, axes.y})
      add_piece(arrows.pieces, centre - w * arm, centre + w * arm);
    if (editor_.mode() == EditMode::Turn)
      arrow(centre, editor_.axis(editor_.leader(), axes), 62.0 * scale);
  } else if (own) {
    std::size_t drawn = 0;
    for (const PointIndex& p : editor_.picked())
      if (++drawn <= 40)
        arrow(editor_.net()->shown.point(p), editor_.axis(p, axes),
              (p == editor_.leader() ? 56.0 : 30.0) * scale);
  } else if (free) {
    for (const Vec3& w : {axes.x, axes.y, -axes.x, -axes.y})
      arrow(editor_.picked_centre(), w, 40.0 * scale);
  } else {
    arrow(editor_.picked_centre(), editor_.axis(editor_.leader(), axes), 62.0 * scale);
  }
  s.lines.push_back(std::move(arrows));
}

void ModelView::paintGL() {
  const Scene base = scene();
  for (std::size_t k = 0; k < 4; ++k) {
    if (viewport(k).isEmpty()) continue;
    Scene s = base;
    add_arrows(s, k);
    s.point_scale = (k == 0 ? 1.0 : 0.55) * point_size_;
    if (k > 0)
      for (LineItem& l : s.lines) {
        l.width = std::min(l.width, 1.0F);
        l.on_top = false;
      }
    if (k > 0)
      for (MeshItem& m : s.meshes) {
        m.mesh = m.small;
        m.values = nullptr;  // they belong to the large mesh
      }
    if (k > 0 && (s.look == ModelLook::Deviation || s.look == ModelLook::Curvature))
      s.look = ModelLook::Clay;
    if (k > 0) s.ghost = nullptr;
    renderer_.draw(s, camera_of(k), viewport(k), height(), devicePixelRatioF());
  }
  renderer_.collect();
  // While dragging only the small label changes; the large overlay would cost a quarter frame.
  if (hand_ != Hand::Drag || show_least_radius_ || look_ == ModelLook::Deviation ||
      look_ == ModelLook::Curvature)
    overlay_->update();
  place_cursor_label();
  ++frames_;
  Q_EMIT painted();
}

void ModelView::paint_tripod(QPainter& painter) const {
  const Frame f = camera_of(0).axes();
  const double l = 26.0;
  const QPointF origin(40.0, 44.0);
  const Vec3 axis[3] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  const char* names[3] = {"x", "y", "z"};
  for (int a = 0; a < 3; ++a) {
    const QPointF tip(dot(axis[a], f.x) * l, -dot(axis[a], f.y) * l);
    if (std::hypot(tip.x(), tip.y()) < 0.2 * l) continue;
    painter.setPen(QPen(look::kInk, 1.5));
    painter.drawLine(origin, origin + tip);
    const QPointF label = origin + tip * 1.32;
    painter.drawText(QRectF(label.x() - 8, label.y() - 8, 16, 16), Qt::AlignCenter, names[a]);
  }
}

void ModelView::paint_callout(QPainter& painter, const Vec3& at, const QString& text) const {
  const OnScreen s = to_screen(camera_of(0), viewport(0), at);
  if (s.depth <= 0.0) return;
  const bool hidden = is_behind(at, s.at);
  const QString words = hidden ? tr("%1, on the far side").arg(text) : text;
  const QSizeF size = painter.fontMetrics().size(Qt::TextSingleLine, words) + QSize(16, 8);
  QPointF corner = s.at + QPointF(24, -24 - size.height());
  corner.setX(std::clamp(corner.x(), 4.0, std::max(4.0, width() - size.width() - 4.0)));
  corner.setY(std::clamp(corner.y(), 4.0, std::max(4.0, height() - size.height() - 4.0)));
  const QRectF box(corner, size);
  painter.setPen(QPen(look::kInk, 1.2));
  painter.drawLine(s.at, QPointF(std::clamp(s.at.x(), box.left(), box.right()), box.bottom()));
  painter.setBrush(hidden ? QBrush(Qt::NoBrush) : QBrush(look::kClay));
  painter.drawEllipse(s.at, 4.0, 4.0);
  painter.setBrush(look::kRaised);
  painter.drawRoundedRect(box, 5, 5);
  painter.drawText(box, Qt::AlignCenter, words);
}

// Whether the chosen part itself hides a place of its surface from the eye.
bool ModelView::is_behind(const Vec3& at, const QPointF& on_screen) const {
  const auto drawn = model_.drawn().find(model_.chosen_part());
  if (drawn == model_.drawn().end() || !drawn->second.mesh) return false;
  const Ray ray = ray_through(camera_of(0), viewport(0), on_screen);
  const auto first = hit(ray, *drawn->second.mesh);
  const double there = dot(at - ray.origin, ray.direction);
  return first && *first < there - 0.01 * drawn->second.mesh->box.size();
}

// What the hand does: the amount, and how far points and surface really went.
QString ModelView::drag_words() const {
  const QLocale plain = QLocale::c();
  const QString surface = plain.toString(editor_.surface_moved(), 'f', 2);
  switch (editor_.mode()) {
    case EditMode::Scale:
      return tr("× %1 · surface %2 mm").arg(plain.toString(drag_amount_, 'f', 3), surface);
    case EditMode::Turn:
      return tr("%1° · surface %2 mm").arg(plain.toString(drag_amount_, 'f', 1), surface);
    case EditMode::PullSkin:
      return tr("surface %1 mm · nearest point %2 mm")
          .arg(surface, plain.toString(editor_.points_moved(), 'f', 2));
    case EditMode::Weight:
      return tr("weight %1 · surface %2 mm")
          .arg(plain.toString(editor_.picked_weight().value_or(1.0), 'f', 2), surface);
    case EditMode::Move:
      break;
  }
  if (snapped_)
    return tr("points %1 mm · surface %2 mm · on %3")
        .arg(plain.toString(editor_.points_moved(), 'f', 2), surface, snapped_->what);
  return tr("points %1 mm · surface %2 mm")
      .arg(plain.toString(editor_.points_moved(), 'f', 2), surface);
}

void ModelView::place_cursor_label() {
  QString text;
  if (hand_ == Hand::Drag)
    text = drag_words();
  else if (underMouse() && !last_.isNull() && editor_.net_visible() && !editor_.picked().empty())
    text = editor_.picked().size() == 1 ? tr("1 picked")
                                        : tr("%1 picked").arg(editor_.picked().size());
  if (hand_ == Hand::Idle && underMouse() && hovered_)
    text = text.isEmpty() ? address_words(*hovered_)
                          : tr("%1 · %2").arg(address_words(*hovered_), text);
  cursor_label_->setVisible(!text.isEmpty());
  if (text.isEmpty()) return;
  cursor_label_->setText(text);
  cursor_label_->adjustSize();
  const int x = static_cast<int>(last_.x()) + 16;
  const int y = static_cast<int>(last_.y()) + 18;
  cursor_label_->move(std::min(x, width() - cursor_label_->width() - 4),
                      std::min(y, height() - cursor_label_->height() - 4));
}

void ModelView::paint_overlay(QPainter& painter) {
  painter.setRenderHint(QPainter::Antialiasing);
  const QLocale plain = QLocale::c();
  for (std::size_t k = 1; k < 4; ++k) {
    const QRect r = viewport(k);
    if (r.isEmpty()) continue;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(look::kRaised, 1.5));
    painter.drawRoundedRect(QRectF(r).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    painter.setPen(look::kInk);
    painter.drawText(r.adjusted(8, 5, -4, 0), Qt::AlignLeft | Qt::AlignTop, view_title(order_[k]));
  }
  painter.setPen(look::kInk);
  paint_tripod(painter);
  paint_legend(painter);
  if (point_numbers_) paint_numbers(painter);
  const auto gauges = model_.gauges();
  if (look_ == ModelLook::Deviation && gauges && gauges->deviation)
    paint_callout(
        painter, gauges->deviation->at,
        tr("greatest deviation %1 mm").arg(plain.toString(gauges->deviation->max, 'f', 3)));
  if (show_least_radius_ && gauges && gauges->least_radius)
    paint_callout(
        painter, gauges->least_radius->at,
        tr("least radius %1 mm").arg(plain.toString(gauges->least_radius->radius, 'f', 2)));
  if (hand_ == Hand::Box || hand_ == Hand::Lasso) {
    QColor fill = look::kWater;
    fill.setAlpha(40);
    painter.setBrush(fill);
    painter.setPen(QPen(look::kWater, 1.2));
    if (hand_ == Hand::Box)
      painter.drawRect(QRectF(pressed_, last_).normalized());
    else
      painter.drawPolygon(lasso_.data(), static_cast<int>(lasso_.size()));
  }
}

}  // namespace evenclay
