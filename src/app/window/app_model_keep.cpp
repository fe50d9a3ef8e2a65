// Keeping shapes as they are: freezing steps, and lean files.
#include <QFileInfo>

#include "app/window/app_model.h"
#include "core/document/project_file.h"
#include "core/operations/frozen.h"

namespace evenclay {

void AppModel::freeze(StepId step) {
  interrupt();
  if (trial()) keep_trial();
  const Part* part = part_of_step(document(), step);
  if (part == nullptr || !may_change(part->id)) return;
  const auto take = [this, step](const StepResult& result) {
    attempt([&] {
      const Added added = with_frozen(session_.current(), step, result);
      commit(added.document, tr("Freeze"));
      choose_step(added.step);
      say(tr(
          "The shape is kept as it is. Remove the step Frozen and the steps beneath count again."));
    });
  };
  const auto status = status_.find(step);
  if (settled() && step == chosen_step_ && answer_->shown && status != status_.end()) {
    take({answer_->shown, status->second.failed, status->second.message});
    return;
  }
  background_.run<StepResult>(
      tr("Freezing %1").arg(QString::fromStdString(part->name)),
      [d = session_.current(), part = part->id, step](Progress& progress) {
        return Evaluator().evaluate_until(d, part, step, progress).steps.back();
      },
      [this, take, revision = session_.revision()](StepResult&& result) {
        if (session_.revision() != revision || trial() || dragging())
          say_trouble(tr("The project was changed meanwhile. Freeze again."));
        else
          take(result);
      },
      [this](const QString& sentence) { say_trouble(sentence); });
}

void AppModel::thaw(StepId step) {
  interrupt();
  if (trial()) keep_trial();
  const Part* part = part_of_step(document(), step);
  if (part == nullptr || !may_change(part->id)) return;
  attempt([&] {
    commit(without_step(session_.current(), step), tr("Thaw"));
    say(tr("The steps beneath make the shape again."));
  });
}

void AppModel::save_lean(const QString& file) {
  interrupt();
  if (trial()) keep_trial();
  background_.run_plain(
      tr("Saving %1").arg(QFileInfo(file).fileName()),
      [d = session_.current(), path = file.toStdString()](Progress& progress) {
        save_project(lean(d, Evaluator().evaluate(d, progress)), path);
      },
      [this, file] {
        say(tr("Saved %1 with plain geometry only. This project keeps its steps.")
                .arg(QFileInfo(file).fileName()));
      },
      [this](const QString& sentence) { say_trouble(sentence); });
}

}  // namespace evenclay
