#include "app/view/model_view.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/look/colours.h"
#include "app/view/picking.h"

namespace evenclay {

namespace {

constexpr int kSideWidth = 114;
constexpr int kSideHeight = 108;
constexpr int kGap = 8;
constexpr double kDragStart = 3.0;

}  // namespace

/// Text and rubber bands over the OpenGL picture. A widget of its own, because the raster painter is
/// sharper and faster here than painting text through OpenGL in a core profile.
class ViewOverlay : public QWidget {
 public:
  explicit ViewOverlay(ModelView& view) : QWidget(&view), view_(view) {
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setAttribute(Qt::WA_NoSystemBackground);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    view_.paint_overlay(painter);
  }

 private:
  ModelView& view_;
};

ModelView::ModelView(AppModel& model, PointEditor& editor, QWidget* parent)
    : QOpenGLWidget(parent), model_(model), editor_(editor), picker_(model) {
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Model view"));
  setMinimumSize(420, 320);
  const auto fixed = [&](ViewName name, double yaw, double pitch) {
    camera(name).yaw = yaw;
    camera(name).pitch = pitch;
    camera(name).perspective = false;
  };
  fixed(ViewName::Top, -90.0, 90.0);
  fixed(ViewName::Front, -90.0, 0.0);
  fixed(ViewName::Side, 0.0, 0.0);

  overlay_ = new ViewOverlay(*this);
  cursor_label_ = new QLabel(this);
  cursor_label_->setProperty("cursor", true);
  cursor_label_->setAttribute(Qt::WA_TransparentForMouseEvents);
  cursor_label_->hide();
  typed_ = new QFrame(this);
  typed_->setProperty("bar", true);
  auto* row = new QHBoxLayout(typed_);
  row->setContentsMargins(9, 5, 9, 5);
  typed_label_ = new QLabel(typed_);
  typed_field_ = new QLineEdit(typed_);
  typed_field_->setFixedWidth(64);
  typed_field_->setObjectName("typed_distance");
  typed_field_->setAccessibleName(tr("Distance in millimetres"));
  row->addWidget(typed_label_);
  row->addWidget(typed_field_);
  typed_unit_ = new QLabel(tr("mm"), typed_);
  row->addWidget(typed_unit_);
  typed_->hide();
  connect(typed_field_, &QLineEdit::returnPressed, this, &ModelView::apply_typed_field);

  // While a point is dragged a frame is drawn when its surface is there, not before: drawing twice
  // for each move would halve the rate.
  connect(&model_, &AppModel::answered, this, [this] {
    first_frame();
    if (!editor_.dragging() || !model_.answer()->parts.empty()) update();
  });
  connect(&model_, &AppModel::document_changed, this, [this] {
    if (!editor_.dragging()) update();
  });
  connect(&model_, &AppModel::chosen_changed, this, [this] {
    typed_->hide();
    update();
  });
  connect(&editor_, &PointEditor::changed, this, [this] {
    if (!editor_.dragging()) update();
  });
}

ModelView::~ModelView() {
  makeCurrent();
  renderer_.release();
  doneCurrent();
}

void ModelView::set_look(ModelLook look) {
  look_ = look;
  refresh_wants();
  Q_EMIT look_changed();
  update();
}

void ModelView::set_stripes(double count) {
  stripes_ = std::clamp(count, 2.0, 40.0);
  update();
}

void ModelView::set_upright_stripes(bool upright) {
  upright_stripes_ = upright;
  Q_EMIT look_changed();
  update();
}

void ModelView::set_combs(bool shown) {
  combs_ = shown;
  Q_EMIT look_changed();
  update();
}

void ModelView::set_comb_length(double pixels) {
  comb_length_ = std::clamp(pixels, 10.0, 600.0);
  update();
}

void ModelView::set_comb_density(int per_span) {
  comb_density_ = std::clamp(per_span, 2, 100);
  update();
}

void ModelView::set_section_combs(bool shown) {
  section_combs_ = shown;
  Q_EMIT look_changed();
  update();
}

void ModelView::set_point_numbers(bool shown) {
  point_numbers_ = shown;
  Q_EMIT look_changed();
  update();
}

void ModelView::set_point_size(double share) {
  point_size_ = std::clamp(share, 0.5, 3.0);
  update();
}

void ModelView::set_curvature_radius(double mm) {
  curvature_radius_ = std::max(0.0, mm);
  update();
}

void ModelView::set_single_band(bool single) {
  single_band_ = single;
  Q_EMIT look_changed();
  update();
}

void ModelView::set_before_overlay(bool shown) {
  before_overlay_ = shown;
  refresh_wants();
  Q_EMIT look_changed();
  update();
}

void ModelView::set_before_held(bool held) {
  before_held_ = held;
  refresh_wants();
  update();
}

void ModelView::set_leg_colours(bool shown) {
  leg_colours_ = shown;
  if (shown) editor_.set_net_visible(true);
  Q_EMIT look_changed();
  update();
}

void ModelView::refresh_wants() {
  DisplayWants wants = model_.wants();
  wants.deviation = look_ == ModelLook::Deviation;
  wants.curvature = look_ == ModelLook::Curvature;
  wants.before = before_overlay_ || before_held_;
  model_.want(wants);
}

void ModelView::set_side_views(bool shown) {
  side_views_ = shown;
  update();
}

void ModelView::set_least_radius_callout(bool shown) {
  show_least_radius_ = shown;
  update();
}

QRect ModelView::viewport(std::size_t k) const {
  if (k == 0) return rect();
  if (!side_views_) return {};
  const int place = static_cast<int>(k) - 1;
  const int x = width() - (3 - place) * (kSideWidth + kGap);
  return {x, height() - kSideHeight - kGap, kSideWidth, kSideHeight};
}

std::size_t ModelView::viewport_at(const QPointF& at) const {
  for (std::size_t k = 1; k < 4; ++k)
    if (viewport(k).contains(at.toPoint())) return k;
  return 0;
}

QPointF ModelView::point_on_screen(PointIndex p, std::size_t k) const {
  if (!editor_.net()) return {};
  return to_screen(camera_of(k), viewport(k), editor_.net()->shown.point(p)).at;
}

Box3 ModelView::box_of_all() const {
  Box3 box;
  for (const auto& [id, drawn] : model_.drawn()) {
    const Part* part = find_part(model_.document(), id);
    if (part != nullptr && part->look.visible && drawn.mesh) box.add(drawn.mesh->box);
  }
  return box;
}

// The first shape that arrives after a start or an opened file is brought into view.
void ModelView::first_frame() {
  if (model_.document().parts.empty()) framed_ = false;
  if (framed_ || !model_.answer() || !model_.answer()->exact) return;
  framed_ = !box_of_all().empty();
  if (framed_) frame_all();
}

// The box is framed by its diagonal, which leaves room; half of what is covered is enough.
void ModelView::frame_main(const Box3& box) {
  camera_of(0).frame(box, static_cast<double>(width()) / std::max(1, height()));
  if (box.empty()) return;
  camera_of(0).height *= 1.0 + 0.5 * covered_below_ / std::max(1, height());
  camera_of(0).pan(QPointF(0.0, -0.42 * covered_below_), rect());
}

void ModelView::frame_all() {
  const Box3 box = box_of_all();
  frame_main(box);
  for (std::size_t k = 1; k < 4; ++k) {
    const QRect r = QRect(0, 0, kSideWidth, kSideHeight);
    camera_of(k).frame(box, static_cast<double>(r.width()) / std::max(1, r.height()));
  }
  update();
}

void ModelView::frame_picked() {
  Box3 box;
  if (editor_.net())
    for (const PointIndex& p : editor_.picked()) box.add(editor_.net()->shown.point(p));
  if (box.empty()) {
    const auto found = model_.drawn().find(model_.chosen_part());
    if (found != model_.drawn().end() && found->second.mesh) box = found->second.mesh->box;
  }
  if (box.empty()) return;
  Box3 roomy = box;  // a single point still needs surroundings
  const double least = 0.2 * box_of_all().size();
  if (box.size() < least) {
    roomy.add(box.centre() + Vec3{1, 1, 1} * (least * 0.3));
    roomy.add(box.centre() - Vec3{1, 1, 1} * (least * 0.3));
  }
  frame_main(roomy);
  update();
}

void ModelView::bring_to_main(ViewName name) {
  for (std::size_t k = 1; k < 4; ++k)
    if (order_[k] == name) {
      std::swap(order_[0], order_[k]);
      // Each keeps what it looks at; the extents change places with the size of the viewports.
      const Box3 box = box_of_all();
      const auto aspect = [](const QRect& r) {
        return static_cast<double>(r.width()) / std::max(1, r.height());
      };
      frame_main(box);
      camera_of(k).frame(box, aspect(QRect(0, 0, kSideWidth, kSideHeight)));
    }
  update();
}

void ModelView::resizeEvent(QResizeEvent* event) {
  QOpenGLWidget::resizeEvent(event);
  overlay_->setGeometry(rect());
  place_typed_field();
}

// --- the hand -------------------------------------------------------------------------------------

void ModelView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  if (hand_ == Hand::Drag || hand_ == Hand::PressedPoint) return;
  pressed_ = last_ = event->position();
  pressed_modifiers_ = event->modifiers();
  active_ = viewport_at(pressed_);
  const bool left = event->button() == Qt::LeftButton;
  const bool right = event->button() == Qt::RightButton;
  if (event->button() == Qt::MiddleButton || (space_ && (left || right))) {
    const bool pan = space_ ? right : event->modifiers().testFlag(Qt::ShiftModifier);
    hand_ = pan || camera_of(active_).perspective == false ? Hand::Pan : Hand::Orbit;
    return;
  }
  if (!left) return;
  typed_->hide();
  if (picker_.active())
    if (const auto place = place_at(pressed_)) {
      hand_ = picker_.pick(*place) ? Hand::Place : Hand::Idle;
      return;
    }
  if (editor_.mode() == EditMode::PullSkin && editor_.net_visible() && start_pull(pressed_)) return;
  if (press_points(pressed_)) return;
  if (curve_being_drawn() != nullptr && active_ < 4) {
    press_on_curve_source(pressed_);
    return;
  }
  hand_ = pressed_modifiers_.testFlag(Qt::AltModifier) ? Hand::Lasso : Hand::Box;
  lasso_ = {pressed_};
}

void ModelView::mouseMoveEvent(QMouseEvent* event) {
  const QPointF at = event->position();
  const QPointF moved = at - last_;
  last_ = at;
  switch (hand_) {
    case Hand::Idle: {
      if (picker_.active()) {
        hovered_place_ = place_at(at);
        setCursor(hovered_place_ ? Qt::CrossCursor : Qt::ArrowCursor);
        update();
        return;
      }
      hovered_place_.reset();
      const auto pressed = pressed_at(at);
      const auto point = pressed ? std::optional(pressed->leader) : std::nullopt;
      if (point != hovered_ || !editor_.picked().empty()) update();
      hovered_ = point;
      setCursor(point ? Qt::PointingHandCursor : Qt::ArrowCursor);
      return;
    }
    case Hand::Orbit:
      camera_of(active_).orbit(moved.x(), moved.y());
      break;
    case Hand::Pan:
      camera_of(active_).pan(moved, viewport(active_));
      break;
    case Hand::Box:
      break;
    case Hand::Place:
      hovered_place_ = place_at(at);
      if (hovered_place_) picker_.pick(*hovered_place_);
      break;
    case Hand::Lasso:
      lasso_.push_back(at);
      break;
    case Hand::PressedPoint:
      if (std::hypot(at.x() - pressed_.x(), at.y() - pressed_.y()) < kDragStart) return;
      start_drag();
      if (hand_ != Hand::Drag) return;
      [[fallthrough]];
    case Hand::Drag:
      if (!editor_.dragging()) {  // something else ended it
        hand_ = Hand::Idle;
        return;
      }
      drag_to(at, event->modifiers());
      return;
  }
  update();
}

void ModelView::mouseReleaseEvent(QMouseEvent*) {
  const Hand was = hand_;
  hand_ = Hand::Idle;
  if (was == Hand::Drag) {
    snapped_.reset();
    snapper_.clear();
    editor_.end_drag();
  }
  if (was == Hand::Box || was == Hand::Lasso) {
    hand_ = was;
    finish_box();
    hand_ = Hand::Idle;
  }
  update();
}

void ModelView::mouseDoubleClickEvent(QMouseEvent* event) {
  const std::size_t k = viewport_at(event->position());
  if (k > 0 && event->button() == Qt::LeftButton)
    bring_to_main(order_[k]);
  else
    mousePressEvent(event);
}

void ModelView::wheelEvent(QWheelEvent* event) {
  const double turns = event->angleDelta().y() / 120.0;
  const std::size_t k = viewport_at(event->position());
  camera_of(k).zoom(std::pow(0.88, turns), event->position(), viewport(k));
  update();
}

void ModelView::leaveEvent(QEvent* event) {
  QOpenGLWidget::leaveEvent(event);
  hovered_.reset();
  hovered_place_.reset();
  update();
}

}  // namespace evenclay
