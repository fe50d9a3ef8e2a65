#include "app/window/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDialog>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QPushButton>
#include <QSettings>
#include <QShortcut>
#include <QSplitter>
#include <QStandardPaths>
#include <QTextBrowser>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/preferences.h"
#include "app/look/style.h"
#include "app/panels/deviation_card.h"
#include "app/panels/gauges_strip.h"
#include "app/panels/hand_bar.h"
#include "app/panels/history_list.h"
#include "app/panels/keys_editor.h"
#include "app/panels/numbers_card.h"
#include "app/panels/parts_tree.h"
#include "app/panels/section_card.h"
#include "app/panels/settings_panel.h"
#include "app/panels/take_parts_card.h"
#include "app/view/turntable.h"
#include "app/window/find_action.h"
#include "app/window/start_card.h"
#include "app/window/tour.h"
#include "core/exchange/brought_file.h"
#include "core/exchange/export.h"

namespace evenclay {

MainWindow::MainWindow()
    : editor_(model_),
      recovery_(model_, QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation)) {
  setWindowTitle("Even Clay");
  resize(1280, 800);
  make_actions();
  make_layout();
  make_menus();
  start_offer_ = new StartCard(
      actions_, [this](const QString& file) { leave([this, file] { open_file(file); }); }, view_);
  tour_ = new Tour(*this);
  turntable_ = new Turntable(*view_);
  connect(turntable_, &Turntable::changed, this, &MainWindow::refresh_actions);
  new SectionCard(*view_, editor_);
  new DeviationCard(model_, *view_);
  connect(&model_, &AppModel::document_changed, this, &MainWindow::refresh_actions);
  connect(&model_, &AppModel::chosen_changed, this, &MainWindow::refresh_actions);
  connect(&editor_, &PointEditor::form_picked_by_hand, this, &MainWindow::follow_picks);
  connect(&editor_, &PointEditor::changed, this, [this] {
    if (!editor_.dragging()) refresh_actions();
  });
  connect(view_, &ModelView::look_changed, this, &MainWindow::refresh_actions);
  recall();
  recovery_.write_every(look::preferences().recovery_seconds);
  restorable_ = !recovery_.left_behind().isEmpty();
  refresh_actions();
  if (restorable_)
    model_.say(
        tr("An earlier run ended without saving. File › Restore unsaved work brings it back."));
}

// Fields still speak to the model when they lose the focus, so they go while it is there.
MainWindow::~MainWindow() {
  hide();
  delete takeCentralWidget();
}

bool MainWindow::run(const QString& id) {
  for (const ActionInfo& a : actions_)
    if (a.id == id) {
      a.action->trigger();
      return true;
    }
  return false;
}

// --- layout ---------------------------------------------------------------------------------------

void MainWindow::make_layout() {
  auto* central = new QWidget(this);
  auto* column = new QVBoxLayout(central);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  auto* row = new QHBoxLayout;
  row->setSpacing(0);
  rail_ = new StagesRail(actions_, central);
  view_ = new ModelView(model_, editor_, central);
  view_->setObjectName("view");
  right_ = new QSplitter(Qt::Vertical, central);
  parts_ = new PartsTree(model_, right_);
  right_->addWidget(parts_);
  right_->addWidget(new SettingsPanel(model_, right_));
  right_->setSizes({278, 434});
  right_->setChildrenCollapsible(false);
  right_->setMinimumWidth(252);
  centre_ = new QSplitter(Qt::Horizontal, central);
  centre_->addWidget(view_);
  centre_->addWidget(right_);
  centre_->setStretchFactor(0, 1);
  centre_->setSizes({820, 270});
  centre_->setChildrenCollapsible(false);
  row->addWidget(rail_);
  row->addWidget(centre_, 1);
  gauges_ = new GaugesStrip(model_, *view_, central);
  gauges_->setFixedHeight(52);
  column->addLayout(row, 1);
  column->addWidget(gauges_);
  setCentralWidget(central);
  hand_bar_ = new HandBar(editor_, view_);
  view_->set_give_up_first([this] { return hand_bar_->close_card(); });
  connect(rail_, &StagesRail::opened, this, [this] { refresh_hand_bar(); });
  find_ = new FindAction(actions_, this);
  view_->installEventFilter(this);
  hand_bar_->installEventFilter(this);
  refresh_hand_bar();
}

// Points are shaped in these stages; elsewhere the view is free of it.
void MainWindow::refresh_hand_bar() {
  hand_bar_->set_wanted(rail_->stage() == Stage::Shaped || rail_->stage() == Stage::Source);
}

void MainWindow::place_overlays() {
  hand_bar_->place(view_->width() - view_->covered_right() - 16);
  view_->set_covered_below(hand_bar_->isVisibleTo(view_) ? hand_bar_->height() : 0);
  start_offer_->move((view_->width() - start_offer_->width()) / 2,
                     (view_->height() - start_offer_->height()) / 2);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
  QMainWindow::resizeEvent(event);
  place_overlays();
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
  const bool resized = event->type() == QEvent::Resize || event->type() == QEvent::Show;
  const bool laid_out = event->type() == QEvent::LayoutRequest;
  if ((resized && (watched == view_ || watched == hand_bar_)) || (laid_out && watched == hand_bar_))
    place_overlays();
  return QMainWindow::eventFilter(watched, event);
}

void MainWindow::refresh_title() {
  const QString name = model_.title();
  const QString dot = model_.unsaved() ? " •" : "";
  project_name_->setText(name + dot);
  setWindowTitle(name + dot + " – Even Clay");
}

void MainWindow::refresh_actions() {
  for (const ActionInfo& a : actions_) {
    if (a.enabled_when) {
      const bool on = a.enabled_when();
      a.action->setEnabled(on);
      if (!a.needs.isEmpty()) a.action->setToolTip(on ? tip_of(a) : a.help + "  " + a.needs);
    }
    if (a.checked_when) a.action->setChecked(a.checked_when());
  }
  // While a shape is being computed its kind is not known: the rail stays as it is.
  if (const ShapeKinds kind = chosen_kind();
      kind != 0 && (kind & (kind - 1)) == 0 && rail_ != nullptr)
    rail_->set_form_first(kind == kForm);
  const bool empty = model_.document().parts.empty();
  if (empty && !start_offer_->isVisibleTo(view_)) {
    start_offer_->refresh();
    place_overlays();
  }
  start_offer_->setVisible(empty);
  refresh_title();
}

// --- files ------------------------------------------------------------------------------------------

QString MainWindow::last_folder() const {
  return QSettings().value("folder", QDir::homePath()).toString();
}

void MainWindow::note_recent(const QString& file) {
  QSettings settings;
  settings.setValue("folder", QFileInfo(file).absolutePath());
  QStringList recent = settings.value("recent").toStringList();
  recent.removeAll(file);
  recent.prepend(file);
  settings.setValue("recent", QStringList(recent.mid(0, 8)));
}

void MainWindow::leave(const AppModel::Then& next) {
  if (!model_.unsaved()) {
    next();
    return;
  }
  const auto answer = QMessageBox::question(
      this, tr("Save changes?"), tr("The project has changes that are not saved. Save them first?"),
      QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Save);
  if (answer == QMessageBox::Save) choose_save(false, next);
  if (answer == QMessageBox::Discard) next();
}

void MainWindow::open_file(const QString& file) {
  model_.open(file, [this, file] {
    note_recent(QFileInfo(file).absoluteFilePath());
    model_.say(tr("Opened %1.").arg(QFileInfo(file).fileName()));
  });
}

void MainWindow::save_file(const QString& file, const AppModel::Then& next) {
  model_.save(file, [this, file, next] {
    note_recent(QFileInfo(file).absoluteFilePath());
    keep_picture(file, QPixmap::fromImage(view_->picture()));
    model_.say(tr("Saved %1.").arg(QFileInfo(file).fileName()));
    if (next) next();
  });
}

bool MainWindow::export_chosen(const QString& file) {
  const auto answer = model_.answer();
  const Part* part = find_part(model_.document(), model_.chosen_part());
  if (part == nullptr || !answer || !answer->shown || !model_.up_to_date()) {
    model_.say_trouble(tr("The shape is still being computed. Try again in a moment."));
    return false;
  }
  if (exporting_) {
    model_.say_trouble(tr("Another export is still being written. Try again when it is done."));
    return false;
  }
  exporting_ = true;
  const QString name = QString::fromStdString(part->name);
  model_.say(tr("Exporting %1 …").arg(name));
  export_progress_ = model_.background().run_plain(
      tr("Exporting %1").arg(name),
      [name = part->name, file = file.toStdString(), shape = answer->shown](Progress& progress) {
        export_shape(*shape, file, {.name = name}, progress);
      },
      [this, name, file] { finish_export(name, file, {}); },
      [this, name, file](const QString& trouble) { finish_export(name, file, trouble); });
  return true;
}

bool MainWindow::exporting() const {
  return exporting_ && export_progress_ && !export_progress_->cancelled();
}

void MainWindow::finish_export(const QString& name, const QString& file, const QString& trouble) {
  exporting_ = false;
  if (!trouble.isEmpty()) {
    model_.say_trouble(trouble);
    return;
  }
  QSettings().setValue("folder", QFileInfo(file).absolutePath());
  model_.say(tr("Exported %1 as %2.").arg(name, QFileInfo(file).fileName()));
}

void MainWindow::restore_unsaved() {
  const QStringList copies = recovery_.left_behind();
  if (copies.isEmpty()) return;
  leave([this, copy = copies.first()] {
    recovery_.restore(copy);
    restorable_ = false;
    refresh_actions();
  });
}

void MainWindow::choose_open() {
  leave([this] {
    const QString file = QFileDialog::getOpenFileName(
        this, tr("Open project"), last_folder(),
        tr("Even Clay projects (*.evenclay project.json);;All files (*)"));
    if (!file.isEmpty()) open_file(file);
  });
}

void MainWindow::choose_bring_in() {
  QStringList patterns;
  for (const std::string_view e : brought_endings()) {
    const QString ending = QString::fromUtf8(e.data(), static_cast<qsizetype>(e.size()));
    patterns << "*" + ending << "*" + ending.toUpper();
  }
  const QString file = QFileDialog::getOpenFileName(
      this, tr("Bring in"), last_folder(),
      tr("Surfaces, meshes and projects (%1 *.evenclay);;All files (*)").arg(patterns.join(' ')));
  if (!file.isEmpty()) bring_in(file);
}

void MainWindow::offer_parts(const QString& file, const QString& name) {
  model_.read_project(file, [this, name](Document&& other) {
    if (take_parts_ == nullptr) take_parts_ = new TakePartsCard(model_, *view_);
    take_parts_->show_parts(std::move(other), name);
  });
}

QString MainWindow::shelf_file() {
  return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + "/shelf.evenclay";
}

void MainWindow::take_from_shelf() {
  if (QFileInfo::exists(shelf_file()))
    offer_parts(shelf_file(), tr("your shelf"));
  else
    model_.say_trouble(tr("Your shelf is empty. Choose a tile and press Put on my shelf."));
}

void MainWindow::bring_in(const QString& file) {
  QSettings().setValue("folder", QFileInfo(file).absolutePath());
  if (file.endsWith(".evenclay", Qt::CaseInsensitive))
    offer_parts(file, QFileInfo(file).completeBaseName());
  else
    model_.bring_in(file, [this] { view_->frame_all(); });
}

// The dialog itself adds the ending, so that it asks before an existing file is replaced.
QString MainWindow::ask_file_to_write(const QString& title, const QString& name,
                                      const QString& ending, const QString& filter) {
  QFileDialog dialog(this, title, last_folder(), filter);
  dialog.setAcceptMode(QFileDialog::AcceptSave);
  dialog.setFileMode(QFileDialog::AnyFile);
  dialog.setDefaultSuffix(ending);
  dialog.selectFile(name);
  if (dialog.exec() != QDialog::Accepted || dialog.selectedFiles().isEmpty()) return {};
  return dialog.selectedFiles().first();
}

void MainWindow::choose_save(bool always_ask, const AppModel::Then& next) {
  QString file = model_.file();
  if (file.isEmpty() || always_ask)
    file = ask_file_to_write(tr("Save project"), model_.title(), "evenclay",
                             tr("Even Clay projects (*.evenclay)"));
  if (!file.isEmpty()) save_file(file, next);
}

void MainWindow::choose_export(const QString& ending, const QString& filter) {
  const Part* part = find_part(model_.document(), model_.chosen_part());
  if (part == nullptr) return;
  const QString name = QString::fromStdString(part->name);
  const QString file = ask_file_to_write(tr("Export %1").arg(name), name, ending, filter);
  if (!file.isEmpty()) export_chosen(file);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!leaving_) {
    event->ignore();
    leave([this] {
      leaving_ = true;
      QTimer::singleShot(0, this, &QWidget::close);
    });
    return;
  }
  remember();
  recovery_.forget();
  event->accept();
}

void MainWindow::remember() {
  QSettings s;
  s.setValue("window", saveGeometry());
  s.setValue("right", right_->saveState());
  s.setValue("centre", centre_->saveState());
  s.setValue("look", static_cast<int>(view_->settings().look));
  s.setValue("side_views", view_->settings().side_views);
  s.setValue("point_size", view_->settings().point_size);
  s.setValue("refine", view_->settings().refine);
  s.setValue("floor", view_->settings().floor);
  s.setValue("folded", rail_->folded());
}

void MainWindow::recall() {
  const QSettings s;
  if (s.contains("window")) restoreGeometry(s.value("window").toByteArray());
  if (s.contains("right")) right_->restoreState(s.value("right").toByteArray());
  if (s.contains("centre")) centre_->restoreState(s.value("centre").toByteArray());
  const int look = s.value("look", 0).toInt();
  if (is_look(look)) view_->set(&ViewSettings::look, static_cast<ModelLook>(look));
  view_->set(&ViewSettings::side_views, s.value("side_views", true).toBool());
  view_->set(&ViewSettings::point_size, s.value("point_size", 1.0).toDouble());
  view_->set(&ViewSettings::refine, s.value("refine", true).toBool());
  view_->set(&ViewSettings::floor, s.value("floor", true).toBool());
  rail_->set_folded(s.value("folded").toStringList());
}

// The key that opens the sheet closes it, and so does Esc, wherever the focus is.
void MainWindow::show_keys() {
  if (keys_) {
    keys_->close();
    return;
  }
  auto* dialog = new QDialog(this);
  keys_ = dialog;
  dialog->setObjectName("keys");
  auto* esc = new QShortcut(Qt::Key_Escape, dialog);
  esc->setContext(Qt::ApplicationShortcut);
  connect(esc, &QShortcut::activated, dialog, &QDialog::close);
  auto* again = new QShortcut(Qt::Key_F1, dialog);
  connect(again, &QShortcut::activated, dialog, &QDialog::close);
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  dialog->setWindowTitle(tr("Keys"));
  dialog->resize(560, 560);
  auto* column = new QVBoxLayout(dialog);
  auto* text = new QTextBrowser(dialog);
  QString html = "<table cellpadding=4>";
  const auto row = [&](const QString& key, const QString& what) {
    html += QString("<tr><td><b>%1</b></td><td>%2</td></tr>")
                .arg(key.toHtmlEscaped(), what.toHtmlEscaped());
  };
  row(tr("Middle drag"), tr("orbit; with Shift pan; wheel zooms at the cursor"));
  row(tr("Space + left drag"), tr("orbit without a middle button; Space + right drag pans"));
  row(tr("Click, Shift, Ctrl"), tr("pick, add, remove control points; both: all between"));
  row(tr("H (hold)"), tr("the shape before the chosen step as a veil"));
  row(tr("Drag from empty space"), tr("box through the whole depth; with Alt a lasso"));
  row(tr("Drag a picked point"), tr("moves the selection; Shift gives a tenth, Esc cancels"));
  row(tr("A number, Enter"), tr("moves the selection by exactly that many mm"));
  row(tr("Double click a side view"), tr("swaps it with the main view"));
  row(tr("Enter, Esc"), tr("keep or drop the step being tried"));
  row("Alt+1 … Alt+7", tr("stages"));
  for (const ActionInfo& a : actions_)
    if (!a.key.isEmpty()) row(a.key.toString(QKeySequence::NativeText), a.label + " – " + a.help);
  text->setHtml(html + "</table>");
  column->addWidget(text);
  auto* change = new QPushButton(tr("Change keys…"), dialog);
  change->setObjectName("change_keys");
  change->setAutoDefault(false);
  column->addWidget(change);
  connect(change, &QPushButton::clicked, dialog, [this, dialog] {
    dialog->close();
    show_keys_editor();
  });
  dialog->show();
}

void MainWindow::show_keys_editor() {
  auto* editor = new KeysEditor(
      actions_, [this](const QString& id, const QKeySequence& key) { change_key(id, key); }, this);
  editor->show();
}

}  // namespace evenclay
