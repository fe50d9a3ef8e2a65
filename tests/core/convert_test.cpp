// Faces of any kind as whole surfaces with a grid: against the faces themselves and closed forms.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/check/measures.h"
#include "core/cut/trim.h"
#include "core/nurbs/conics.h"
#include "core/operations/convert.h"
#include "core/source/border_surface.h"
#include "core/source/convert.h"
#include "core/source/outlines.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

// A flat sheet of 100 x 100 cut to what lies inside a closed curve.
Body cut_sheet(const Curve& inside) {
  Progress progress;
  const std::vector<Curve> curves{inside};
  return trim(body_of({make_plane({}, 100, 100, 4, 4, 3, 3)}, 1), curves,
              {.keep = TrimKeep::Inside, .step = 2}, progress)
      .body;
}

}  // namespace

TEST_CASE("a face with four edges becomes a surface between them") {
  // A rectangle of 40 x 30 cut out of the sheet; its edges meet at corners.
  const Body body = cut_sheet(make_rectangle({}, 40, 30, 0.0));
  REQUIRE(body.faces.size() == 1);
  REQUIRE(body.faces[0].loops.size() == 1);
  Progress progress;
  const Converted c = converted(body.faces[0], body, 6, 5, progress);
  if (body.faces[0].loops[0].size() == 4) {
    CHECK(c.how == Conversion::FourBorders);
    CHECK(area(c.surface) == Approx(1200.0).epsilon(1e-6));
  } else {
    CHECK(c.how == Conversion::TrimsLost);
  }
  const Box3 b = tight_box(c.surface);
  CHECK(b.max.x - b.min.x == Approx(40.0).margin(0.01));
  CHECK(b.max.y - b.min.y == Approx(30.0).margin(0.01));
  CHECK(c.surface.points.rows() == 6);
  CHECK(c.surface.points.columns() == 5);
}

TEST_CASE("other trimmed faces lose their trims and say so, whole ones keep their shape") {
  Progress progress;
  const Body disc = cut_sheet(make_circle({}, 20));
  const Converted c = converted(disc.faces[0], disc, 6, 6, progress);
  if (c.how == Conversion::TrimsLost) {
    const Box3 b = tight_box(c.surface);
    CHECK(b.max.x == Approx(20.0).margin(0.01));
    CHECK(area(c.surface) == Approx(1600.0).epsilon(1e-3));
  } else {
    CHECK(c.how == Conversion::FourBorders);
    CHECK(area(c.surface) == Approx(kPi * 400).epsilon(1e-2));
  }
  ConvertOperation o;
  o.points_u = 16;
  o.points_v = 12;
  const Shape ball = body_of({make_sphere({}, 20)}, 1);
  const Outcome outcome = o.apply(ball, {}, progress);
  const Surface& s = *std::get<Body>(outcome.shape).faces[0].surface;
  CHECK_FALSE(s.rational());
  CHECK(deviation(body_of({s}), std::get<Body>(ball), progress).max < 0.2);
  CHECK_THAT(outcome.notes[0], Contains("weights are given up"));
  const Shape plane = body_of({make_plane({}, 10, 10, 3, 3, 2, 2)}, 1);
  CHECK_THAT(o.apply(plane, {}, progress).notes[0], Contains("unchanged"));
}
