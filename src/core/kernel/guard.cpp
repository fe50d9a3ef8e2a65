#include "core/kernel/guard.h"

#ifndef OCC_CONVERT_SIGNALS
#define OCC_CONVERT_SIGNALS
#endif
#include <fmt/format.h>
#include <signal.h>

#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <OSD.hxx>
#include <Standard_ErrorHandler.hxx>
#include <Standard_Failure.hxx>
#include <array>
#include <mutex>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay::kernel {

namespace {

std::recursive_mutex& lock() {
  static std::recursive_mutex mutex;
  return mutex;
}

// The kernel turns signals into exceptions only while its handlers are in place; ours come back after.
class Signals {
 public:
  Signals() {
    for (std::size_t k = 0; k < kNumbers.size(); ++k) sigaction(kNumbers[k], nullptr, &old_[k]);
    OSD::SetSignal(Standard_False);
  }
  ~Signals() {
    for (std::size_t k = 0; k < kNumbers.size(); ++k) sigaction(kNumbers[k], &old_[k], nullptr);
  }
  Signals(const Signals&) = delete;
  Signals& operator=(const Signals&) = delete;

 private:
  static constexpr std::array<int, 8> kNumbers{SIGSEGV, SIGFPE, SIGILL, SIGBUS,
                                               SIGSYS,  SIGHUP, SIGINT, SIGQUIT};
  std::array<struct sigaction, 8> old_{};
};

}  // namespace

void guarded(const std::string& what, const std::function<void()>& work) {
  const std::scoped_lock hold(lock());
  static thread_local int depth = 0;
  struct Depth {
    Depth() { ++depth; }
    ~Depth() { --depth; }
  } const nesting;
  if (depth > 1) {
    work();
    return;
  }
  // The kernel would print its statistics to standard output, where the runner's JSON goes.
  Message::DefaultMessenger()->ChangePrinters().Clear();
  const Signals signals;
  try {
    OCC_CATCH_SIGNALS
    work();
  } catch (const Standard_Failure& failure) {
    const char* text = failure.GetMessageString();
    const std::string reason =
        text != nullptr && text[0] != '\0' ? text : failure.DynamicType()->Name();
    throw GaveUp(say("{}: the B-rep kernel gave up ({}).", what, reason));
  }
}

}  // namespace evenclay::kernel
