#include "app/window/recovery.h"

#include <signal.h>
#include <unistd.h>

#include <QDir>
#include <QFile>
#include <QThreadPool>
#include <QTimer>

#include "core/document/project_file.h"

namespace evenclay {

namespace {

constexpr int kEvery = 10000;  // ms
const char* const kPattern = "unsaved-*.evenclay";

bool is_running(qint64 process) {
  return ::kill(static_cast<pid_t>(process), 0) == 0;
}

}  // namespace

Recovery::Recovery(AppModel& model, QString folder) : model_(model), folder_(std::move(folder)) {
  auto* timer = new QTimer(this);
  connect(timer, &QTimer::timeout, this, &Recovery::write_if_needed);
  timer->start(kEvery);
}

Recovery::~Recovery() {
  QThreadPool::globalInstance()->waitForDone();
}

QString Recovery::own_copy() const {
  return QDir(folder_).filePath(QString("unsaved-%1.evenclay").arg(::getpid()));
}

QStringList Recovery::left_behind() const {
  QStringList result;
  const QDir dir(folder_);
  for (const QString& name : dir.entryList({kPattern}, QDir::Files, QDir::Time)) {
    const qint64 process = name.section('-', 1).section('.', 0, 0).toLongLong();
    if (process > 0 && !is_running(process)) result.push_back(dir.filePath(name));
  }
  return result;
}

void Recovery::restore(const QString& copy) {
  model_.open_unsaved(copy);
  QFile::remove(copy);
  write_if_needed();
}

void Recovery::write_if_needed() {
  const Session& session = model_.session();
  if (!session.unsaved()) {
    forget();
    return;
  }
  if (session.revision() == written_revision_) return;
  written_revision_ = session.revision();
  QDir().mkpath(folder_);
  // The document is a value: the copy is written while the work goes on.
  QThreadPool::globalInstance()->start(
      [document = session.current(), file = own_copy().toStdString()] {
        try {
          save_project(document, file);
        } catch (const Error&) {
          // No room for a copy is no reason to disturb the work; saving will say so.
        }
      });
}

void Recovery::forget() {
  if (written_revision_ == 0) return;
  QThreadPool::globalInstance()->waitForDone();
  QFile::remove(own_copy());
  written_revision_ = 0;
}

}  // namespace evenclay
