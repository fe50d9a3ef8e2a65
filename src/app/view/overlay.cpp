#include "app/view/overlay.h"

#include <QLocale>
#include <cmath>

#include "app/look/colours.h"
#include "app/look/preferences.h"
#include "app/view/legend.h"
#include "app/view/scene_picker.h"
#include "core/check/watch.h"

namespace evenclay {

namespace {

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

void paint_tripod(QPainter& painter, const LayerInput& in) {
  const Frame f = in.views.camera(0).axes();
  const double l = 26.0;
  const QPointF origin(40.0, 44.0);
  const Vec3 axis[3] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  const char* names[3] = {"x", "y", "z"};
  for (int a = 0; a < 3; ++a) {
    const QPointF tip(dot(axis[a], f.x) * l, -dot(axis[a], f.y) * l);
    if (std::hypot(tip.x(), tip.y()) < 0.2 * l) continue;
    painter.setPen(QPen(look::colours().ink, 1.5));
    painter.drawLine(origin, origin + tip);
    const QPointF label = origin + tip * 1.32;
    painter.drawText(QRectF(label.x() - 8, label.y() - 8, 16, 16), Qt::AlignCenter, names[a]);
  }
}

// How far the lines of the floor grid are apart.
void paint_spacing(QPainter& painter, const LayerInput& in) {
  if (!in.settings.floor || in.settings.look == ModelLook::Presentation ||
      box_of_all(in.model).empty())
    return;
  const double mm = floor_spacing(in.views.camera(0), in.views.rect(0));
  const QString words =
      look::in_shown_unit(QObject::tr("grid %1 mm").arg(QLocale::c().toString(mm, 'g', 4)));
  // A form may stand behind it, as dark as the words.
  QRectF plate(QPointF(80, 33), painter.fontMetrics().size(Qt::TextSingleLine, words));
  plate.setSize(QSizeF(plate.width() + 12, 20));
  QColor veil = look::colours().raised;
  veil.setAlpha(170);
  painter.setPen(Qt::NoPen);
  painter.setBrush(veil);
  painter.drawRoundedRect(plate, 4, 4);
  painter.setPen(look::colours().quiet_ink);
  painter.drawText(plate, Qt::AlignCenter, words);
}

// The lengths of the box beside the edges that are nearest to the eye.
void paint_sizes(QPainter& painter, const LayerInput& in) {
  const auto box = size_box(in);
  if (!box) return;
  const Camera& camera = in.views.camera(0);
  for (std::size_t axis = 0; axis < 3; ++axis) {
    OnScreen nearest{{}, 1e300};
    for (int corner = 0; corner < 4; ++corner) {
      Vec3 p = box->min;
      if ((corner & 1) != 0) p[(axis + 1) % 3] = box->max[(axis + 1) % 3];
      if ((corner & 2) != 0) p[(axis + 2) % 3] = box->max[(axis + 2) % 3];
      p[axis] = 0.5 * (box->min[axis] + box->max[axis]);
      const OnScreen s = to_screen(camera, in.views.rect(0), p);
      if (s.depth > 0.0 && s.depth < nearest.depth) nearest = s;
    }
    if (nearest.depth > 1e299) continue;
    static const char* const names[3] = {"x", "y", "z"};
    const QString words = look::in_shown_unit(
        QObject::tr("%1 %2 mm")
            .arg(names[axis], QLocale::c().toString(box->max[axis] - box->min[axis], 'f', 1)));
    QRectF plate(QPointF(), painter.fontMetrics().size(Qt::TextSingleLine, words) + QSize(12, 6));
    plate.moveCenter(nearest.at);
    painter.setPen(Qt::NoPen);
    painter.setBrush(look::colours().raised);
    painter.drawRoundedRect(plate, 4, 4);
    painter.setPen(look::colours().ink);
    painter.drawText(plate, Qt::AlignCenter, words);
  }
}

void paint_callout(QPainter& painter, const LayerInput& in, const Vec3& at, const QString& text) {
  const OnScreen s = to_screen(in.views.camera(0), in.views.rect(0), at);
  if (s.depth <= 0.0) return;
  const bool hidden = ScenePicker(in.model, in.editor, in.views).is_behind(at);
  const QString words =
      look::in_shown_unit(hidden ? QObject::tr("%1, on the far side").arg(text) : text);
  const QSizeF size = painter.fontMetrics().size(Qt::TextSingleLine, words) + QSize(16, 8);
  QPointF corner = s.at + QPointF(24, -24 - size.height());
  corner.setX(
      std::clamp(corner.x(), 4.0, std::max(4.0, in.views.rect(0).width() - size.width() - 4.0)));
  corner.setY(
      std::clamp(corner.y(), 4.0, std::max(4.0, in.views.rect(0).height() - size.height() - 4.0)));
  const QRectF box(corner, size);
  painter.setPen(QPen(look::colours().ink, 1.2));
  painter.drawLine(s.at, QPointF(std::clamp(s.at.x(), box.left(), box.right()), box.bottom()));
  painter.setBrush(hidden ? QBrush(Qt::NoBrush) : QBrush(look::colours().clay));
  painter.drawEllipse(s.at, 4.0, 4.0);
  painter.setBrush(look::colours().raised);
  painter.drawRoundedRect(box, 5, 5);
  painter.drawText(box, Qt::AlignCenter, words);
}

// "G2, 0.000 mm, 0.01°, 1 %", as far as each is what decides.
QString joint_words(const JointBadge& j) {
  const QLocale plain = QLocale::c();
  if (j.level < 0) return QObject::tr("gap %1 mm").arg(plain.toString(j.gap, 'f', 3));
  QString words = QString("G%1").arg(j.level);
  words += QObject::tr(", %1°").arg(plain.toString(j.angle, 'f', 2));
  if (j.level >= 1)
    words += QObject::tr(", curvature %1 %").arg(plain.toString(100.0 * j.curvature, 'f', 1));
  return words;
}

// Badges of the joints that steps are to keep, and of all of the chosen part when they are asked for. What does
// not keep what it should is red.
void paint_joints(QPainter& painter, const LayerInput& in) {
  const ScenePicker picker(in.model, in.editor, in.views);
  std::vector<QRectF> taken;
  for (const auto& [part, drawn] : in.model.drawn()) {
    const Part* p = find_part(in.model.document(), part);
    if (p == nullptr || !in.model.is_shown(*p)) continue;
    for (const JointBadge& j : drawn.joints) {
      const bool kept = j.wanted >= 0;
      if (!kept && !in.settings.joint_badges) continue;
      // Kept ones show while their part is worked on, asked for, or when they fail.
      const bool failed = j.level < j.wanted;
      if (kept && !failed && !in.settings.joint_badges && part != in.model.chosen_part() &&
          !in.model.dragging())
        continue;
      const OnScreen s = to_screen(in.views.camera(0), in.views.rect(0), j.at);
      if (s.depth <= 0.0 || !in.views.rect(0).contains(s.at.toPoint())) continue;
      QString words = look::in_shown_unit(joint_words(j));
      if (failed) words += QObject::tr(", G%1 wanted").arg(j.wanted);
      const QSizeF size = painter.fontMetrics().size(Qt::TextSingleLine, words) + QSize(14, 6);
      QRectF box(s.at + QPointF(14, -14 - size.height()), size);
      box.moveLeft(std::clamp(box.left(), 4.0,
                              std::max(4.0, in.views.rect(0).width() - size.width() - 4.0)));
      for (int tries = 0; tries < 12; ++tries) {
        const auto over = std::find_if(taken.begin(), taken.end(),
                                       [&](const QRectF& t) { return t.intersects(box); });
        if (over == taken.end()) break;
        box.moveTop(over->bottom() + 2.0);
      }
      taken.push_back(box);
      const QColor line = failed ? look::colours().bad : look::colours().ink;
      painter.setPen(QPen(line, failed ? 1.8 : 1.0));
      painter.drawLine(s.at,
                       QPointF(std::clamp(s.at.x(), box.left(), box.right()), box.center().y()));
      painter.setBrush(failed ? look::colours().bad : look::colours().water);
      painter.drawEllipse(s.at, 3.5, 3.5);
      painter.setBrush(look::colours().raised);
      painter.drawRoundedRect(box, 5, 5);
      painter.setPen(line);
      painter.drawText(box, Qt::AlignCenter, words);
    }
  }
}

// The numbers of all points, or of the picked ones where there are too many to read.
void paint_numbers(QPainter& painter, const LayerInput& in) {
  if (!in.editor.net() || !in.editor.net_visible()) return;
  constexpr std::size_t kReadable = 400;
  const Nets& nets = in.editor.net()->shown;
  const ScenePicker picker(in.model, in.editor, in.views);
  Selection named = in.editor.picked();
  if (nets.size() <= kReadable) named = points_where(nets, [](const Vec3&) { return true; });
  const QColor plate(look::colours().raised.red(), look::colours().raised.green(),
                     look::colours().raised.blue(), 205);
  std::vector<QRectF> taken;  // a number that would cover another is left out
  for (const PointIndex& p : named) {
    if (nets.representative(p) != p || taken.size() > kReadable) continue;
    const OnScreen o = to_screen(in.views.camera(0), in.views.rect(0), nets.point(p));
    if (o.depth <= 0.0 || !in.views.rect(0).contains(o.at.toPoint()) ||
        picker.is_behind(nets.point(p)))
      continue;
    const QString text = address_words(nets, p);
    const QRectF box(o.at + QPointF(7, -18),
                     painter.fontMetrics().size(Qt::TextSingleLine, text) + QSize(6, 1));
    if (std::any_of(taken.begin(), taken.end(),
                    [&](const QRectF& other) { return other.intersects(box); }))
      continue;
    taken.push_back(box);
    painter.setPen(Qt::NoPen);
    painter.setBrush(plate);
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(look::colours().ink);
    painter.drawText(box, Qt::AlignCenter, text);
  }
}

// The worst places of what is watched, named by their signed distance.
void paint_worst(QPainter& painter, const LayerInput& in, const WatchReport& report) {
  constexpr std::size_t kShown = 3;
  for (std::size_t k = std::min(kShown, report.worst.size()); k-- > 0;) {
    const WorstPlace& w = report.worst[k];
    const QString off = (w.off < 0.0 ? QString::fromUtf8("\u2212") : QString("+")) +
                        QLocale::c().toString(std::abs(w.off), 'f', 3);
    paint_callout(painter, in, w.at,
                  k == 0 ? QObject::tr("farthest: %1 mm").arg(off) : QObject::tr("%1 mm").arg(off));
  }
}

}  // namespace

QString address_words(const Nets& nets, PointIndex p) {
  QStringList numbers;
  if (nets.nets.size() > 1) numbers << QString::number(p.net);
  numbers << QString::number(p.i);
  if (nets.of(p).directions() > 1) numbers << QString::number(p.j);
  if (nets.of(p).directions() > 2) numbers << QString::number(p.k);
  return "[" + numbers.join(",") + "]";
}

void paint_overlay(QPainter& painter, const LayerInput& in) {
  painter.setRenderHint(QPainter::Antialiasing);
  const QLocale plain = QLocale::c();
  for (std::size_t k = 1; k < 4; ++k) {
    const QRect frame = in.views.frame_rect(k);
    if (frame.isEmpty()) continue;
    QRect strip = frame;
    strip.setHeight(Viewports::kSideLabel);
    painter.fillRect(strip, look::colours().panel);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(look::colours().line, 1.0));
    painter.drawRect(QRectF(frame).adjusted(0.5, 0.5, -0.5, -0.5));
    painter.setPen(look::colours().ink);
    painter.drawText(strip.adjusted(8, 0, -4, 0), Qt::AlignLeft | Qt::AlignVCenter,
                     view_title(in.views.name(k)));
  }
  painter.setPen(look::colours().ink);
  paint_tripod(painter, in);
  paint_spacing(painter, in);
  paint_sizes(painter, in);
  paint_legend(painter, in);
  if (in.settings.point_numbers) paint_numbers(painter, in);
  const auto gauges = in.model.gauges();
  if (in.settings.look == ModelLook::Deviation && gauges && gauges->watched)
    paint_worst(painter, in, *gauges->watched);
  else if (in.settings.look == ModelLook::Deviation && gauges && gauges->deviation)
    paint_callout(painter, in, gauges->deviation->at,
                  QObject::tr("greatest deviation %1 mm")
                      .arg(plain.toString(gauges->deviation->max, 'f', 3)));
  if (const auto pattern = in.model.pattern(); pattern && in.settings.look == ModelLook::Stretch)
    paint_callout(painter, in, pattern->stretch.at,
                  QObject::tr("stretched by %1 %, squeezed by %2 %")
                      .arg(plain.toString(std::max(0.0, pattern->stretch.stretch), 'f', 0),
                           plain.toString(std::max(0.0, pattern->stretch.squeeze), 'f', 0)));
  if (gauges && gauges->form_stretch && in.settings.look == ModelLook::Stretch)
    paint_callout(painter, in, gauges->form_stretch->at,
                  QObject::tr("stretched by %1 %, squeezed by %2 %")
                      .arg(plain.toString(std::max(0.0, gauges->form_stretch->stretch), 'f', 0),
                           plain.toString(std::max(0.0, gauges->form_stretch->squeeze), 'f', 0)));
  if (const auto tile = in.model.tile(); tile && in.settings.tile_view)
    paint_callout(painter, in, tile->pairing.at,
                  QObject::tr("edges meet within %1 mm, %2°")
                      .arg(plain.toString(tile->pairing.gap, 'f', 3),
                           plain.toString(tile->pairing.angle, 'f', 2)));
  paint_joints(painter, in);
  if (in.settings.mark) paint_callout(painter, in, in.settings.mark->at, in.settings.mark->words);
  if (in.settings.least_radius_callout && gauges && gauges->least_radius)
    paint_callout(painter, in, gauges->least_radius->at,
                  QObject::tr("least radius %1 mm")
                      .arg(plain.toString(gauges->least_radius->radius, 'f', 2)));
}

}  // namespace evenclay
