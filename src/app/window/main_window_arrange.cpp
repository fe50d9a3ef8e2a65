// The actions that pick points and bring them into order.
#include <algorithm>

#include "app/window/main_window.h"

namespace evenclay {

void MainWindow::add_arrange_actions() {
  const auto has_net = [this] { return editor_.net().has_value(); };
  const auto has_picked = [this] { return !editor_.picked().empty(); };
  const auto pick = [&](const char* id, const QString& label, const QString& help, const char* icon,
                        const QKeySequence& key, std::function<void()> run) {
    actions_.push_back({id, label, help, icon, key, {}, Menu::Select, false, std::move(run)});
    actions_.back().enabled_when = has_picked;
  };
  pick("every_nth", tr("Every n-th…"), tr("Keeps every n-th of the picked row."), "rows-3",
       QKeySequence(Qt::Key_T), [this] { view_->ask_every_nth(); });
  pick("partners", tr("Mirror partners"), tr("Picks the partners of the picked points instead."),
       "flip-horizontal-2", QKeySequence(Qt::Key_Y), [this] { editor_.pick_partners(); });
  pick("grow", tr("Grow"), tr("Picks the neighbours too."), "expand", QKeySequence(Qt::Key_Period),
       [this] { editor_.grow(); });
  pick("shrink", tr("Shrink"), tr("Lets go of the outermost picked points."), "minimize-2",
       QKeySequence(Qt::Key_Comma), [this] { editor_.shrink(); });
  pick("checker", tr("Checker"), tr("Keeps every second picked point, as on a board."), "grid-3x3",
       {}, [this] { editor_.pick_checker(false); });
  actions_.push_back({"visible_only",
                      tr("Visible only"),
                      tr("Boxes and lassos take only points that the part does not hide."),
                      "eye",
                      {},
                      {},
                      Menu::Select,
                      true,
                      [this] { editor_.set_visible_only(!editor_.visible_only()); }});
  actions_.back().checked_when = [this] { return editor_.visible_only(); };

  const struct {
    PickKind kind;
    const char* id;
    QString label, help;
    const char* icon;
    Qt::Key key;
  } kinds[] = {{PickKind::Corner, "pick_points", tr("Pick points"),
                tr("Clicks and boxes on a form take its points."), "circle-dot", Qt::Key_P},
               {PickKind::Edge, "pick_edges", tr("Pick edges"),
                tr("Clicks and boxes on a form take its edges."), "minus", Qt::Key_N},
               {PickKind::Face, "pick_faces", tr("Pick faces"),
                tr("Clicks and boxes on a form take its faces."), "square", Qt::Key_F}};
  for (const auto& k : kinds) {
    actions_.push_back({k.id,
                        k.label,
                        k.help,
                        k.icon,
                        QKeySequence(k.key),
                        {},
                        Menu::Select,
                        true,
                        [this, kind = k.kind] { editor_.set_form_kind(kind); }});
    actions_.back().enabled_when = [this] { return editor_.form() != nullptr; };
    actions_.back().checked_when = [this, kind = k.kind] {
      return editor_.form() != nullptr && editor_.form_kind() == kind;
    };
  }
  pick("ring", tr("Ring"), tr("Picks the closed loop of the net through each picked point."),
       "circle-dashed", {}, [this] { editor_.extend_to_rings(); });
  pick("name_selection", tr("Name the picked points…"),
       tr("Keeps the picked points under a name in the project."), "pencil", {},
       [this] { view_->ask_selection_name(); });
  actions_.push_back({"snap",
                      tr("Snap"),
                      tr("Dragged points snap exactly to points, ends, edges or the grid; the bar "
                         "says to which."),
                      "focus",
                      {},
                      {},
                      Menu::Select,
                      true,
                      [this] {
                        SnapKinds snap = editor_.snap();
                        snap.on = !snap.on;
                        editor_.set_snap(snap);
                      }});
  actions_.back().checked_when = [this] { return editor_.snap().on; };

  using Make = std::function<PointEdit()>;
  const auto arrange = [&](const char* id, const QString& label, const QString& help,
                           const char* icon, const QKeySequence& key, Make make) {
    actions_.push_back({id, label, help, icon, key, Stage::Shaped, Menu::None, false,
                        [this, label, make = std::move(make)] { editor_.arrange(label, make()); }});
    actions_.back().enabled_when = has_picked;
    actions_.back().group = tr("Order");
    actions_.back().needs = tr("Pick control points first.");
  };
  const auto tool = [&](const char* id, const QString& label, const QString& help, const char* icon,
                        std::function<void()> run) {
    actions_.push_back(
        {id, label, help, icon, {}, Stage::Shaped, Menu::None, false, std::move(run)});
    actions_.back().enabled_when = has_picked;
    actions_.back().group = tr("Order");
    actions_.back().needs = tr("Pick control points first.");
  };
  tool("set_x", tr("Set x"), tr("Gives the picked points one x."), "move-horizontal",
       [this] { view_->ask_coordinate(0); });
  tool("set_y", tr("Set y"), tr("Gives the picked points one y."), "move-diagonal",
       [this] { view_->ask_coordinate(1); });
  tool("set_z", tr("Set z"), tr("Gives the picked points one z."), "move-vertical",
       [this] { view_->ask_coordinate(2); });
  arrange("level_mean", tr("Level to mean plane"),
          tr("Brings the picked points onto the plane that fits them best."), "align-center", {},
          [] { return LevelToMean{}; });
  tool("level_three", tr("Level to three points"),
       tr("Brings the picked points onto the plane through three points that you click."), "frame",
       [this] { editor_.begin_plane_points(); });
  arrange("level_work_plane", tr("Level to work plane"),
          tr("Brings the picked points onto the work plane."), "square", {}, [this] {
            return LevelTo{{editor_.work_plane().origin, editor_.work_plane().z}};
          });
  arrange("straighten_view", tr("Straighten in view"),
          tr("Puts the picked points on one line as seen from here; their depth stays."), "minus",
          {}, [this] { return StraightenInView{view_->camera(view_->main_name()).axes().z}; });
  arrange("straighten_row", tr("Straighten row"),
          tr("Puts each picked row evenly on the line between its ends."), "ruler", {},
          [] { return StraightenRows{}; });
  arrange("smooth", tr("Smooth"), tr("Moves each picked point half-way to its neighbours' mean."),
          "waves", {}, [] { return SmoothPoints{}; });
  arrange("relax", tr("Relax from borders"),
          tr("Lets the picked inner points follow the four borders."), "frame", {},
          [] { return RelaxPoints{}; });
  tool("make_symmetric", tr("Make symmetric"),
       tr("The side of the point picked last is mirrored to the other."), "flip-horizontal-2",
       [this] { editor_.make_symmetric(); });
  actions_.back().enabled_when = has_net;
  actions_.back().group = tr("Symmetry");
  tool("plane_from_picked", tr("Plane from picked"),
       tr("One point: its tangent plane; two: upright through both; three or more: through them."),
       "square", [this] { editor_.set_work_plane_from_picked(); });
  actions_.back().group = tr("Work plane");
  tool("plane_from_view", tr("Plane from view"),
       tr("The work plane becomes parallel to the screen."), "camera", [this] {
         Frame frame = view_->camera(view_->main_name()).axes();
         frame.origin = editor_.picked_centre();
         editor_.set_work_plane(frame);
       });
  actions_.back().enabled_when = has_net;
  actions_.back().group = tr("Work plane");
}

}  // namespace evenclay
