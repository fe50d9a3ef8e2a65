// The rail at the left: seven stages, and below them the tools of the open one in groups that fold.
#pragma once

#include <QStringList>
#include <QWidget>
#include <array>

#include "app/stages/stages.h"

class QLabel;
class QScrollArea;
class QToolButton;
class QVBoxLayout;

namespace evenclay {

class HoverCard;

class StagesRail : public QWidget {
  Q_OBJECT
 public:
  StagesRail(const std::vector<ActionInfo>& actions, QWidget* parent = nullptr);
  void open(Stage stage);
  Stage stage() const { return stage_; }

  /// Groups that are folded, each as "stage/group".
  const QStringList& folded() const { return folded_; }
  /// Whether a form is chosen, so that its tools come first.
  void set_form_first(bool first);
  void set_folded(const QStringList& folded);

 Q_SIGNALS:
  void opened(Stage stage);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void fill();
  void add_group(const QString& group);
  void add_heading(const QString& group, const QString& address);

  const std::vector<ActionInfo>& actions_;
  Stage stage_ = Stage::Source;
  std::array<QToolButton*, kStages> buttons_{};
  QLabel* purpose_ = nullptr;
  QScrollArea* area_ = nullptr;
  QVBoxLayout* tools_ = nullptr;
  HoverCard* card_ = nullptr;
  bool form_first_ = false;
  QStringList folded_;
};

}  // namespace evenclay
