#include "app/window/app_model.h"

#include <QFileInfo>
#include <algorithm>
#include <filesystem>
#include <utility>

#include "core/demo/skerry.h"
#include "core/document/project_file.h"
#include "core/document/take_parts.h"
#include "core/operations/bring_in.h"
#include "core/operations/catalogue.h"
#include "core/operations/copy_of_part.h"

namespace evenclay {

AppModel::AppModel() {
  worker_ = std::make_unique<DisplayWorker>([this](std::shared_ptr<const DisplayAnswer> a) {
    // The worker's thread: hand over to the window's.
    QMetaObject::invokeMethod(
        this, [this, a] { take_answer(a); }, Qt::QueuedConnection);
  });
}

AppModel::~AppModel() {
  worker_.reset();
}

// Whatever is being dragged works on what is about to change.
void AppModel::interrupt() {
  if (dragging()) Q_EMIT interrupting();
}

void AppModel::mark_faces(FaceMarks marks) {
  face_marks_ = std::move(marks);
  Q_EMIT marks_changed();
}

void AppModel::choose_part(PartId part) {
  const Part* p = find_part(document(), part);
  if (p == nullptr || part == chosen_part_) return;
  interrupt();
  if (trial()) keep_trial();
  if (find_part(document(), part) == nullptr) return;
  chosen_part_ = part;
  chosen_step_ = find_part(document(), part)->steps.back().id;
  session_.close_merge();
  gauges_ = nullptr;
  plot_ = nullptr;
  pattern_ = nullptr;
  Q_EMIT chosen_changed();
  post(false);
}

void AppModel::choose_step(StepId step) {
  const Part* p = part_of_step(document(), step);
  if (p == nullptr || step == chosen_step_) return;
  if (trial() && step != trial_step_) keep_trial();
  p = part_of_step(document(), step);
  if (p == nullptr) return;
  chosen_part_ = p->id;
  chosen_step_ = step;
  session_.close_merge();
  gauges_ = nullptr;
  plot_ = nullptr;
  pattern_ = nullptr;
  Q_EMIT chosen_changed();
  post(false);
}

bool AppModel::chosen_is_last() const {
  const Part* p = find_part(document(), chosen_part_);
  return p != nullptr && p->steps.back().id == chosen_step_;
}

void AppModel::commit(Document document, const QString& label, const QString& merge) {
  interrupt();
  trial_step_ = 0;
  session_.commit(std::move(document), label.toStdString(), merge.toStdString());
  after_change(false);
}

void AppModel::commit_drag(Document document, const QString& label, const QString& merge) {
  session_.commit(std::move(document), label.toStdString(), merge.toStdString());
  after_change(false);
}

void AppModel::commit_beside(const Change& change, const QString& label) {
  interrupt();
  if (!trial()) {
    commit(change(document()), label);
    return;
  }
  Document shown = change(session_.shown());
  // What the trial itself makes is not in the document below yet.
  std::optional<Document> below;
  try {
    below = change(session_.current());
  } catch (const Error&) {
  }
  if (below) session_.commit(std::move(*below), label.toStdString());
  session_.preview(std::move(shown));
  after_change(false);
}

void AppModel::preview_drag(Document document) {
  session_.preview(std::move(document));
  after_change(true);
}

void AppModel::drop_drag() {
  session_.drop_preview();
  after_change(false);
}

void AppModel::undo() {
  if (dragging()) {
    interrupt();
    return;
  }
  if (trial()) {
    drop_trial();
    return;
  }
  if (!session_.can_undo()) return;
  const QString label = QString::fromStdString(session_.undo_label());
  session_.undo();
  after_change(false);
  say(tr("Undone: %1").arg(label));
}

void AppModel::redo() {
  interrupt();
  if (trial() || !session_.can_redo()) return;
  const QString label = QString::fromStdString(session_.redo_label());
  session_.redo();
  after_change(false);
  say(tr("Done again: %1").arg(label));
}

void AppModel::go_to(std::size_t done) {
  interrupt();
  if (trial()) keep_trial();
  if (done == session_.done()) return;
  session_.go_to(done);
  after_change(false);
}

void AppModel::show_alone(std::vector<PartId> parts) {
  alone_ = std::move(parts);
  Q_EMIT document_changed();
}

bool AppModel::is_shown(const Part& part) const {
  const bool left_out =
      !alone_.empty() && std::find(alone_.begin(), alone_.end(), part.id) == alone_.end();
  return !left_out && is_visible(document(), part);
}

bool AppModel::may_change(PartId id) {
  const Part* part = find_part(document(), id);
  if (part == nullptr || !is_locked(document(), *part)) return true;
  say_trouble(tr("%1 is locked. Unlock it in the list of parts first.")
                  .arg(QString::fromStdString(part->name)));
  return false;
}

std::vector<PartId> AppModel::picked_parts() const {
  std::vector<PartId> result;
  if (chosen_part_ != 0) result.push_back(chosen_part_);
  for (const PartId p : also_picked_)
    if (p != chosen_part_ && find_part(document(), p) != nullptr) result.push_back(p);
  return result;
}

void AppModel::begin_batch_trial(const BatchSteps& steps, const QString& label) {
  const Part* part = part_of_step(steps.document, steps.steps.front());
  begin_trial({steps.document, part->id, steps.steps.front()}, label);
  batch_ = steps.steps;
}

bool AppModel::trial_can_be_new_part() const {
  const Step* step = find_step(document(), trial_step_);
  return step != nullptr && batch_.size() < 2 && !step->operation->is_source();
}

// The trial begins again on the other part, with the settings it has now.
void AppModel::set_trial_as_new_part(bool as_new) {
  if (!trial_can_be_new_part() || as_new == trial_as_new_part()) return;
  const OperationPtr operation = find_step(document(), trial_step_)->operation;
  Document base = session_.current();
  PartId part = as_new ? chosen_part_ : trial_source_part_;
  trial_source_part_ = as_new ? part : 0;
  if (as_new) {
    const Part source = *find_part(base, part);
    auto copy = std::make_shared<CopyOfPartOperation>();
    copy->part = part;
    Added added = with_part(base, source.name, copy);
    base = with_look(added.document, added.part, source.look);
    // Two equal shapes in one place would flicker: the old one is kept, and hidden.
    base = with_look(base, part, {source.look.colour, false});
    part = added.part;
    say(tr("%1 is kept as it is and hidden; tick it in the list to see it.")
            .arg(QString::fromStdString(source.name)));
  }
  const Added added = with_step(base, part, operation);
  trial_step_ = added.step;
  chosen_part_ = added.part;
  chosen_step_ = added.step;
  session_.preview(added.document);
  Q_EMIT chosen_changed();
  after_change(false);
}

void AppModel::begin_trial(const Added& added, const QString& label) {
  if (find_part(document(), added.part) != nullptr && !may_change(added.part)) return;
  interrupt();
  batch_.clear();
  trial_source_part_ = 0;
  before_trial_step_ = chosen_step_;
  trial_step_ = added.step;
  trial_label_ = label;
  chosen_part_ = added.part;
  chosen_step_ = added.step;
  session_.preview(added.document);
  Q_EMIT chosen_changed();
  after_change(false);
}

void AppModel::say_hint(const QString& sentence) {
  hint_ = sentence;
  say(sentence);
}

void AppModel::end_hint() {
  if (!hint_.isEmpty()) Q_EMIT hint_over(std::exchange(hint_, {}));
}

void AppModel::keep_trial() {
  if (!trial()) return;
  end_hint();
  trial_step_ = 0;
  trial_source_part_ = 0;
  const std::vector<StepId> batch = std::move(batch_);
  batch_.clear();
  const bool together = batch.size() > 1;
  session_.commit(session_.shown(), trial_label_.toStdString(), together ? "batch" : "");
  after_change(false);
  if (together) match_borders(batch, trial_label_);
}

void AppModel::match_borders(const std::vector<StepId>& steps, const QString& label) {
  if (matching_) matching_->cancel();
  say(tr("Matching the borders that the parts share …"));
  matching_ = background_.run<Document>(
      tr("Matching borders"),
      [d = session_.current(), steps](Progress& progress) {
        return with_common_borders(d, steps, progress);
      },
      [this, steps, label](Document&& matched) { take_matched(matched, steps, label); },
      [this](const QString& sentence) {
        matching_.reset();
        say_trouble(sentence);
      });
}

void AppModel::take_matched(const Document& matched, const std::vector<StepId>& steps,
                            const QString& label) {
  matching_.reset();
  // The document may have been changed meanwhile: only the steps that were matched are taken.
  Document now = session_.current();
  bool changed = false;
  for (const StepId id : steps) {
    const Step* from = find_step(matched, id);
    const Step* to = find_step(now, id);
    if (from == nullptr || to == nullptr || from->operation == to->operation) continue;
    now = with_operation(now, id, from->operation);
    changed = true;
  }
  if (changed && !trial()) {
    session_.commit(std::move(now), label.toStdString(), "batch");
    after_change(false);
  }
  say(changed ? tr("Counts along common borders are now the same.")
              : tr("The parts share no border that needed other counts."));
}

void AppModel::drop_trial() {
  if (!trial()) return;
  end_hint();
  trial_step_ = 0;
  trial_source_part_ = 0;
  batch_.clear();
  session_.drop_preview();
  if (const Part* p = part_of_step(document(), before_trial_step_)) {
    chosen_part_ = p->id;
    chosen_step_ = before_trial_step_;
    Q_EMIT chosen_changed();
  }
  after_change(false);
}

void AppModel::change_parameter(StepId step, const std::string& parameter, const std::string& text,
                                const QString& label, const QString& merge) {
  take_change(step, with_step_parameter(document(), step, parameter, text), label, merge);
}

void AppModel::change_operation(StepId step, OperationPtr operation, const QString& label,
                                const QString& merge) {
  take_change(step, with_operation(document(), step, std::move(operation)), label, merge);
}

// A batch on trial goes along: all its steps take what the first one has.
void AppModel::take_change(StepId step, Document changed, const QString& label,
                           const QString& merge) {
  if (const Part* part = part_of_step(document(), step); part != nullptr && !may_change(part->id)) {
    Q_EMIT document_changed();  // fields go back to what is there
    return;
  }
  if (trial() && step == trial_step_)
    for (const StepId other : batch_)
      changed = with_operation(changed, other, find_step(changed, step)->operation);
  if (trial()) {
    session_.preview(std::move(changed));
    after_change(false);
  } else {
    commit(std::move(changed), label, merge);
  }
}

void AppModel::after_change(bool dragging) {
  mend_choice();
  std::erase_if(alone_, [&](PartId p) { return find_part(document(), p) == nullptr; });
  post(dragging);
  // Panels follow a drag when it ends; laying them out for every move would slow the hand.
  if (!dragging) Q_EMIT document_changed();
}

// Undo or removal may have taken the chosen part or step away.
void AppModel::mend_choice() {
  const Document& d = document();
  const Part* part = find_part(d, chosen_part_);
  const bool step_there = part != nullptr && part_of_step(d, chosen_step_) == part;
  if (step_there) return;
  if (part == nullptr && !d.parts.empty()) part = &d.parts.front();
  chosen_part_ = part != nullptr ? part->id : 0;
  chosen_step_ = part != nullptr ? part->steps.back().id : 0;
  gauges_ = nullptr;
  plot_ = nullptr;
  pattern_ = nullptr;
  Q_EMIT chosen_changed();
}

void AppModel::post(bool dragging) {
  std::erase_if(drawn_, [&](const auto& e) { return !find_part(document(), e.first); });
  posted_ = worker_->post({document(), chosen_part_, chosen_step_, dragging, wants_,
                           std::chrono::milliseconds(hand_rests_)});
}

void AppModel::note_frame(double milliseconds) {
  hand_rests_ = std::clamp(static_cast<int>(1.5 * milliseconds), 120, 1500);
}

void AppModel::take_answer(std::shared_ptr<const DisplayAnswer> a) {
  if (a->request < oldest_valid_) return;
  if (answer_ && a->request < answer_->request) return;
  answer_ = a;
  if (!a->trouble.empty()) say_trouble(QString::fromStdString(a->trouble));
  for (const DisplayPart& p : a->parts)
    if (find_part(document(), p.part) != nullptr) drawn_[p.part] = p;
  for (const auto& [step, status] : a->steps) status_[step] = status;
  if (a->gauges && a->chosen == chosen_part_ && a->shown_step == chosen_step_) gauges_ = a->gauges;
  if (a->exact || a->before_mesh) before_mesh_ = a->before_mesh;
  if (a->exact || a->sections) sections_ = a->sections;
  if (a->exact || a->watched_section) watched_section_ = a->watched_section;
  if (a->plot) plot_ = a->plot;
  if (a->exact || a->tile) tile_ = a->tile;
  if (a->shown) pattern_ = a->pattern;
  Q_EMIT answered();
}

void AppModel::want(const DisplayWants& wants) {
  if (wants == wants_) return;
  const bool more = (wants.deviation && !wants_.deviation) ||
                    (wants.map != MapKind::None && wants.map != wants_.map) ||
                    (wants.stretch && !wants_.stretch) || (wants.joints && !wants_.joints) ||
                    wants.flat_faces != wants_.flat_faces || (wants.tile && !wants_.tile) ||
                    (wants.before && !wants_.before) || (wants.plot && !wants_.plot) ||
                    (wants.sections && wants.sections != wants_.sections);
  wants_ = wants;
  if (more) post(false);
}

bool AppModel::settled() const {
  if (background_.busy() || !worker_->idle() || !up_to_date() || !answer_->exact) return false;
  return answer_->gauges != nullptr || !answer_->shown;
}

void AppModel::cancel_work() {
  background_.cancel_shown();
  worker_->cancel();
  say(tr("Cancelled. The last finished shape stays in view; change a number to compute again."));
}

}  // namespace evenclay
