#include "app/window/background.h"

namespace evenclay {

Background::~Background() {
  for (Job& job : jobs_) job.progress->cancel();
  for (Job& job : jobs_)
    if (job.thread.joinable()) job.thread.join();
}

std::shared_ptr<Progress> Background::start(const QString& name,
                                            std::function<void(Progress&)> work,
                                            std::function<void()> done,
                                            std::function<void(const QString&)> failed) {
  auto progress = std::make_shared<Progress>();
  const auto job = jobs_.insert(jobs_.end(), {name, progress, {}});
  job->thread = std::thread([this, job, progress, work = std::move(work), done = std::move(done),
                             failed = std::move(failed)] {
    QString trouble;
    bool cancelled = false;
    try {
      work(*progress);
    } catch (const Cancelled&) {
      cancelled = true;
    } catch (const std::exception& e) {
      trouble = QString::fromUtf8(e.what());
    } catch (...) {
      trouble = tr("The work ended unexpectedly. Nothing was changed.");
    }
    // Back on the thread of this object; if that is being destroyed, the event is dropped with it.
    QMetaObject::invokeMethod(
        this,
        [this, job, progress, cancelled, trouble, done, failed] {
          job->thread.join();
          jobs_.erase(job);
          if (!cancelled && !progress->cancelled()) trouble.isEmpty() ? done() : failed(trouble);
          Q_EMIT changed();
        },
        Qt::QueuedConnection);
  });
  Q_EMIT changed();
  return progress;
}

std::optional<Background::Shown> Background::shown() const {
  for (auto job = jobs_.rbegin(); job != jobs_.rend(); ++job)
    if (!job->name.isEmpty()) return Shown{job->name, job->progress->share()};
  return std::nullopt;
}

void Background::cancel_shown() {
  for (Job& job : jobs_)
    if (!job.name.isEmpty()) job.progress->cancel();
}

}  // namespace evenclay
