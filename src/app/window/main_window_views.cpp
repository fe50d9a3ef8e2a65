// The actions of looking: views, sections, floor and theme; the tour, and the list of what was done.
#include <QAction>
#include <QDoubleSpinBox>
#include <QMenu>
#include <QSettings>

#include "app/look/preferences.h"
#include "app/look/style.h"
#include "app/panels/checks_card.h"
#include "app/panels/export_card.h"
#include "app/panels/formula_spin.h"
#include "app/panels/history_list.h"
#include "app/panels/numbers_card.h"
#include "app/panels/preferences_card.h"
#include "app/window/main_window.h"
#include "app/window/tour.h"

namespace evenclay {

ActionInfo& MainWindow::add_looking(const char* id, const QString& label, const QString& help,
                                    const char* icon, std::function<void()> run) {
  actions_.push_back({id, label, help, icon, {}, {}, Menu::View, false, std::move(run)});
  return actions_.back();
}

void MainWindow::add_switch(const char* id, const QString& label, const QString& help,
                            const char* icon, bool ViewSettings::*member) {
  ActionInfo& a = add_looking(id, label, help, icon, [this, member] { view_->toggle(member); });
  a.checkable = true;
  a.checked_when = [this, member] { return view_->settings().*member; };
}

void MainWindow::add_looking_actions() {
  add_switch("floor", tr("Floor grid"),
             tr("A quiet grid under the model or on the work plane; its spacing stands beside the "
                "axes."),
             "grid-3x3", &ViewSettings::floor);
  add_switch("refine", tr("Refine at rest"),
             tr("Smooth edges and soft shadows while the hand rests."), "sparkles",
             &ViewSettings::refine);
  add_switch("size_box", tr("Size box"), tr("The box around the chosen part with its lengths."),
             "box", &ViewSettings::size_box);
  ActionInfo& perspective =
      add_looking("perspective", tr("Perspective"),
                  tr("The large view in perspective, or without (lengths then compare)."), "camera",
                  [this] { view_->toggle_perspective(); });
  perspective.checkable = true;
  perspective.checked_when = [this] { return view_->camera(view_->main_name()).perspective; };
  add_looking("face_picked", tr("Face the picked points"),
              tr("Turns the view straight onto the skin at the point picked last."), "focus",
              [this] { view_->face_picked(); })
      .enabled_when = [this] { return !editor_.picked().empty(); };
  add_looking("face_plane", tr("Face the work plane"),
              tr("Turns the view straight onto the work plane."), "square",
              [this] { view_->face(editor_.work_plane().z, view_->middle()); });
  add_looking("keep_view", tr("Keep this view…"),
              tr("Keeps the place you look from under a name in the project."), "bookmark",
              [this] { view_->ask_view_name(); })
      .enabled_when = [this] { return !model_.document().parts.empty(); };
  ActionInfo& alone = add_looking(
      "show_alone", tr("Show alone"),
      tr("Only the picked parts are shown, until it is switched off."), "focus", [this] {
        model_.show_alone(model_.alone().empty() ? model_.picked_parts() : std::vector<PartId>{});
      });
  alone.checkable = true;
  alone.checked_when = [this] { return !model_.alone().empty(); };
  ActionInfo& night =
      add_looking("night", tr("Night theme"),
                  tr("Dark panels and ground; the desktop's setting counts until it "
                     "is chosen here."),
                  "moon", [this] { choose_theme(); });
  night.checkable = true;
  night.checked_when = [] { return look::theme() == look::Theme::Night; };
  actions_.push_back({"tour",
                      tr("Tour"),
                      tr("Five steps on the demo, from the first grid to the pattern."),
                      "info",
                      {},
                      {},
                      Menu::Help,
                      false,
                      [this] { leave([this] { tour_->begin(); }); }});
}

void MainWindow::choose_theme() {
  const bool night = look::theme() != look::Theme::Night;
  look::use_theme(night ? look::Theme::Night : look::Theme::Light);
  QSettings().setValue("theme", night ? "night" : "light");
  refresh_actions();
  Q_EMIT model_.document_changed();  // lists draw their rows in the colours of the theme
}

void MainWindow::show_preferences() {
  if (auto* open = findChild<PreferencesCard*>()) {
    open->raise();
    return;
  }
  auto* card = new PreferencesCard(this);
  connect(card, &PreferencesCard::changed, this, [this] {
    recovery_.write_every(look::preferences().recovery_seconds);
    for (auto* field : findChildren<QDoubleSpinBox*>())
      if (auto* length = dynamic_cast<LengthSpin*>(field)) length->use_shown_unit();
    Q_EMIT model_.document_changed();  // fields, gauges and rows show lengths
    Q_EMIT model_.answered();
    view_->update();
  });
  card->show();
}

void MainWindow::show_history() {
  show_card(history_, model_);
}

void MainWindow::show_checks() {
  show_card(checks_, model_, *view_);
}

void MainWindow::show_export() {
  show_card(export_, model_);
}

void MainWindow::show_numbers() {
  show_card(numbers_, model_);
}

void MainWindow::add_views_menu(QMenu* menu) {
  QMenu* saved = menu->addMenu(look::icon("bookmark"), tr("Saved views"));
  saved->setObjectName("saved_views");
  connect(saved, &QMenu::aboutToShow, this, [this, saved] {
    saved->clear();
    const auto& views = model_.document().views;
    for (const SavedView& v : views)
      saved->addAction(QString::fromStdString(v.name), this, [this, v] { view_->look_from(v); });
    if (views.empty()) {
      saved->addAction(tr("None in this project yet"))->setEnabled(false);
      return;
    }
    QMenu* forget = saved->addMenu(tr("Forget"));
    for (const SavedView& v : views)
      forget->addAction(QString::fromStdString(v.name), this, [this, name = v.name] {
        model_.attempt([&] {
          model_.commit_beside([&](const Document& d) { return without_view(d, name); },
                               tr("Forget view"));
        });
      });
  });
}

}  // namespace evenclay
