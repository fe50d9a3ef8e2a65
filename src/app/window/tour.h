// The tour: five steps on the demo, each with what to look at and what to try.
#pragma once

#include <QFrame>

class QLabel;
class QPushButton;

namespace evenclay {

class MainWindow;

class Tour : public QFrame {
 public:
  explicit Tour(MainWindow& window);
  /// Opens the demo and shows the first step.
  void begin();
  void show_step(int step);
  int step() const { return step_; }
  static constexpr int kSteps = 5;

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void arrange(int step);
  void choose(const char* part, std::size_t step);

  MainWindow& window_;
  int step_ = 0;
  QLabel *title_, *text_, *count_;
  QPushButton *back_, *next_;
};

}  // namespace evenclay
