// One card of the gauges strip.
#pragma once

#include <QFrame>
#include <optional>

class QLabel;

namespace evenclay {

/// Beyond these a card turns amber or red; a value of 0 switches a limit off.
struct GaugeLimits {
  double caution = 0.0, bad = 0.0;
  bool less_is_worse = false;
  /// "", "caution" or "bad".
  const char* level(double value) const;
};

/// A name, a value at a place of fixed width, and a level that colours it. Pressing a card that has
/// something to show in the view shows it there; the context menu of one with limits changes them.
class GaugeCard : public QFrame {
  Q_OBJECT
 public:
  /// `widest` is a text that needs as much room as any value.
  GaugeCard(const QString& name, const QString& help, const QString& widest, bool pressable,
            QWidget* parent);
  void show_value(const QString& value, const QString& level = {});
  /// The value does not apply to what is shown.
  void show_nothing() { show_value(QString::fromUtf8("–")); }
  /// It belongs to an earlier shape: drawn quiet until the new one is there.
  void set_stale(bool stale);
  QString value() const;
  void set_lit(bool lit);
  void set_name(const QString& name);

  /// Read from and written to the settings under the card's object name.
  void use_limits(const GaugeLimits& standard, const QString& unit);
  const std::optional<GaugeLimits>& limits() const { return limits_; }
  void set_limits(const GaugeLimits& limits);
  QString level_of(double value) const { return limits_ ? limits_->level(value) : ""; }

 Q_SIGNALS:
  void pressed();
  void limits_changed();

 protected:
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;

 private:
  void ask_limits();
  QLabel* name_ = nullptr;
  QLabel* value_ = nullptr;
  bool pressable_;
  std::optional<GaugeLimits> limits_;
  QString unit_;
};

}  // namespace evenclay
