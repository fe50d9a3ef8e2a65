#include "app/tools/pick_tool.h"

#include <QGuiApplication>
#include <algorithm>
#include <cmath>

#include "app/look/colours.h"
#include "app/view/layers.h"
#include "app/view/near_line.h"
#include "core/body/region.h"
#include "core/check/curve_measures.h"
#include "core/cut/round.h"
#include "core/operations/body_picks.h"
#include "core/operations/offers.h"
#include "core/points/snap.h"

namespace evenclay {

namespace {

constexpr double kEdgeRadius = 8.0;  // pixels

class CollectPicks : public PartialVisitor {
 public:
  struct Found {
    std::string name, label;
    std::vector<Pick> picks;
    PickRange range;
  };
  std::vector<Found> found;
  void picks(const ParameterInfo& i, std::vector<Pick>& v, const PickRange& r) override {
    found.push_back({std::string(i.name), std::string(i.label), v, r});
  }
};

class SetPicks : public PartialVisitor {
 public:
  SetPicks(std::string name, std::vector<Pick> picks)
      : name_(std::move(name)), picks_(std::move(picks)) {}
  void picks(const ParameterInfo& i, std::vector<Pick>& v, const PickRange& r) override {
    if (i.name != name_) return;
    check_range(i, picks_, r);
    v = picks_;
  }

 private:
  std::string name_;
  std::vector<Pick> picks_;
};

}  // namespace

bool PickTool::List::takes(PickKind kind) const {
  return std::find(range.kinds.begin(), range.kinds.end(), kind) != range.kinds.end();
}

std::vector<PickTool::List> PickTool::lists() const {
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  if (step == nullptr || !step->enabled) return {};
  // Where places are clicked, edges alone can be picked besides, if at all.
  const bool places = offer_of<TakesPlace>(*step->operation) != nullptr;
  if (places && offer_of<CyclesEdges>(*step->operation) == nullptr) return {};
  const auto* elsewhere = offer_of<PicksOnParts>(*step->operation);
  const auto answer = c_.model.answer();
  CollectPicks collect;
  step->operation->clone()->describe(collect);
  std::vector<List> result;
  for (CollectPicks::Found& f : collect.found) {
    if (places && f.range.kinds.front() != PickKind::Edge) continue;
    List list{
        std::move(f.name),
        QString::fromStdString(f.label),
        std::move(f.picks),
        f.range,
        0,
        nullptr,
        f.range.most == 1 || (elsewhere != nullptr && f.range.kinds.front() == PickKind::Edge)};
    if (elsewhere != nullptr && !elsewhere->picks_on(list.name).empty()) {
      list.part = elsewhere->picks_on(list.name).part;
      const auto drawn = c_.model.drawn().find(list.part);
      if (drawn != c_.model.drawn().end()) list.on = targets_.of(drawn->second.shape);
    } else if (answer && answer->shown_step == step->id) {
      list.on = targets_.of(answer->before);
    }
    if (list.on) result.push_back(std::move(list));
  }
  return result;
}

std::optional<std::size_t> PickTool::edge_at(const PickTarget& on, const QPointF& at,
                                             double& rank) const {
  const std::size_t k = c_.views.at(at);
  std::optional<std::size_t> best;
  for (std::size_t e = 0; e < on.edges.size(); ++e) {
    if (on.topology.uses[e].empty()) continue;
    const NearLine near = near_line(c_.views.camera(k), c_.views.rect(k), at, on.edges[e]);
    if (near.pixels > kEdgeRadius) continue;
    // Of edges that lie together on the screen the front one is meant.
    const double here = std::floor(near.pixels / 4.0) * 1e6 + near.depth;
    if (here >= rank) continue;
    rank = here;
    best = e;
  }
  return best;
}

std::optional<std::size_t> PickTool::face_at(const List& list, const QPointF& at) const {
  const PartId part = list.part != 0 ? list.part : c_.model.chosen_part();
  const auto drawn = c_.model.drawn().find(part);
  const auto place = c_.pick().place_on(part, at);
  if (place && drawn != c_.model.drawn().end() && drawn->second.shape) {
    const auto* shown = std::get_if<Body>(drawn->second.shape.get());
    const auto number = static_cast<std::size_t>(place->surface);
    if (shown != nullptr && number < shown->faces.size())
      if (const int f = face_with_tag(list.on->body, shown->faces[number].tag); f >= 0)
        return static_cast<std::size_t>(f);
  }
  // A face that the step has taken away: inside its outline on the screen.
  const std::size_t k = c_.views.at(at);
  for (const Pick& pick : list.picks) {
    const int f = face_with_tag(list.on->body, pick.tag);
    if (pick.kind != PickKind::Face || f < 0) continue;
    const Face& face = list.on->body.faces[static_cast<std::size_t>(f)];
    bool inside = false;
    for (const Loop& loop : face.loops) {
      std::vector<Parameter> outline;
      for (const Parameter& p : loop_polygon(loop, *face.surface, 1e-3)) {
        const OnScreen o =
            to_screen(c_.views.camera(k), c_.views.rect(k), evaluate(*face.surface, p.u, p.v));
        outline.push_back({o.at.x(), o.at.y()});
      }
      inside ^= winds_round(outline, {at.x(), at.y()});
    }
    if (inside) return static_cast<std::size_t>(f);
  }
  return std::nullopt;
}

std::optional<PickTool::Hit> PickTool::hit(const std::vector<List>& lists, const QPointF& at,
                                           bool single) const {
  std::optional<Hit> best;
  double rank = 1e300;
  for (std::size_t l = 0; l < lists.size(); ++l) {
    if (!lists[l].takes(PickKind::Edge)) continue;
    double here = rank;
    const auto e = edge_at(*lists[l].on, at, here);
    if (!e) continue;
    // On one part the list that is still empty is meant.
    rank = here - (lists[l].picks.empty() ? 0.5 : 0.0);
    best = Hit{l, PickKind::Edge,
               single ? std::vector<std::size_t>{*e}
                      : smooth_chain(lists[l].on->body, lists[l].on->topology, *e)};
  }
  if (best) return best;
  for (std::size_t l = 0; l < lists.size(); ++l)
    if (lists[l].takes(PickKind::Face))
      if (const auto f = face_at(lists[l], at)) return Hit{l, PickKind::Face, {*f}};
  return std::nullopt;
}

bool PickTool::is_picked(const List& list, const Hit& hit) const {
  return std::all_of(hit.items.begin(), hit.items.end(), [&](std::size_t item) {
    const Tag tag =
        hit.kind == PickKind::Edge ? list.on->body.edges[item].tag : list.on->body.faces[item].tag;
    return std::any_of(list.picks.begin(), list.picks.end(),
                       [&](const Pick& p) { return p.kind == hit.kind && p.tag == tag; });
  });
}

void PickTool::set_picks(const List& list, std::vector<Pick> picks) {
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  if (step == nullptr) return;
  c_.model.attempt([&] {
    const std::shared_ptr<Operation> changed = step->operation->clone();
    SetPicks set(list.name, std::move(picks));
    changed->describe(set);
    c_.model.change_operation(step->id, changed, QObject::tr("Pick"),
                              QString("%1.picks").arg(step->id));
  });
}

// A kept last step is where points are moved, so there picking wants Ctrl, unless nothing is picked and the step waits
// for it.
bool PickTool::picking(const std::vector<List>& lists, Qt::KeyboardModifiers modifiers) const {
  if (lists.empty()) return false;
  if (c_.model.trial() || !c_.model.chosen_is_last() || (modifiers & Qt::ControlModifier) != 0)
    return true;
  const auto status = c_.model.step_status().find(c_.model.chosen_step());
  const bool failed = status != c_.model.step_status().end() && status->second.failed;
  return failed &&
         std::all_of(lists.begin(), lists.end(), [](const List& l) { return l.picks.empty(); });
}

// The place of an edge that is seen nearest to the cursor, as a share of its domain.
double PickTool::share_at(const Curve& edge, const QPointF& at) const {
  const std::size_t k = c_.views.at(at);
  const Ray ray = ray_through(c_.views.camera(k), c_.views.rect(k), at);
  const CurvePlace place = closest_to_line(CurveEvaluator(edge), ray.origin, ray.direction);
  return (place.t - edge.knots.first()) / edge.knots.length();
}

bool PickTool::taken_otherwise(const List& list, const Hit& found, const QPointF& at) {
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  if (step == nullptr || found.kind != PickKind::Edge) return false;
  const auto change = [&](const OperationPtr& operation, const QString& label) {
    c_.model.attempt([&] {
      c_.model.change_operation(step->id, operation, label, QString("%1.picks").arg(step->id));
    });
    return true;
  };
  if (const auto* places = offer_of<TakesEdgePlace>(*step->operation);
      places != nullptr && places->wants_edge_place()) {
    const std::size_t edge = found.items.front();
    return change(places->with_edge_place(pick_of_body_edge(list.on->body, edge),
                                          share_at(list.on->body.edges[edge].curve, at)),
                  QObject::tr("Place"));
  }
  const auto* cycles = offer_of<CyclesEdges>(*step->operation);
  if (cycles == nullptr) return false;
  std::vector<Pick> clicked;
  for (const std::size_t item : found.items)
    clicked.push_back(pick_of_body_edge(list.on->body, item));
  return change(cycles->with_next_rule(clicked), QObject::tr("Edge rule"));
}

QString PickTool::edge_words(const List& list, const Hit& hit, const QPointF& at) const {
  double length = 0.0;
  for (const std::size_t e : hit.items) length += arc_length(list.on->body.edges[e].curve);
  const QString what =
      hit.items.size() == 1
          ? QObject::tr("Edge, %1 mm").arg(length, 0, 'f', 1)
          : QObject::tr("%1 edges in a line, %2 mm").arg(hit.items.size()).arg(length, 0, 'f', 1);
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  const auto* places = offer_of<TakesEdgePlace>(*step->operation);
  if (places != nullptr && places->wants_edge_place())
    return QObject::tr("%1: a click splits it at %2 %")
        .arg(what)
        .arg(100.0 * share_at(list.on->body.edges[hit.items.front()].curve, at), 0, 'f', 1);
  if (const auto* cycles = offer_of<CyclesEdges>(*step->operation)) {
    const std::string_view rule =
        cycles->rule_of(pick_of_body_edge(list.on->body, hit.items.front()));
    return QObject::tr("%1: %2; a click gives the next rule")
        .arg(what, QString::fromUtf8(rule.data(), static_cast<qsizetype>(rule.size())));
  }
  return is_picked(list, hit) ? QObject::tr("%1: a click takes it out").arg(what)
                              : QObject::tr("%1: a click picks it, Shift one edge only").arg(what);
}

// Not the whole chain that it goes on smoothly in.
bool PickTool::one_edge(Qt::KeyboardModifiers modifiers) const {
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  const auto* places = step != nullptr ? offer_of<TakesEdgePlace>(*step->operation) : nullptr;
  return (modifiers & Qt::ShiftModifier) != 0 || (places != nullptr && places->wants_edge_place());
}

bool PickTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton) return false;
  const std::vector<List> all = lists();
  if (!picking(all, e.modifiers)) return false;
  const auto found = hit(all, e.at, one_edge(e.modifiers));
  if (!found) return false;
  const List& list = all[found->list];
  if (taken_otherwise(list, *found, e.at)) {
    hover(e.at);
    return true;
  }
  const bool out = is_picked(list, *found);
  std::vector<Pick> picks = list.one_chain ? std::vector<Pick>{} : list.picks;
  for (const std::size_t item : found->items) {
    const Pick pick = found->kind == PickKind::Edge ? pick_of_body_edge(list.on->body, item)
                                                    : pick_of_body_face(list.on->body, item);
    std::erase_if(picks, [&](const Pick& p) { return p.kind == pick.kind && p.tag == pick.tag; });
    if (!out) picks.push_back(pick);
  }
  set_picks(list, std::move(picks));
  hover(e.at);
  return true;
}

bool PickTool::hover(const QPointF& at) {
  words_.clear();
  hovered_.reset();
  const std::vector<List> all = lists();
  if (!picking(all, QGuiApplication::keyboardModifiers())) return false;
  hovered_ = hit(all, at, one_edge(QGuiApplication::keyboardModifiers()));
  c_.view.update();
  if (!hovered_) return false;
  const List& list = all[hovered_->list];
  const bool out = is_picked(list, *hovered_);
  if (hovered_->kind == PickKind::Edge) {
    words_ = edge_words(list, *hovered_, at);
  } else {
    words_ = out ? QObject::tr("Face %1: a click takes it out").arg(hovered_->items[0] + 1)
                 : QObject::tr("Face %1: a click picks it").arg(hovered_->items[0] + 1);
  }
  c_.view.setCursor(Qt::PointingHandCursor);
  return true;
}

void PickTool::leave() {
  hovered_.reset();
  words_.clear();
}

void PickTool::add_to(Scene& scene) const {
  const std::vector<List> all = lists();
  const auto add = [](LineItem& item, const std::vector<float>& pieces) {
    item.pieces.insert(item.pieces.end(), pieces.begin(), pieces.end());
  };
  LineItem picked{{}, look::colours().water, 4.0F, true};
  LineItem hatched{{}, look::colours().water, 1.5F, true};
  for (const List& list : all)
    for (const Pick& p : list.picks) {
      if (p.kind == PickKind::Face) {
        if (const int f = face_with_tag(list.on->body, p.tag); f >= 0) {
          const auto face = static_cast<std::size_t>(f);
          add(hatched, list.on->hatching(face));
          for (const Loop& loop : list.on->body.faces[face].loops)
            for (const EdgeUse& use : loop) add(picked, list.on->edges[use.edge]);
        }
        continue;
      }
      for (std::size_t e = 0; e < list.on->body.edges.size(); ++e)
        if (list.on->body.edges[e].tag == p.tag) add(picked, list.on->edges[e]);
    }
  LineItem hover{{}, look::colours().clay, 3.0F, true};
  if (hovered_ && hovered_->list < all.size()) {
    const List& list = all[hovered_->list];
    for (const std::size_t item : hovered_->items) {
      if (hovered_->kind == PickKind::Edge) {
        if (item < list.on->edges.size()) add(hover, list.on->edges[item]);
        continue;
      }
      if (item >= list.on->body.faces.size()) continue;
      for (const Loop& loop : list.on->body.faces[item].loops)
        for (const EdgeUse& use : loop) add(hover, list.on->edges[use.edge]);
    }
  }
  for (LineItem* item : {&hatched, &picked, &hover})
    if (!item->pieces.empty()) scene.lines.push_back(std::move(*item));
}

}  // namespace evenclay
