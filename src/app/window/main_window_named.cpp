// The named states of the window, for pictures.
#include <QApplication>
#include <QComboBox>
#include <QHelpEvent>
#include <QLineEdit>
#include <map>

#include <QToolButton>
#include "app/window/find_action.h"

#include "app/look/style.h"
#include "app/panels/hand_bar.h"
#include "app/panels/material_card.h"
#include "app/window/find_action.h"
#include "app/window/main_window.h"
#include "app/window/tour.h"
#include "core/operations/body_picks.h"
#include "core/operations/shaped_points.h"

namespace evenclay {

namespace {

const std::map<QString, ModelLook>& looks_by_name() {
  static const std::map<QString, ModelLook> looks{{"isophotes", ModelLook::Isophotes},
                                                  {"surroundings", ModelLook::Surroundings},
                                                  {"draft", ModelLook::Draft},
                                                  {"thickness", ModelLook::Thickness},
                                                  {"overhang", ModelLook::Overhang},
                                                  {"gaussian", ModelLook::Gaussian},
                                                  {"mean-curvature", ModelLook::MeanCurvature}};
  return looks;
}

}  // namespace

// The scan with the surface fitted to it; or with the region that was clipped.
void MainWindow::show_grip(bool fitted) {
  model_.commit_beside(
      [](const Document& d) {
        return with_layer(d, {"Scan", true, false});
      },
      tr("Show layer"));
  const Part* grip = find_part(model_.document(), std::string_view("Grip"));
  const Part* scan = find_part(model_.document(), std::string_view("Grip clay scan"));
  if (grip == nullptr || scan == nullptr) return;
  const PartId part = grip->id, whole = scan->id;
  const StepId step = grip->steps[fitted ? 1 : 0].id;
  model_.show_alone(fitted ? std::vector<PartId>{part} : std::vector<PartId>{part, whole});
  if (!fitted)
    model_.commit_beside(
        [=](const Document& d) {
          return with_look(d, whole, {0xA9A29A, true});
        },
        tr("Show part"));
  model_.choose_part(part);
  model_.choose_step(step);
  editor_.set_net_visible(fitted);
  view_->set(&ViewSettings::look, fitted ? ModelLook::Deviation : ModelLook::Clay);
  view_->set(&ViewSettings::deviation_card, fitted);
  view_->frame_all();
}

// The foot from below, its sole clicked in the card of materials.
void MainWindow::show_face_looks() {
  const Part* foot = find_part(model_.document(), std::string_view("Foot"));
  if (foot == nullptr) return;
  const PartId part = foot->id;
  model_.show_alone({part});
  model_.choose_part(part);
  editor_.set_net_visible(false);
  view_->set(&ViewSettings::look, ModelLook::Presentation);
  show_material();
  material_->findChild<QComboBox*>("material_of")->setCurrentIndex(3);
  view_->camera(ViewName::Main) = {
      .target = {0, 0, -36}, .yaw = -60.0, .pitch = -30.0, .height = 60.0};
  auto* once = new QObject(this);
  connect(&model_, &AppModel::answered, once, [this, once, part] {
    const auto drawn = model_.drawn().find(part);
    if (drawn == model_.drawn().end() || !model_.up_to_date()) return;
    const auto* body = std::get_if<Body>(drawn->second.shape.get());
    if (body == nullptr || !model_.face_marks().picks.empty()) return;
    once->deleteLater();
    const auto sole = find_face(*body, {PickKind::Face, 0, {0, 0, -39}});
    if (sole) model_.mark_faces({true, part, {pick_of_body_face(*body, sole->index)}});
  });
}

// The foot on its bed, in the colours of its overhangs or as layers.
void MainWindow::show_print(bool layers) {
  const Part* print = find_part(model_.document(), std::string_view("Foot print"));
  if (print == nullptr) return;
  const PartId part = print->id;
  const StepId step = print->steps.front().id;
  model_.commit_beside(
      [=](const Document& d) {
        return with_look(d, part, {0xA9A29A, true});
      },
      tr("Show part"));
  model_.show_alone({part});
  model_.choose_part(part);
  if (layers)
    model_.change_parameter(step, "show", "layers", tr("Show layers"), {});
  else
    view_->set(&ViewSettings::look, ModelLook::Overhang);
  view_->frame_all();
}

bool MainWindow::show_named(const QString& name) {
  static const std::map<QString, int> stage_of{{"main", 2},           {"source", 0},
                                               {"grid", 1},           {"shape", 2},
                                               {"pattern", 3},        {"stretch", 3},
                                               {"tile", 3},           {"zebra", 5},
                                               {"lines", 5},          {"see-through", 5},
                                               {"find", 2},           {"start", 0},
                                               {"deliver", 6},        {"keys", 2},
                                               {"deviation", 5},      {"curvature", 5},
                                               {"reflection", 5},     {"combs", 5},
                                               {"before", 5},         {"evenness", 5},
                                               {"knob", 2},           {"numbers", 2},
                                               {"section", 5},        {"grid-line", 1},
                                               {"scan", 0},           {"scan-clip", 0},
                                               {"checks", 5},         {"isophotes", 5},
                                               {"surroundings", 5},   {"draft", 5},
                                               {"thickness", 5},      {"gaussian", 5},
                                               {"mean-curvature", 5}, {"cut", 4},
                                               {"round", 4},          {"blend", 4},
                                               {"night", 3},          {"section-view", 5},
                                               {"tour", 2},           {"size", 2},
                                               {"card", 2},           {"history", 2},
                                               {"numbers-card", 0},   {"extrude", 0},
                                               {"hover", 2},          {"border-surface", 0},
                                               {"curve", 0},          {"sketch", 0},
                                               {"profile", 0},        {"fill", 0},
                                               {"cage", 2},           {"subdivision", 2},
                                               {"material", 6},       {"pictures", 6},
                                               {"compare", 6},        {"change-keys", 6},
                                               {"preferences", 2},    {"guides", 2},
                                               {"face-looks", 6},     {"loop-handle", 2},
                                               {"form-stretch", 5},   {"print", 6},
                                               {"layers", 6},         {"frozen", 6},
                                               {"overhang", 5}};
  const auto found = stage_of.find(name);
  if (found == stage_of.end()) return false;
  rail_->open(static_cast<Stage>(found->second));
  const auto choose = [&](const char* part, std::size_t step) {
    if (const Part* p = find_part(model_.document(), std::string_view(part))) {
      model_.choose_part(p->id);
      model_.choose_step(p->steps[std::min(step, p->steps.size() - 1)].id);
    }
  };
  const auto hide = [&](const char* part) {
    if (const Part* p = find_part(model_.document(), std::string_view(part)))
      model_.commit(with_look(model_.document(), p->id, {p->look.colour, false}), tr("Hide part"));
  };
  if (name == "start") model_.new_project();
  if (name == "grid") {
    hide("Grille");
    choose("Shell", 1);
  }
  if (name == "deviation") {
    hide("Grille");
    choose("Shell", 1);
    editor_.set_net_visible(false);
    view_->set(&ViewSettings::look, ModelLook::Deviation);
  }
  if (name == "deliver" || name == "material" || name == "pictures") {
    hide("Dimple tile");
    editor_.set_net_visible(false);
    view_->set(&ViewSettings::look, ModelLook::Presentation);
    if (name == "material") show_material();
    if (name == "pictures") show_pictures();
  }
  if (name == "compare") {
    // With itself as it was before the waist was squeezed more.
    show_compared(model_.document(), tr("Skerry before"));
    model_.attempt(
        [&] { model_.commit(with_number(model_.document(), "waist", "9"), tr("Change number")); });
  }
  if (name == "change-keys") show_keys_editor();
  if (name == "preferences") show_preferences();
  if (name == "guides") {
    if (const Part* p = find_part(model_.document(), std::string_view("Case lid"))) {
      model_.commit(with_layer(model_.document(), {"Case", true, false}), tr("Show layer"));
      model_.show_alone({p->id});
    }
    choose("Case lid", 1);
  }
  if (name == "face-looks") show_face_looks();
  if (name == "loop-handle" || name == "form-stretch") {
    if (const Part* p = find_part(model_.document(), std::string_view("Carry loop")))
      model_.show_alone({p->id});
    choose("Carry loop", name == "loop-handle" ? 1 : 99);
    Camera& camera = view_->camera(ViewName::Main);
    camera = {.target = {-74, 0, 12}, .yaw = -120.0, .pitch = 25.0, .height = 80.0};
    if (name == "form-stretch") view_->set(&ViewSettings::look, ModelLook::Stretch);
  }
  if (name == "print" || name == "layers") show_print(name == "layers");
  if (name == "frozen") {
    choose("Shell", 3);
    model_.freeze(model_.chosen_step());
  }
  if (name == "scan" || name == "scan-clip") show_grip(name == "scan");
  if (const auto look = looks_by_name().find(name); look != looks_by_name().end()) {
    hide("Grille");
    choose("Shell", look->second == ModelLook::Thickness ? 99 : 2);
    editor_.set_net_visible(false);
    view_->set(&ViewSettings::look, look->second);
  }
  if (name == "checks") {
    model_.commit_beside(
        [](const Document& d) {
          CheckLimits m = d.limits;
          m.thickness = 1.5;
          return with_limits(d, m);
        },
        tr("Change limits of the checks"));
    show_checks();
  }
  if (name == "before") {
    hide("Grille");
    choose("Shell", 2);
    view_->set(&ViewSettings::look, ModelLook::Clay);
    view_->set(&ViewSettings::before_overlay, true);
  }
  if (name == "curvature" || name == "reflection") {
    hide("Grille");
    choose("Shell", 2);
    editor_.set_net_visible(false);
    view_->set(&ViewSettings::look,
               name == "curvature" ? ModelLook::Curvature : ModelLook::Reflection);
  }
  if (name == "combs") {
    hide("Grille");
    choose("Shell", 2);
    editor_.set_net_visible(false);
    editor_.set_leader({0, 8, 4});
    view_->set(&ViewSettings::combs, true);
  }
  if (name == "knob") {
    for (const char* part : {"Grille", "Shell", "Dimple tile", "Knob", "Foot"}) hide(part);
    choose("Knob ring", 2);
    editor_.pick_named("grips");
    view_->set(&ViewSettings::combs, true);
    view_->set(&ViewSettings::comb_length, 40.0);
    view_->bring_to_main(ViewName::Top);
  }
  if (name == "numbers") {
    hide("Grille");
    choose("Shell", 2);
    view_->set(&ViewSettings::point_numbers, true);
  }
  if (name == "section") {
    hide("Grille");
    choose("Shell", 2);
    editor_.set_net_visible(false);
    editor_.set_work_plane({{0, 0, 0}, {1, 0, 0}, {0, 0, 1}, {0, -1, 0}});
    view_->set(&ViewSettings::section_combs, true);
  }
  if (name == "evenness") {
    hide("Grille");
    choose("Shell", 2);
    view_->set(&ViewSettings::leg_colours, true);
  }
  if (name == "grid-line") {
    hide("Grille");
    choose("Shell", 2);
    begin_operation("add_grid_line");
  }
  if (name == "cut") {  // the lid in the underside
    for (const char* part : {"Grille", "Knob ring", "Foot", "Carry loop", "Clasp", "Dimple tile"})
      hide(part);
    choose("Shell", 6);
    view_->camera(ViewName::Main).orbit(20.0, -170.0);
  }
  if (name == "round") {  // what a step has picked
    for (const char* part :
         {"Grille", "Shell", "Carry loop", "Clasp", "Badge", "Knob", "Knob seat", "Dimple tile"})
      hide(part);
    choose("Foot", 2);
    view_->camera(ViewName::Main).orbit(20.0, -120.0);
  }
  if (name == "blend") {
    for (const char* part : {"Grille", "Knob ring", "Carry loop", "Clasp", "Badge", "Foot"})
      hide(part);
    choose("Knob seat", 0);
    view_->camera(ViewName::Main).orbit(20.0, 45.0);
  }
  if (name == "shape" || name == "find") {
    hide("Grille");
    choose("Shell", 2);
  }
  if (name == "pattern" || name == "stretch") {
    choose("Grille", 0);
    view_->set(&ViewSettings::look, name == "stretch" ? ModelLook::Stretch : ModelLook::Clay);
  }
  if (name == "tile") {
    choose("Dimple tile", 3);
    view_->set(&ViewSettings::tile_view, true);
    editor_.set_net_visible(false);
    view_->camera(ViewName::Main).orbit(0.0, 90.0);
    view_->frame_all();
  }
  if (name == "zebra") {
    hide("Grille");
    choose("Shell", 2);
    editor_.set_net_visible(false);
    view_->set(&ViewSettings::look, ModelLook::Zebra);
  }
  if (name == "night") {
    choose("Grille", 0);
    look::use_theme(look::Theme::Night);
  }
  if (name == "section-view") {
    hide("Grille");
    choose("Shell", 2);
    editor_.set_net_visible(false);
    view_->set(&ViewSettings::section_view, true);
  }
  if (name == "tour") {
    hide("Grille");
    choose("Shell", 2);
    tour_->show_step(2);
  }
  if (name == "size") {
    hide("Grille");
    choose("Shell", 2);
    editor_.set_net_visible(false);
    view_->set(&ViewSettings::size_box, true);
  }
  if (name == "card") {
    choose("Shell", 2);
    for (auto* chip : hand_bar_->findChildren<QToolButton*>("chip_2")) chip->click();
  }
  if (name == "border-surface") {
    for (const char* part : {"Grille", "Shell", "Dimple tile", "Knob", "Knob ring"}) hide(part);
    choose("Foot", 0);
    editor_.set_net_visible(true);
    Camera& camera = view_->camera(ViewName::Main);
    camera.target = {0, 0, -34};
    camera.height = 60.0;
    camera.pitch = 40.0;
  }
  if (name == "source") {
    for (const char* part : {"Grille", "Dimple tile", "Knob ring", "Carry loop", "Badge"})
      hide(part);
    model_.commit_beside(
        [](const Document& d) {
          return with_layer(d, {"Case", true, false});
        },
        tr("Show"));
    choose("Case lid", 0);
    editor_.set_net_visible(false);
  }
  if (name == "profile") {
    for (const char* part : {"Grille", "Shell", "Dimple tile", "Foot", "Knob", "Knob ring"})
      hide(part);
    begin_operation("profile");
    const auto send = [&](QEvent::Type type, const Vec3& p, Qt::MouseButton button) {
      const QPointF at = view_->place_on_screen(p);
      QMouseEvent e(type, at, view_->mapToGlobal(at), button, button, Qt::NoModifier);
      QApplication::sendEvent(view_, &e);
    };
    const auto click = [&](const Vec3& p) {
      send(QEvent::MouseButtonPress, p, Qt::LeftButton);
      send(QEvent::MouseButtonRelease, p, Qt::LeftButton);
    };
    const auto press = [&](Qt::Key key) {
      QKeyEvent e(QEvent::KeyPress, key, Qt::NoModifier);
      QApplication::sendEvent(view_, &e);
    };
    click({-40, -20, 0});
    click({10, -20, 0});
    press(Qt::Key_A);
    click({30, 0, 0});
    press(Qt::Key_L);
    click({30, 20, 0});
    press(Qt::Key_A);
    send(QEvent::MouseMove, {0, 40, 0}, Qt::NoButton);
  }
  if (name == "fill") {
    for (const char* part : {"Grille", "Shell", "Dimple tile", "Foot", "Knob", "Knob ring"})
      hide(part);
    for (const char* part : {"Foot front and back", "Foot sides"})
      if (const Part* p = find_part(model_.document(), std::string_view(part)))
        model_.commit(with_look(model_.document(), p->id, {p->look.colour, true}), tr("Show part"));
    choose("Foot sides", 1);
    begin_operation("fill");
  }
  if (name == "cage") {
    for (const char* part : {"Grille", "Dimple tile", "Foot", "Knob", "Knob ring"}) hide(part);
    choose("Waist cage", 1);
    if (const Part* p = find_part(model_.document(), std::string_view("Waist cage")))
      model_.commit(with_look(model_.document(), p->id, {p->look.colour, true}), tr("Show part"));
  }
  if (name == "subdivision") {
    for (const char* part :
         {"Grille", "Shell", "Dimple tile", "Foot", "Knob", "Knob seat", "Knob ring", "Badge"})
      hide(part);
    choose("Carry loop", 4);
    editor_.set_net_visible(true);
    Camera& camera = view_->camera(ViewName::Main);
    camera.target = {-74, 0, 12};
    camera.height = 66.0;
    camera.yaw = -120.0;
    camera.pitch = 25.0;
    editor_.set_form_kind(PickKind::Face);
    begin_operation("extrude_faces");
    // Faces can be picked as soon as the form is computed.
    auto* once = new QObject(this);
    connect(&editor_, &PointEditor::changed, once, [this, once] {
      if (editor_.form() == nullptr || !model_.up_to_date()) return;
      disconnect(&editor_, nullptr, once, nullptr);
      once->deleteLater();
      editor_.pick_form(tags_where(
          *editor_.form(), PickKind::Face, [](const Vec3& p) { return p.x < -91.0; }, false));
    });
  }
  if (name == "sketch") {
    for (const char* part : {"Grille", "Dimple tile", "Foot"}) hide(part);
    choose("Side sketch", 0);
    if (const Part* p = find_part(model_.document(), std::string_view("Side sketch")))
      model_.commit(with_look(model_.document(), p->id, {p->look.colour, true}), tr("Show part"));
    Camera& camera = view_->camera(ViewName::Main);
    camera.yaw = -90.0;
    camera.pitch = 8.0;
  }
  if (name == "curve") {
    for (const char* part : {"Grille", "Shell", "Dimple tile", "Foot"}) hide(part);
    choose("Knob profile", 0);
    if (const Part* p = find_part(model_.document(), std::string_view("Knob profile")))
      model_.commit(with_look(model_.document(), p->id, {p->look.colour, true}), tr("Show part"));
    view_->set(&ViewSettings::combs, true);
  }
  if (name == "history") show_history();
  if (name == "numbers-card") show_numbers();
  if (name == "extrude") {
    choose("Knob ring", 2);
    begin_operation("extrude");
  }
  if (name == "hover") {
    if (auto* tool = rail_->findChild<QToolButton*>("tool_smooth")) {
      QHelpEvent over(QEvent::ToolTip, {5, 5}, tool->mapToGlobal(QPoint(5, 5)));
      QApplication::sendEvent(tool, &over);
    }
  }
  if (name == "lines") view_->set(&ViewSettings::look, ModelLook::Lines);
  if (name == "see-through") {
    hide("Grille");
    choose("Shell", 2);
    view_->set(&ViewSettings::look, ModelLook::SeeThrough);
  }
  if (name == "find") find_->open("move");
  if (name == "keys") show_keys();
  return true;
}

}  // namespace evenclay
