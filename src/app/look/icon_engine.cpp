// Icons drawn from their files whenever they are painted, in the colours of the theme.
#include <QFile>
#include <QIconEngine>
#include <QPainter>
#include <QSvgRenderer>

#include "app/look/style.h"

namespace evenclay::look {

namespace {

class LineIcon : public QIconEngine {
 public:
  LineIcon(QString name, bool on_fill) : name_(std::move(name)), on_fill_(on_fill) {}

  void paint(QPainter* painter, const QRect& rect, QIcon::Mode mode, QIcon::State state) override {
    const Colours& c = colours();
    QColor colour = on_fill_ || state == QIcon::On ? c.raised : c.ink;
    if (mode == QIcon::Disabled) colour = c.quiet_ink;
    if (mode == QIcon::Selected) colour = c.raised;
    QByteArray svg = text();
    svg.replace("currentColor", colour.name().toUtf8());
    QSvgRenderer renderer(svg);
    renderer.render(painter, QRectF(rect));
  }
  QPixmap pixmap(const QSize& size, QIcon::Mode mode, QIcon::State state) override {
    QPixmap pixmap(size);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    paint(&painter, QRect(QPoint(), size), mode, state);
    return pixmap;
  }
  QIconEngine* clone() const override { return new LineIcon(*this); }

 private:
  QByteArray text() {
    if (!svg_.isEmpty()) return svg_;
    QFile file(":/icons/" + name_ + ".svg");
    if (file.open(QIODevice::ReadOnly)) svg_ = file.readAll();
    svg_.replace("stroke-width=\"2\"", "stroke-width=\"1.8\"");
    return svg_;
  }
  QString name_;
  bool on_fill_;
  QByteArray svg_;
};

}  // namespace

QIcon icon(const QString& name) {
  return QIcon(new LineIcon(name, false));
}

QIcon light_icon(const QString& name) {
  return QIcon(new LineIcon(name, true));
}

}  // namespace evenclay::look
