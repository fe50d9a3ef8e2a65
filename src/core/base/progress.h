// How far long work has come, and the wish to stop it. Shared by the worker and its observer.
#pragma once

#include <atomic>

#include "core/base/error.h"

namespace evenclay {

/// Thread-safe. The worker calls report() or check(); anybody may call cancel() and share().
class Progress {
 public:
  /// Share of the work that is done, 0..1. Throws Cancelled when cancel() was called.
  void report(double share) {
    share_.store(share, std::memory_order_relaxed);
    check();
  }
  /// Throws Cancelled when cancel() was called.
  void check() const {
    if (cancelled_.load(std::memory_order_relaxed)) throw Cancelled();
  }
  void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
  bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }
  double share() const { return share_.load(std::memory_order_relaxed); }

 private:
  std::atomic<double> share_{0.0};
  std::atomic<bool> cancelled_{false};
};

}  // namespace evenclay
