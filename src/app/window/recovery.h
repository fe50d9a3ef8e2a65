// The recovery copy: written in the background while there are unsaved changes, gone when the
// program ends properly, offered after a crash.
#pragma once

#include <QObject>
#include <QString>
#include <QStringList>

#include "app/window/app_model.h"

namespace evenclay {

class Recovery : public QObject {
  Q_OBJECT
 public:
  /// Copies lie in `folder`, named after the process that wrote them.
  Recovery(AppModel& model, QString folder);
  ~Recovery() override;

  /// Copies of processes that are no longer running, newest first.
  QStringList left_behind() const;
  /// Opens a copy as an untitled project with unsaved changes, and removes it. Throws FileError.
  void restore(const QString& copy);
  /// Writes a copy now if there is something unsaved that the last copy does not hold.
  void write_if_needed();
  /// Removes this process' copy: everything is saved, or given up on purpose.
  void forget();
  QString own_copy() const;

 private:
  AppModel& model_;
  QString folder_;
  std::size_t written_revision_ = 0;
};

}  // namespace evenclay
