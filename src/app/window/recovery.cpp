#include "app/window/recovery.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <QDir>
#include <QFile>
#include <QTimer>
#include <QUuid>

#include "core/document/project_file.h"

namespace evenclay {

namespace {

const char* const kPattern = "unsaved-*.evenclay";

QString lock_of(const QString& copy) {
  return copy + ".lock";
}

// A file descriptor that holds the lock, or −1 when another program does.
int take_lock(const QString& copy) {
  const int fd =
      ::open(QFile::encodeName(lock_of(copy)).constData(), O_RDWR | O_CREAT | O_CLOEXEC, 0600);
  if (fd < 0) return -1;
  if (::flock(fd, LOCK_EX | LOCK_NB) == 0) return fd;
  ::close(fd);
  return -1;
}

void remove_copy(const QString& copy) {
  QFile::remove(copy);
  QFile::remove(lock_of(copy));
}

}  // namespace

Recovery::Recovery(AppModel& model, QString folder) : model_(model), folder_(std::move(folder)) {
  own_ = QDir(folder_).filePath("unsaved-" + QUuid::createUuid().toString(QUuid::WithoutBraces) +
                                ".evenclay");
  connect(&timer_, &QTimer::timeout, this, &Recovery::write_if_needed);
  write_every(10);
}

void Recovery::write_every(int seconds) {
  timer_.start(seconds * 1000);
}

Recovery::~Recovery() {
  background_.reset();  // what is being written is finished first
  if (unwanted_) remove_copy(own_);
  if (lock_ >= 0) ::close(lock_);
}

QStringList Recovery::left_behind() const {
  QStringList result;
  const QDir dir(folder_);
  for (const QString& name : dir.entryList({kPattern}, QDir::Files, QDir::Time)) {
    const QString copy = dir.filePath(name);
    if (copy == own_) continue;
    const int lock = take_lock(copy);
    if (lock < 0) continue;  // a running program's
    ::close(lock);
    result.push_back(copy);
  }
  return result;
}

void Recovery::restore(const QString& copy) {
  model_.open_unsaved(copy, [this, copy] {
    restored_ = copy;
    written_revision_ = 0;
    write_if_needed();
  });
}

void Recovery::write_if_needed() {
  const Session& session = model_.session();
  if (!session.unsaved()) {
    forget();
    return;
  }
  if (writing_ || session.revision() == written_revision_) return;
  QDir().mkpath(folder_);
  if (lock_ < 0) lock_ = take_lock(own_);
  writing_ = true;
  unwanted_ = false;
  // The document is a value: the copy is written while the work goes on. No room for a copy is no
  // reason to disturb the work; saving will say so.
  background_->run_plain(
      {},
      [document = session.current(), file = own_.toStdString()](Progress&) {
        save_project(document, file);
      },
      [this, revision = session.revision()] { written(revision); },
      [this, revision = session.revision()](const QString&) {
        writing_ = false;
        written_revision_ = revision;
      });
}

void Recovery::written(std::size_t revision) {
  writing_ = false;
  written_revision_ = revision;
  if (unwanted_) {
    forget();
    return;
  }
  if (!restored_.isEmpty() && restored_ != own_) remove_copy(restored_);
  restored_.clear();
  if (model_.session().revision() != revision) write_if_needed();
}

void Recovery::forget() {
  if (writing_) {
    unwanted_ = true;
    return;
  }
  if (written_revision_ == 0 && restored_.isEmpty()) return;
  remove_copy(own_);
  if (lock_ >= 0) ::close(lock_);
  lock_ = -1;
  if (!restored_.isEmpty()) remove_copy(restored_);
  restored_.clear();
  written_revision_ = 0;
}

}  // namespace evenclay
