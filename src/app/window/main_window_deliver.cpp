// The actions of the stage Deliver: files out, and shapes kept as they are.
#include <QFileDialog>
#include <QFileInfo>
#include <QPushButton>

#include "app/panels/compare_card.h"
#include "app/panels/material_card.h"
#include "app/panels/picture_card.h"
#include "app/view/turntable.h"
#include "app/window/main_window.h"
#include "core/operations/frozen.h"

namespace evenclay {

void MainWindow::add_deliver_actions() {
  const auto add = [&](const char* id, const QString& label, const QString& help, const char* icon,
                       const QString& group, std::function<void()> run) -> ActionInfo& {
    actions_.push_back(
        {id, label, help, icon, {}, Stage::Deliver, Menu::None, false, std::move(run)});
    actions_.back().group = group;
    return actions_.back();
  };
  const auto has_part = [this] { return model_.chosen_part() != 0; };
  add("export", tr("Export…"),
      tr("The chosen part or all visible ones, as STEP, IGES, 3MF, glTF, OBJ, STL, PLY, points, "
         "DXF or SVG, with an estimate before."),
      "file-output", tr("Files"), [this] { show_export(); });
  const auto exporting = [&](const char* id, const QString& label, const QString& help,
                             const QString& ending, const QString& filter, ShapeKinds kinds) {
    ActionInfo& a = add(id, label, help, "file-output", tr("Files"),
                        [this, ending, filter] { choose_export(ending, filter); });
    a.needs = tr("Choose a part of a kind this file can hold first.");
    a.enabled_when = [this, kinds] {
      return model_.chosen_part() != 0 && (chosen_kind() & kinds) != 0;
    };
  };
  exporting("export_step", tr("Export STEP"), tr("Exact surfaces for engineering."), "step",
            tr("STEP (*.step *.stp)"), kBody | kCurves);
  exporting("export_stl", tr("Export STL"), tr("Triangles for printing."), "stl", tr("STL (*.stl)"),
            kBody | kMesh | kForm);
  exporting("export_obj", tr("Export OBJ"), tr("Triangles with normals for pictures."), "obj",
            tr("OBJ (*.obj)"), kBody | kMesh | kForm);
  exporting("export_dump", tr("Export numbers"),
            tr("Degrees, knots, points and weights as plain JSON."), "surface.json",
            tr("Surface numbers (*.surface.json)"), kBody | kCurves);
  ActionInfo& show =
      add("look_presentation", tr("Presentation"),
          tr("The parts in their materials, in a studio, without grid, net and edges."), "image",
          tr("Pictures"), [this] {
            const bool back = view_->settings().look == ModelLook::Presentation;
            view_->set(&ViewSettings::look, back ? ModelLook::Clay : ModelLook::Presentation);
          });
  show.checkable = true;
  show.checked_when = [this] { return view_->settings().look == ModelLook::Presentation; };
  ActionInfo& turns =
      add("turntable", tr("Turntable"),
          tr("Turns the model slowly, until it is pressed again or the view is turned by "
             "hand."),
          "rotate-3d", tr("Pictures"), [this] { turntable_->turn(!turntable_->turning()); });
  turns.checkable = true;
  turns.checked_when = [this] { return turntable_->turning(); };
  ActionInfo& material = add(
      "material", tr("Material…"),
      tr("What a part is made of: the shelf, roughness, metal, clear coat, translucency, and its "
         "colour."),
      "palette", tr("Pictures"), [this] { show_material(); });
  material.enabled_when = has_part;
  material.needs = tr("Choose a part first.");
  add("pictures", tr("Save picture…"),
      tr("The visible parts in their materials as a picture up to 8192 pixels wide, with or "
         "without "
         "ground; or all saved views on a sheet."),
      "camera", tr("Pictures"), [this] { show_pictures(); });
  ActionInfo& freeze = add(
      "freeze", tr("Freeze"),
      tr("Keeps the shape after the chosen step as it is; the steps up to there are folded, and "
         "count again when Frozen is removed."),
      "snowflake", tr("Keep"), [this] { model_.freeze(model_.chosen_step()); });
  freeze.enabled_when = [this] {
    const Step* step = find_step(model_.document(), model_.chosen_step());
    return step != nullptr && !is_frozen(*step);
  };
  freeze.needs = tr("Choose a part that is not frozen yet first.");
  ActionInfo& thaw =
      add("thaw", tr("Thaw"), tr("Removes Frozen: the steps beneath make the shape again."),
          "flame", tr("Keep"), [this] { model_.thaw(model_.chosen_step()); });
  thaw.enabled_when = [this] {
    const Step* step = find_step(model_.document(), model_.chosen_step());
    return step != nullptr && is_frozen(*step) && !is_only_step(model_.document(), step->id);
  };
  thaw.needs = tr("Choose a step Frozen first.");
  add("save_lean", tr("Save a lean file…"),
      tr("A copy of the project with plain geometry only, without the steps, for those who receive "
         "it. This project stays as it is."),
      "save", tr("Keep"),
      [this] {
        const QString file =
            ask_file_to_write(tr("Save a lean file"), tr("%1 lean").arg(model_.title()), "evenclay",
                              tr("Even Clay projects (*.evenclay)"));
        if (!file.isEmpty() && file == model_.file())
          model_.say_trouble(
              tr("A lean file cannot replace the project itself. Choose another name."));
        else if (!file.isEmpty())
          model_.save_lean(file);
      })
      .enabled_when = has_part;
  add("compare", tr("Compare with…"),
      tr("What differs between an older version of the project and this one: steps, numbers, and "
         "the "
         "deviation of a part."),
      "git-compare", tr("Keep"), [this] { choose_compare(); });
}

void MainWindow::choose_compare() {
  const QString file = QFileDialog::getOpenFileName(this, tr("Compare with"), last_folder(),
                                                    tr("Even Clay projects (*.evenclay)"));
  if (!file.isEmpty()) compare_with(file);
}

void MainWindow::compare_with(const QString& file) {
  model_.read_project(file, [this, name = QFileInfo(file).completeBaseName()](Document&& older) {
    show_compared(older, name);
  });
}

void MainWindow::show_compared(const Document& older, const QString& name) {
  if (compare_) compare_->close();
  compare_ = new CompareCard(model_, older, name, this);
  connect(compare_->findChild<QPushButton*>("compare_deviation"), &QPushButton::clicked, this,
          [this] { view_->set(&ViewSettings::look, ModelLook::Deviation); });
  compare_->show();
}

void MainWindow::show_pictures() {
  show_card(pictures_, model_, *view_);
}

void MainWindow::show_material() {
  const bool there = !material_.isNull();
  show_card(material_, model_);
  // Beside the model, whose faces are clicked.
  if (!there) material_->move(view_->mapToGlobal(QPoint(12, 90)));
  if (!there && view_->settings().look == ModelLook::Clay)
    view_->set(&ViewSettings::look, ModelLook::Presentation);
}

}  // namespace evenclay
