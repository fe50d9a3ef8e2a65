// Window tests: a real window with real mouse and key events, on a display of its own (Xvfb), with
// its own home folder.
#define CATCH_CONFIG_RUNNER
#include <QApplication>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <catch2/catch.hpp>

#include "app/look/graphics.h"
#include "app/look/style.h"
#include "app/window/application.h"

int main(int argc, char** argv) {
  Catch::Session session;
  if (const int status = session.applyCommandLine(argc, argv); status != 0) return status;
  const auto& c = session.configData();
  if (c.listTests || c.listTestNamesOnly || c.listTags || c.listReporters || c.showHelp)
    return session.run();

  const QTemporaryDir home;
  for (const char* name :
       {"HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME", "XDG_RUNTIME_DIR"})
    qputenv(name, home.path().toUtf8());
  qputenv("LC_ALL", "C.UTF-8");
  int one = 1;
  evenclay::Application application(one, argv);
  evenclay::look::choose_surface_format(false);
  QApplication::setApplicationName("evenclay-test");
  QApplication::setOrganizationName("evenclay");
  evenclay::look::apply_style(application);
  // Most tests look at numbers; those of the refined picture switch it on.
  QSettings().setValue("refine", false);
  return session.run();
}
