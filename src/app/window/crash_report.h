// What is kept when the program ends by a fault.
#pragma once

#include <QString>

namespace evenclay {

/// From now on a fault (SIGSEGV, SIGBUS, SIGILL, SIGFPE, SIGABRT) outside the B-rep kernel's own guard writes version, signal
/// and the calls that led there into a file of that folder before the program ends as it would. Nothing leaves the machine.
void keep_crash_reports(const QString& folder);

/// The newest report that has not been told of yet, and from now on has; empty when there is none.
QString untold_crash_report(const QString& folder);

}  // namespace evenclay
