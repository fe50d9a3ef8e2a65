// The handle by which the plane of the section view is dragged.
#pragma once

#include <functional>

#include "app/tools/hand_tool.h"
#include "app/view/view_settings.h"

namespace evenclay {

class SectionTool : public HandTool {
 public:
  using Take = std::function<void(const SectionCut&)>;
  /// `settings` is read, `take` called with each new plane.
  SectionTool(const ToolContext& context, const ViewSettings& settings, Take take)
      : HandTool(context), settings_(settings), take_(std::move(take)) {}

  bool press(const HandEvent& event) override;
  bool busy() const override { return start_.has_value(); }
  void move(const HandEvent& event) override;
  void release(const HandEvent&) override { start_.reset(); }
  void cancel() override;
  bool hover(const QPointF& at) override;
  void leave() override { hovered_ = false; }
  void add_to(Scene& scene) const override;
  QString words() const override;

 private:
  struct Handle {
    Vec3 foot, tip;
  };
  std::optional<Handle> handle() const;
  bool near_handle(const QPointF& at) const;

  const ViewSettings& settings_;
  Take take_;
  std::optional<SectionCut> start_;  // while dragging
  QPointF pressed_;
  bool hovered_ = false;
};

}  // namespace evenclay
