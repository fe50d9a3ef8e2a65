#include "app/look/style.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QPainter>
#include <QPalette>
#include <QStyleFactory>
#include <QSvgRenderer>

#include "app/look/colours.h"

// The resources lie in a static library, which must be asked for them by name.
static void init_resources() {
  Q_INIT_RESOURCE(look);
}

namespace evenclay::look {

namespace {

QPixmap drawn_icon(const QString& name, const QColor& colour, int pixels) {
  QFile file(":/icons/" + name + ".svg");
  if (!file.open(QIODevice::ReadOnly)) return {};
  QByteArray svg = file.readAll();
  svg.replace("currentColor", colour.name().toUtf8());
  svg.replace("stroke-width=\"2\"", "stroke-width=\"1.8\"");
  QSvgRenderer renderer(svg);
  QPixmap pixmap(pixels, pixels);
  pixmap.fill(Qt::transparent);
  QPainter painter(&pixmap);
  renderer.render(&painter);
  return pixmap;
}

// @name in the sheet stands for a colour of the table.
QString style_sheet() {
  QFile file(":/style.qss");
  if (!file.open(QIODevice::ReadOnly)) return {};
  QString sheet = QString::fromUtf8(file.readAll());
  const std::pair<const char*, QColor> colours[] = {
      {"@panel", kPanel},        {"@raised", kRaised}, {"@line", kLine},   {"@ink", kInk},
      {"@quiet-ink", kQuietInk}, {"@clay", kClay},     {"@water", kWater}, {"@good", kGood},
      {"@caution", kCaution},    {"@bad", kBad}};
  // Longer names first, so that @quiet-ink is not taken for another.
  for (const auto& [name, colour] : colours) sheet.replace(QLatin1String(name), colour.name());
  return sheet;
}

}  // namespace

QIcon icon(const QString& name) {
  QIcon result;
  for (const int pixels : {18, 36}) {
    result.addPixmap(drawn_icon(name, kInk, pixels));
    result.addPixmap(drawn_icon(name, kRaised, pixels), QIcon::Normal, QIcon::On);
    result.addPixmap(drawn_icon(name, kLine.darker(115), pixels), QIcon::Disabled);
  }
  return result;
}

QIcon light_icon(const QString& name) {
  QIcon result;
  for (const int pixels : {18, 36}) result.addPixmap(drawn_icon(name, kRaised, pixels));
  return result;
}

void apply_style(QApplication& application) {
  init_resources();
  application.setWindowIcon(QIcon(":/icons/evenclay.svg"));
  for (const char* face : {"Regular", "Medium", "SemiBold"})
    QFontDatabase::addApplicationFont(QString(":/fonts/Inter-%1.otf").arg(face));
  QFont font("Inter");
  font.setPixelSize(12);
  application.setFont(font);
  application.setStyle(QStyleFactory::create("Fusion"));
  QPalette p;
  p.setColor(QPalette::Window, kPanel);
  p.setColor(QPalette::WindowText, kInk);
  p.setColor(QPalette::Base, kRaised);
  p.setColor(QPalette::AlternateBase, kPanel);
  p.setColor(QPalette::Text, kInk);
  p.setColor(QPalette::Button, kRaised);
  p.setColor(QPalette::ButtonText, kInk);
  p.setColor(QPalette::Highlight, kWater);
  p.setColor(QPalette::HighlightedText, kRaised);
  p.setColor(QPalette::ToolTipBase, kRaised);
  p.setColor(QPalette::ToolTipText, kInk);
  p.setColor(QPalette::PlaceholderText, kQuietInk);
  application.setPalette(p);
  application.setStyleSheet(style_sheet());
}

}  // namespace evenclay::look
