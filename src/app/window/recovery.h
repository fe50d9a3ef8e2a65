// The recovery copy: written in the background while there are unsaved changes, gone when the
// program ends properly, offered after a crash.
#pragma once

#include <QObject>
#include <QString>
#include <QStringList>
#include <QTimer>

#include "app/window/app_model.h"
#include "app/window/background.h"

namespace evenclay {

/// Each running program has a copy of a name of its own and holds a lock beside it; the system lets go
/// of the lock when the program ends, however it ends. A copy nobody holds is one that was left behind.
class Recovery : public QObject {
  Q_OBJECT
 public:
  Recovery(AppModel& model, QString folder);
  ~Recovery() override;

  /// Copies that no running program holds, newest first.
  QStringList left_behind() const;
  /// Opens a copy as an untitled project with unsaved changes; the copy goes when the program's own is
  /// written. Throws FileError.
  void restore(const QString& copy);
  /// Writes a copy now if there is something unsaved that the last copy does not hold. One at a time;
  /// what comes meanwhile is written afterwards.
  void write_if_needed();
  /// From now on, as long as something is unsaved. 10 s at first.
  void write_every(int seconds);
  /// Removes the program's own copy: everything is saved, or given up on purpose.
  void forget();
  QString own_copy() const { return own_; }
  bool writing() const { return writing_; }

 private:
  void written(std::size_t revision);

  AppModel& model_;
  QTimer timer_;
  QString folder_;
  QString own_;
  int lock_ = -1;
  std::size_t written_revision_ = 0;
  bool writing_ = false;
  bool unwanted_ = false;  // forgotten while it was being written
  QString restored_;       // the copy this work came from
  std::unique_ptr<Background> background_ = std::make_unique<Background>();
};

}  // namespace evenclay
