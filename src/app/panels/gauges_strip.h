// The strip of live measures at the bottom, with messages and progress at its right end.
#pragma once

#include <QWidget>

#include "app/panels/gauge_card.h"
#include "app/view/renderer.h"
#include "app/window/app_model.h"

class QLabel;
class QProgressBar;
class QPushButton;

namespace evenclay {

class ModelView;

class GaugesStrip : public QWidget {
 public:
  GaugesStrip(AppModel& model, ModelView& view, QWidget* parent = nullptr);
  void say(const QString& sentence, bool trouble);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void make_cards();
  void connect_cards();
  void refresh();
  void show_grid(const Report& r);
  void show_measures(const Report& r);
  void refresh_progress();
  void refresh_lit();
  void refresh_room();

  AppModel& model_;
  ModelView& view_;
  GaugeCard *points_, *evenness_, *deviation_, *radius_, *symmetry_, *size_, *area_, *volume_,
      *kept_;
  std::vector<GaugeCard*> cards_;
  ModelLook look_before_ = ModelLook::Clay;  // to go back to when the colours are put away
  QLabel* message_ = nullptr;
  QProgressBar* progress_ = nullptr;
  QPushButton* cancel_ = nullptr;
  int busy_ticks_ = 0;
  bool has_kept_ = false;
};

}  // namespace evenclay
