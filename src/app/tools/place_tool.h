// Picking a place on the surface for a step that works at one; dragging moves it live.
#pragma once

#include "app/tools/hand_tool.h"
#include "app/tools/place_picker.h"

namespace evenclay {

class PlaceTool : public HandTool {
 public:
  explicit PlaceTool(const ToolContext& context) : HandTool(context), picker_(context.model) {}
  bool press(const HandEvent& event) override;
  bool busy() const override { return busy_; }
  void move(const HandEvent& event) override;
  void release(const HandEvent&) override { busy_ = false; }
  void cancel() override { busy_ = false; }
  bool hover(const QPointF& at) override;
  void leave() override { hovered_.reset(); }
  void add_to(Scene& scene) const override;

 private:
  PlacePicker picker_;
  bool busy_ = false;
  std::optional<SurfacePlace> hovered_;
};

}  // namespace evenclay
