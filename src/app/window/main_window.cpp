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
#include <QSplitter>
#include <QStandardPaths>
#include <QTextBrowser>
#include <QThreadPool>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/style.h"
#include "app/panels/direction_bar.h"
#include "app/panels/gauges_strip.h"
#include "app/panels/parts_panel.h"
#include "app/panels/settings_panel.h"
#include "app/panels/steps_panel.h"
#include "app/window/find_action.h"
#include "core/document/evaluator.h"
#include "core/exchange/export.h"
#include "core/operations/catalogue.h"
#include "core/operations/directions.h"
#include "core/operations/extend.h"
#include "core/operations/flow_pattern.h"
#include "core/operations/lighten.h"
#include "core/operations/rebuild.h"
#include "core/operations/rebuild_curve.h"
#include "core/operations/set_degree.h"

namespace evenclay {

MainWindow::MainWindow()
    : editor_(model_),
      recovery_(model_, QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation)) {
  setWindowTitle("Even Clay");
  resize(1280, 800);
  make_actions();
  make_layout();
  make_menus();
  make_start_offer();
  connect(&model_, &AppModel::document_changed, this, &MainWindow::refresh_actions);
  connect(&model_, &AppModel::chosen_changed, this, &MainWindow::refresh_actions);
  connect(&editor_, &PointEditor::changed, this, [this] {
    if (!editor_.dragging()) refresh_actions();
  });
  connect(view_, &ModelView::look_changed, this, &MainWindow::refresh_actions);
  recall();
  restorable_ = !recovery_.left_behind().isEmpty();
  refresh_actions();
  if (restorable_)
    model_.say(
        tr("An earlier run ended without saving. File › Restore unsaved work brings it back."));
}

MainWindow::~MainWindow() {
  // An export that is being written holds a pointer to this window.
  if (export_progress_) export_progress_->cancel();
  QThreadPool::globalInstance()->waitForDone();
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
  right_->addWidget(new PartsPanel(model_, right_));
  right_->addWidget(new StepsPanel(model_, right_));
  right_->addWidget(new SettingsPanel(model_, right_));
  right_->setSizes({146, 176, 388});
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
  direction_bar_ = new DirectionBar(editor_, view_);
  find_ = new FindAction(actions_, this);
  view_->installEventFilter(this);
  direction_bar_->installEventFilter(this);
}

void MainWindow::make_start_offer() {
  start_offer_ = new QFrame(view_);
  start_offer_->setProperty("hint", true);
  start_offer_->setObjectName("start_offer");
  auto* column = new QVBoxLayout(start_offer_);
  column->setContentsMargins(26, 22, 26, 22);
  column->setSpacing(9);
  auto* title = new QLabel(tr("Start with a form"), start_offer_);
  title->setProperty("heading", true);
  auto* text = new QLabel(
      tr("Give it an even grid, pull its points, flow a pattern onto it.\nEvery step stays "
         "editable."),
      start_offer_);
  text->setProperty("quiet", true);
  column->addWidget(title);
  column->addWidget(text);
  for (const char* id : {"open_demo", "source_sphere", "source_plane", "open"})
    for (const ActionInfo& a : actions_)
      if (a.id == id) {
        const bool primary = a.id == "open_demo";
        auto* b = new QPushButton(primary ? look::light_icon(a.icon) : look::icon(a.icon),
                                  "  " + a.label, start_offer_);
        b->setProperty("primary", primary);
        connect(b, &QPushButton::clicked, a.action, &QAction::trigger);
        column->addWidget(b);
      }
  start_offer_->adjustSize();
}

void MainWindow::place_overlays() {
  direction_bar_->adjustSize();
  view_->set_covered_below(direction_bar_->height());
  direction_bar_->move(8, view_->height() - direction_bar_->height() - 8);
  start_offer_->move((view_->width() - start_offer_->width()) / 2,
                     (view_->height() - start_offer_->height()) / 2);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
  QMainWindow::resizeEvent(event);
  place_overlays();
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
  const bool resized = event->type() == QEvent::Resize || event->type() == QEvent::Show;
  if (resized && (watched == view_ || watched == direction_bar_)) place_overlays();
  return QMainWindow::eventFilter(watched, event);
}

void MainWindow::refresh_title() {
  const QString name =
      model_.file().isEmpty() ? tr("untitled") : QFileInfo(model_.file()).completeBaseName();
  const QString dot = model_.session().unsaved() ? " •" : "";
  project_name_->setText(name + dot);
  setWindowTitle(name + dot + " – Even Clay");
}

void MainWindow::refresh_actions() {
  const bool part = model_.chosen_part() != 0;
  const bool net = editor_.net().has_value();
  const bool picked = !editor_.picked().empty();
  const auto enable = [&](const char* id, bool on) {
    for (const ActionInfo& a : actions_)
      if (a.id == id) a.action->setEnabled(on);
  };
  const auto check = [&](const char* id, bool on) {
    for (const ActionInfo& a : actions_)
      if (a.id == id) a.action->setChecked(on);
  };
  enable("undo", model_.session().can_undo() || model_.trial());
  enable("redo", model_.session().can_redo() && !model_.trial());
  for (const char* id :
       {"lighten", "set_degree", "even_out", "add_grid_line", "remove_grid_line", "extend",
        "split_surface", "open_close", "directions", "flow_pattern", "export_stl", "export_obj"})
    enable(id, part && !chosen_is_curve());
  for (const char* id : {"rebuild", "export_step", "export_dump", "remove_part"}) enable(id, part);
  for (const char* id : {"select_all", "select_none", "invert"}) enable(id, net);
  for (const char* id : {"row_u", "row_v", "frame_picked", "reset_weight"}) enable(id, picked);
  for (const char* id :
       {"every_nth", "partners", "grow", "shrink", "checker", "set_x", "set_y", "set_z",
        "level_mean", "level_work_plane", "straighten_view", "straighten_row", "smooth", "relax",
        "plane_from_picked", "ring", "level_three", "name_selection"})
    enable(id, picked);
  for (const char* id : {"make_symmetric", "on_skin", "net_u", "net_v", "work_plane",
                         "plane_from_view", "symmetry", "x", "y", "z", "off_skin", "in_view"})
    enable(id, net);
  enable("restore", restorable_);
  check("net", editor_.net_visible());
  check("look_clay", view_->look() == ModelLook::Clay);
  check("look_lines", view_->look() == ModelLook::Lines);
  check("look_see_through", view_->look() == ModelLook::SeeThrough);
  check("look_zebra", view_->look() == ModelLook::Zebra);
  check("look_deviation", view_->look() == ModelLook::Deviation);
  check("look_curvature", view_->look() == ModelLook::Curvature);
  check("look_reflection", view_->look() == ModelLook::Reflection);
  check("combs", view_->combs());
  check("upright_stripes", view_->upright_stripes());
  check("before_overlay", view_->before_overlay());
  check("leg_colours", view_->leg_colours());
  check("side_views", view_->side_views());
  check("x", editor_.direction() == MoveDirection::X);
  check("y", editor_.direction() == MoveDirection::Y);
  check("z", editor_.direction() == MoveDirection::Z);
  check("off_skin", editor_.direction() == MoveDirection::OffSkin);
  check("in_view", editor_.direction() == MoveDirection::InView);
  check("on_skin", editor_.direction() == MoveDirection::OnSkin);
  check("net_u", editor_.direction() == MoveDirection::AlongU);
  check("net_v", editor_.direction() == MoveDirection::AlongV);
  check("work_plane", editor_.direction() == MoveDirection::WorkPlane);
  check("visible_only", editor_.visible_only());
  check("snap", editor_.snap().on);
  check("point_numbers", view_->point_numbers());
  check("section_combs", view_->section_combs());
  check("single_band", view_->single_band());
  check("symmetry", editor_.symmetry() != SymmetryPlane::None);
  start_offer_->setVisible(model_.document().parts.empty());
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

bool MainWindow::may_discard() {
  if (!model_.session().unsaved()) return true;
  const auto answer = QMessageBox::question(
      this, tr("Save changes?"), tr("The project has changes that are not saved. Save them first?"),
      QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Save);
  if (answer == QMessageBox::Save) return choose_save(false);
  return answer == QMessageBox::Discard;
}

bool MainWindow::open_file(const QString& file) {
  const bool opened = model_.attempt([&] { model_.open(file); });
  if (!opened) return false;
  note_recent(QFileInfo(file).absoluteFilePath());
  model_.say(tr("Opened %1.").arg(QFileInfo(file).fileName()));
  return true;
}

bool MainWindow::save_file(const QString& file) {
  const bool saved = model_.attempt([&] { model_.save(file); });
  if (!saved) return false;
  note_recent(QFileInfo(file).absoluteFilePath());
  model_.say(tr("Saved %1.").arg(QFileInfo(file).fileName()));
  return true;
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
  export_progress_ = std::make_shared<Progress>();
  const QString name = QString::fromStdString(part->name);
  model_.say(tr("Exporting %1 …").arg(name));
  QThreadPool::globalInstance()->start(
      [this, name, file, shape = answer->shown, progress = export_progress_] {
        QString trouble;
        try {
          export_shape(*shape, file.toStdString(), {.name = name.toStdString()}, *progress);
        } catch (const std::exception& e) {
          trouble = QString::fromUtf8(e.what());
        }
        QMetaObject::invokeMethod(
            this, [this, name, file, trouble] { finish_export(name, file, trouble); },
            Qt::QueuedConnection);
      });
  return true;
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
  if (copies.isEmpty() || !may_discard()) return;
  if (model_.attempt([&] { recovery_.restore(copies.first()); }))
    model_.say(tr("Restored the unsaved work of an earlier run. Save it to keep it."));
  restorable_ = !recovery_.left_behind().isEmpty();
  refresh_actions();
}

void MainWindow::choose_open() {
  if (!may_discard()) return;
  const QString file = QFileDialog::getOpenFileName(
      this, tr("Open project"), last_folder(),
      tr("Even Clay projects (*.evenclay project.json);;All files (*)"));
  if (!file.isEmpty()) open_file(file);
}

bool MainWindow::choose_save(bool always_ask) {
  QString file = model_.file();
  if (file.isEmpty() || always_ask) {
    file =
        QFileDialog::getSaveFileName(this, tr("Save project"), last_folder() + "/untitled.evenclay",
                                     tr("Even Clay projects (*.evenclay)"));
    if (file.isEmpty()) return false;
    if (QFileInfo(file).suffix().isEmpty()) file += ".evenclay";
  }
  return save_file(file);
}

void MainWindow::choose_export(const QString& ending, const QString& filter) {
  const Part* part = find_part(model_.document(), model_.chosen_part());
  if (part == nullptr) return;
  QString file = QFileDialog::getSaveFileName(
      this, tr("Export %1").arg(QString::fromStdString(part->name)),
      last_folder() + "/" + QString::fromStdString(part->name) + ending, filter);
  if (file.isEmpty()) return;
  if (!file.endsWith(ending, Qt::CaseInsensitive)) file += ending;
  export_chosen(file);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!may_discard()) {
    event->ignore();
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
  s.setValue("look", static_cast<int>(view_->look()));
  s.setValue("side_views", view_->side_views());
  s.setValue("point_size", view_->point_size());
}

void MainWindow::recall() {
  const QSettings s;
  if (s.contains("window")) restoreGeometry(s.value("window").toByteArray());
  if (s.contains("right")) right_->restoreState(s.value("right").toByteArray());
  if (s.contains("centre")) centre_->restoreState(s.value("centre").toByteArray());
  const int look = s.value("look", 0).toInt();
  if (look >= 0 && look <= 6) view_->set_look(static_cast<ModelLook>(look));
  view_->set_side_views(s.value("side_views", true).toBool());
  view_->set_point_size(s.value("point_size", 1.0).toDouble());
}

void MainWindow::add_part(const QString& kind) {
  if (model_.trial()) model_.keep_trial();
  const auto operation = make_operation(kind.toStdString());
  const QString label = QString::fromUtf8(operation->label().data());
  model_.begin_trial(with_part(model_.document(), operation->label(), operation),
                     tr("Add %1").arg(label.toLower()));
  if (kind == "control_curve")
    model_.say(tr("Click the control points in the view; Backspace takes one back, Enter keeps."));
  view_->setFocus();
}

bool MainWindow::chosen_is_curve() const {
  return editor_.net() && editor_.net()->shown.nets.front().curve() != nullptr;
}

void MainWindow::add_step(const QString& kind) {
  if (model_.trial()) model_.keep_trial();
  const auto operation = make_operation(kind.toStdString());
  prepare_step(*operation);
  const QString label = QString::fromUtf8(operation->label().data());
  const std::vector<PartId> parts = model_.picked_parts();
  const bool several = parts.size() > 1 && (kind == "rebuild" || kind == "lighten");
  model_.attempt([&] {
    if (several)
      model_.begin_batch_trial(with_step_on(model_.document(), parts, operation), label);
    else
      model_.begin_trial(with_step(model_.document(), model_.chosen_part(), operation), label);
  });
  if (several)
    model_.say(
        tr("%1 on %2 parts; their common borders stay common.").arg(label).arg(parts.size()));
  else if (kind == "add_grid_line" || kind == "remove_grid_line" || kind == "split_surface")
    model_.say(tr("Click a place on the surface, or drag over it; Enter keeps."));
  view_->setFocus();
}

// A tool starts from what is there.
void MainWindow::prepare_step(Operation& operation) const {
  if (!editor_.net()) return;
  const Net& net = editor_.net()->shown.nets.front();
  if (auto* curve = dynamic_cast<RebuildCurveOperation*>(&operation))
    curve->points = std::clamp(net.count(0), 8, 60);
  if (net.surface() == nullptr) return;
  const Surface& s = *net.surface();
  if (auto* rebuild = dynamic_cast<RebuildOperation*>(&operation)) {
    rebuild->points_u = std::clamp(s.points.rows(), 8, 40);
    rebuild->points_v = std::clamp(s.points.columns(), 8, 40);
  } else if (auto* degree = dynamic_cast<SetDegreeOperation*>(&operation)) {
    degree->degree_u = s.u.degree;
    degree->degree_v = s.v.degree;
  } else if (auto* lighten = dynamic_cast<LightenOperation*>(&operation)) {
    lighten->degree_u = std::max(s.u.degree, 3);
    lighten->degree_v = std::max(s.v.degree, 3);
  } else if (auto* open = dynamic_cast<OpenCloseOperation*>(&operation)) {
    open->closed = !s.u.periodic && !s.v.periodic;
    open->along = s.u.periodic || !s.v.periodic ? AlongDirection::U : AlongDirection::V;
  } else if (auto* extend = dynamic_cast<ExtendOperation*>(&operation)) {
    extend->all = std::clamp(std::round(0.05 * evenclay::size(s)), 1.0, 20.0);
  } else if (auto* split = dynamic_cast<SplitSurfaceOperation*>(&operation)) {
    split->along = s.u.periodic ? AlongDirection::V : AlongDirection::U;
  }
}

// A new part with the chosen part as the target and the flattest other part as the tile.
void MainWindow::add_flow() {
  if (model_.trial()) model_.keep_trial();
  const PartId target = model_.chosen_part();
  auto flow = std::make_shared<FlowPatternOperation>();
  flow->target = target;
  double flattest = std::numeric_limits<double>::infinity();
  for (const auto& [id, drawn] : model_.drawn()) {
    if (id == target || !drawn.mesh || drawn.mesh->box.empty()) continue;
    const Vec3 extent = drawn.mesh->box.max - drawn.mesh->box.min;
    const double slope = extent.z / std::max(1e-9, std::min(extent.x, extent.y));
    if (slope < flattest) {
      flattest = slope;
      flow->tile = id;
    }
  }
  model_.begin_trial(with_part(model_.document(), "Pattern", flow), tr("Flow pattern"));
  view_->setFocus();
}

void MainWindow::show_keys() {
  auto* dialog = new QDialog(this);
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
  dialog->show();
}

}  // namespace evenclay
