// Cutting, joining and blending in the window, with real clicks on faces and edges.
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QToolButton>

#include "core/body/topology.h"
#include "core/check/curve_measures.h"
#include "core/operations/blend_parts.h"
#include "core/operations/body_picks.h"
#include "core/operations/catalogue.h"
#include "core/operations/joining.h"
#include "core/operations/solid_steps.h"
#include "trial_support.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

bool closed(const Body& body) {
  return topology(edged(body)).closed;
}

// A click on the middle of something in space, as the main view shows it.
void click_at(Window& w, const Vec3& place, Qt::KeyboardModifiers modifiers = {}) {
  const QPoint at = w.window.view().place_on_screen(place, 0).toPoint();
  QTest::mouseMove(&w.window.view(), at);
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, modifiers, at);
  w.settle();
}

// The edge of a body whose middle comes first in some order.
std::size_t edge_where(const Body& body, const std::function<double(const Vec3&)>& rank) {
  std::size_t best = 0;
  double least = 1e300;
  for (std::size_t e = 0; e < body.edges.size(); ++e) {
    const KnotVector& k = body.edges[e].curve.knots;
    const double r = rank(evaluate(body.edges[e].curve, k.first() + 0.5 * k.length()));
    if (r < least) {
      least = r;
      best = e;
    }
  }
  return best;
}
Vec3 middle_of(const Edge& e) {
  return evaluate(e.curve, e.curve.knots.first() + 0.5 * e.curve.knots.length());
}

}  // namespace

TEST_CASE(
    "a box's front edge is clicked and rounded, and an impossible radius names one that works") {
  Window w(false);
  add_part(w, "Block", "box", {});
  w.window.view().frame_all();
  w.window.stages().open(Stage::CutAndJoin);
  const Body before = edged(shown(w));
  // The upper edge nearest to the viewer.
  const Vec3 towards = w.window.view().camera(w.window.view().main_name()).axes().z;
  const std::size_t edge = edge_where(before, [&](const Vec3& p) { return -dot(p, towards); });
  press(w, "round_edges");
  CHECK(message(w).contains("No edge is picked"));
  click_at(w, middle_of(before.edges[edge]));
  const Step* step = find_step(w.window.model().document(), w.window.model().chosen_step());
  const auto& round = dynamic_cast<const RoundEdgesOperation&>(*step->operation);
  REQUIRE(round.edges.size() == 1);
  CHECK(round.edges[0].tag == before.edges[edge].tag);
  CHECK(shown(w).faces.size() == before.faces.size() + 1);
  CHECK(closed(shown(w)));
  // Once more takes it out again.
  click_at(w, middle_of(before.edges[edge]));
  CHECK(message(w).contains("No edge is picked"));
  click_at(w, middle_of(before.edges[edge]));
  auto* radius = child_of<QDoubleSpinBox>(w.window, "radius");
  radius->setValue(900.0);
  w.settle();
  INFO(message(w).toStdString());
  CHECK(message(w).contains("mm works"));
  radius->setValue(2.0);
  w.settle();
  CHECK_FALSE(message(w).contains("works"));
  keep(w);
  // On the kept step a plain click does not pick, Ctrl does.
  const auto picked = [&] {
    const Step* kept = find_step(w.window.model().document(), w.window.model().chosen_step());
    return dynamic_cast<const RoundEdgesOperation&>(*kept->operation).edges.size();
  };
  const Edge& beside = before.edges[edge_where(before, [&](const Vec3& p) {
    return distance(p, middle_of(before.edges[edge])) < 1e-6 ? 1e9 : -dot(p, towards);
  })];
  click_at(w, middle_of(beside));
  CHECK(picked() == 1);
  click_at(w, middle_of(beside), Qt::ControlModifier);
  CHECK(picked() == 2);
  w.window.model().undo();
  w.settle();
  CHECK(picked() == 1);
  w.window.model().undo();
  w.settle();
  CHECK(shown(w).faces.size() == before.faces.size());
}

TEST_CASE("a hollow box: the upper face is clicked open, and a piece split off by a plane") {
  Window w(false);
  add_part(w, "Block", "box", {});
  w.window.view().frame_all();
  w.window.stages().open(Stage::CutAndJoin);
  const Body before = shown(w);
  std::size_t top = 0;
  for (std::size_t f = 0; f < before.faces.size(); ++f)
    if (pick_of_body_face(before, f).near.z > pick_of_body_face(before, top).near.z) top = f;
  press(w, "shell");
  CHECK(message(w).contains("closed all round"));
  click_at(w, pick_of_body_face(before, top).near);
  CHECK_FALSE(message(w).contains("closed all round"));
  CHECK(closed(shown(w)));
  CHECK(shown(w).faces.size() > before.faces.size());
  keep(w);
  press(w, "split_part");
  auto* by = child_of<QComboBox>(w.window, "by");
  CHECK(by->currentIndex() == 1);  // no curve is there: a plane
  CHECK(message(w).contains("2 pieces stay"));
  CHECK(closed(shown(w)));
  CHECK(topology(edged(shown(w))).shells.size() == 2);
  keep(w);
}

TEST_CASE("an edge is split where it is clicked") {
  Window w(false);
  add_part(w, "Sheet", "plane", {{"length_x", "60"}, {"length_y", "40"}});
  w.window.view().frame_all();
  w.window.stages().open(Stage::CutAndJoin);
  press(w, "split_edges");
  child_of<QCheckBox>(w.window, "at_place")->click();
  w.settle();
  click_at(w, {30, -10, 0});  // a quarter along the border at x = 30, which runs from y = −20 to 20
  const auto along = [&] {
    std::vector<double> lengths;
    for (const Edge& e : shown(w).edges)
      if (std::abs(evaluate(e.curve, e.curve.knots.first()).x - 30.0) < 1e-9 &&
          std::abs(evaluate(e.curve, e.curve.knots.last()).x - 30.0) < 1e-9)
        lengths.push_back(arc_length(e.curve));
    std::sort(lengths.begin(), lengths.end());
    return lengths;
  };
  REQUIRE(along().size() == 2);
  CHECK(along()[0] == Approx(10.0).margin(0.3));
  CHECK(along()[1] == Approx(30.0).margin(0.3));
  // Another click puts the place elsewhere.
  click_at(w, {30, 5, 0});
  REQUIRE(along().size() == 2);
  CHECK(along()[0] == Approx(15.0).margin(0.3));
  keep(w);
  CHECK(shown(w).edges.size() == 5);
}

TEST_CASE("a sheet is split by a curve, a piece clicked away, another raised") {
  Window w(false);
  add_part(w, "Ring", "circle", {{"radius", "12"}});
  add_part(w, "Sheet", "plane", {{"length_x", "60"}, {"length_y", "40"}});
  w.window.view().frame_all();
  w.window.stages().open(Stage::CutAndJoin);
  press(w, "split_part");
  CHECK(message(w).contains("2 pieces stay"));
  keep(w);
  press(w, "offset_faces");
  click_at(w, {4, 3, 0});
  CHECK(shown(w).faces.size() == 3);  // sheet, piece, wall round it
  CHECK(shown(w).faces.size() > 2);
  w.window.model().drop_trial();
  w.settle();
  press(w, "remove_faces");
  click_at(w, {4, 3, 0});
  REQUIRE(shown(w).faces.size() == 1);
  // What has gone is clicked inside its outline to come back.
  click_at(w, {4, 3, 0});
  CHECK(message(w).contains("No face is picked"));
  click_at(w, {4, 3, 0});
  keep(w);
  CHECK(shown(w).faces.size() == 1);
}

TEST_CASE("two rings are blended, one is scaled afterwards and the blend follows with its badges") {
  Window w(false);
  const PartId lower = add_part(w, "Collar", "cylinder", {{"radius", "10"}, {"height", "10"}});
  add_part(w, "Tube", "cylinder", {{"radius", "6"}, {"height", "10"}, {"centre_z", "22"}});
  w.window.model().pick_parts({lower});
  w.window.view().frame_all();
  w.window.stages().open(Stage::CutAndJoin);
  press(w, "blend");
  const PartId blend = w.window.model().chosen_part();
  const auto badges = [&] { return w.window.model().drawn().at(blend).joints; };
  REQUIRE(badges().size() == 2);
  for (const JointBadge& j : badges()) CHECK(j.level >= 2);
  keep(w);
  const Part* collar = find_part(w.window.model().document(), std::string_view("Collar"));
  const double width = w.window.model().drawn().at(blend).mesh->box.max.x;
  w.window.model().change_operation(collar->steps[0].id,
                                    with_parameter(*collar->steps[0].operation, "radius", "14"),
                                    "Radius", {});
  w.settle();
  CHECK(w.window.model().drawn().at(blend).mesh->box.max.x > width + 3.0);
  REQUIRE(badges().size() == 2);
  for (const JointBadge& j : badges()) CHECK(j.level >= 2);
  // The far end of the collar is clicked instead: the blend has a longer way.
  w.window.model().choose_part(blend);
  w.settle();
}

TEST_CASE("edges 1.5 mm apart are not joined, and the step says what would") {
  Window w(false);
  const PartId a = add_part(w, "Left", "plane", {{"length_x", "20"}, {"length_y", "20"}});
  add_part(w, "Right", "plane", {{"length_x", "20"}, {"length_y", "20"}, {"centre_x", "21.5"}});
  w.window.model().pick_parts({a});
  w.window.stages().open(Stage::CutAndJoin);
  press(w, "join_parts");
  INFO(message(w).toStdString());
  CHECK(message(w).contains("1.500 mm"));
  CHECK(message(w).contains("would close it"));
  auto* tolerance = child_of<QDoubleSpinBox>(w.window, "tolerance");
  tolerance->setValue(1.6);
  w.settle();
  CHECK(message(w).contains("edges joined"));
  CHECK(topology(shown(w)).shells.size() == 1);
}

TEST_CASE("badges at all joints are shown on demand") {
  Window w(false);
  const PartId block = add_part(w, "Block", "box", {});
  CHECK(w.window.model().drawn().at(block).joints.empty());
  REQUIRE(w.window.run("joint_badges"));
  w.settle();
  CHECK(w.window.model().drawn().at(block).joints.size() == 12);
  for (const JointBadge& j : w.window.model().drawn().at(block).joints)
    CHECK(j.angle == Approx(90.0));
}

TEST_CASE("a hole is clicked where it shall be and goes through") {
  Window w(false);
  add_part(w, "Block", "box", {});
  w.window.view().frame_all();
  w.window.stages().open(Stage::CutAndJoin);
  const Body before = shown(w);
  std::size_t top = 0;
  for (std::size_t f = 0; f < before.faces.size(); ++f)
    if (pick_of_body_face(before, f).near.z > pick_of_body_face(before, top).near.z) top = f;
  press(w, "hole");
  const Vec3 place = pick_of_body_face(before, top).near + Vec3{3, -4, 0};
  click_at(w, place);
  CHECK(shown(w).faces.size() == before.faces.size() + 1);
  CHECK(closed(shown(w)));
  keep(w);
}

TEST_CASE("a corner of a box is dragged and the flat faces follow") {
  Window w(false);
  const PartId block = add_part(w, "Block", "box", {});
  w.window.view().frame_all();
  w.window.stages().open(Stage::CutAndJoin);
  const double volume = w.window.model().gauges()->volume.value_or(0.0);
  REQUIRE(volume > 0.0);
  press(w, "corner_edit");
  keep(w);
  REQUIRE(w.window.editor().net());
  REQUIRE(w.window.editor().form() != nullptr);
  const Nets& nets = w.window.editor().net()->shown;
  REQUIRE(nets.size() == 8);
  // The upper four by their places, moved by a typed amount.
  Selection upper;
  double top = -1e300;
  for (int k = 0; k < 8; ++k) top = std::max(top, nets.nets[0].point(k, 0, 0).z);
  std::vector<Tag> tags;
  for (int k = 0; k < 8; ++k)
    if (nets.nets[0].point(k, 0, 0).z > top - 1e-6) {
      upper.insert({0, k, 0, 0});
      tags.push_back(w.window.editor().form()->links->point_tags[static_cast<std::size_t>(k)]);
    }
  REQUIRE(upper.size() == 4);
  w.window.editor().set_form_kind(PickKind::Corner);
  w.window.editor().pick_form(tags);
  const Box3 box = w.window.model().drawn().at(block).mesh->box;
  REQUIRE(w.window.editor().move_by({MoveDirection::Z, 5.0, {}}));
  w.settle();
  CHECK(closed(shown(w)));
  CHECK(w.window.model().drawn().at(block).mesh->box.max.z == Approx(box.max.z + 5.0));
  CHECK(find_part(w.window.model().document(), block)->steps.size() == 2);  // in the step itself
  // One of them with the mouse.
  w.window.editor().pick_form({tags.front()});
  w.window.editor().set_direction(MoveDirection::Z);
  const QPoint at = w.point(*w.window.editor().picked().begin());
  QTest::mousePress(&w.window.view(), Qt::LeftButton, {}, at);
  for (int k = 1; k <= 6; ++k) QTest::mouseMove(&w.window.view(), at - QPoint(0, 5 * k), 5);
  QTest::mouseRelease(&w.window.view(), Qt::LeftButton, {}, at - QPoint(0, 30));
  w.settle();
  CHECK(closed(shown(w)));
  CHECK(w.window.model().drawn().at(block).mesh->box.max.z > box.max.z + 5.5);
  w.window.model().undo();
  w.settle();
  CHECK(w.window.model().drawn().at(block).mesh->box.max.z == Approx(box.max.z + 5.0));
}

TEST_CASE("the edge of a sheet is matched to another, and follows it") {
  Window w(false);
  const PartId fixed = add_part(w, "Fixed", "plane", {{"length_x", "20"}, {"length_y", "20"}});
  const PartId loose =
      add_part(w, "Loose", "plane",
               {{"length_x", "20"}, {"length_y", "20"}, {"centre_x", "23"}, {"centre_z", "2"}});
  OperationPtr rebuild = make_operation("rebuild");
  for (const char* count : {"points_u", "points_v"}) rebuild = with_parameter(*rebuild, count, "6");
  w.window.model().commit(with_step(w.window.model().document(), loose, rebuild).document,
                          "Rebuild", {});
  w.settle();
  w.window.model().pick_parts({fixed});
  w.window.stages().open(Stage::CutAndJoin);
  press(w, "match");
  REQUIRE(w.window.model().drawn().at(loose).joints.size() == 1);
  CHECK(w.window.model().drawn().at(loose).joints[0].level >= 1);
  CHECK(w.window.model().drawn().at(loose).mesh->box.min.x == Approx(10.0).margin(0.01));
  keep(w);
  const Part* part = find_part(w.window.model().document(), std::string_view("Fixed"));
  w.window.model().change_operation(
      part->steps[0].id, with_parameter(*part->steps[0].operation, "centre_x", "-1"), "Move", {});
  w.settle();
  CHECK(w.window.model().drawn().at(loose).mesh->box.min.x == Approx(9.0).margin(0.01));
}
