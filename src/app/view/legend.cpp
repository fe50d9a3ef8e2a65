#include "app/view/legend.h"

#include <QLocale>
#include <cmath>
#include <vector>

#include "app/look/colours.h"
#include "app/look/preferences.h"
#include "core/check/watch.h"

namespace evenclay {

namespace {

constexpr const char* kMinus = "\u2212";

struct Mark {
  double share;  // from the top
  QString text;
};

struct Legend {
  QString title, missing;
  bool is_signed = false;
  bool dark_below = false;
  std::vector<Mark> marks;
};

QString number(double x, int digits = 3) {
  return QLocale::c().toString(x, 'g', digits);
}

std::vector<Mark> five(double reach, const QString& above, const QString& below) {
  return {{0.0, above.arg("+" + number(reach))},
          {0.25, "+" + number(0.5 * reach)},
          {0.5, "0"},
          {0.75, kMinus + number(0.5 * reach)},
          {1.0, below.arg(kMinus + number(reach))}};
}

// A length as a legend writes it, without its unit.
QString in_unit(double mm) {
  return number(mm * look::shown_per_mm(look::preferences().unit));
}
QString sign() {
  return look::unit_sign(look::preferences().unit);
}

Legend deviation_legend(const LayerInput& in) {
  const auto gauges = in.model.gauges();
  const bool watched = gauges && gauges->watched;
  Legend l{
      watched ? QObject::tr("off %1, %2").arg(QString::fromStdString(gauges->watched->name), sign())
              : QObject::tr("off before, %1").arg(sign()),
      QObject::tr(
          "Nothing to compare: choose a step that changes surfaces, or a part that is watched."),
      true, false,
      five(map_reach(in) * look::shown_per_mm(look::preferences().unit), QObject::tr("%1 outside"),
           QObject::tr("%1 inside"))};
  return l;
}

Legend bend_legend(const LayerInput& in) {
  const auto radius = [&](double share) {
    return QObject::tr("R %1 %2").arg(in_unit(1.0 / (share * map_reach(in))), sign());
  };
  return {QObject::tr("bend, by radius"),
          QObject::tr("A mesh has no curvature. Choose a part made of surfaces."),
          false,
          false,
          {{0.0, QObject::tr("%1 and less").arg(radius(1.0))},
           {0.5, radius(0.5)},
           {0.75, radius(0.25)},
           {1.0, QObject::tr("flat")}}};
}

// Of what the colours of a look stand for.
Legend legend_of(const LayerInput& in) {
  const double reach = map_reach(in);
  const QString no_bend = QObject::tr("A mesh has no curvature. Choose a part made of surfaces.");
  switch (in.settings.look) {
    case ModelLook::Curvature:
      return bend_legend(in);
    case ModelLook::Gaussian:
      return {QObject::tr("Gaussian, 1/mm²"), no_bend, true, false,
              five(reach, QObject::tr("%1 dome"), QObject::tr("%1 saddle"))};
    case ModelLook::MeanCurvature:
      return {QObject::tr("mean bend, 1/mm"), no_bend, true, false,
              five(reach, QObject::tr("%1 hollow"), QObject::tr("%1 round"))};
    case ModelLook::Draft:
      return {QObject::tr("draft, °"), QObject::tr("Choose a part made of surfaces or triangles."),
              true, false, five(reach, QObject::tr("%1 and more"), QObject::tr("%1 and less"))};
    case ModelLook::Thickness:
      return {QObject::tr("thickness, %1").arg(sign()),
              QObject::tr(
                  "Only closed parts have a thickness. Thicken this one, or close it to a solid."),
              false,
              true,
              {{0.0, QObject::tr("%1 and more").arg(in_unit(reach))},
               {0.5, in_unit(0.5 * reach)},
               {1.0, "0"}}};
    case ModelLook::Overhang:
      return {QObject::tr("overhang, °"),
              QObject::tr("Choose a part made of surfaces or triangles."),
              false,
              false,
              {{0.0, QObject::tr("%1 and more").arg(number(reach))},
               {0.5, number(0.5 * reach)},
               {1.0, "0"}}};
    case ModelLook::Stretch:
      return {QObject::tr("stretch, %"),
              QObject::tr("Choose a pattern or a form to see how much it is stretched."),
              false,
              false,
              {{0.0, QObject::tr("%1 and more").arg(QLocale::c().toString(reach, 'f', 0))},
               {0.5, QLocale::c().toString(0.5 * reach, 'f', 0)},
               {1.0, "0"}}};
    default:
      return deviation_legend(in);
  }
}

Legend legs_legend() {
  return {
      QObject::tr("leg ÷ mean leg"),
      {},
      false,
      false,
      {{0.0, QObject::tr("200 % and more")}, {0.5, "100 %"}, {1.0, QObject::tr("50 % and less")}}};
}

QColor colour_at(const Legend& l, bool map, double from_top) {
  const double t = 1.0 - 2.0 * from_top;
  const look::Colours& c = look::colours();
  if (!map) return leg_colour(t);
  if (l.is_signed) return mixed(c.map_middle, t < 0.0 ? c.map_below : c.map_above, std::abs(t));
  return mixed(c.map_middle, c.map_below.darker(161), l.dark_below ? from_top : 1.0 - from_top);
}

}  // namespace

void paint_legend(QPainter& painter, const LayerInput& in) {
  const bool map = is_map(in.settings.look);
  const bool legs = in.settings.leg_colours && in.editor.net_visible() && in.editor.net();
  if (!map && !legs) return;
  const Legend legend = map ? legend_of(in) : legs_legend();
  const QRectF bar(22, 122, 14, 150);
  QColor plate = look::colours().raised;
  plate.setAlpha(225);
  const int wide =
      std::clamp(painter.fontMetrics().horizontalAdvance(legend.title) + 24, map ? 164 : 136, 230);
  painter.setPen(Qt::NoPen);
  painter.setBrush(plate);
  painter.drawRoundedRect(QRectF(12, 88, wide, 196), 5, 5);
  painter.setPen(look::colours().ink);
  painter.drawText(QRectF(22, 92, wide - 20, 22), Qt::AlignLeft | Qt::AlignVCenter,
                   painter.fontMetrics().elidedText(legend.title, Qt::ElideRight, wide - 20));
  const auto values = map ? map_values(in) : nullptr;
  if (map && (!values || values->values.empty())) {
    painter.setPen(look::colours().quiet_ink);
    painter.drawText(QRectF(22, 118, wide - 24, 150), Qt::AlignLeft | Qt::TextWordWrap,
                     legend.missing);
    return;
  }
  QLinearGradient gradient(bar.topLeft(), bar.bottomLeft());
  for (int k = 0; k <= 10; ++k) gradient.setColorAt(k / 10.0, colour_at(legend, map, k / 10.0));
  painter.setPen(QPen(look::colours().line, 1.0));
  painter.setBrush(gradient);
  painter.drawRect(bar);
  painter.setPen(look::colours().ink);
  for (const Mark& m : legend.marks) {
    const double y = bar.top() + bar.height() * m.share;
    painter.drawLine(QPointF(bar.right() + 2, y), QPointF(bar.right() + 6, y));
    painter.drawText(QRectF(bar.right() + 10, y - 9, 110, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     m.text);
  }
}

}  // namespace evenclay
