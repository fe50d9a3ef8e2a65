#include "app/window/crash_report.h"

#include <execinfo.h>
#include <fcntl.h>
#include <unistd.h>

#include <QApplication>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <array>
#include <csignal>
#include <cstring>

namespace evenclay {

namespace {

// A handler may touch only what is there already: the name of the file and the head of the report.
std::array<char, 4096> report_file{}, report_head{};
constexpr std::array<int, 5> kFaults{SIGSEGV, SIGBUS, SIGILL, SIGFPE, SIGABRT};

void put(int file, const char* text) {
  const auto written = ::write(file, text, std::strlen(text));
  (void)written;
}

extern "C" void write_report(int signal) {
  const int file = ::open(report_file.data(), O_WRONLY | O_CREAT | O_TRUNC, 0600);
  if (file >= 0) {
    put(file, report_head.data());
    const char digits[] = {static_cast<char>('0' + signal / 10 % 10),
                           static_cast<char>('0' + signal % 10), '\n', '\0'};
    put(file, "signal ");
    put(file, digits);
    std::array<void*, 64> calls{};
    const int count = ::backtrace(calls.data(), static_cast<int>(calls.size()));
    ::backtrace_symbols_fd(calls.data(), count, file);
    ::close(file);
  }
  // As it would have ended without this.
  std::signal(signal, SIG_DFL);
  std::raise(signal);
}

void copy(std::array<char, 4096>& into, const QByteArray& text) {
  std::strncpy(into.data(), text.constData(), into.size() - 1);
}

}  // namespace

void keep_crash_reports(const QString& folder) {
  QDir().mkpath(folder);
  const QString now = QDateTime::currentDateTime().toString("yyyy-MM-dd-hhmmss");
  copy(report_file,
       QFile::encodeName(QString("%1/crash-%2-%3.txt").arg(folder, now).arg(::getpid())));
  copy(report_head, QString("Even Clay %1, begun %2, Qt %3\n")
                        .arg(QApplication::applicationVersion(), now, qVersion())
                        .toUtf8());
  // The first call loads a library, which a handler must not do.
  std::array<void*, 2> calls{};
  (void)::backtrace(calls.data(), static_cast<int>(calls.size()));
  for (const int fault : kFaults) std::signal(fault, write_report);
}

QString untold_crash_report(const QString& folder) {
  QDir dir(folder);
  const QStringList found = dir.entryList({"crash-*.txt"}, QDir::Files, QDir::Name);
  for (const QString& name : found) dir.rename(name, name.chopped(4) + ".told");
  return found.isEmpty() ? QString() : dir.filePath(found.last().chopped(4) + ".told");
}

}  // namespace evenclay
