// Find an action: one search field for everything the program can do.
#pragma once

#include <QFrame>

#include "app/stages/stages.h"

class QLineEdit;
class QListWidget;

namespace evenclay {

class FindAction : public QFrame {
 public:
  FindAction(const std::vector<ActionInfo>& actions, QWidget* parent);
  void open(const QString& text = {});

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void filter(const QString& text);
  void add_row(std::size_t action);
  void run_current();

  const std::vector<ActionInfo>& actions_;
  QLineEdit* field_ = nullptr;
  QListWidget* list_ = nullptr;
};

}  // namespace evenclay
