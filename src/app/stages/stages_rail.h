// The rail at the left: seven stages, and below them the tools of the open one.
#pragma once

#include <QWidget>
#include <array>

#include "app/stages/stages.h"

class QLabel;
class QToolButton;
class QVBoxLayout;

namespace evenclay {

class StagesRail : public QWidget {
  Q_OBJECT
 public:
  StagesRail(const std::vector<ActionInfo>& actions, QWidget* parent = nullptr);
  void open(Stage stage);
  Stage stage() const { return stage_; }

 private:
  void add_group(const QString& group);

  const std::vector<ActionInfo>& actions_;
  Stage stage_ = Stage::Source;
  std::array<QToolButton*, kStages> buttons_{};
  QLabel* purpose_ = nullptr;
  QVBoxLayout* tools_ = nullptr;
};

}  // namespace evenclay
