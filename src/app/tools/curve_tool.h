// Drawing a curve: a click adds a point while a step that is drawn is on trial.
#pragma once

#include "app/tools/hand_tool.h"
#include "core/operations/offers.h"

namespace evenclay {

class CurveTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return false; }  // a click is all there is
  bool key(QKeyEvent& event) override;          // Backspace takes the last point back

 private:
  const DrawsPoints* being_drawn() const;
  bool take_back();
  Vec3 place_at(const QPointF& at) const;
  std::vector<Vec3> places_;
  StepId step_ = 0;
};

}  // namespace evenclay
