// The actions that operations offer: made from the catalogue, whatever is in it.
#include <algorithm>
#include <set>

#include "app/look/words.h"
#include "app/window/main_window.h"
#include "core/operations/catalogue.h"
#include "core/operations/form_picks.h"

namespace evenclay {

namespace {

using look::words;

std::string action_of(const OperationInfo& info) {
  return std::string(info.action.empty() ? info.kind : info.action);
}

// Of operations that share an action the one it is named after stands for all.
const OperationInfo& face_of(const std::string& action) {
  const OperationInfo* first = nullptr;
  for (const OperationPtr& operation : catalogue()) {
    const OperationInfo& info = operation->info();
    if (action_of(info) != action) continue;
    if (info.kind == action) return info;
    if (first == nullptr) first = &info;
  }
  return *first;
}

// "surfaces", "surfaces or curves"
QString kinds_in_words(ShapeKinds kinds) {
  QStringList list;
  if ((kinds & kBody) != 0) list << QObject::tr("surfaces");
  if ((kinds & kForm) != 0) list << QObject::tr("a subdivision form");
  if ((kinds & kMesh) != 0) list << QObject::tr("triangles");
  if ((kinds & kPoints) != 0) list << QObject::tr("points of a scan");
  if ((kinds & kCurves) != 0) list << QObject::tr("curves");
  return list.join(QObject::tr(" or "));
}

// Each of the parts gets a step of that kind that reads the new part.
Added with_followers(Added added, std::string_view kind, const std::vector<PartId>& parts) {
  if (kind.empty()) return added;
  class Name : public PartialVisitor {
   public:
    std::string name;
    void part(const ParameterInfo& i, PartRef&) override {
      if (name.empty()) name = i.name;
    }
  } first;
  make_operation(kind)->describe(first);
  for (const PartId part : parts) {
    const Part* p = find_part(added.document, part);
    if (p == nullptr || is_locked(added.document, *p)) continue;
    const OperationPtr step =
        with_parameter(*make_operation(kind), first.name, std::to_string(added.part));
    added.document = with_step(added.document, part, step).document;
  }
  return added;
}

}  // namespace

void MainWindow::add_operation_actions() {
  std::set<std::string> done;
  for (const OperationPtr& operation : catalogue()) {
    const std::string name = action_of(operation->info());
    if (!operation->info().offered || !done.insert(name).second) continue;
    const OperationInfo& info = face_of(name);
    ShapeKinds takes = info.takes;
    for (const OperationPtr& other : catalogue())
      if (action_of(other->info()) == name) takes |= other->info().takes;
    ActionInfo a;
    a.id = (takes == kNothing ? "source_" : "") + QString::fromStdString(name);
    a.label = words(info.label);
    a.help = words(info.help);
    a.icon = words(info.icon);
    a.group = words(info.group);
    a.stage = info.stage;
    a.run = [this, name] { begin_operation(name); };
    if (takes != kNothing) {
      a.enabled_when = [this, takes] {
        return model_.chosen_part() != 0 && (chosen_kind() & takes) != 0;
      };
      a.needs = tr("Choose a part made of %1 first.").arg(kinds_in_words(takes));
    }
    actions_.push_back(std::move(a));
  }
}

// All kinds while the shape is not computed yet: the step itself will say when it does not fit.
ShapeKinds MainWindow::chosen_kind() const {
  constexpr ShapeKinds kAny = kBody | kMesh | kCurves | kPicture | kCage | kForm | kPoints;
  const auto answer = model_.answer();
  if (answer && answer->chosen == model_.chosen_part() && answer->shown)
    return kind_of(*answer->shown);
  const auto drawn = model_.drawn().find(model_.chosen_part());
  return drawn != model_.drawn().end() && drawn->second.shape ? kind_of(*drawn->second.shape)
                                                              : kAny;
}

OperationPtr MainWindow::fitting_operation(const std::string& action) const {
  OperationPtr first;
  for (const OperationPtr& operation : catalogue()) {
    if (action_of(operation->info()) != action) continue;
    if (!first) first = operation;
    if ((operation->info().takes & chosen_kind()) != 0) return operation;
  }
  return first;
}

// What the hand picks while a step is on trial that works on picks is what it works on.
void MainWindow::follow_picks() {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  const auto answer = model_.answer();
  if (!model_.trial() || step == nullptr || !answer || !answer->before) return;
  const auto* below = std::get_if<Form>(answer->before.get());
  if (below == nullptr) return;
  const FormNet net{below->points, links_of(*below)};
  const PickKind kind = editor_.form_kind();
  std::vector<Tag> tags;
  for (const Pick& p : editor_.form_picks()) tags.push_back(p.tag);
  if (tags.size() > 1) {
    // What the step has used up cannot be picked on its outcome, but stays among several.
    std::vector<Tag> used;
    for (const Pick& p : picks_in(*step->operation))
      if (p.kind == kind) used.push_back(p.tag);
    for (const Tag t : still_there(*editor_.form(), kind, used)) std::erase(used, t);
    tags.insert(tags.begin(), used.begin(), used.end());
  }
  const std::vector<Pick> picks = as_picks(net, kind, still_there(net, kind, tags));
  if (picks.empty()) return;
  if (const OperationPtr changed = with_picks(*step->operation, picks))
    model_.attempt([&] {
      model_.change_operation(step->id, changed, tr("Pick"), QString("%1.picks").arg(step->id));
    });
}

void MainWindow::show_next_crossing() {
  const auto gauges = model_.gauges();
  if (!gauges || !gauges->crossings || gauges->crossings->empty()) return;
  const std::vector<Crossing>& all = *gauges->crossings;
  const Crossing& c = all[next_crossing_++ % all.size()];
  editor_.set_form_kind(PickKind::Face);
  editor_.pick_form({c.face_a, c.face_b});
  view_->frame_picked();
  model_.say(
      tr("Crossing %1 of %2, %3 mm long. Pull the picked faces apart, slide or melt a loop beside "
         "them, or add Pull in crossings.")
          .arg((next_crossing_ - 1) % all.size() + 1)
          .arg(all.size())
          .arg(c.length, 0, 'f', 1));
}

void MainWindow::begin_operation(const std::string& action) {
  if (model_.trial()) model_.keep_trial();
  const OperationPtr offered = fitting_operation(action);
  if (!offered) return;
  const OperationInfo& info = offered->info();
  const std::shared_ptr<Operation> operation = offered->clone();
  Beginning beginning{model_.chosen_part(), nullptr, {}};
  for (const auto& [part, drawn] : model_.drawn()) beginning.parts[part] = drawn.shape;
  if (const auto answer = model_.answer(); answer && answer->chosen == model_.chosen_part())
    beginning.before = answer->shown;
  const std::vector<PartId> parts = model_.picked_parts();
  beginning.picked = parts;
  for (const PointIndex& p : editor_.picked()) beginning.points.push_back({p.net, p.i, p.j, p.k});
  beginning.picks = editor_.form_picks();
  if (const Frame& plane = editor_.work_plane();
      distance(plane.x, Frame{}.x) + distance(plane.z, Frame{}.z) > 1e-9)
    beginning.plane = plane;
  beginning.view = -view_->camera(view_->main_name()).axes().z;
  operation->suit(beginning);
  const QString label = words(info.label);
  const bool several = info.several_parts && parts.size() > 1;
  const bool begun = model_.attempt([&] {
    if (several)
      model_.begin_batch_trial(with_step_on(model_.document(), parts, operation), label);
    else if (info.is_source())
      model_.begin_trial(
          with_followers(with_part(model_.document(),
                                   info.part_name.empty() ? info.label : info.part_name, operation),
                         info.followed_by, parts),
          info.new_part ? label : tr("Add %1").arg(label.toLower()));
    else
      model_.begin_trial(with_step(model_.document(), model_.chosen_part(), operation), label);
  });
  if (begun && several)
    model_.say(
        tr("%1 on %2 parts; their common borders stay common.").arg(label).arg(parts.size()));
  else if (begun && !info.hint.empty())
    model_.say_hint(words(info.hint));
  view_->setFocus();
}

}  // namespace evenclay
