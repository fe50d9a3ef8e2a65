// Lines drawn around regions of a scan, in any view: dragged freely, or with Alt as a box.
#pragma once

#include "app/tools/hand_tool.h"
#include "core/operations/offers.h"

namespace evenclay {

class LassoTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return busy_; }
  void move(const HandEvent& event) override;
  void release(const HandEvent& event) override;
  void cancel() override;
  bool hover(const QPointF& at) override;
  QString hover_words() const override;
  void paint(QPainter& painter) const override;
  QString words() const override;

 private:
  const TakesLassos* step() const;
  std::vector<QPointF> outline() const;

  bool busy_ = false, box_ = false;
  Qt::KeyboardModifiers modifiers_;
  std::size_t viewport_ = 0;
  std::vector<QPointF> way_;
};

}  // namespace evenclay
