// How the B-rep kernel is called: one thread at a time, and its faults as our errors.
#pragma once

#include <functional>
#include <string>

namespace evenclay::kernel {

/// Runs `work` while holding the lock that everything which uses the kernel shares (its exchange
/// settings and some of its caches are global to the process). What the kernel throws, which is no
/// std::exception, and the signals it raises (a division by zero, an access outside its memory) come
/// out as Error: "`what`: reason". Our own Error and Cancelled pass through. May be nested in one
/// thread.
void guarded(const std::string& what, const std::function<void()>& work);

}  // namespace evenclay::kernel
