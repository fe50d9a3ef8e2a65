// Borders that lie on each other become one edge: which ones, in which sense, and how far apart they are.
#include "core/body/join.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/nurbs/curve.h"
#include "core/nurbs/hermite.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;

TEST_CASE("two curves meet in one sense, in the other, or not at all") {
  const Curve a = line_curve({0, 0, 0}, {10, 0, 0});
  CHECK(sense_of_meeting(a, line_curve({0, 0, 0}, {10, 0, 0}, 5, 7), 1e-9) == 1);
  CHECK(sense_of_meeting(a, line_curve({10, 0, 0}, {0, 0, 0}), 1e-9) == -1);
  CHECK(sense_of_meeting(a, line_curve({0, 0.02, 0}, {10, 0.02, 0}), 0.01) == 0);
  CHECK(sense_of_meeting(a, line_curve({0, 0.02, 0}, {10, 0.02, 0}), 0.03) == 1);
  CHECK(sense_of_meeting(a, line_curve({0, 0, 0}, {10, 0.05, 0}), 0.01) == 0);
  // Ends alone do not make a meeting.
  Curve bow = a;
  bow = {{2, false, {0, 0, 0, 1, 1, 1}}, {{0, 0, 0}, {5, 2, 0}, {10, 0, 0}}, {}};
  CHECK(sense_of_meeting(a, bow, 0.01) == 0);
  CHECK(sense_of_meeting(bow, bow, 1e-12) == 1);
}

TEST_CASE("six loose patches make a closed box, and five leave a ring of four open edges") {
  const Vec3 x{10, 0, 0}, y{0, 20, 0}, z{0, 0, 30};
  const std::vector<Surface> six{patch({}, y, x), patch(z, x, y),  patch({}, x, z),
                                 patch(y, z, x),  patch({}, z, y), patch(x, y, z)};
  const JoinedBody box = joined(body_of(six, 1), 1e-6);
  CHECK(box.open == 0);
  CHECK(box.body.edges.size() == 12);
  CHECK(box.gap < 1e-12);
  CHECK(topology(box.body).closed);
  CHECK(volume_of(box.body) == Approx(6000.0));
  const JoinedBody lid_off = joined(body_of({six[0], six[2], six[3], six[4], six[5]}, 1), 1e-6);
  CHECK(lid_off.open == 4);
  CHECK(lid_off.body.edges.size() == 12);
  const Topology t = topology(lid_off.body);
  REQUIRE(t.open_chains.size() == 1);
  CHECK(t.open_chains[0].size() == 4);
  CHECK(t.shells.size() == 1);
}

TEST_CASE("a gap is bridged up to the tolerance, and said") {
  const Surface left = patch({0, 0, 0}, {10, 0, 0}, {0, 10, 0});
  for (const double gap : {0.004, 0.05}) {
    const Surface right = patch({10 + gap, 0, 0}, {10, 0, 0}, {0, 10, 0});
    const JoinedBody close = joined(body_of({left, right}, 1), 0.01);
    if (gap < 0.01) {
      CHECK(close.open == 6);
      CHECK(close.gap >= 0.5 * gap - 1e-12);
      CHECK(close.gap <= gap + 1e-12);
    } else {
      CHECK(close.open == 8);
      CHECK(close.gap < 1e-9);
    }
  }
}

TEST_CASE("of three faces at one line only two are joined") {
  // A third sheet stands on the line between two: an edge that three faces use bounds no volume.
  const JoinedBody three = joined(
      body_of({patch({0, 0, 0}, {10, 0, 0}, {0, 10, 0}), patch({10, 0, 0}, {10, 0, 0}, {0, 10, 0}),
               patch({10, 0, 0}, {0, 10, 0}, {0, 0, 10})},
              1),
      1e-6);
  CHECK_FALSE(topology(three.body).closed);
  std::size_t most = 0;
  for (const auto& uses : topology(three.body).uses) most = std::max(most, uses.size());
  CHECK(most >= 2);
  CHECK(three.body.faces.size() == 3);
}
