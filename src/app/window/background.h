// Work beside the window's thread: reading and writing files, matching borders.
#pragma once

#include <QObject>
#include <QString>
#include <functional>
#include <list>
#include <memory>
#include <optional>
#include <thread>

#include "core/base/progress.h"

namespace evenclay {

/// Runs jobs on threads of their own and hands their results back to the thread it lives on. A job
/// holds only values. The destructor cancels all jobs and waits for them.
class Background : public QObject {
  Q_OBJECT
 public:
  explicit Background(QObject* parent = nullptr) : QObject(parent) {}
  ~Background() override;

  /// `work` runs beside; `done` with what it made, or `failed` with a sentence, runs here afterwards,
  /// unless the job was cancelled: then neither. The progress cancels it. `name` says what is done, as
  /// in "Exporting Shell"; an empty one is not shown.
  template <typename T>
  std::shared_ptr<Progress> run(const QString& name, std::function<T(Progress&)> work,
                                std::function<void(T&&)> done,
                                std::function<void(const QString&)> failed) {
    auto result = std::make_shared<std::optional<T>>();
    return start(
        name, [result, work = std::move(work)](Progress& p) { result->emplace(work(p)); },
        [result, done = std::move(done)] { done(std::move(**result)); }, std::move(failed));
  }
  std::shared_ptr<Progress> run_plain(const QString& name, std::function<void(Progress&)> work,
                                      std::function<void()> done,
                                      std::function<void(const QString&)> failed) {
    return start(name, std::move(work), std::move(done), std::move(failed));
  }

  bool busy() const { return !jobs_.empty(); }
  /// The name and share of the job begun last that has a name; nothing when there is none.
  struct Shown {
    QString name;
    double share;
  };
  std::optional<Shown> shown() const;
  /// Cancels the jobs that have a name.
  void cancel_shown();

 Q_SIGNALS:
  void changed();  ///< a job began or ended

 private:
  struct Job {
    QString name;
    std::shared_ptr<Progress> progress;
    std::thread thread;
  };
  std::shared_ptr<Progress> start(const QString& name, std::function<void(Progress&)> work,
                                  std::function<void()> done,
                                  std::function<void(const QString&)> failed);

  std::list<Job> jobs_;
};

}  // namespace evenclay
