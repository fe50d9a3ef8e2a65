#include "app/tools/parts_tool.h"

#include <algorithm>

#include "app/look/colours.h"

namespace evenclay {

std::vector<PartsTool::List> PartsTool::lists() const {
  if (!c_.model.trial()) return {};
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  if (step == nullptr) return {};
  class Collect : public PartialVisitor {
   public:
    std::vector<List> found;
    void parts(const ParameterInfo& i, std::vector<PartRef>& v, const PartsRange& r) override {
      found.push_back({std::string(i.name),
                       QString::fromUtf8(i.label.data(), static_cast<qsizetype>(i.label.size())), v,
                       r.kinds, r.most});
    }
  } collect;
  step->operation->clone()->describe(collect);
  return collect.found;
}

std::optional<PartsTool::List> PartsTool::list_for(PartId part) const {
  if (part == 0 || part == c_.model.chosen_part()) return std::nullopt;
  const auto drawn = c_.model.drawn().find(part);
  if (drawn == c_.model.drawn().end() || !drawn->second.shape) return std::nullopt;
  const unsigned kind = kind_of(*drawn->second.shape);
  for (const List& l : lists())
    if (l.kinds == 0 || (l.kinds & kind) != 0) return l;
  return std::nullopt;
}

bool PartsTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton || !c_.model.trial()) return false;
  const PartId part = c_.pick().part_at(e.at);
  const auto list = list_for(part);
  if (!list) return false;
  std::vector<PartRef> parts = list->parts;
  const auto there =
      std::find_if(parts.begin(), parts.end(), [&](const PartRef& p) { return p.part == part; });
  if (there != parts.end())
    parts.erase(there);
  else
    parts.emplace_back(part);
  std::string text;
  for (const PartRef& p : parts)
    text += std::to_string(p.part) + (p.after != 0 ? ":" + std::to_string(p.after) : "") + ";";
  c_.model.attempt([&] {
    c_.model.change_parameter(c_.model.chosen_step(), list->name, text, list->label, {});
  });
  hover(e.at);
  return true;
}

bool PartsTool::hover(const QPointF& at) {
  words_.clear();
  if (!c_.model.trial()) return false;
  const PartId id = c_.pick().part_at(at);
  const auto list = list_for(id);
  if (!list) return false;
  const Part* part = find_part(c_.model.document(), id);
  const bool there = std::any_of(list->parts.begin(), list->parts.end(),
                                 [&](const PartRef& p) { return p.part == id; });
  const QString name = QString::fromStdString(part->name);
  words_ = there ? QObject::tr("%1: a click takes it out of %2").arg(name, list->label)
                 : QObject::tr("%1: a click adds it to %2").arg(name, list->label);
  c_.view.setCursor(Qt::PointingHandCursor);
  return true;
}

void PartsTool::paint(QPainter& painter) const {
  for (const List& l : lists()) {
    if (l.parts.size() < 2) continue;
    for (std::size_t k = 0; k < l.parts.size(); ++k) {
      const auto drawn = c_.model.drawn().find(l.parts[k].part);
      if (drawn == c_.model.drawn().end() || !drawn->second.curves ||
          drawn->second.curves->pieces.size() < 6)
        continue;
      const std::vector<float>& pieces = drawn->second.curves->pieces;
      const std::size_t middle = pieces.size() / 12 * 6;
      const Vec3 at{static_cast<double>(pieces[middle]), static_cast<double>(pieces[middle + 1]),
                    static_cast<double>(pieces[middle + 2])};
      const OnScreen o = to_screen(c_.views.camera(0), c_.views.rect(0), at);
      if (o.depth <= 0.0 || !c_.views.rect(0).contains(o.at.toPoint())) continue;
      const QString text = QString::number(k + 1);
      const QRectF box(o.at.x() - 9, o.at.y() - 9, 18, 18);
      painter.setPen(Qt::NoPen);
      painter.setBrush(look::colours().water);
      painter.drawEllipse(box);
      painter.setPen(look::colours().raised);
      painter.drawText(box, Qt::AlignCenter, text);
    }
  }
}

}  // namespace evenclay
