// Turning the model slowly, for looking at it from all sides.
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

namespace evenclay {

class ModelView;

/// Turns the large view about the upright, a round in half a minute, until it is stopped or a button is pressed in the view.
class Turntable : public QObject {
  Q_OBJECT
 public:
  explicit Turntable(ModelView& view);
  bool turning() const { return timer_.isActive(); }
  void turn(bool on);

 Q_SIGNALS:
  void changed();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  ModelView& view_;
  QTimer timer_;
  QElapsedTimer since_;
};

}  // namespace evenclay
