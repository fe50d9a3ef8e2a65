// The strip of live measures at the bottom, with messages and progress at its right end.
#pragma once

#include <QFrame>
#include <QWidget>
#include <functional>

#include "app/view/renderer.h"
#include "app/window/app_model.h"

class QLabel;
class QProgressBar;
class QPushButton;

namespace evenclay {

class ModelView;

/// One measure: a name, a value, and a level that colours it. Pressing a card that has something
/// to show in the view shows it there.
class GaugeCard : public QFrame {
  Q_OBJECT
 public:
  GaugeCard(const QString& name, const QString& help, bool pressable, QWidget* parent);
  void show_value(const QString& value, const QString& level = {});
  QString value() const;
  void set_lit(bool lit);
  void set_name(const QString& name);

 Q_SIGNALS:
  void pressed();

 protected:
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QLabel* name_ = nullptr;
  QLabel* value_ = nullptr;
  bool pressable_;
};

class GaugesStrip : public QWidget {
 public:
  GaugesStrip(AppModel& model, ModelView& view, QWidget* parent = nullptr);
  void say(const QString& sentence, bool trouble);

 private:
  void refresh();
  void refresh_progress();
  void refresh_lit();

  AppModel& model_;
  ModelView& view_;
  GaugeCard *points_, *evenness_, *deviation_, *kept_, *radius_, *symmetry_, *length_, *area_,
      *volume_;
  ModelLook look_before_ = ModelLook::Clay;  // to go back to when the colours are put away
  QLabel* message_ = nullptr;
  QProgressBar* progress_ = nullptr;
  QPushButton* cancel_ = nullptr;
  int busy_ticks_ = 0;
  bool symmetry_was_shown_ = false;
};

}  // namespace evenclay
