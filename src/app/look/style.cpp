#include "app/look/style.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QPalette>
#include <QProxyStyle>
#include <QWidget>

// The resources lie in a static library, which must be asked for them by name.
static void init_resources() {
  Q_INIT_RESOURCE(look);
}

namespace evenclay::look {

namespace {

// Questions in the house's look: words on their buttons, and its own sign.
class HouseStyle : public QProxyStyle {
 public:
  HouseStyle() : QProxyStyle("Fusion") {}
  int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                QStyleHintReturn* data) const override {
    if (hint == SH_DialogButtonBox_ButtonsHaveIcons) return 0;
    return QProxyStyle::styleHint(hint, option, widget, data);
  }
  QIcon standardIcon(StandardPixmap sign, const QStyleOption* option,
                     const QWidget* widget) const override {
    if (sign == SP_MessageBoxQuestion || sign == SP_MessageBoxInformation) return icon("info");
    if (sign == SP_MessageBoxWarning || sign == SP_MessageBoxCritical)
      return icon("triangle-alert");
    return QProxyStyle::standardIcon(sign, option, widget);
  }
};

QString rgba(const QColor& c, int alpha) {
  return QString("rgba(%1, %2, %3, %4)").arg(c.red()).arg(c.green()).arg(c.blue()).arg(alpha);
}

// @name in the sheet stands for a colour of the table.
QString style_sheet() {
  QFile file(":/style.qss");
  if (!file.open(QIODevice::ReadOnly)) return {};
  QString sheet = QString::fromUtf8(file.readAll());
  const Colours& c = colours();
  // Longer names first, so that @quiet-ink is not taken for another.
  const std::pair<const char*, QString> values[] = {
      {"@caution-soft", c.caution_soft.name()},
      {"@bad-soft", c.bad_soft.name()},
      {"@raised-clear", rgba(c.raised, 238)},
      {"@quiet-ink", c.quiet_ink.name()},
      {"@theme", theme() == Theme::Night ? "night" : "light"},
      {"@panel", c.panel.name()},
      {"@raised", c.raised.name()},
      {"@line", c.line.name()},
      {"@ink", c.ink.name()},
      {"@clay", c.clay.name()},
      {"@water", c.water.name()},
      {"@good", c.good.name()},
      {"@caution", c.caution.name()},
      {"@bad", c.bad.name()}};
  for (const auto& [name, value] : values) sheet.replace(QLatin1String(name), value);
  return sheet;
}

QPalette palette() {
  const Colours& c = colours();
  QPalette p;
  p.setColor(QPalette::Window, c.panel);
  p.setColor(QPalette::WindowText, c.ink);
  p.setColor(QPalette::Base, c.raised);
  p.setColor(QPalette::AlternateBase, c.panel);
  p.setColor(QPalette::Text, c.ink);
  p.setColor(QPalette::Button, c.raised);
  p.setColor(QPalette::ButtonText, c.ink);
  p.setColor(QPalette::Highlight, c.water);
  p.setColor(QPalette::HighlightedText, c.raised);
  p.setColor(QPalette::ToolTipBase, c.raised);
  p.setColor(QPalette::ToolTipText, c.ink);
  p.setColor(QPalette::PlaceholderText, c.quiet_ink);
  for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
    p.setColor(QPalette::Disabled, role, c.quiet_ink);
  return p;
}

}  // namespace

Theme desktop_theme() {
  return QApplication::palette().color(QPalette::Window).lightness() < 110 ? Theme::Night
                                                                           : Theme::Light;
}

void use_theme(Theme theme) {
  note_theme(theme);
  QApplication::setPalette(palette());
  qApp->setStyleSheet(style_sheet());
  for (QWidget* w : QApplication::allWidgets()) w->update();
}

void apply_style(QApplication& application, Theme theme) {
  init_resources();
  application.setWindowIcon(QIcon(":/icons/evenclay.svg"));
  for (const char* face : {"Regular", "Medium", "SemiBold"})
    QFontDatabase::addApplicationFont(QString(":/fonts/EvenClayText-%1.otf").arg(face));
  QFont font("Even Clay Text");
  font.setPixelSize(12);
  application.setFont(font);
  application.setStyle(new HouseStyle);
  use_theme(theme);
}

}  // namespace evenclay::look
