// Marking single faces of the chosen part, for their look, while that is wanted.
#pragma once

#include "app/tools/hand_tool.h"
#include "app/tools/pick_target.h"

namespace evenclay {

/// A click marks a face or takes its mark away; marked ones are hatched.
class FaceTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return false; }
  bool hover(const QPointF& at) override;
  QString hover_words() const override;
  void leave() override { hovered_.reset(); }
  void add_to(Scene& scene) const override;

 private:
  std::shared_ptr<const PickTarget> target() const;
  std::optional<std::size_t> face_at(const QPointF& at) const;
  bool is_marked(const PickTarget& on, std::size_t face) const;

  std::optional<std::size_t> hovered_;
  mutable PickTargets targets_;
};

}  // namespace evenclay
