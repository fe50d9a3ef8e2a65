// Number fields that also take formulas over the project's numbers, lengths with a unit (2in, 3 cm) and
// changes to what is there (+0.5).
#pragma once

#include <QDoubleSpinBox>
#include <QLineEdit>
#include <QLocale>
#include <QSpinBox>
#include <cmath>
#include <functional>
#include <optional>
#include <utility>

#include "app/look/preferences.h"

namespace evenclay {

/// Spin is QSpinBox or QDoubleSpinBox. What is typed is worked out when Enter is pressed or the field is
/// left; then take_formula() gives the text where it is more than a number. Digits on the way there count
/// at once, as in any field; when the text then cannot be worked out, settled() is what was there before.
template <typename Spin>
class FormulaSpin : public Spin {
 public:
  /// Works a text out; nothing when it is not understood, which it has said.
  using Evaluate = std::function<std::optional<double>(const QString&)>;
  explicit FormulaSpin(Evaluate evaluate) : evaluate_(std::move(evaluate)) {
    Spin::setLocale(QLocale::c());
    QObject::connect(Spin::lineEdit(), &QLineEdit::textEdited, this, [this] { editing_ = true; });
  }

  /// The formula typed last, taken out; empty when a number was typed.
  QString take_formula() { return std::exchange(formula_, QString()); }
  bool has_formula() const { return !formula_.isEmpty(); }
  /// Whether the text could not be worked out; asked once.
  bool take_failure() { return std::exchange(failed_, false); }
  double settled() const { return settled_; }
  void settle() {
    settled_ = static_cast<double>(Spin::value());
    editing_ = false;
  }
  /// In the middle of typing: what is shown around the number stays as it is.
  bool editing() const { return editing_; }

  QValidator::State validate(QString& text, int& at) const override {
    const QString typed = bare(text);
    if (says_least(text)) return QValidator::Acceptable;
    if (typed.startsWith('+')) return QValidator::Intermediate;
    const auto state = Spin::validate(text, at);
    // Whatever is no number may become a formula.
    return state == QValidator::Invalid ? QValidator::Intermediate : state;
  }

  void fixup(QString& text) const override {
    const QString typed = bare(text);
    if (typed.isEmpty()) return Spin::fixup(text);
    const bool relative = typed.startsWith('+');
    const std::optional<double> value = evaluate_(relative ? typed.mid(1) : typed);
    if (!value) {
      failed_ = true;
      return Spin::fixup(text);
    }
    const double all =
        relative ? static_cast<double>(Spin::value()) + by(typed.mid(1), *value) : *value;
    if (!relative) formula_ = typed;
    text = Spin::prefix() + in_field(all) + Spin::suffix();
    if (relative) formula_ = QString::number(all, 'g', 17);
  }

 protected:
  void focusInEvent(QFocusEvent* event) override {
    settle();
    Spin::focusInEvent(event);
  }

  /// A number as the field writes it.
  virtual QString in_field(double value) const { return QString::number(value, 'g', 12); }
  /// What a change typed behind + comes to; `value` is the text worked out.
  virtual double by(const QString& typed, double value) const {
    (void)typed;
    return value;
  }

  // The words that stand for the least value.
  bool says_least(const QString& text) const {
    return !Spin::specialValueText().isEmpty() && text == Spin::specialValueText();
  }
  // Without prefix and suffix.
  QString bare(const QString& text) const {
    QString t = text.trimmed();
    if (!Spin::prefix().isEmpty() && t.startsWith(Spin::prefix().trimmed()))
      t = t.mid(Spin::prefix().trimmed().size()).trimmed();
    const QString unit = Spin::suffix().trimmed();
    if (!unit.isEmpty() && t.endsWith(unit)) t.chop(unit.size());
    return t.trimmed();
  }

 private:
  Evaluate evaluate_;
  mutable QString formula_;  // fixup() is const in Qt
  mutable bool failed_ = false;
  bool editing_ = false;
  double settled_ = 0.0;
};

/// A length: the value is in mm, shown and typed in the unit in use. Formulas come to mm.
class LengthSpin : public FormulaSpin<QDoubleSpinBox> {
 public:
  explicit LengthSpin(Evaluate evaluate) : FormulaSpin(std::move(evaluate)) { use_shown_unit(); }

  /// Takes the unit in use; the value stays. Done by itself whenever the field is shown.
  void use_shown_unit() {
    per_mm_ = look::shown_per_mm(look::preferences().unit);
    setSuffix(" " + look::unit_sign(look::preferences().unit));
  }

  QString textFromValue(double mm) const override {
    if (per_mm_ == 1.0) return FormulaSpin::textFromValue(mm);
    const int more = static_cast<int>(std::lround(-std::log10(per_mm_)));
    return locale().toString(mm * per_mm_, 'f', decimals() + more);
  }
  double valueFromText(const QString& text) const override {
    if (says_least(text)) return minimum();
    if (per_mm_ == 1.0) return FormulaSpin::valueFromText(text);
    return plain(bare(text)).value_or(0.0) / per_mm_;
  }
  QValidator::State validate(QString& text, int& at) const override {
    const QString typed = bare(text);
    if (per_mm_ == 1.0 || says_least(text) || typed.startsWith('+'))
      return FormulaSpin::validate(text, at);
    const auto x = plain(typed);
    return x && *x / per_mm_ > minimum() - 1e-3 && *x / per_mm_ < maximum() + 1e-3
               ? QValidator::Acceptable
               : QValidator::Intermediate;
  }

 protected:
  void showEvent(QShowEvent* event) override {
    use_shown_unit();
    FormulaSpin::showEvent(event);
  }
  QString in_field(double mm) const override { return QString::number(mm * per_mm_, 'g', 12); }
  double by(const QString& typed, double value) const override {
    return plain(typed) ? value / per_mm_ : value;
  }

 private:
  static std::optional<double> plain(const QString& typed) {
    bool ok = false;
    const double x = QLocale::c().toDouble(typed, &ok);
    return ok ? std::optional(x) : std::nullopt;
  }
  double per_mm_ = 1.0;
};

}  // namespace evenclay
