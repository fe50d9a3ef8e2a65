// Places of the chosen step that move along a path: where a loop crosses, how far it slides, a seam.
#pragma once

#include "core/document/operation.h"

#include "app/tools/hand_tool.h"

namespace evenclay {

/// A handle is a diamond beside its place, so that a point there can still be taken. A drag moves it to the place of its path
/// that is seen nearest to the cursor, in hundredths of the path (Shift: tenths of them); the step's number follows. One undo.
class HandleTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return dragged_.has_value(); }
  void move(const HandEvent& event) override;
  void release(const HandEvent& event) override;
  void cancel() override;
  bool hover(const QPointF& at) override;
  QString hover_words() const override;
  void leave() override { under_.reset(); }
  void add_to(Scene& scene) const override;
  void paint(QPainter& painter) const override;
  QString words() const override;

  /// Where the n-th handle is drawn in the main view, pixels; for tests.
  QPointF shown_at(std::size_t n) const;

 private:
  struct Shown {
    QPointF at, place;  // of the diamond, and of what it stands for
    bool seen = false;
  };
  Shown shown(const StepHandle& handle, std::size_t viewport) const;
  std::vector<StepHandle> handles() const;
  std::optional<std::size_t> under(const QPointF& at) const;
  double value_at(const QPointF& at) const;
  void show(double value);

  std::optional<std::size_t> under_;
  std::optional<StepHandle> dragged_;  // as it was begun; `value` as it is now
  double start_ = 0.0;
  QPointF beside_;  // from its place to the diamond when the drag began, pixels
};

}  // namespace evenclay
