// Clicking the parts that a step on trial reads: each click adds a part to its list, or takes it out.
#pragma once

#include "app/tools/hand_tool.h"

namespace evenclay {

class PartsTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return false; }  // a click is all there is
  bool hover(const QPointF& at) override;
  QString hover_words() const override { return words_; }
  void leave() override { words_.clear(); }
  /// Numbers at the listed curves, in their order.
  void paint(QPainter& painter) const override;

 private:
  /// A list of the chosen step: its name, label, what it holds and of what it may hold.
  struct List {
    std::string name;
    QString label;
    std::vector<PartRef> parts;
    unsigned kinds = 0;
    int most = 0;
  };
  std::vector<List> lists() const;
  /// The list that a click on the part would change.
  std::optional<List> list_for(PartId part) const;
  QString words_;
};

}  // namespace evenclay
