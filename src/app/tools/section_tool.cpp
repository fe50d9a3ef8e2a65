#include "app/tools/section_tool.h"

#include <QLocale>
#include <algorithm>
#include <cmath>

#include "app/look/colours.h"
#include "app/view/layers.h"
#include "app/view/near_line.h"

namespace evenclay {

namespace {
constexpr double kArrowPixels = 66.0;
constexpr double kGrabPixels = 9.0;
}  // namespace

// Where the plane is nearest to the middle of the model, the arrow points to what is cut away.
std::optional<SectionTool::Handle> SectionTool::handle() const {
  const Box3 box = box_of_all(c_.model);
  if (!settings_.section_view || box.empty()) return std::nullopt;
  const SectionCut& cut = settings_.section;
  const Vec3 foot = box.centre() - cut.normal * (dot(cut.normal, box.centre()) + cut.d);
  const double mm = pixel_size(c_.views.camera(0), c_.views.rect(0), foot);
  return Handle{foot, foot - cut.normal * (kArrowPixels * mm)};
}

bool SectionTool::near_handle(const QPointF& at) const {
  const auto h = handle();
  if (!h || c_.views.at(at) != 0) return false;
  std::vector<float> piece;
  add_piece(piece, h->foot, h->tip);
  return near_line(c_.views.camera(0), c_.views.rect(0), at, piece).pixels < kGrabPixels;
}

bool SectionTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton || e.space || !near_handle(e.at)) return false;
  start_ = settings_.section;
  pressed_ = e.at;
  return true;
}

void SectionTool::move(const HandEvent& e) {
  const auto h = handle();
  if (!h || !start_) return;
  const Camera& camera = c_.views.camera(0);
  const QPointF a = to_screen(camera, c_.views.rect(0), h->foot).at;
  const QPointF b = to_screen(camera, c_.views.rect(0), h->tip).at;
  const QPointF along = b - a;
  const double square = QPointF::dotProduct(along, along);
  const double mm = distance(h->foot, h->tip);
  // An arrow that points at the eye follows the hand up and down.
  const QPointF hand = e.at - pressed_;
  const double share =
      square > 100.0 ? QPointF::dotProduct(hand, along) / square : -hand.y() / kArrowPixels;
  SectionCut cut = *start_;
  cut.d += share * mm;
  take_(cut);
}

void SectionTool::cancel() {
  if (start_) take_(*start_);
  start_.reset();
}

bool SectionTool::hover(const QPointF& at) {
  const bool now = near_handle(at);
  if (now != hovered_) c_.view.update();
  hovered_ = now;
  if (now) c_.view.setCursor(Qt::SizeAllCursor);
  return now;
}

void SectionTool::add_to(Scene& scene) const {
  const auto h = handle();
  if (!h) return;
  LineItem arrow{{}, look::colours().clay, hovered_ || busy() ? 4.0F : 2.6F, true};
  const Vec3 d = h->tip - h->foot;
  const Vec3 side = normalized(cross(d, c_.views.camera(0).axes().z)) * (0.12 * length(d));
  add_piece(arrow.pieces, h->foot, h->tip);
  add_piece(arrow.pieces, h->tip, h->tip - d * 0.2 + side);
  add_piece(arrow.pieces, h->tip, h->tip - d * 0.2 - side);
  scene.lines.push_back(std::move(arrow));
}

QString SectionTool::words() const {
  return QObject::tr("section at %1 mm")
      .arg(QLocale::c().toString(place_of(settings_.section), 'f', 2));
}

}  // namespace evenclay
