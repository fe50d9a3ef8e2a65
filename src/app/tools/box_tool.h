// Boxes and lassos from empty space; a click there lets go of the picked points or chooses a part.
#pragma once

#include <functional>

#include "app/tools/hand_tool.h"

namespace evenclay {

class BoxTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return busy_; }
  void move(const HandEvent& event) override;
  void release(const HandEvent& event) override;
  void cancel() override { busy_ = false; }
  void paint(QPainter& painter) const override;

 private:
  void click();
  void pick_inside();
  void pick_form_inside(const std::function<bool(const Vec3&)>& in_region);
  bool busy_ = false;
  bool lasso_ = false;
  std::size_t viewport_ = 0;
  Qt::KeyboardModifiers modifiers_;
  std::vector<QPointF> way_;  // from the press to the cursor
};

}  // namespace evenclay
