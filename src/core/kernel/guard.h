// How the B-rep kernel is called: one thread at a time, and its faults as our errors.
#pragma once

#include <functional>
#include <string>

#include "core/base/error.h"

namespace evenclay::kernel {

/// The kernel threw or raised a signal; the sentence ends in its reason, which says little to a designer.
class GaveUp : public Error {
 public:
  using Error::Error;
};

/// Runs `work` while holding the lock that everything which uses the kernel shares (its exchange
/// settings and some of its caches are global to the process). What the kernel throws, which is no
/// std::exception, and the signals it raises (a division by zero, an access outside its memory) come
/// out as GaveUp: "`what`: reason". Our own Error and Cancelled pass through. May be nested in one
/// thread.
void guarded(const std::string& what, const std::function<void()>& work);

}  // namespace evenclay::kernel
