// Surfaces that fold back on themselves: places by hand from the bilinear patch, and forms that do not.
#include <catch2/catch.hpp>

#include "core/check/folds.h"
#include "core/nurbs/conics.h"
#include "core/operations/border_surface.h"
#include "core/operations/swept.h"
#include "core/source/outlines.h"

using namespace evenclay;
using Catch::Contains;

namespace {

Curve line(const Vec3& a, const Vec3& b) {
  return make_curve({a, b}, 1, false);
}

// Parts 1, 2, … of one curve each.
Inputs parts_of(const std::vector<Curve>& curves) {
  Inputs inputs;
  inputs.tolerance = 0.01;
  for (std::size_t k = 0; k < curves.size(); ++k)
    inputs.parts[PartRef{static_cast<int>(k) + 1}] =
        std::make_shared<const Shape>(CurveSet{{curves[k]}});
  return inputs;
}

}  // namespace

TEST_CASE("a patch between crossing sides folds where they cross") {
  // S(u, v) = (10u (1 − 2v) + 10v, 10v): its area element 100 (1 − 2v) changes sign at v = ½, which is (5, 5).
  Surface bow = make_plane({}, 10, 10, 2, 2, 1, 1);
  bow.points(0, 0) = {0, 0, 0};
  bow.points(1, 0) = {10, 0, 0};
  bow.points(0, 1) = {10, 10, 0};
  bow.points(1, 1) = {0, 10, 0};
  const auto at = fold_of(bow);
  REQUIRE(at);
  CHECK(at->y == Approx(5.0).margin(0.2));
  CHECK(at->x == Approx(5.0).margin(0.4));
}

TEST_CASE("what bends, closes or has a crease does not fold") {
  CHECK_FALSE(fold_of(make_sphere({}, 20)));
  CHECK_FALSE(fold_of(make_torus({}, 30, 29.9)));
  CHECK_FALSE(fold_of(make_cylinder({}, 1, 100)));
  CHECK_FALSE(fold_of(make_plane({}, 10, 10, 4, 4, 3, 3)));
  // A right angle, and one of 60° that a sheet of paper can be folded to without lying on itself.
  for (const Vec3& end : {Vec3{10, 0, 10}, Vec3{2, 0, 14}}) {
    Surface bent = make_plane({}, 20, 10, 3, 2, 1, 1);
    for (int j = 0; j < 2; ++j) {
      bent.points(0, j) = {0, 10.0 * j, 0};
      bent.points(1, j) = {10, 10.0 * j, 0};
      bent.points(2, j) = end + Vec3{0, 10.0 * j, 0};
    }
    CHECK_FALSE(fold_of(bent));
  }
  // A point that collapsed the whole sheet has no normal to turn.
  Surface nowhere = make_plane({}, 10, 10, 3, 3, 2, 2);
  for (Vec3& p : nowhere.points.values()) p = {1, 2, 3};
  CHECK_FALSE(fold_of(nowhere));
}

TEST_CASE("a border surface between crossing curves says where it folds, and others do not") {
  Progress progress;
  // Opposite curves cross, seen from above and in space.
  const std::vector<Curve> curves{line({0, 0, 0}, {10, 0, 0}), line({10, 0, 0}, {0, 10, 0}),
                                  line({0, 10, 0}, {10, 10, 0}), line({10, 10, 0}, {0, 0, 0})};
  BorderSurfaceOperation border;
  for (int k = 1; k <= 4; ++k) border.border.push_back(PartRef{k});
  const Outcome crossed = border.apply(Shape{Body{}}, parts_of(curves), progress);
  REQUIRE_FALSE(crossed.notes.empty());
  CHECK_THAT(crossed.notes.back(),
             Contains("folds back on itself at (") && Contains("turn one round"));

  const std::vector<Curve> square{line({0, 0, 0}, {10, 0, 0}), line({10, 0, 0}, {10, 10, 0}),
                                  line({10, 10, 0}, {0, 10, 0}), line({0, 10, 0}, {0, 0, 0})};
  CHECK(border.apply(Shape{Body{}}, parts_of(square), progress).notes.empty());

  RuledOperation ruled;
  ruled.other = PartRef{2};
  const auto between = [&](const Curve& a, const Curve& b) {
    return ruled.apply(Shape{CurveSet{{a}}}, parts_of({a, b}), progress).notes;
  };
  CHECK(between(square[0], line({0, 10, 0}, {10, 10, 0})).empty());
  // One that runs the other way is turned round by itself.
  CHECK(between(square[0], line({10, 10, 0}, {0, 10, 0})).empty());
}
