// evenclay: the window program.
//   evenclay [PROJECT…] [--demo] [--shot FILE.png [--view NAME]]

#include <QApplication>
#include <QCommandLineParser>
#include <QDialog>
#include <QLocale>
#include <QPainter>
#include <QProcess>
#include <QSettings>
#include <QStandardPaths>
#include <QTimer>
#include <QTranslator>
#include <cstdio>

#include "app/look/graphics.h"
#include "app/look/style.h"
#include "app/window/application.h"
#include "app/window/crash_report.h"
#include "app/window/main_window.h"
#include "core/base/memory.h"

namespace {

// The window, and over it what it has opened.
QPixmap picture_of(evenclay::MainWindow& window) {
  QPixmap picture = window.grab();
  QPainter painter(&picture);
  for (QDialog* dialog : window.findChildren<QDialog*>())
    if (dialog->isVisible())
      painter.drawPixmap(
          QPoint((window.width() - dialog->width()) / 2, (window.height() - dialog->height()) / 2),
          dialog->grab());
  return picture;
}

// Waits until everything is computed and painted, writes the picture, and quits.
void take_shot(evenclay::MainWindow& window, const QString& file, const QString& view) {
  auto* timer = new QTimer(&window);
  auto stage = std::make_shared<int>(0);
  QObject::connect(timer, &QTimer::timeout, &window, [&window, file, view, stage] {
    if (!window.model().settled()) return;
    if (*stage == 0) {
      if (!window.show_named(view)) {
        std::fprintf(stderr, "There is no view named '%s'.\n", qPrintable(view));
        QApplication::exit(2);
        return;
      }
    } else if (*stage == 2) {
      window.view().frame_all();
      if (view == "shape" && window.editor().net()) {
        window.editor().set_leader({0, 1, 5});
        window.editor().pick({{0, 1, 5}, {0, 0, 5}});
      }
      if (view == "knob") window.editor().pick_named("grips");
      window.view().update();
    } else if (*stage >= 5) {
      if (!window.view().refined()) return;
      const bool written = picture_of(window).save(file, "PNG");
      if (!written) std::fprintf(stderr, "%s cannot be written.\n", qPrintable(file));
      QApplication::exit(written ? 0 : 3);
    }
    ++*stage;
  });
  timer->start(120);
}

}  // namespace

int main(int argc, char** argv) {
  evenclay::keep_freed_memory();
  evenclay::Application application(argc, argv);
  QApplication::setApplicationName("evenclay");
  QApplication::setOrganizationName("evenclay");
  QApplication::setApplicationVersion("0.1.0");
  QTranslator language;
  if (language.load(QLocale(), "evenclay", "_",
                    QApplication::applicationDirPath() + "/../share/evenclay/translations"))
    QApplication::installTranslator(&language);
  const QString theme = QSettings().value("theme").toString();
  evenclay::look::apply_style(application, theme == "night"   ? evenclay::look::Theme::Night
                                           : theme == "light" ? evenclay::look::Theme::Light
                                                              : evenclay::look::desktop_theme());

  QCommandLineParser parser;
  parser.setApplicationDescription("Even Clay: shaping organic product forms.");
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument("project", "projects to open, each in a window of its own",
                               "[project...]");
  const QCommandLineOption demo("demo", "start with the demo project");
  const QCommandLineOption shot("shot", "write a picture of the window and quit", "file");
  const QCommandLineOption view("view", "state of the window for --shot", "name", "main");
  parser.addOptions({demo, shot, view});
  parser.process(application);

  const QString reports =
      QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + "/reports";
  const QString report = evenclay::untold_crash_report(reports);
  evenclay::keep_crash_reports(reports);
  evenclay::look::choose_surface_format(parser.isSet(shot));
  evenclay::MainWindow window;
  if (parser.isSet(demo)) window.model().open_demo();
  const QStringList files = parser.positionalArguments();
  if (!files.isEmpty()) window.open_file(files.first());
  for (const QString& file : files.mid(1))
    QProcess::startDetached(QApplication::applicationFilePath(), {file});
  if (parser.isSet(shot)) {
    window.resize(1280, 800);
    take_shot(window, parser.value(shot), parser.value(view));
  }
  window.show();
  if (!report.isEmpty())
    window.model().say_trouble(
        QObject::tr("An earlier run ended by a fault. What is known of it is in %1; File › Restore "
                    "unsaved work brings back what was not saved.")
            .arg(report));
  return QApplication::exec();
}
