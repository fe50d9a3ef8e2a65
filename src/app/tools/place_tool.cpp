#include "app/tools/place_tool.h"

#include "app/look/colours.h"
#include "app/view/layers.h"

namespace evenclay {

bool PlaceTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton || !picker_.active()) return false;
  const auto place = c_.pick().place_at(e.at);
  if (!place) return false;
  busy_ = picker_.pick(*place);
  return true;
}

void PlaceTool::move(const HandEvent& e) {
  hovered_ = c_.pick().place_at(e.at);
  if (hovered_ && picker_.moves_with_hand()) picker_.pick(*hovered_);
  c_.view.update();
}

bool PlaceTool::hover(const QPointF& at) {
  if (!picker_.active()) {
    hovered_.reset();
    return false;
  }
  hovered_ = c_.pick().place_at(at);
  c_.view.setCursor(hovered_ ? Qt::CrossCursor : Qt::ArrowCursor);
  c_.view.update();
  return true;
}

// Lines of constant u and v through the place.
void PlaceTool::add_to(Scene& scene) const {
  if (!hovered_) return;
  const PlacePicker::Lines lines = picker_.lines_at(*hovered_);
  for (const auto* run : {&lines.of_u, &lines.of_v}) {
    LineItem item{
        {}, run == &lines.of_u ? look::colours().clay : look::colours().water, 2.0F, true};
    for (std::size_t k = 0; k + 1 < run->size(); ++k)
      add_piece(item.pieces, (*run)[k], (*run)[k + 1]);
    scene.lines.push_back(std::move(item));
  }
}

}  // namespace evenclay
