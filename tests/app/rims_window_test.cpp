// A bowl made in the window: cut by a plane, hollowed through its flat face, its wall changed afterwards.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <numbers>

#include "core/body/topology.h"
#include "core/check/curve_measures.h"
#include "core/check/measures.h"
#include "core/operations/body_picks.h"
#include "trial_support.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

void click_at(Window& w, const Vec3& place) {
  const QPoint at = w.window.view().place_on_screen(place, 0).toPoint();
  QTest::mouseMove(&w.window.view(), at);
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, at);
  w.settle();
}

double volume_of(const Body& body) {
  Progress progress;
  double sum = 0.0;
  for (const Face& f : body.faces) sum += volume(f, progress);
  return sum;
}

// What of a ball of radius r about 0 lies below z.
double ball_below(double r, double z) {
  return std::numbers::pi * (2.0 / 3.0 * r * r * r + r * r * z - z * z * z / 3.0);
}

std::size_t highest_face(const Body& body) {
  std::size_t top = 0;
  for (std::size_t f = 0; f < body.faces.size(); ++f)
    if (pick_of_body_face(body, f).near.z > pick_of_body_face(body, top).near.z) top = f;
  return top;
}

void set_number(Window& w, const char* name, double value) {
  auto* field = child_of<QDoubleSpinBox>(w.window, name);
  field->setValue(value);
  w.settle();
}

// How far the edges of a face leave a height.
double off_height(const Body& body, Tag tag, double z) {
  const int f = face_with_tag(body, tag);
  REQUIRE(f >= 0);
  double off = 0.0;
  for (const Loop& loop : body.faces[static_cast<std::size_t>(f)].loops)
    for (const EdgeUse& use : loop) {
      const Box3 b = tight_box(body.edges[use.edge].curve);
      off = std::max({off, std::abs(b.min.z - z), std::abs(b.max.z - z)});
    }
  return off;
}

}  // namespace

TEST_CASE("a bowl has a flat rim that keeps the name of the face that was clicked open") {
  Window w(false);
  add_part(w, "Bowl", "sphere", {{"radius", "40"}});
  w.window.view().frame_all();
  w.window.stages().open(Stage::CutAndJoin);
  press(w, "split_part");
  auto* across = child_of<QComboBox>(w.window, "normal");
  across->setCurrentIndex(2);  // across z
  Q_EMIT across->activated(2);
  w.settle();
  set_number(w, "at", 14.0);
  auto* side = child_of<QComboBox>(w.window, "keep");
  side->setCurrentIndex(2);  // what lies below
  Q_EMIT side->activated(2);
  w.settle();
  CHECK(message(w).contains("1 piece stays"));
  CHECK(volume_of(shown(w)) == Approx(ball_below(40.0, 14.0)).epsilon(1e-4));
  keep(w);

  const Body before = shown(w);
  const std::size_t top = highest_face(before);
  press(w, "shell");
  set_number(w, "thickness", 4.0);
  click_at(w, pick_of_body_face(before, top).near);
  CHECK_FALSE(message(w).contains("square to the skin"));
  CHECK(topology(edged(shown(w))).closed);
  CHECK(volume_of(shown(w)) ==
        Approx(ball_below(40.0, 14.0) - ball_below(36.0, 14.0)).epsilon(1e-3));
  const Tag rim = before.faces[top].tag;
  CHECK(off_height(shown(w), rim, 14.0) < 1e-6);
  keep(w);

  // The wall changes, and the cut beneath moves: the rim goes with both.
  w.choose("Bowl", 2);
  set_number(w, "thickness", 2.5);
  CHECK(volume_of(shown(w)) ==
        Approx(ball_below(40.0, 14.0) - ball_below(37.5, 14.0)).epsilon(1e-3));
  w.choose("Bowl", 1);
  set_number(w, "at", -8.0);
  w.choose("Bowl", 2);
  CHECK(off_height(shown(w), rim, -8.0) < 1e-6);
  CHECK(volume_of(shown(w)) ==
        Approx(ball_below(40.0, -8.0) - ball_below(37.5, -8.0)).epsilon(1e-3));
  // Undone step by step it is the whole ball again.
  for (int k = 0; k < 20; ++k) w.window.model().undo();
  w.settle();
  const Part* bowl = find_part(w.window.model().document(), std::string_view("Bowl"));
  CHECK((bowl == nullptr || bowl->steps.size() == 1));
}

TEST_CASE(
    "an opening that the second skin does not reach keeps a square rim, and the step says so") {
  Window w(false);
  add_part(w, "Bowl", "sphere", {{"radius", "20"}});
  w.window.view().frame_all();
  w.window.stages().open(Stage::CutAndJoin);
  press(w, "split_part");
  auto* across = child_of<QComboBox>(w.window, "normal");
  across->setCurrentIndex(2);
  Q_EMIT across->activated(2);
  w.settle();
  set_number(w, "at", 19.5);
  auto* side = child_of<QComboBox>(w.window, "keep");
  side->setCurrentIndex(2);
  Q_EMIT side->activated(2);
  w.settle();
  keep(w);
  const Body before = shown(w);
  press(w, "shell");
  set_number(w, "thickness", 3.0);
  click_at(w, pick_of_body_face(before, highest_face(before)).near);
  CHECK(message(w).contains("square to the skin"));
  // t h / R off the plane: the normal of a ball at a height h leans by h / R.
  CHECK(message(w).contains("2.9"));
  CHECK(topology(edged(shown(w))).closed);
}
