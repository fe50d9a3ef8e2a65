#include "app/panels/count_plot.h"

#include <QHelpEvent>
#include <QLocale>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/look/colours.h"

namespace evenclay {

namespace {

constexpr double kLeastShown = 1e-6;  // mm; smaller deviations are rounding

double shown(double mm) {
  return std::max(mm, kLeastShown);
}

QString number(double x) {
  return QLocale::c().toString(x, 'g', 3);
}

}  // namespace

CountPlot::CountPlot(QWidget* parent) : QWidget(parent) {
  setObjectName("count_plot");
  setMouseTracking(true);
  setCursor(Qt::PointingHandCursor);
  setAccessibleName(tr("Deviation against control points"));
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void CountPlot::show_plot(std::shared_ptr<const std::vector<CountPlace>> plot) {
  plot_ = std::move(plot);
  hovered_.reset();
  update();
}

void CountPlot::set_choice(int points_u, int points_v) {
  points_u_ = points_u;
  points_v_ = points_v;
  update();
}

QRectF CountPlot::area() const {
  return QRectF(rect()).adjusted(46, 20, -10, -20);
}

// Both axes are logarithmic: a tenth of the deviation is the same way down everywhere.
QPointF CountPlot::at(const CountPlace& place, double mm) const {
  const auto& all = *plot_;
  double low = shown(all.front().mean);
  double high = kLeastShown;
  for (const CountPlace& p : all) {
    low = std::min(low, shown(p.mean));
    high = std::max(high, shown(p.max));
  }
  low = std::pow(10.0, std::floor(std::log10(low)));
  high = std::max(high * 1.2, low * 10.0);
  const double x0 = std::log(all.front().total());
  const double x1 = std::max(std::log(all.back().total()), x0 + 1e-9);
  const QRectF r = area();
  const double x = (std::log(place.total()) - x0) / (x1 - x0);
  const double y = std::log(shown(mm) / low) / std::log(high / low);
  return {r.left() + x * r.width(), r.bottom() - y * r.height()};
}

QPointF CountPlot::place_of(std::size_t k) const {
  return plot_ && k < plot_->size() ? at((*plot_)[k], (*plot_)[k].max) : QPointF();
}

std::optional<std::size_t> CountPlot::nearest(const QPointF& position) const {
  if (!plot_ || plot_->empty()) return std::nullopt;
  std::size_t best = 0;
  for (std::size_t k = 1; k < plot_->size(); ++k)
    if (std::abs(place_of(k).x() - position.x()) < std::abs(place_of(best).x() - position.x()))
      best = k;
  return best;
}

QString CountPlot::words(const CountPlace& p) const {
  return tr("%1 × %2: max %3, mean %4 mm")
      .arg(p.points_u)
      .arg(p.points_v)
      .arg(number(p.max), number(p.mean));
}

void CountPlot::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(QPen(look::colours().line, 1.0));
  painter.setBrush(look::colours().raised);
  painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
  QFont small = font();
  small.setPixelSize(11);
  painter.setFont(small);
  painter.setPen(look::colours().quiet_ink);
  if (!plot_ || plot_->empty()) {
    painter.drawText(rect(), Qt::AlignCenter, tr("measuring other counts …"));
    return;
  }
  const QRectF r = area();
  painter.drawText(QRectF(8, 3, width() - 16, 15), Qt::AlignLeft | Qt::AlignVCenter,
                   hovered_ ? words((*plot_)[*hovered_]) : tr("Off before, mm: max and mean"));
  painter.drawText(QRectF(r.left(), r.bottom() + 3, r.width(), 15), Qt::AlignLeft,
                   QString::number(plot_->front().total()));
  painter.drawText(QRectF(r.left(), r.bottom() + 3, r.width(), 15), Qt::AlignHCenter,
                   tr("control points"));
  painter.drawText(QRectF(r.left(), r.bottom() + 3, r.width(), 15), Qt::AlignRight,
                   QString::number(plot_->back().total()));
  // Powers of ten that lie inside.
  for (double mm = 1e-6; mm < 1e4; mm *= 10.0) {
    const double y = at(plot_->front(), mm).y();
    if (y < r.top() - 0.5 || y > r.bottom() + 0.5) continue;
    painter.setPen(QPen(look::colours().line, 1.0));
    painter.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
    painter.setPen(look::colours().quiet_ink);
    painter.drawText(QRectF(2, y - 8, r.left() - 7, 16), Qt::AlignRight | Qt::AlignVCenter,
                     number(mm));
  }
  const auto curve = [&](bool greatest, const QColor& colour) {
    QPainterPath path;
    for (std::size_t k = 0; k < plot_->size(); ++k) {
      const QPointF p = at((*plot_)[k], greatest ? (*plot_)[k].max : (*plot_)[k].mean);
      k == 0 ? path.moveTo(p) : path.lineTo(p);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(colour, 1.8));
    painter.drawPath(path);
  };
  curve(false, look::colours().water);
  curve(true, look::colours().clay);
  for (std::size_t k = 0; k < plot_->size(); ++k) {
    const CountPlace& p = (*plot_)[k];
    const bool chosen = p.points_u == points_u_ && p.points_v == points_v_;
    const bool hover = hovered_ == k;
    if (chosen) {
      painter.setPen(QPen(look::colours().ink, 1.0, Qt::DashLine));
      painter.drawLine(QPointF(place_of(k).x(), r.top()), QPointF(place_of(k).x(), r.bottom()));
    }
    painter.setPen(QPen(look::colours().raised, 1.0));
    painter.setBrush(chosen ? look::colours().ink : look::colours().clay);
    const double size = chosen || hover ? 4.6 : 2.8;
    painter.drawEllipse(place_of(k), size, size);
    painter.setBrush(chosen ? look::colours().ink : look::colours().water);
    painter.drawEllipse(at(p, p.mean), chosen || hover ? 3.6 : 2.4, chosen || hover ? 3.6 : 2.4);
  }
}

void CountPlot::mousePressEvent(QMouseEvent* event) {
  const auto k = nearest(event->position());
  if (!k || event->button() != Qt::LeftButton) return;
  Q_EMIT picked((*plot_)[*k].points_u, (*plot_)[*k].points_v);
}

void CountPlot::mouseMoveEvent(QMouseEvent* event) {
  hovered_ = nearest(event->position());
  update();
}

void CountPlot::leaveEvent(QEvent* event) {
  QWidget::leaveEvent(event);
  hovered_.reset();
  update();
}

bool CountPlot::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    QToolTip::showText(help->globalPos(),
                       tr("How far other counts in the same proportion would be off; a click takes "
                          "that count."),
                       this);
    return true;
  }
  return QWidget::event(event);
}

}  // namespace evenclay
