// Picking points and lines of the net, and dragging what is picked, or the skin itself.
#pragma once

#include "app/tools/hand_tool.h"
#include "app/tools/snapper.h"

namespace evenclay {

class DragTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return does_ != Does::Nothing; }
  bool dragging() const { return does_ == Does::Drag; }
  void move(const HandEvent& event) override;
  void release(const HandEvent& event) override;
  void cancel() override;
  bool key(QKeyEvent& event) override;  // Undo while a drag goes on ends it
  void add_to(Scene& scene) const override;
  QString words() const override;
  /// What the dragged point has snapped to; empty when it moves freely.
  QString snapped_to() const { return snapped_ ? snapped_->what : QString(); }

 private:
  enum class Does { Nothing, Pressed, Drag };
  bool press_form(const ScenePicker::Pressed& pressed, bool shift, bool control);
  bool press_points(const HandEvent& event);
  bool start_pull(const QPointF& at);
  void start_drag();
  void drag_to(const HandEvent& event);
  void drag_move(const QPointF& hand, double share);
  void drag_pull(const QPointF& hand, double share);
  double stepped(double amount) const;
  /// How far along an axis (mm) the hand went on the screen; an axis that points at the eye follows
  /// the hand up and down instead.
  double along_axis(const QPointF& hand, const Vec3& axis) const;
  const Camera& camera() const { return c_.views.camera(viewport_); }
  QRect rect() const { return c_.views.rect(viewport_); }

  Does does_ = Does::Nothing;
  std::size_t viewport_ = 0;
  QPointF pressed_;
  Vec3 anchor_;
  double amount_ = 0.0;  // factor or degrees of the drag, for the label
  Snapper snapper_;
  std::optional<SnapPlace> snapped_;
};

}  // namespace evenclay
