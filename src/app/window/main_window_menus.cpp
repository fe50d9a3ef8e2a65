// Menus and the corner of the menu bar.
// The table of actions of MainWindow, and the menus made from it.
#include <QAction>
#include <QApplication>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QMessageBox>
#include <QPushButton>
#include <QSettings>

#include "app/look/style.h"
#include "app/window/find_action.h"
#include "app/window/main_window.h"
#include "app/window/own_keys.h"

namespace evenclay {

void MainWindow::make_menus() {
  // Letters act while the view has the keyboard.
  for (const ActionInfo& a : actions_)
    if (a.action->shortcutContext() == Qt::WidgetShortcut) view_->addAction(a.action);
  const std::pair<Menu, QString> menus[] = {{Menu::File, tr("&File")},
                                            {Menu::Edit, tr("&Edit")},
                                            {Menu::Select, tr("&Select")},
                                            {Menu::View, tr("&View")},
                                            {Menu::Help, tr("&Help")}};
  for (const auto& [menu, title] : menus) {
    QMenu* m = menuBar()->addMenu(title);
    for (const ActionInfo& a : actions_) {
      const bool look = menu == Menu::View && a.stage == Stage::Check;
      const bool rows = menu == Menu::Select && (a.id == "row_u" || a.id == "row_v");
      if (a.menu == menu || look || rows) m->addAction(a.action);
      if (a.id == "keep_view" && menu == Menu::View) add_views_menu(m);
      if (a.id == "name_selection" && menu == Menu::Select) add_named_menu(m);
      if (a.id == "open" && menu == Menu::File) {
        recent_ = m->addMenu(tr("Open recent"));
        connect(recent_, &QMenu::aboutToShow, this, [this] {
          recent_->clear();
          for (const QString& file : QSettings().value("recent").toStringList())
            recent_->addAction(QFileInfo(file).fileName(), this,
                               [this, file] { leave([this, file] { open_file(file); }); });
          if (recent_->isEmpty()) recent_->addAction(tr("No project yet"))->setEnabled(false);
        });
      }
    }
  }
  make_corner();
}

void MainWindow::add_named_menu(QMenu* menu) {
  QMenu* named = menu->addMenu(tr("Named selections"));
  connect(named, &QMenu::aboutToShow, this, [this, named] {
    named->clear();
    const QStringList names = editor_.names();
    for (const QString& name : names)
      named->addAction(name, this, [this, name] { editor_.pick_named(name); });
    if (names.isEmpty()) {
      named->addAction(tr("None in this part yet"))->setEnabled(false);
      return;
    }
    QMenu* forget = named->addMenu(tr("Forget"));
    for (const QString& name : names)
      forget->addAction(name, this, [this, name] { editor_.forget_named(name); });
  });
}

void MainWindow::make_corner() {
  auto* corner = new QWidget(this);
  auto* row = new QHBoxLayout(corner);
  row->setContentsMargins(0, 2, 8, 2);
  project_name_ = new QLabel(corner);
  project_name_->setObjectName("project_name");
  project_name_->setProperty("quiet", true);
  project_name_->setFixedWidth(220);
  project_name_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  auto* search = new QPushButton(look::icon("search"), tr("Find an action   Ctrl+K"), corner);
  search->setObjectName("search");
  search->setMinimumWidth(172);
  connect(search, &QPushButton::clicked, this, [this] { find_->open(); });
  row->addWidget(project_name_);
  row->addSpacing(18);
  row->addWidget(search);
  menuBar()->setCornerWidget(corner);
}

}  // namespace evenclay
