// The view of the model: one main viewport with three small side views in its lower right. It owns
// cameras and drawing and hands the mouse to the tools (tools/hand_tool.h).
#pragma once

#include <QElapsedTimer>
#include <QOpenGLWidget>
#include <memory>
#include <type_traits>
#include <vector>

#include "app/tools/drag_tool.h"
#include "app/view/layers.h"
#include "app/view/look_runs.h"
#include "app/view/refiner.h"
#include "app/view/renderer.h"
#include "app/view/typed_field.h"

class QLabel;
class QTimer;

namespace evenclay {
class HandleTool;
class PictureTool;
}  // namespace evenclay

namespace evenclay {

class ModelView : public QOpenGLWidget {
  Q_OBJECT
 public:
  ModelView(AppModel& model, PointEditor& editor, QWidget* parent = nullptr);
  ~ModelView() override;

  const ViewSettings& settings() const { return settings_; }
  void change(const ViewSettings& settings);
  /// One of them: set(&ViewSettings::combs, true).
  template <typename T>
  void set(T ViewSettings::*member, const std::type_identity_t<T>& value) {
    ViewSettings s = settings_;
    s.*member = value;
    change(s);
  }
  template <typename T>
  void set_scaled(T ViewSettings::*member, double factor) {
    set(member, static_cast<T>(settings_.*member * factor));
  }
  void toggle(bool ViewSettings::*member) { set(member, !(settings_.*member)); }

  /// The main view looks at the place from outside the model.
  void turn_to(const Vec3& place);
  void frame_all();
  void frame_picked();
  /// Two clicks on the chosen reference picture and a typed distance give its size.
  void scale_picture();
  Vec3 middle() const;  ///< of all that is shown
  /// Turns the large view so that it looks against `normal` onto a place.
  void face(const Vec3& normal, const Vec3& at);
  void face_picked();
  void toggle_perspective();
  /// Looks from a saved place in the large view.
  void look_from(const SavedView& view);
  void set_covered_below(int pixels) { views_.set_covered_below(pixels); }
  int covered_right() const { return views_.covered_right(); }
  /// Asked before the view itself when Esc is pressed: true when it has ended something.
  void set_give_up_first(std::function<bool()> first) { give_up_first_ = std::move(first); }
  /// Shows the named camera in the main viewport; the one that was there takes its place.
  void bring_to_main(ViewName name);
  Camera& camera(ViewName name) { return views_.named(name); }
  ViewName main_name() const { return views_.name(0); }
  QRect viewport(std::size_t k) const { return views_.rect(k); }
  /// Where a control point is on the screen in viewport k (for tests and labels).
  QPointF point_on_screen(PointIndex point, std::size_t k = 0) const;
  QPointF place_on_screen(const Vec3& place, std::size_t k = 0) const;
  /// Where the n-th handle of the chosen step is drawn.
  QPointF handle_on_screen(std::size_t n) const;

  // Questions that open the typed field.
  void ask_curvature_radius();
  void ask_map_range();  ///< of the look that is shown
  void ask_selection_name();
  void ask_view_name();
  void ask_every_nth();
  void ask_coordinate(int axis);  ///< 0 x, 1 y, 2 z

  /// What the dragged point has snapped to; empty when it moves freely.
  QString snapped_to() const { return drag_->snapped_to(); }
  std::size_t frames_painted() const { return frames_; }
  /// The main view as it is now, without what lies over it.
  QImage picture();
  /// The refined pictures of all viewports are finished (or not wanted).
  bool refined();

 Q_SIGNALS:
  void look_changed();
  void painted();  ///< after a frame, for benchmarks and pictures

 protected:
  void initializeGL() override;
  void paintGL() override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  bool event(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  friend class ViewOverlay;
  LayerInput layer_input() const;
  Scene scene() const;
  static Scene for_side_view(Scene scene);
  void paint_over(QPainter& painter);
  void place_cursor_label();
  Scene scene_of(const Scene& base, const LayerInput& in, std::size_t k) const;
  QSize pixels_of(std::size_t k) const;
  bool has_shadows(std::size_t k) const;
  void refine();
  void hover(const QPointF& at);
  std::optional<PickKind> whole_kind() const;
  void forget_hover();
  QString words_of(const QPointF& at, const std::optional<ScenePicker::Pressed>& pressed) const;
  HandEvent hand_event(const QMouseEvent& event) const;
  bool give_up_innermost();
  void first_frame();
  void set_before_held(bool held);
  void refresh_wants();
  QString picked_words() const;
  void ask_amount(const QString& first);
  void ask(TypedField::Question question);
  bool with_number(const QString& text, const std::function<void(double)>& take);

  AppModel& model_;
  PointEditor& editor_;
  Renderer renderer_;
  Refiner refiner_{renderer_};
  std::optional<PictureKey> painted_;  // what the last frame showed
  PictureStore* pictures_ = nullptr;
  PictureTool* picture_tool_ = nullptr;
  const HandleTool* handles_ = nullptr;
  mutable LookRuns look_runs_;
  QTimer* rest_ = nullptr;  // runs out when the hand has rested
  QElapsedTimer frame_;     // since the frame that is being drawn was begun
  Viewports views_;
  ViewSettings settings_;
  std::vector<std::unique_ptr<HandTool>> tools_;  // in the order in which they are asked
  DragTool* drag_ = nullptr;                      // one of them
  HandTool* active_ = nullptr;                    // the one that has the hand
  std::function<bool()> give_up_first_;
  bool framed_ = false;
  bool space_ = false;
  bool before_held_ = false;
  QPointF last_;
  std::optional<PointIndex> hovered_;
  QString hover_words_;  // what a click would take, where it is not a point
  QWidget* overlay_ = nullptr;
  QLabel* cursor_label_ = nullptr;
  TypedField* typed_ = nullptr;
  std::size_t frames_ = 0;
};

}  // namespace evenclay
