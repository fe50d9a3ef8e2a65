// The project's named numbers: each with a slider, its text and what it comes to.
#pragma once

#include <QDialog>
#include <optional>
#include <vector>

#include "core/document/document.h"

class QLabel;
class QLineEdit;
class QSlider;
class QVBoxLayout;

namespace evenclay {

class AppModel;

/// Dragging a slider moves everything that uses the number, live; letting go is one undo entry. The text
/// takes a number or a formula over the other numbers; a number that follows a formula has no slider.
class NumbersCard : public QDialog {
 public:
  NumbersCard(AppModel& model, QWidget* parent);

 private:
  struct Row {
    std::string name;
    QSlider* slider;
    QLineEdit *text, *least, *most;
    QLabel* value;
  };
  void refresh();
  void rebuild();
  void add_row(const NamedNumber& number);
  void fill(const Row& row, const NamedNumber& number);
  void drag(const std::string& name, int place);
  void let_go(const std::string& name);
  void take_text(const std::string& name, const QString& text);
  void take_range(const std::string& name, const QString& least, const QString& most);
  void add_number();

  AppModel& model_;
  QVBoxLayout* rows_layout_ = nullptr;
  QLineEdit *new_name_ = nullptr, *new_text_ = nullptr;
  std::vector<Row> rows_;
  std::optional<Document> dragged_;  // what the slider has made of the document
  bool refreshing_ = false;
};

}  // namespace evenclay
