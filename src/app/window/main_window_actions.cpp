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

void MainWindow::make_actions() {
  add_file_actions();
  add_edit_actions();
  add_view_actions();
  add_looking_actions();
  add_operation_actions();
  add_stage_actions();
  take_own_keys(actions_);
  for (ActionInfo& a : actions_) {
    a.action = new QAction(look::icon(a.icon), a.label, this);
    a.action->setObjectName(a.id);
    a.action->setIconText("  " + a.label);  // what the rail's buttons show
    a.action->setCheckable(a.checkable);
    a.action->setStatusTip(a.help);
    put_key(a);
    connect(a.action, &QAction::triggered, this, a.run);
  }
}

// Single letters belong to the view: elsewhere they are text being typed.
void MainWindow::put_key(const ActionInfo& a) {
  a.action->setShortcut(a.key);
  a.action->setToolTip(tip_of(a));
  const bool of_view = a.key == QKeySequence(QKeySequence::Delete);
  const bool letter =
      of_view || (a.key.count() == 1 &&
                  !(a.key[0].keyboardModifiers() & (Qt::ControlModifier | Qt::AltModifier)) &&
                  a.key[0].key() < Qt::Key_Escape);
  a.action->setShortcutContext(letter ? Qt::WidgetShortcut : Qt::WindowShortcut);
  if (!letter) addAction(a.action);
  if (letter && view_ != nullptr) view_->addAction(a.action);
}

void MainWindow::change_key(const QString& id, const QKeySequence& key) {
  for (ActionInfo& a : actions_) {
    if (a.id != id) continue;
    a.key = key;
    put_key(a);
    keep_own_key(a, key);
  }
}

QString MainWindow::tip_of(const ActionInfo& a) {
  return a.key.isEmpty() ? a.help : a.help + "  (" + a.key.toString(QKeySequence::NativeText) + ")";
}

void MainWindow::add_file_actions() {
  const auto add = [&](const char* id, const QString& label, const QString& help, const char* icon,
                       const QKeySequence& key, std::function<void()> run) -> ActionInfo& {
    actions_.push_back({id, label, help, icon, key, {}, Menu::File, false, std::move(run)});
    return actions_.back();
  };
  add("new", tr("New project"), tr("Starts an empty project."), "file-plus", QKeySequence::New,
      [this] { leave([this] { model_.new_project(); }); });
  add("open", tr("Open…"), tr("Opens a project from a file."), "folder-open", QKeySequence::Open,
      [this] { choose_open(); });
  add("open_demo", tr("Open the demo project"), tr("Opens Skerry, a small speaker, made by steps."),
      "sparkles", {}, [this] { leave([this] { model_.open_demo(); }); });
  add("save", tr("Save"), tr("Saves the project."), "save", QKeySequence::Save,
      [this] { choose_save(false); });
  add("save_as", tr("Save as…"), tr("Saves the project to another file."), "save",
      QKeySequence("Ctrl+Shift+S"), [this] { choose_save(true); });
  add("restore", tr("Restore unsaved work"),
      tr("Opens the copy that an earlier run left when it ended without saving."), "rotate-ccw", {},
      [this] { restore_unsaved(); })
      .enabled_when = [this] { return restorable_; };
  add("quit", tr("Quit"), tr("Closes the program; unsaved changes are asked about."), "x",
      QKeySequence("Ctrl+Q"), [this] { close(); });
}

void MainWindow::add_edit_actions() {
  const auto add = [&](const char* id, const QString& label, const QString& help, const char* icon,
                       const QKeySequence& key, Menu menu,
                       std::function<void()> run) -> ActionInfo& {
    actions_.push_back({id, label, help, icon, key, {}, menu, false, std::move(run)});
    return actions_.back();
  };
  add("undo", tr("Undo"), tr("Takes the last change back."), "undo-2", QKeySequence("Ctrl+Z"),
      Menu::Edit, [this] { model_.undo(); })
      .enabled_when = [this] { return model_.session().can_undo() || model_.trial(); };
  add("redo", tr("Redo"), tr("Does the change again that was taken back."), "redo-2",
      QKeySequence("Ctrl+Shift+Z"), Menu::Edit, [this] { model_.redo(); })
      .enabled_when = [this] { return model_.session().can_redo() && !model_.trial(); };
  add("history", tr("What was done…"), tr("Lists every change with its time; a click goes there."),
      "history", QKeySequence("Ctrl+Alt+Z"), Menu::Edit, [this] { show_history(); });
  add("numbers", tr("Numbers…"),
      tr("Named numbers with sliders; number fields take formulas over them."), "gauge",
      QKeySequence("Ctrl+Alt+N"), Menu::Edit, [this] { show_numbers(); });
  add("preferences", tr("Preferences…"),
      tr("Units that are shown, the mouse, and how often unsaved work is copied."), "ruler",
      QKeySequence("Ctrl+,"), Menu::Edit, [this] { show_preferences(); });
  add("remove_part", tr("Remove part"), tr("Removes the chosen part with all its steps."),
      "trash-2", {}, Menu::Edit,
      [this] {
        model_.attempt([&] {
          if (model_.trial()) model_.drop_trial();
          model_.commit(without_part(model_.document(), model_.chosen_part()), tr("Remove part"));
        });
      })
      .enabled_when = [this] { return model_.chosen_part() != 0; };
  add("bring_back", tr("Bring points back"),
      tr("The picked points go back to where the grid below has them."), "rotate-ccw",
      QKeySequence::Delete, Menu::Edit, [this] { editor_.bring_back(); })
      .enabled_when = [this] { return !editor_.picked().empty(); };
  add("find", tr("Find an action"), tr("Searches everything the program can do."), "search",
      QKeySequence("Ctrl+K"), Menu::Edit, [this] { find_->open(); });
  add("select_all", tr("Pick all points"), tr("Picks every control point of the net."),
      "circle-dot", QKeySequence::SelectAll, Menu::Select,
      [this] {
        if (editor_.net())
          editor_.pick(points_where(editor_.net()->shown, [](const Vec3&) { return true; }));
      })
      .enabled_when = [this] { return editor_.net().has_value(); };
  add("select_none", tr("Pick none"), tr("Lets go of all picked points."), "x",
      QKeySequence("Ctrl+Shift+A"), Menu::Select, [this] { editor_.pick({}); })
      .enabled_when = [this] { return editor_.net().has_value(); };
  add("invert", tr("Invert picking"), tr("Picks the points that are not picked."), "rotate-ccw",
      QKeySequence("Ctrl+I"), Menu::Select,
      [this] {
        if (!editor_.net()) return;
        Selection rest;
        for (const PointIndex& p :
             points_where(editor_.net()->shown, [](const Vec3&) { return true; }))
          if (!editor_.picked().contains(p)) rest.insert(p);
        editor_.pick(rest);
      })
      .enabled_when = [this] { return editor_.net().has_value(); };
}

void MainWindow::add_view_actions() {
  const auto add = [&](const char* id, const QString& label, const QString& help, const char* icon,
                       const QKeySequence& key, bool checkable,
                       std::function<void()> run) -> ActionInfo& {
    actions_.push_back({id, label, help, icon, key, {}, Menu::View, checkable, std::move(run)});
    return actions_.back();
  };
  add("frame_all", tr("Frame all"), tr("Brings all parts into view."), "maximize",
      QKeySequence(Qt::Key_Home), false, [this] { view_->frame_all(); });
  add("frame_picked", tr("Frame what is picked"),
      tr("Brings what is picked into view; with nothing picked, the chosen part."), "focus",
      QKeySequence(Qt::Key_End), false, [this] { view_->frame_picked(); })
      .enabled_when = [this] {
    return !editor_.picked().empty() || model_.drawn().contains(model_.chosen_part());
  };
  const struct {
    const char* id;
    const char* label;
    ViewName name;
  } views[] = {{"view_main", "Main view", ViewName::Main},
               {"view_top", "Top view", ViewName::Top},
               {"view_front", "Front view", ViewName::Front},
               {"view_side", "Side view", ViewName::Side}};
  int number = 1;
  for (const auto& v : views) {
    const ViewName name = v.name;
    add(v.id, tr(v.label), tr("Brings this view into the large place."), "camera",
        QKeySequence(QString("Ctrl+%1").arg(number++)), false,
        [this, name] { view_->bring_to_main(name); });
  }
  add("side_views", tr("Side views"), tr("Shows or folds away the three small views."), "layers",
      {}, true,
      [this] {
        view_->toggle(&ViewSettings::side_views);
        refresh_actions();
      })
      .checked_when = [this] { return view_->settings().side_views; };
  add("net", tr("Control net"), tr("Shows or hides the control points and their net."), "waypoints",
      QKeySequence(Qt::Key_Q), true, [this] { editor_.set_net_visible(!editor_.net_visible()); })
      .checked_when = [this] { return editor_.net_visible(); };
  add("point_numbers", tr("Point numbers"),
      tr("Shows the numbers by which control points are addressed."), "ruler",
      QKeySequence(Qt::Key_W), true, [this] { view_->toggle(&ViewSettings::point_numbers); })
      .checked_when = [this] { return view_->settings().point_numbers; };
  actions_.push_back({"keys",
                      tr("Keys"),
                      tr("All keys and what the mouse does."),
                      "keyboard",
                      QKeySequence(Qt::Key_F1),
                      {},
                      Menu::Help,
                      false,
                      [this] { show_keys(); }});
  actions_.push_back(
      {"about",
       tr("About Even Clay"),
       tr("Version and licences."),
       "info",
       {},
       {},
       Menu::Help,
       false,
       [this] {
         QMessageBox::about(
             this, tr("About Even Clay"),
             tr("<p><b>Even Clay %1</b><br>Shaping organic product forms with measured "
                "consequences. Apache License 2.0.</p>"
                "<p>Ships: the typeface Inter (SIL Open Font License 1.1), icons by Lucide "
                "(ISC).</p><p>Uses: Qt (LGPL 3), Open CASCADE Technology (LGPL 2.1 with "
                "exception), Embree and oneTBB (Apache 2.0), Eigen (MPL 2.0), Assimp, libzip "
                "and nanoflann (BSD), muParser (BSD), CLI11 (BSD), fmt, nlohmann json and "
                "meshoptimizer (MIT), Clipper (Boost), stb (public domain). Their texts are "
                "in /usr/share/doc.</p>")
                 .arg(QApplication::applicationVersion()));
       }});
}

void MainWindow::add_stage_actions() {
  const auto add = [&](Stage stage, const char* id, const QString& label, const QString& help,
                       const char* icon, const QKeySequence& key, bool checkable,
                       std::function<void()> run) -> ActionInfo& {
    actions_.push_back({id, label, help, icon, key, stage, Menu::None, checkable, std::move(run)});
    return actions_.back();
  };
  const auto has_net = [this] { return editor_.net().has_value(); };
  const auto has_picked = [this] { return !editor_.picked().empty(); };
  ActionInfo& bring_in =
      add(Stage::Source, "bring_in", tr("Bring in file…"),
          tr("Surfaces, solids and meshes of a STEP, IGES, OBJ, STL or PLY file become parts."),
          "file-input", {}, false, [this] { choose_bring_in(); });
  bring_in.group = tr("Bring in");
  ActionInfo& scale =
      add(Stage::Source, "scale_picture", tr("Scale picture"),
          tr("Two clicks on a reference picture and the distance between them give its size."),
          "ruler", {}, false, [this] { view_->scale_picture(); });
  scale.group = tr("Bring in");
  scale.enabled_when = [this] { return model_.chosen_part() != 0 && chosen_kind() == kPicture; };
  scale.needs = tr("Choose a reference picture first.");
  const auto direction = [&](const char* id, const QString& label, const QString& help,
                             MoveDirection d, const char* icon, const QKeySequence& key) {
    add(Stage::Shaped, id, label, help, icon, key, true, [this, d] { editor_.set_direction(d); });
    ActionInfo& a = actions_.back();
    a.in_rail = false;  // a button of the bar
    a.enabled_when = has_net;
    a.checked_when = [this, d] { return editor_.direction() == d; };
  };
  direction("off_skin", tr("Move off the skin"), tr("Drags move along the surface normal."),
            MoveDirection::OffSkin, "arrow-up-from-line", QKeySequence(Qt::Key_S));
  direction("in_view", tr("Move in the view"), tr("Drags move parallel to the screen."),
            MoveDirection::InView, "move", QKeySequence(Qt::Key_V));
  direction("x", tr("Move along x"), tr("Drags move along the x axis."), MoveDirection::X,
            "move-horizontal", QKeySequence(Qt::Key_X));
  direction("y", tr("Move along y"), tr("Drags move along the y axis."), MoveDirection::Y,
            "move-diagonal", QKeySequence(Qt::Key_C));
  direction("z", tr("Move along z"), tr("Drags move along the z axis."), MoveDirection::Z,
            "move-vertical", QKeySequence(Qt::Key_Z));
  direction("on_skin", tr("Move on the skin"), tr("Drags move in the tangent plane."),
            MoveDirection::OnSkin, "move-3d", QKeySequence(Qt::Key_D));
  direction("net_u", tr("Move along the net, u"), tr("Drags move along the legs of the net in u."),
            MoveDirection::AlongU, "waypoints", QKeySequence(Qt::Key_G));
  direction("net_v", tr("Move along the net, v"), tr("Drags move along the legs of the net in v."),
            MoveDirection::AlongV, "waypoints", QKeySequence(Qt::SHIFT | Qt::Key_G));
  direction("work_plane", tr("Move in the work plane"),
            tr("Drags move parallel to the work plane."), MoveDirection::WorkPlane, "square",
            QKeySequence(Qt::Key_B));
  add_arrange_actions();
  add(Stage::Shaped, "row_u", tr("Row along u"), tr("Picks the whole row of each picked point."),
      "rows-3", QKeySequence(Qt::Key_E), false, [this] { editor_.extend_to_rows(0); })
      .enabled_when = has_picked;
  actions_.back().in_rail = false;
  add(Stage::Shaped, "row_v", tr("Row along v"), tr("Picks the whole row of each picked point."),
      "columns-3", QKeySequence(Qt::Key_R), false, [this] { editor_.extend_to_rows(1); })
      .enabled_when = has_picked;
  actions_.back().in_rail = false;
  add(Stage::Shaped, "symmetry", tr("Symmetry"),
      tr("Mirrors every move to the partner points; the plane is chosen in the bar."),
      "flip-horizontal-2", QKeySequence(Qt::Key_M), true, [this] { editor_.toggle_symmetry(); })
      .enabled_when = has_net;
  actions_.back().checked_when = [this] { return editor_.symmetry() != SymmetryPlane::None; };
  actions_.back().in_rail = false;
  add(Stage::Shaped, "reset_weight", tr("Reset weights"),
      tr("Gives the picked points the weight 1."), "droplet", {}, false,
      [this] { editor_.set_weight(1.0); })
      .enabled_when = has_picked;
  actions_.back().group = tr("Order");
  actions_.back().needs = tr("Pick control points first.");
  const auto look = [&](const char* id, const QString& label, const QString& help, ModelLook l,
                        const char* icon, const QKeySequence& key) {
    ActionInfo& a = add(Stage::Check, id, label, help, icon, key, true, [this, l] {
      const bool back = l == ModelLook::Zebra && view_->settings().look == l;
      view_->set(&ViewSettings::look, back ? ModelLook::Clay : l);
    });
    a.checked_when = [this, l] { return view_->settings().look == l; };
    a.group = tr("Look");
  };
  look("look_clay", tr("Clay"), tr("Soft studio light."), ModelLook::Clay, "droplet", {});
  look("look_lines", tr("Lines"), tr("Iso-curves on clay."), ModelLook::Lines, "spline", {});
  look("look_see_through", tr("See-through"), tr("Surfaces let the far side shine through."),
       ModelLook::SeeThrough, "layers", {});
  look("look_zebra", tr("Zebra"), tr("Stripes show kinks and wobbles of the highlights."),
       ModelLook::Zebra, "scan-line", QKeySequence(Qt::Key_J));
  look("look_deviation", tr("Deviation"),
       tr("Colours show how far the chosen part is from what it is watched against, else from the "
          "shape before the chosen step."),
       ModelLook::Deviation, "palette", {});
  look("look_reflection", tr("Reflection lines"),
       tr("Narrow light bands in a dark room; they must flow without kinks."),
       ModelLook::Reflection, "sun", {});
  look("look_curvature", tr("Curvature"),
       tr("Darker where the surface bends more; the legend gives the radius."),
       ModelLook::Curvature, "gauge", {});
  look("look_gaussian", tr("Gaussian curvature"),
       tr("Orange where the surface is domed, blue where it is a saddle."), ModelLook::Gaussian,
       "gauge", {});
  look("look_mean_curvature", tr("Mean curvature"),
       tr("Blue where the surface is round, orange where it is hollow."), ModelLook::MeanCurvature,
       "gauge", {});
  look("look_isophotes", tr("Isophotes"),
       tr("Lines of equal brightness; kinks in them are kinks of the surface's direction."),
       ModelLook::Isophotes, "scan-line", {});
  look("look_surroundings", tr("Surroundings"),
       tr("The surface mirrors a studio with a window, a lamp and a screen."),
       ModelLook::Surroundings, "image", {});
  look("look_draft", tr("Draft"),
       tr("Angle of the walls against the pull of the check limits: blue where a wall looks "
          "against it."),
       ModelLook::Draft, "arrow-up-from-line", {});
  look("look_thickness", tr("Thickness"), tr("Darker where a closed part is thinner."),
       ModelLook::Thickness, "ruler", {});
  look("look_overhang", tr("Overhang"),
       tr("Darker where the surface leans over the bed it would be printed on; the range is the "
          "angle "
          "that still holds."),
       ModelLook::Overhang, "printer", {});
  look("look_stretch", tr("Stretch"),
       tr("Darker where the chosen pattern, or the faces of the chosen form, are stretched or "
          "squeezed more; the worst place is called out."),
       ModelLook::Stretch, "expand", {});
  add(Stage::Pattern, "tile_view", tr("Tile 3 × 3"),
      tr("Shows the chosen part among eight neighbours while it is shaped, and how well their "
         "edges meet."),
      "grid-3x3", {}, true,
      [this] {
        view_->toggle(&ViewSettings::tile_view);
        view_->frame_all();
      })
      .checked_when = [this] { return view_->settings().tile_view; };
  actions_.back().group = tr("Tile");
  add(Stage::Pattern, "put_on_shelf", tr("Put on my shelf"),
      tr("Keeps the chosen part, with what it reads, for other projects."), "bookmark", {}, false,
      [this] { model_.put_on_shelf(shelf_file()); })
      .group = tr("Tile");
  add(Stage::Pattern, "take_from_shelf", tr("Take from my shelf"),
      tr("Lists what you have put on your shelf, with small pictures, to be ticked and brought "
         "in."),
      "download", {}, false, [this] { take_from_shelf(); })
      .group = tr("Tile");
  add(Stage::Check, "combs", tr("Combs"),
      tr("Curvature combs along both rows of the point picked last, with inflections marked."),
      "audio-lines", {}, true, [this] { view_->toggle(&ViewSettings::combs); })
      .checked_when = [this] { return view_->settings().combs; };
  actions_.back().group = tr("Measure");
  add(Stage::Check, "checks", tr("All checks…"),
      tr("A list that says what is wrong or right with every visible part, with limits of your "
         "own; a click shows the place."),
      "list-checks", {}, false, [this] { show_checks(); })
      .group = tr("Measure");
  add(Stage::Check, "watch_deviation", tr("Watch against…"),
      tr("A card that says what the chosen part is watched against in every stage: the band, the "
         "share inside it, and "
         "how the distances spread."),
      "scan-eye", {}, true,
      [this] {
        const bool show = !view_->settings().deviation_card;
        view_->set(&ViewSettings::deviation_card, show);
        if (show) view_->set(&ViewSettings::look, ModelLook::Deviation);
      })
      .checked_when = [this] { return view_->settings().deviation_card; };
  actions_.back().group = tr("Measure");
  add(Stage::Check, "next_crossing", tr("Next crossing"),
      tr("Frames the places where the chosen form runs through itself, one after the other, and "
         "picks "
         "the faces."),
      "focus", {}, false, [this] { show_next_crossing(); })
      .enabled_when = [this] {
    const auto gauges = model_.gauges();
    return gauges && gauges->crossings && !gauges->crossings->empty();
  };
  actions_.back().group = tr("Measure");
  actions_.back().needs = tr("Choose a form that crosses itself; the gauge Crossings counts them.");
  add(Stage::Check, "joint_badges", tr("Joints"),
      tr("Shows at every joint of the chosen part how its faces meet: gap, angle, difference of "
         "curvature, at the worst place."),
      "badge-check", {}, true, [this] { view_->toggle(&ViewSettings::joint_badges); })
      .checked_when = [this] { return view_->settings().joint_badges; };
  actions_.back().group = tr("Measure");
  add(Stage::Check, "flat_faces", tr("Flat faces"),
      tr("Draws the faces of forms flat, without their smooth skin."), "square", {}, true,
      [this] { view_->toggle(&ViewSettings::flat_faces); })
      .checked_when = [this] { return view_->settings().flat_faces; };
  actions_.back().group = tr("Look");
  const auto adjust = [&](const char* id, const QString& label, const QString& help,
                          const char* icon, std::function<void()> run) {
    actions_.push_back({id, label, help, icon, {}, {}, Menu::View, false, std::move(run)});
  };
  adjust("more_stripes", tr("More stripes"), tr("Zebra and reflection lines get finer."), "rows-3",
         [this] { view_->set_scaled(&ViewSettings::stripes, 1.4); });
  adjust("fewer_stripes", tr("Fewer stripes"), tr("Zebra and reflection lines get wider."),
         "rows-3", [this] { view_->set_scaled(&ViewSettings::stripes, 1.0 / 1.4); });
  actions_.push_back({"upright_stripes",
                      tr("Upright stripes"),
                      tr("Zebra and reflection lines run upright instead of level."),
                      "columns-3",
                      {},
                      {},
                      Menu::View,
                      true,
                      [this] { view_->toggle(&ViewSettings::upright_stripes); }});
  actions_.back().checked_when = [this] { return view_->settings().upright_stripes; };
  actions_.push_back({"single_band",
                      tr("Single light band"),
                      tr("Reflection lines show one broad band instead of many narrow ones."),
                      "minus",
                      {},
                      {},
                      Menu::View,
                      true,
                      [this] { view_->toggle(&ViewSettings::single_band); }});
  actions_.back().checked_when = [this] { return view_->settings().single_band; };
  adjust("larger_points", tr("Larger points"), tr("Control points are drawn larger."), "circle-dot",
         [this] { view_->set_scaled(&ViewSettings::point_size, 1.25); });
  adjust("smaller_points", tr("Smaller points"), tr("Control points are drawn smaller."),
         "circle-dot", [this] { view_->set_scaled(&ViewSettings::point_size, 1.0 / 1.25); });
  adjust("curvature_range", tr("Range of colours…"),
         tr("Sets what the ends of the colours of this look stand for; of Curvature the radius at "
            "which it is darkest."),
         "gauge", [this] { view_->ask_map_range(); });
  adjust("denser_combs", tr("Denser combs"), tr("Combs get more teeth."), "audio-lines", [this] {
    view_->set(&ViewSettings::comb_density, view_->settings().comb_density * 3 / 2 + 1);
  });
  adjust("sparser_combs", tr("Sparser combs"), tr("Combs get fewer teeth."), "audio-lines", [this] {
    view_->set(&ViewSettings::comb_density, view_->settings().comb_density * 2 / 3);
  });
  adjust("longer_combs", tr("Longer combs"), tr("The teeth of combs get longer."), "expand",
         [this] { view_->set_scaled(&ViewSettings::comb_length, 1.4); });
  adjust("shorter_combs", tr("Shorter combs"), tr("The teeth of combs get shorter."), "minimize-2",
         [this] { view_->set_scaled(&ViewSettings::comb_length, 1.0 / 1.4); });
  add(Stage::Check, "section_combs", tr("Section combs"),
      tr("Curvature combs where the work plane cuts the chosen part, with inflections marked."),
      "scissors", {}, true, [this] { view_->toggle(&ViewSettings::section_combs); })
      .checked_when = [this] { return view_->settings().section_combs; };
  actions_.back().group = tr("Measure");
  add(Stage::Check, "section_view", tr("Section view"),
      tr("Cuts the model open along a plane that you drag by its arrow; closed forms show their "
         "cut "
         "face."),
      "slice", {}, true, [this] { view_->toggle(&ViewSettings::section_view); })
      .checked_when = [this] { return view_->settings().section_view; };
  actions_.back().group = tr("Measure");
  add(Stage::Check, "before_overlay", tr("Before overlay"),
      tr("Shows the shape before the chosen step over it; holding H does so for a moment."),
      "blend", {}, true, [this] { view_->toggle(&ViewSettings::before_overlay); })
      .checked_when = [this] { return view_->settings().before_overlay; };
  actions_.back().group = tr("Measure");
  add(Stage::Check, "leg_colours", tr("Leg colours"),
      tr("Colours the legs of the net by their length: even grids have one colour."), "grid-3x3",
      {}, true, [this] { view_->toggle(&ViewSettings::leg_colours); })
      .checked_when = [this] { return view_->settings().leg_colours; };
  actions_.back().group = tr("Measure");
  add_deliver_actions();
}

}  // namespace evenclay
