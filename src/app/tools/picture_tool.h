// The size of a reference picture from two places on it and the distance between them.
#pragma once

#include <functional>

#include "app/tools/hand_tool.h"

namespace evenclay {

class PictureTool : public HandTool {
 public:
  using Ask = std::function<void(TypedField::Question)>;
  PictureTool(const ToolContext& context, Ask ask) : HandTool(context), ask_(std::move(ask)) {}

  /// The next two clicks on the chosen picture are taken.
  void begin();
  bool press(const HandEvent& event) override;
  bool busy() const override { return false; }
  bool hover(const QPointF& at) override;
  QString hover_words() const override;
  bool key(QKeyEvent& event) override;  // Esc gives up
  void add_to(Scene& scene) const override;

 private:
  const Picture* picture() const;
  std::optional<Vec3> place_at(const QPointF& at) const;
  bool take(const QString& text);
  Ask ask_;
  bool waiting_ = false;
  std::vector<Vec3> places_;
  std::optional<Vec3> cursor_;
};

}  // namespace evenclay
