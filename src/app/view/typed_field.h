// The small field in the view in which a number or a name is typed.
#pragma once

#include <QFrame>
#include <QLineEdit>
#include <functional>

class QLabel;

namespace evenclay {

class TypedField : public QFrame {
  Q_OBJECT
 public:
  struct Question {
    QString label, unit, first;
    bool wide = false;      ///< for a name
    bool selected = false;  ///< what is there already is replaced by typing
    /// False keeps the field open, for another try.
    std::function<bool(const QString& text)> take = {};
  };
  explicit TypedField(QWidget* parent);

  /// Opens beside a place of the parent, and takes the focus.
  void ask(Question question, const QPointF& beside);
  /// Stays inside the parent.
  void place(const QPointF& beside);

 protected:
  /// Enter is the field's own, whatever it would mean behind it.
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void apply();
  QLabel *label_, *unit_;
  QLineEdit* field_;
  Question question_;
};

}  // namespace evenclay
