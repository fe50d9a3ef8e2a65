// The view of the model: one main viewport with three small side views in its lower right.
#pragma once

#include <QLineEdit>
#include <QOpenGLWidget>
#include <array>
#include <memory>

#include "app/tools/place_picker.h"
#include "app/tools/point_editor.h"
#include "app/tools/snapper.h"
#include "app/view/renderer.h"
#include "core/check/comb.h"
#include "core/operations/offers.h"

class QLabel;

namespace evenclay {

/// Names of the four cameras; the first starts as the main view.
enum class ViewName { Main, Top, Front, Side };

class ModelView : public QOpenGLWidget {
  Q_OBJECT
 public:
  ModelView(AppModel& model, PointEditor& editor, QWidget* parent = nullptr);
  ~ModelView() override;

  ModelLook look() const { return look_; }
  void set_look(ModelLook look);
  bool side_views() const { return side_views_; }
  void set_side_views(bool shown);
  void frame_all();
  void frame_picked();
  /// Pixels at the bottom of the main view that something else covers: framing leaves them free.
  void set_covered_below(int pixels) { covered_below_ = pixels; }
  /// Shows the named camera in the main viewport; the one that was there takes its place.
  void bring_to_main(ViewName name);
  Camera& camera(ViewName name) { return cameras_[static_cast<std::size_t>(name)]; }
  ViewName main_name() const { return order_[0]; }
  /// The main viewport and, for k = 1..3, the side views; empty when folded away.
  QRect viewport(std::size_t k) const;
  /// Where a control point is on the screen in viewport k (for tests and labels).
  QPointF point_on_screen(PointIndex point, std::size_t k = 0) const;

  /// Shows or hides the callout at the least radius; that of the worst deviation belongs to the look
  /// Deviation.
  void set_least_radius_callout(bool shown);
  bool least_radius_callout() const { return show_least_radius_; }
  /// How many stripes Zebra and Reflection lines show, 2..40, and whether they stand upright.
  double stripes() const { return stripes_; }
  void set_stripes(double count);
  bool upright_stripes() const { return upright_stripes_; }
  void set_upright_stripes(bool upright);
  /// Combs along both rows of the point picked last; their longest tooth is `comb_length` pixels.
  bool combs() const { return combs_; }
  void set_combs(bool shown);
  double comb_length() const { return comb_length_; }
  void set_comb_length(double pixels);
  /// The shape before the chosen step as a veil over the model; holding H does it for a moment.
  bool before_overlay() const { return before_overlay_; }
  void set_before_overlay(bool shown);
  /// Teeth of the combs in a span, 2..100.
  int comb_density() const { return comb_density_; }
  void set_comb_density(int per_span);
  /// Combs along the sections of the chosen part with the work plane.
  bool section_combs() const { return section_combs_; }
  void set_section_combs(bool shown);
  /// The numbers of the control points, as --set addresses them.
  bool point_numbers() const { return point_numbers_; }
  void set_point_numbers(bool shown);
  /// Size of the control points against the usual one, 0.5..3.
  double point_size() const { return point_size_; }
  void set_point_size(double share);
  /// The radius (mm) at which the curvature map is darkest; 0 chooses it by the shape.
  double curvature_radius() const { return curvature_radius_; }
  void set_curvature_radius(double mm);
  /// Reflection lines in one broad light band instead of many narrow ones.
  bool single_band() const { return single_band_; }
  void set_single_band(bool single);
  /// Opens the field in which the darkest radius is asked for.
  void ask_curvature_radius();
  /// Opens the field in which a name for the picked points is asked for.
  void ask_selection_name();
  /// The number of a control point as it is addressed: "[4,2]", of a second surface "[1,4,2]".
  QString address_words(PointIndex p) const;
  /// What the dragged point has snapped to; empty when it moves freely.
  QString snapped_to() const { return snapped_ ? snapped_->what : QString(); }
  /// Opens the field in which every n-th point is asked for.
  void ask_every_nth();
  /// Opens the field in which a coordinate is set: axis 0 x, 1 y, 2 z.
  void ask_coordinate(int axis);
  /// Legs of the net coloured by their length against the mean of their direction.
  bool leg_colours() const { return leg_colours_; }
  void set_leg_colours(bool shown);

  std::size_t frames_painted() const { return frames_; }

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
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  enum class Hand { Idle, Orbit, Pan, Box, Lasso, PressedPoint, Drag, Place };

  std::size_t viewport_at(const QPointF& at) const;
  const Camera& camera_of(std::size_t k) const {
    return cameras_[static_cast<std::size_t>(order_[k])];
  }
  Camera& camera_of(std::size_t k) { return cameras_[static_cast<std::size_t>(order_[k])]; }
  Scene scene() const;
  void add_net(Scene& scene) const;
  void add_symmetry_frame(Scene& scene) const;
  void add_coloured_legs(Scene& scene) const;
  void add_place_lines(Scene& scene) const;
  void add_combs(Scene& scene) const;
  void add_section_combs(Scene& scene) const;
  void add_comb(Scene& scene, const Comb& comb, const QColor& colour) const;
  void add_snap_cue(Scene& scene) const;
  void paint_numbers(QPainter& painter) const;
  void press_on_curve_source(const QPointF& at);
  const DrawsPoints* curve_being_drawn() const;
  bool take_back_curve_point();
  std::shared_ptr<const DisplayValues> map_values() const;
  void paint_legend(QPainter& painter) const;
  double reach() const;  ///< mm at the ends of the deviation map
  void set_before_held(bool held);
  void refresh_wants();
  void add_arrows(Scene& scene, std::size_t k) const;
  Box3 box_of_all() const;
  friend class ViewOverlay;
  void paint_overlay(QPainter& painter);
  void place_cursor_label();
  QString drag_words() const;
  void paint_tripod(QPainter& painter) const;
  bool is_behind(const Vec3& at, const QPointF& on_screen) const;
  void paint_callout(QPainter& painter, const Vec3& at, const QString& text) const;

  std::optional<PointIndex> point_at(const QPointF& at) const;
  /// What a press there picks, as the filter says: a point, or a whole line of the net.
  struct Pressed {
    PointIndex leader;
    Selection points;
  };
  std::optional<Pressed> pressed_at(const QPointF& at) const;
  std::optional<Pressed> net_line_at(const QPointF& at) const;
  bool press_points(const QPointF& at);
  /// The place of the chosen part that is seen there.
  std::optional<SurfacePlace> place_at(const QPointF& at) const;
  std::optional<SurfacePlace> place_on_curves(const QPointF& at, const Shape& shape) const;
  /// The visible part whose surface is in front there; 0 when there is none.
  PartId part_at(const QPointF& at) const;
  void click_empty(const QPointF& at);
  void finish_box();
  void start_drag();
  void drag_to(const QPointF& at, Qt::KeyboardModifiers modifiers);
  void drag_move(const QPointF& hand, double share);
  void drag_pull(const QPointF& hand, double share);
  double stepped(double amount) const;
  /// How far along an axis (mm) the hand went on the screen; an axis that points at the eye follows
  /// the hand up and down instead.
  double along_axis(const QPointF& hand, const Vec3& axis) const;
  bool start_pull(const QPointF& at);
  Selection without_hidden(const Selection& points) const;
  bool apply_typed(double number);
  void open_typed_field(const QString& first);
  void place_typed_field();
  void apply_typed_field();
  void first_frame();

  AppModel& model_;
  PointEditor& editor_;
  Renderer renderer_;
  std::array<Camera, 4> cameras_;
  std::array<ViewName, 4> order_{ViewName::Main, ViewName::Top, ViewName::Front, ViewName::Side};
  ModelLook look_ = ModelLook::Clay;
  bool side_views_ = true;
  int covered_below_ = 0;
  void frame_main(const Box3& box);
  bool framed_ = false;

  Hand hand_ = Hand::Idle;
  std::size_t active_ = 0;  // viewport of the hand
  QPointF pressed_, last_;
  Vec3 drag_anchor_;
  double drag_amount_ = 0.0;  // factor or degrees of the drag, for the label
  std::vector<QPointF> lasso_;
  Qt::KeyboardModifiers pressed_modifiers_;
  bool space_ = false;
  std::optional<PointIndex> hovered_;
  PlacePicker picker_;
  std::optional<SurfacePlace> hovered_place_;
  bool before_overlay_ = false;
  bool before_held_ = false;
  bool leg_colours_ = false;
  bool combs_ = false;
  int comb_density_ = 14;
  bool section_combs_ = false;
  bool point_numbers_ = false;
  double point_size_ = 1.0;
  bool single_band_ = false;
  double curvature_radius_ = 0.0;
  Snapper snapper_;
  std::optional<SnapPlace> snapped_;
  std::vector<Vec3> drawn_places_;  // of the curve being drawn
  StepId drawing_step_ = 0;
  double comb_length_ = 70.0;
  double stripes_ = 7.0;
  bool upright_stripes_ = false;
  enum class Typed { Amount, EveryNth, X, Y, Z, CurvatureRadius, SelectionName };
  Typed typed_for_ = Typed::Amount;
  bool show_least_radius_ = false;
  QWidget* overlay_ = nullptr;
  QLabel* cursor_label_ = nullptr;
  QWidget* typed_ = nullptr;
  QLabel* typed_label_ = nullptr;
  QLabel* typed_unit_ = nullptr;
  QLineEdit* typed_field_ = nullptr;
  std::size_t frames_ = 0;
};

}  // namespace evenclay
