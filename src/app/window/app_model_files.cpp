// Projects opened, saved, brought in and begun anew.
#include "app/window/app_model.h"

#include <QFileInfo>
#include <algorithm>
#include <filesystem>

#include "core/demo/skerry.h"
#include "core/document/project_file.h"
#include "core/document/take_parts.h"
#include "core/operations/bring_in.h"
#include "core/operations/catalogue.h"
#include "core/operations/copy_of_part.h"

namespace evenclay {

void AppModel::new_project() {
  start_over({}, {});
}

void AppModel::open_demo() {
  start_over(make_demo(), {}, tr("Skerry"));
}

void AppModel::open_with(const QString& file, std::function<void(Document&&)> take) {
  if (opening_) opening_->cancel();
  opening_ = background_.run<Document>(
      tr("Opening %1").arg(QFileInfo(file).fileName()),
      [name = file.toStdString()](Progress&) { return open_project(name, make_operation); },
      [this, take = std::move(take)](Document&& d) {
        opening_.reset();
        take(std::move(d));
      },
      [this](const QString& sentence) {
        opening_.reset();
        say_trouble(sentence);
      });
}

void AppModel::open(const QString& file, Then done) {
  open_with(file, [this, file, done](Document&& d) {
    start_over(std::move(d), file);
    if (done) done();
  });
}

void AppModel::open_unsaved(const QString& copy, Then done) {
  open_with(copy, [this, done](Document&& d) {
    start_over(std::move(d), {});
    session_.mark_unsaved();
    Q_EMIT document_changed();
    if (done) done();
  });
}

void AppModel::save(const QString& file, Then done) {
  interrupt();
  if (trial()) keep_trial();
  const std::size_t revision = session_.revision();
  background_.run_plain(
      tr("Saving %1").arg(QFileInfo(file).fileName()),
      [d = session_.current(), name = file.toStdString()](Progress&) { save_project(d, name); },
      [this, file, revision, done] {
        session_.mark_saved(revision);
        file_ = file;
        Q_EMIT document_changed();
        if (done) done();
      },
      [this](const QString& sentence) { say_trouble(sentence); });
}

void AppModel::bring_in(const QString& file, Then done) {
  interrupt();
  if (trial()) keep_trial();
  const std::size_t before = document().parts.size();
  background_.run<Document>(
      tr("Bringing in %1").arg(QFileInfo(file).fileName()),
      [d = session_.current(), name = file.toStdString()](Progress& progress) {
        return with_brought_in(d, read_attachment(name), progress);
      },
      [this, before, file, revision = session_.revision(), done](Document&& d) {
        if (session_.revision() != revision || trial() || dragging()) {
          say_trouble(tr("The project was changed meanwhile. Bring the file in again."));
          return;
        }
        const PartId first = d.parts[before].id;
        const std::size_t count = d.parts.size() - before;
        commit(std::move(d), tr("Bring in %1").arg(QFileInfo(file).fileName()));
        choose_part(first);
        say(count == 1 ? tr("Brought in 1 part.") : tr("Brought in %1 parts.").arg(count));
        if (done) done();
      },
      [this](const QString& sentence) { say_trouble(sentence); });
}

void AppModel::put_on_shelf(const QString& file) {
  const PartId part = chosen_part_;
  if (part == 0) return;
  const QString name = QString::fromStdString(find_part(document(), part)->name);
  background_.run_plain(
      tr("Putting %1 on the shelf").arg(name),
      [d = document(), part, file = file.toStdString()](Progress&) {
        const std::filesystem::path path(file);
        std::filesystem::create_directories(path.parent_path());
        const Document shelf =
            std::filesystem::exists(path) ? open_project(path, make_operation) : Document{};
        save_project(with_parts_of(shelf, d, {part}).document, path);
      },
      [this, name] {
        say(tr("%1 is on your shelf. Take it from there in any project.").arg(name));
      },
      [this](const QString& sentence) { say_trouble(sentence); });
}

QString AppModel::title() const {
  if (!file_.isEmpty()) return QFileInfo(file_).completeBaseName();
  return name_.isEmpty() ? tr("untitled") : name_;
}

void AppModel::start_over(Document document, const QString& file, const QString& name) {
  interrupt();
  if (matching_) matching_->cancel();
  matching_.reset();
  trial_step_ = 0;
  trial_source_part_ = 0;
  batch_.clear();
  also_picked_.clear();
  alone_.clear();
  session_.reset(std::move(document));
  file_ = file;
  name_ = name;
  drawn_.clear();
  status_.clear();
  gauges_ = nullptr;
  answer_ = nullptr;
  chosen_part_ = 0;
  chosen_step_ = 0;
  oldest_valid_ = posted_ + 1;
  mend_choice();
  Q_EMIT chosen_changed();
  after_change(false);
}

}  // namespace evenclay
