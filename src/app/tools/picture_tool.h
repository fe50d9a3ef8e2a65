// A reference picture by hand: moved in its plane by a drag, and its size from two places on it and the distance between
// them.
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
  bool busy() const override { return held_.has_value(); }
  void move(const HandEvent& event) override;
  void release(const HandEvent& event) override;
  void cancel() override;
  QString words() const override;
  bool hover(const QPointF& at) override;
  QString hover_words() const override;
  bool key(QKeyEvent& event) override;  // Esc gives up
  void add_to(Scene& scene) const override;

 private:
  /// The chosen picture under the cursor, not one that is locked or hidden by a part.
  bool begins_move(const QPointF& at) const;
  const Picture* picture() const;
  std::optional<Vec3> place_at(const QPointF& at) const;
  bool take(const QString& text);
  Ask ask_;
  bool waiting_ = false;
  std::vector<Vec3> places_;
  std::optional<Vec3> cursor_;
  struct Held {
    QPointF from;     // pixels
    Vec3 place, way;  // on its plane, and how far it has been moved
    OperationPtr begun;
    Picture shape;
    bool moved = false;
  };
  std::optional<Held> held_;
};

}  // namespace evenclay
