// What one expects of a finished program: keys of one's own, reports of faults.
#include <QDir>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QLineEdit>
#include <QProcess>
#include <QPushButton>
#include <QSettings>
#include <QTreeWidget>
#include <csignal>

#include "app/panels/keys_editor.h"
#include "app/window/crash_report.h"
#include "window_fixture.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

const ActionInfo& action(Window& w, const char* id) {
  for (const ActionInfo& a : w.window.actions())
    if (a.id == id) return a;
  FAIL(id);
  return w.window.actions().front();
}

}  // namespace

TEST_CASE("a key is changed in the list, acts at once and in the next window, and is given back") {
  QSettings().remove("keys");
  Window w;
  w.window.run("keys");
  QTest::mouseClick(child_of<QPushButton>(w.window, "change_keys"), Qt::LeftButton);
  auto* editor = child_of<KeysEditor>(w.window, "keys_editor");
  REQUIRE(editor->isVisible());
  QTest::keyClicks(child_of<QLineEdit>(*editor, "keys_words"), "Zebra");
  auto* list = child_of<QTreeWidget>(*editor, "keys_list");
  REQUIRE(list->topLevelItemCount() == 1);
  CHECK(list->topLevelItem(0)->text(1) == "J");
  auto* field = child_of<QKeySequenceEdit>(*editor, "keys_key");
  const auto take = [&] {
    QTest::mouseClick(child_of<QPushButton>(*editor, "keys_take"), Qt::LeftButton);
  };
  // Ctrl+S saves already.
  field->setKeySequence(QKeySequence("Ctrl+S"));
  take();
  CHECK(child_of<QLabel>(*editor, "keys_says")->text().contains("has the key"));
  CHECK(action(w, "look_zebra").key == QKeySequence("J"));
  field->setKeySequence(QKeySequence("F8"));
  take();
  CHECK(action(w, "look_zebra").action->shortcut() == QKeySequence("F8"));
  editor->close();
  w.window.view().setFocus();
  QTest::keyClick(&w.window, Qt::Key_F8);
  CHECK(w.window.view().settings().look == ModelLook::Zebra);
  w.key(Qt::Key_J);  // free now
  CHECK(w.window.view().settings().look == ModelLook::Zebra);
  {
    Window next(false);
    CHECK(action(next, "look_zebra").key == QKeySequence("F8"));
    CHECK(action(next, "look_zebra").delivered_key == QKeySequence("J"));
    next.window.change_key("look_zebra", QKeySequence("J"));
  }
  CHECK_FALSE(QSettings().contains("keys/look_zebra"));
}

TEST_CASE("a fault leaves a report of its own, and the next start tells of it once") {
  const QTemporaryDir home;
  QProcess program;
  QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
  environment.insert("HOME", home.path());
  environment.insert("XDG_DATA_HOME", home.path());
  environment.insert("XDG_CONFIG_HOME", home.path());
  program.setProcessEnvironment(environment);
  program.start(EVENCLAY_APP, QStringList{});
  REQUIRE(program.waitForStarted());
  // It has begun when its recovery holds a lock.
  const auto reports = [&] { return QDir(home.path() + "/evenclay/evenclay/reports"); };
  REQUIRE(QTest::qWaitFor([&] { return reports().exists(); }, 20000));
  QTest::qWait(300);
  REQUIRE(::kill(static_cast<pid_t>(program.processId()), SIGSEGV) == 0);
  REQUIRE(program.waitForFinished(20000));
  CHECK(program.exitStatus() == QProcess::CrashExit);
  const QStringList found = reports().entryList({"crash-*.txt"}, QDir::Files);
  REQUIRE(found.size() == 1);
  QFile file(reports().filePath(found.first()));
  REQUIRE(file.open(QIODevice::ReadOnly));
  const QString text = QString::fromUtf8(file.readAll());
  CHECK(text.contains("Even Clay 0.1.0"));
  CHECK(text.contains("signal 11"));
  const QString told = untold_crash_report(reports().path());
  CHECK(QFile::exists(told));
  CHECK(untold_crash_report(reports().path()).isEmpty());
}
