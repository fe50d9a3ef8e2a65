#include "app/look/preferences.h"

#include <QLocale>
#include <QRegularExpression>
#include <QSettings>
#include <algorithm>
#include <cmath>

namespace evenclay::look {

namespace {

Preferences read() {
  const QSettings s;
  Preferences p;
  p.unit = static_cast<LengthUnit>(std::clamp(s.value("unit", 0).toInt(), 0, 2));
  p.turn = static_cast<TurnButton>(std::clamp(s.value("turn_button", 0).toInt(), 0, 1));
  p.recovery_seconds = std::clamp(s.value("recovery_seconds", 10).toInt(), 2, 600);
  return p;
}

Preferences& in_use() {
  static Preferences p = read();
  return p;
}

constexpr QChar kThin(0x202F);

// A number as it was written, times a factor, with `more` digits behind the point.
QString scaled(const QString& number, double factor, int more) {
  QString plain = number;
  plain.remove(kThin).replace(QChar(0x2212), '-');
  bool ok = false;
  const double value = QLocale::c().toDouble(plain, &ok);
  if (!ok) return number;
  if (plain.contains('e', Qt::CaseInsensitive))
    return QLocale::c().toString(value * factor, 'g', 3);
  const auto point = plain.indexOf('.');
  const int digits = point < 0 ? 0 : static_cast<int>(plain.size() - point - 1);
  QString text = QLocale::c().toString(value * factor, 'f', std::max(0, digits + more));
  if (number.startsWith(QChar(0x2212))) text.replace('-', QChar(0x2212));
  return text;
}

}  // namespace

const Preferences& preferences() {
  return in_use();
}

void set_preferences(Preferences p) {
  p.recovery_seconds = std::clamp(p.recovery_seconds, 2, 600);
  in_use() = p;
  QSettings s;
  s.setValue("unit", static_cast<int>(p.unit));
  s.setValue("turn_button", static_cast<int>(p.turn));
  s.setValue("recovery_seconds", p.recovery_seconds);
}

double shown_per_mm(LengthUnit unit) {
  if (unit == LengthUnit::Centimetre) return 0.1;
  return unit == LengthUnit::Inch ? 1.0 / 25.4 : 1.0;
}

QString unit_sign(LengthUnit unit) {
  if (unit == LengthUnit::Centimetre) return "cm";
  return unit == LengthUnit::Inch ? "in" : "mm";
}

QString in_unit(const QString& text, LengthUnit unit) {
  if (unit == LengthUnit::Millimetre) return text;
  static const QString number =
      QString::fromUtf8("[-+\u2212]?[0-9][0-9\u202F]*(?:\\.[0-9]+)?(?:e[-+]?[0-9]+)?");
  static const QRegularExpression lengths(
      QString::fromUtf8("(?<![\\w.])(%1(?:(?: [\u00B7\u00D7] | to | and |\u2013)%1)*)([ "
                        "\u00A0\u202F]?)(mm|cm)([\u00B2\u00B3]?)(?![\\w\u00B2\u00B3])")
          .arg(number));
  static const QRegularExpression one(number);
  QString result;
  qsizetype from = 0;
  auto found = lengths.globalMatch(text);
  while (found.hasNext()) {
    const auto m = found.next();
    const int power = m.captured(4).isEmpty() ? 1 : (m.captured(4) == QChar(0x00B2) ? 2 : 3);
    const double mm = m.captured(3) == "cm" ? 10.0 : 1.0;
    const double factor = std::pow(mm * shown_per_mm(unit), power);
    // As many digits more as the numbers become smaller by.
    const int more = static_cast<int>(std::lround(-std::log10(factor)));
    result += text.mid(from, m.capturedStart() - from);
    const QString numbers = m.captured(1);
    qsizetype at = 0;
    auto each = one.globalMatch(numbers);
    while (each.hasNext()) {
      const auto n = each.next();
      result += numbers.mid(at, n.capturedStart() - at) + scaled(n.captured(), factor, more);
      at = n.capturedEnd();
    }
    result += numbers.mid(at) + m.captured(2) + unit_sign(unit) + m.captured(4);
    from = m.capturedEnd();
  }
  return result + text.mid(from);
}

QString in_shown_unit(const QString& text) {
  return in_unit(text, preferences().unit);
}

}  // namespace evenclay::look
