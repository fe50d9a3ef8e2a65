// What the hand does in the view: one small interface, a file for each tool. The view owns camera and
// drawing and hands events to the tools in turn; the first that takes a press keeps the hand until the
// release.
#pragma once

#include <QKeyEvent>
#include <QPainter>

#include "app/tools/point_editor.h"
#include "app/view/renderer.h"
#include "app/view/scene_picker.h"
#include "app/view/typed_field.h"

namespace evenclay {

/// What all tools work with. They outlive the tools.
struct ToolContext {
  AppModel& model;
  PointEditor& editor;
  Viewports& views;
  QWidget& view;  ///< to be updated, and for its cursor

  ScenePicker pick() const { return {model, editor, views}; }
};

struct HandEvent {
  QPointF at;  ///< pixels of the view
  Qt::MouseButton button = Qt::NoButton;
  Qt::KeyboardModifiers modifiers;
  bool space = false;  ///< the space bar is held, for the camera
};

class HandTool {
 public:
  explicit HandTool(const ToolContext& context) : c_(context) {}
  virtual ~HandTool() = default;
  HandTool(const HandTool&) = delete;
  HandTool& operator=(const HandTool&) = delete;

  /// True when the press is this tool's.
  virtual bool press(const HandEvent& event) = 0;
  /// While the hand is down after a press that was taken and began something.
  virtual bool busy() const = 0;
  virtual void move(const HandEvent&) {}
  virtual void release(const HandEvent&) {}
  /// Gives up what has begun; nothing of it stays.
  virtual void cancel() {}
  /// The hand passes without a button; true when the tool says what a press would do here.
  virtual bool hover(const QPointF&) { return false; }
  virtual void leave() {}
  /// What a press would do here, beside the cursor; asked after hover() was true.
  virtual QString hover_words() const { return {}; }
  /// A number is being typed: what it is to be asked for, with that first digit; nothing when it is not this
  /// tool's.
  virtual std::optional<TypedField::Question> question(const QString&) { return std::nullopt; }
  /// A key that is this tool's just now, although an action has it too.
  virtual bool wants(const QKeyEvent&) const { return false; }
  /// Any key; true when it was the tool's.
  virtual bool key(QKeyEvent&) { return false; }
  /// Marks in the picture, and over it.
  virtual void add_to(Scene&) const {}
  virtual void paint(QPainter&) const {}
  /// Beside the cursor while busy.
  virtual QString words() const { return {}; }

 protected:
  ToolContext c_;
};

}  // namespace evenclay
