#include "app/tools/face_tool.h"

#include <algorithm>

#include "app/look/colours.h"
#include "core/operations/body_picks.h"

namespace evenclay {

std::shared_ptr<const PickTarget> FaceTool::target() const {
  const AppModel::FaceMarks& marks = c_.model.face_marks();
  const auto drawn = c_.model.drawn().find(marks.part);
  if (!marks.marking || marks.part != c_.model.chosen_part() || drawn == c_.model.drawn().end())
    return nullptr;
  return targets_.of(drawn->second.shape);
}

std::optional<std::size_t> FaceTool::face_at(const QPointF& at) const {
  const auto on = target();
  if (!on) return std::nullopt;
  const auto place = c_.pick().place_on(c_.model.face_marks().part, at);
  if (!place || static_cast<std::size_t>(place->surface) >= on->body.faces.size())
    return std::nullopt;
  return static_cast<std::size_t>(place->surface);
}

bool FaceTool::is_marked(const PickTarget& on, std::size_t face) const {
  const auto& picks = c_.model.face_marks().picks;
  return std::any_of(picks.begin(), picks.end(),
                     [&](const Pick& p) { return p.tag == on.body.faces[face].tag; });
}

bool FaceTool::press(const HandEvent& e) {
  const auto face = e.button == Qt::LeftButton ? face_at(e.at) : std::nullopt;
  if (!face) return false;
  const auto on = target();
  AppModel::FaceMarks marks = c_.model.face_marks();
  if (is_marked(*on, *face))
    std::erase_if(marks.picks, [&](const Pick& p) { return p.tag == on->body.faces[*face].tag; });
  else
    marks.picks.push_back(pick_of_body_face(on->body, *face));
  c_.model.mark_faces(std::move(marks));
  return true;
}

bool FaceTool::hover(const QPointF& at) {
  const auto before = hovered_;
  hovered_ = face_at(at);
  if (hovered_ != before) c_.view.update();
  if (hovered_) c_.view.setCursor(Qt::PointingHandCursor);
  return hovered_.has_value();
}

QString FaceTool::hover_words() const {
  const auto on = target();
  if (!on || !hovered_ || *hovered_ >= on->body.faces.size()) return {};
  return (is_marked(*on, *hovered_) ? QObject::tr("Face %1: a click takes it out")
                                    : QObject::tr("Face %1: a click picks it"))
      .arg(*hovered_ + 1);
}

void FaceTool::add_to(Scene& scene) const {
  const auto on = target();
  if (!on) return;
  LineItem hatched{{}, look::colours().water, 1.5F, true};
  LineItem outlined{{}, look::colours().water, 4.0F, true};
  LineItem hover{{}, look::colours().clay, 3.0F, true};
  const auto add = [](LineItem& item, const std::vector<float>& pieces) {
    item.pieces.insert(item.pieces.end(), pieces.begin(), pieces.end());
  };
  for (std::size_t f = 0; f < on->body.faces.size(); ++f) {
    if (!is_marked(*on, f)) continue;
    add(hatched, on->hatching(f));
    add(outlined, on->outline(f));
  }
  if (hovered_ && *hovered_ < on->body.faces.size()) add(hover, on->outline(*hovered_));
  for (LineItem* item : {&hatched, &outlined, &hover})
    if (!item->pieces.empty()) scene.lines.push_back(std::move(*item));
}

}  // namespace evenclay
