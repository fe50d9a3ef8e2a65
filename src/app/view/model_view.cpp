#include "app/view/model_view.h"

#include "app/look/preferences.h"

#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/tools/box_tool.h"
#include "app/tools/camera_tool.h"
#include "app/tools/curve_tool.h"
#include "app/tools/face_tool.h"
#include "app/tools/handle_tool.h"
#include "app/tools/lasso_tool.h"
#include "app/tools/parts_tool.h"
#include "app/tools/pattern_tool.h"
#include "app/tools/pick_tool.h"
#include "app/tools/picture_tool.h"
#include "app/tools/place_tool.h"
#include "app/tools/section_tool.h"
#include "app/view/overlay.h"

namespace evenclay {

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
    painter.setRenderHint(QPainter::Antialiasing);
    view_.paint_over(painter);
  }

 private:
  ModelView& view_;
};

namespace {
constexpr int kRestMilliseconds = 200;
}

ModelView::ModelView(AppModel& model, PointEditor& editor, QWidget* parent)
    : QOpenGLWidget(parent), model_(model), editor_(editor) {
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Model view"));
  setMinimumSize(420, 320);
  const ToolContext context{model_, editor_, views_, *this};
  tools_.push_back(std::make_unique<CameraTool>(context));
  tools_.push_back(std::make_unique<SectionTool>(
      context, settings_, [this](const SectionCut& cut) { set(&ViewSettings::section, cut); }));
  tools_.push_back(std::make_unique<PictureTool>(
      context, [this](TypedField::Question q) { typed_->ask(std::move(q), last_); }));
  picture_tool_ = static_cast<PictureTool*>(tools_.back().get());
  tools_.push_back(std::make_unique<FaceTool>(context));
  tools_.push_back(std::make_unique<HandleTool>(context));
  handles_ = static_cast<const HandleTool*>(tools_.back().get());
  // Edges before places: where both can be clicked, an edge is the smaller mark.
  tools_.push_back(std::make_unique<PickTool>(context));
  tools_.push_back(std::make_unique<PlaceTool>(context));
  tools_.push_back(std::make_unique<LassoTool>(context));
  tools_.push_back(std::make_unique<PatternTool>(context));
  tools_.push_back(std::make_unique<PartsTool>(context));
  tools_.push_back(std::make_unique<DragTool>(context));
  drag_ = static_cast<DragTool*>(tools_.back().get());
  tools_.push_back(std::make_unique<CurveTool>(context));
  tools_.push_back(std::make_unique<BoxTool>(context));

  overlay_ = new ViewOverlay(*this);
  cursor_label_ = new QLabel(this);
  cursor_label_->setObjectName("beside_cursor");
  cursor_label_->setProperty("beside", true);
  cursor_label_->setAttribute(Qt::WA_TransparentForMouseEvents);
  cursor_label_->hide();
  typed_ = new TypedField(this);
  pictures_ = new PictureStore(this);
  connect(pictures_, &PictureStore::loaded, this, [this] { update(); });
  rest_ = new QTimer(this);
  rest_->setSingleShot(true);
  connect(rest_, &QTimer::timeout, this, &ModelView::refine);

  // While a point is dragged a frame is drawn when its surface is there, not before: drawing twice
  // for each move would halve the rate.
  connect(&model_, &AppModel::answered, this, [this] {
    first_frame();
    if (editor_.dragging() && model_.answer()->parts.empty()) return;
    // Before the frame: a label that changes above it has it drawn anew.
    place_cursor_label();
    update();
  });
  connect(this, &QOpenGLWidget::frameSwapped, this, [this] {
    if (frame_.isValid()) model_.note_frame(static_cast<double>(frame_.nsecsElapsed()) / 1e6);
    frame_.invalidate();
  });
  connect(&model_, &AppModel::document_changed, this, [this] {
    if (!editor_.dragging()) update();
  });
  connect(&model_, &AppModel::marks_changed, this, [this] { update(); });
  connect(&model_, &AppModel::chosen_changed, this, [this] {
    typed_->hide();
    forget_hover();
    update();
  });
  connect(&editor_, &PointEditor::changed, this, [this] {
    refresh_wants();
    if (!editor_.dragging()) update();
  });
}

ModelView::~ModelView() {
  makeCurrent();
  refiner_.release();
  renderer_.release();
  doneCurrent();
}

void ModelView::change(const ViewSettings& settings) {
  const ViewSettings before = settings_;
  settings_ = in_range(settings);
  if (settings_ == before) return;
  views_.set_side_views(settings_.side_views);
  if (settings_.section_view && !before.section_view) {
    // Through the middle, and the side towards the eye goes.
    Vec3 n = views_.camera(0).axes().z;
    n = std::abs(n.x) > std::abs(n.y) ? Vec3{n.x > 0 ? -1.0 : 1.0, 0, 0}
                                      : Vec3{0, n.y > 0 ? -1.0 : 1.0, 0};
    settings_.section = {n, -dot(n, middle())};
  }
  if (settings_.leg_colours && !before.leg_colours) editor_.set_net_visible(true);
  refresh_wants();
  Q_EMIT look_changed();
  update();
}

void ModelView::set_before_held(bool held) {
  before_held_ = held;
  refresh_wants();
  update();
}

// What the worker is to compute for the picture.
void ModelView::refresh_wants() {
  DisplayWants wants = model_.wants();
  wants.deviation = settings_.look == ModelLook::Deviation;
  wants.map = map_of(settings_.look);
  wants.stretch = settings_.look == ModelLook::Stretch;
  wants.tile = settings_.tile_view;
  wants.flat_faces = settings_.flat_faces;
  wants.joints = settings_.joint_badges;
  wants.before = settings_.before_overlay || before_held_;
  wants.sections.reset();
  if (settings_.section_combs) {
    // The plane that is dragged through the form, while there is one.
    const SectionCut& cut = settings_.section;
    const Frame& plane = editor_.work_plane();
    wants.sections = SectionWish{settings_.section_view ? cut.normal * -cut.d : plane.origin,
                                 settings_.section_view ? cut.normal : plane.z,
                                 std::max(2, settings_.comb_density * 2)};
  }
  model_.want(wants);
}

QPointF ModelView::handle_on_screen(std::size_t n) const {
  return handles_->shown_at(n);
}

QPointF ModelView::place_on_screen(const Vec3& place, std::size_t k) const {
  return to_screen(views_.camera(k), views_.rect(k), place).at;
}

QPointF ModelView::point_on_screen(PointIndex p, std::size_t k) const {
  if (!editor_.net()) return {};
  return to_screen(views_.camera(k), views_.rect(k), editor_.net()->shown.point(p)).at;
}

// --- framing ----------------------------------------------------------------------------------------

void ModelView::resizeEvent(QResizeEvent* event) {
  views_.set_size(size());
  QOpenGLWidget::resizeEvent(event);
  overlay_->setGeometry(rect());
  typed_->place(to_screen(views_.camera(0), views_.rect(0), editor_.picked_centre()).at);
}

// --- drawing ----------------------------------------------------------------------------------------

void ModelView::initializeGL() {
  renderer_.initialize();
  connect(
      context(), &QOpenGLContext::aboutToBeDestroyed, this,
      [this] {
        makeCurrent();
        refiner_.release();
        renderer_.release();
        doneCurrent();
      },
      Qt::DirectConnection);
}

LayerInput ModelView::layer_input() const {
  return {model_,      editor_, views_, settings_, active_ == nullptr ? hovered_ : std::nullopt,
          before_held_};
}

Scene ModelView::scene() const {
  Scene s;
  const LayerInput in = layer_input();
  add_parts(s, in, look_runs_);
  add_pictures(s, in, *pictures_);
  add_combs(s, in);
  for (const auto& tool : tools_) tool->add_to(s);
  add_size_box(s, in);
  add_net(s, in);
  add_symmetry_frames(s, in);
  add_crossings(s, in);
  add_marks(s, in);
  add_hand_lines(s, in);
  return s;
}

Scene ModelView::for_side_view(Scene s) {
  for (LineItem& l : s.lines) {
    l.width = std::min(l.width, 1.0F);
    l.on_top = false;
  }
  for (MeshItem& m : s.meshes) {
    m.mesh = m.small;
    m.values = nullptr;  // they belong to the large mesh
  }
  if (is_map(s.look)) s.look = ModelLook::Clay;
  s.ghost = nullptr;
  return s;
}

void ModelView::paintGL() {
  frame_.start();
  const Scene base = scene();
  const LayerInput in = layer_input();
  bool all_refined = true;
  bool moved = false;
  for (std::size_t k = 0; k < 4; ++k) {
    if (views_.rect(k).isEmpty()) continue;
    // While the hand moves, one side view is drawn in each frame, and the others shown as they were.
    const bool rests = active_ == nullptr || k == 0 || frames_ % 3 == k - 1;
    if (!rests && renderer_.draw_kept(k, views_.rect(k), height(), devicePixelRatioF())) {
      all_refined = false;
      continue;
    }
    const Scene s = scene_of(base, in, k);
    const PictureKey key = key_of(s, views_.camera(k), pixels_of(k));
    renderer_.draw(s, views_.camera(k), views_.rect(k), height(), devicePixelRatioF(),
                   refiner_.picture(k, key));
    if (k > 0)
      renderer_.keep(k, views_.rect(k), height(), devicePixelRatioF(), defaultFramebufferObject());
    all_refined = all_refined && refiner_.complete(k, key);
    if (k > 0) continue;
    moved = !painted_ || !(*painted_ == key);
    painted_ = key;
  }
  // Every change of the picture begins the rest anew.
  if (settings_.refine && !all_refined && (moved || !rest_->isActive()))
    rest_->start(kRestMilliseconds);
  renderer_.collect();
  pictures_->collect();
  // While dragging only the small label changes; the large overlay would cost a quarter frame.
  if (!drag_->dragging() || settings_.least_radius_callout || is_map(settings_.look))
    overlay_->update();
  place_cursor_label();
  ++frames_;
  Q_EMIT painted();
}

Scene ModelView::scene_of(const Scene& base, const LayerInput& in, std::size_t k) const {
  Scene s = base;
  add_floor(s, in, k);
  add_arrows(s, in, k);
  s.point_scale = (k == 0 ? 1.0 : 0.55) * settings_.point_size;
  const Camera& camera = views_.camera(k);
  thin_crowded_net(s, 1.0 / pixel_size(camera, views_.rect(k), camera.target));
  return k > 0 ? for_side_view(std::move(s)) : s;
}

QSize ModelView::pixels_of(std::size_t k) const {
  const QRect r = views_.rect(k);
  const auto px = [&](int v) { return static_cast<int>(v * devicePixelRatioF()); };
  return {px(r.width()), px(r.height())};
}

bool ModelView::has_shadows(std::size_t k) const {
  return k == 0 && (is_lit(settings_.look) || settings_.look == ModelLook::Lines);
}

// Two or three of the many pictures at a time, so that the hand is never kept waiting.
void ModelView::refine() {
  if (!settings_.refine || !renderer_.ready() || active_ != nullptr || editor_.dragging()) return;
  makeCurrent();
  const Scene base = scene();
  const LayerInput in = layer_input();
  QElapsedTimer clock;
  clock.start();
  bool more = false;
  bool show = false;
  for (std::size_t k = 0; k < 4; ++k) {
    if (views_.rect(k).isEmpty()) continue;
    const Scene s = scene_of(base, in, k);
    const PictureKey key = key_of(s, views_.camera(k), pixels_of(k));
    const GLuint before = refiner_.picture(k, key);
    while (!refiner_.complete(k, key) && clock.elapsed() < 12)
      refiner_.add(k, key, s, views_.camera(k), has_shadows(k));
    more = more || !refiner_.complete(k, key);
    show = show || (before == 0 && refiner_.picture(k, key) != 0) || refiner_.complete(k, key);
  }
  doneCurrent();
  if (more) rest_->start(0);
  if (show) update();
}

QImage ModelView::picture() {
  if (!renderer_.ready()) return {};
  QImage all = grabFramebuffer();
  if (views_.covered_right() == 0) return all;
  const double ratio = devicePixelRatioF();
  const int left = static_cast<int>((width() - views_.covered_right()) * ratio);
  return all.copy(0, 0, left, all.height());
}

bool ModelView::refined() {
  if (pictures_->loading()) return false;
  if (!settings_.refine) return true;
  const Scene base = scene();
  const LayerInput in = layer_input();
  for (std::size_t k = 0; k < 4; ++k) {
    if (views_.rect(k).isEmpty()) continue;
    const PictureKey key = key_of(scene_of(base, in, k), views_.camera(k), pixels_of(k));
    if (!refiner_.complete(k, key)) return false;
  }
  return true;
}

void ModelView::paint_over(QPainter& painter) {
  paint_overlay(painter, layer_input());
  for (const auto& tool : tools_) tool->paint(painter);
}

// Edges or faces are picked, not points.
std::optional<PickKind> ModelView::whole_kind() const {
  if (editor_.form() == nullptr || editor_.form_kind() == PickKind::Corner) return std::nullopt;
  return editor_.form_kind();
}

void ModelView::place_cursor_label() {
  QString text;
  if (active_ != nullptr) text = active_->words();
  if (text.isEmpty() && underMouse() && !last_.isNull() && editor_.net_visible() &&
      !editor_.picked().empty())
    text =
        tr("%1 picked").arg(whole_kind() ? editor_.form_picked().size() : editor_.picked().size());
  if (active_ == nullptr && underMouse() && hovered_ && editor_.net() && !whole_kind()) {
    const QString address = address_words(editor_.net()->shown, *hovered_);
    text = text.isEmpty() ? address : tr("%1 · %2").arg(address, text);
  }
  if (active_ == nullptr && underMouse() && !hover_words_.isEmpty())
    text = text.isEmpty() ? hover_words_ : tr("%1 · %2").arg(hover_words_, text);
  cursor_label_->setVisible(!text.isEmpty());
  if (text.isEmpty()) return;
  cursor_label_->setText(look::in_shown_unit(text));
  cursor_label_->adjustSize();
  const int x = static_cast<int>(last_.x()) + 16;
  const int y = static_cast<int>(last_.y()) + 18;
  cursor_label_->move(std::min(x, width() - cursor_label_->width() - 4),
                      std::min(y, height() - cursor_label_->height() - 4));
}

void ModelView::scale_picture() {
  picture_tool_->begin();
  setFocus();
}

// --- the mouse --------------------------------------------------------------------------------------

HandEvent ModelView::hand_event(const QMouseEvent& e) const {
  return {e.position(), e.button(), e.modifiers(), space_};
}

void ModelView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  last_ = event->position();
  if (active_ != nullptr) return;  // another button while a tool has the hand
  if (event->button() == Qt::LeftButton && !space_) typed_->hide();
  for (const auto& tool : tools_)
    if (tool->press(hand_event(*event))) {
      if (tool->busy()) active_ = tool.get();
      break;
    }
}

void ModelView::mouseMoveEvent(QMouseEvent* event) {
  last_ = event->position();
  if (active_ == nullptr) {
    hover(last_);
    return;
  }
  active_->move(hand_event(*event));
  if (!active_->busy()) active_ = nullptr;
}

void ModelView::hover(const QPointF& at) {
  for (const auto& tool : tools_)
    if (tool->hover(at)) {
      hovered_.reset();
      hover_words_ = tool->hover_words();
      update();
      return;
    }
  const auto pressed = ScenePicker(model_, editor_, views_).pressed_at(at);
  const auto point = pressed ? std::optional(pressed->leader) : std::nullopt;
  const QString words = words_of(at, pressed);
  if (point != hovered_ || words != hover_words_ || !editor_.picked().empty()) update();
  hovered_ = point;
  hover_words_ = words;
  setCursor(point ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

// What a click here would take, where it is not a point with an address.
QString ModelView::words_of(const QPointF& at,
                            const std::optional<ScenePicker::Pressed>& pressed) const {
  if (pressed && whole_kind())
    return whole_kind() == PickKind::Edge ? tr("edge")
                                          : tr("face of %1 points").arg(pressed->points.size());
  if (pressed)
    return pressed->points.size() > 1 ? tr("row of %1 points").arg(pressed->points.size())
                                      : QString();
  const PartId id = ScenePicker(model_, editor_, views_).part_at(at);
  const Part* part = find_part(model_.document(), id);
  return part == nullptr || id == model_.chosen_part()
             ? QString()
             : tr("%1: a click chooses it").arg(QString::fromStdString(part->name));
}

void ModelView::mouseReleaseEvent(QMouseEvent* event) {
  HandTool* tool = active_;
  active_ = nullptr;
  if (tool != nullptr) tool->release(hand_event(*event));
  update();
}

void ModelView::mouseDoubleClickEvent(QMouseEvent* event) {
  const std::size_t k = views_.at(event->position());
  if (k > 0 && event->button() == Qt::LeftButton)
    bring_to_main(views_.name(k));
  else
    mousePressEvent(event);
}

void ModelView::wheelEvent(QWheelEvent* event) {
  const double turns = event->angleDelta().y() / 120.0;
  const std::size_t k = views_.at(event->position());
  views_.camera(k).zoom(std::pow(0.88, turns), event->position(), views_.rect(k));
  update();
}

void ModelView::leaveEvent(QEvent* event) {
  QOpenGLWidget::leaveEvent(event);
  forget_hover();
  update();
}

// What was said of the place under the cursor no longer holds.
void ModelView::forget_hover() {
  hovered_.reset();
  hover_words_.clear();
  for (const auto& tool : tools_) tool->leave();
}

}  // namespace evenclay
