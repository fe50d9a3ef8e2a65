// Orbiting and panning: the middle button, or the space bar with the left or right one.
#pragma once

#include "app/tools/hand_tool.h"

namespace evenclay {

class CameraTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return does_ != Does::Nothing; }
  void move(const HandEvent& event) override;
  void release(const HandEvent&) override { does_ = Does::Nothing; }
  void cancel() override { does_ = Does::Nothing; }

 private:
  enum class Does { Nothing, Orbit, Pan };
  Does does_ = Does::Nothing;
  std::size_t viewport_ = 0;
  QPointF last_;
};

}  // namespace evenclay
