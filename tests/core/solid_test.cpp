// Parts united, subtracted, intersected, closed, hollowed, rounded: volumes by formula, and what keeps its name.
#include <BRepAlgoAPI_Splitter.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/check/curve_measures.h"
#include "core/check/measures.h"
#include "core/cut/combine.h"
#include "core/cut/edge_edit.h"
#include "core/cut/openings.h"
#include "core/cut/prepared.h"
#include "core/cut/round.h"
#include "core/cut/split.h"
#include "core/cut/thicken.h"
#include "core/kernel/convert.h"
#include "core/nurbs/conics.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Contains;
constexpr double kPi = std::numbers::pi;

namespace {

Progress progress;

}  // namespace

TEST_CASE("a cylinder's flat ends close it to a solid of π r² h") {
  const Body solid = cylinder({}, 5.0, 12.0, 3);
  CHECK(solid.faces.size() == 3);
  CHECK(is_closed_solid(solid));
  CHECK(kernel_accepts(solid));
  CHECK(volume_of(solid) == Approx(kPi * 25.0 * 12.0).epsilon(1e-7));
  // Turned inside out it stays closed, with the caps turned, too.
  Body inside_out = with_explicit_borders(body_of({make_cylinder({}, 5.0, 12.0)}, 1), 1e-9);
  inside_out.faces[0].flipped = true;
  CHECK(volume_of(capped(inside_out, 1e-6, 2).body) == Approx(-kPi * 300.0).epsilon(1e-7));
}

TEST_CASE("two rings in one plane become a face with an opening") {
  Body tubes = body_of({make_cylinder({}, 5.0, 12.0), make_cylinder({}, 3.0, 12.0)}, 1);
  tubes.faces[1].flipped = true;
  const Capped closed = capped(with_explicit_borders(tubes, 1e-9), 1e-6, 2);
  CHECK(closed.added.size() == 2);
  CHECK(closed.left.empty());
  CHECK(is_closed_solid(closed.body));
  CHECK(volume_of(closed.body) == Approx(kPi * (25.0 - 9.0) * 12.0).epsilon(1e-7));
}

TEST_CASE("boxes united, subtracted and intersected have the volumes of arithmetic") {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const Body b = box({5, 5, 5}, {10, 10, 10}, 2);
  for (const auto& [how, volume] : {std::pair{Combine::Unite, 1875.0},
                                    {Combine::Subtract, 875.0},
                                    {Combine::Intersect, 125.0}}) {
    const Combined c = combined(a, std::vector{b}, how, 0.01, 7, progress);
    CHECK(volume_of(c.body) == Approx(volume).epsilon(1e-9));
    CHECK(is_closed_solid(c.body));
    CHECK(kernel_accepts(c.body));
    CHECK(c.shells == 1);
    const std::vector<Tag> tags = tags_of_faces(c.body);
    CHECK(std::adjacent_find(tags.begin(), tags.end()) == tags.end());
    for (const Face& f : c.body.faces) CHECK((holds(a, f.tag) || holds(b, f.tag)));
  }
  // Faces that nothing cuts keep their very surfaces.
  const Combined cut = combined(a, std::vector{b}, Combine::Subtract, 0.01, 7, progress);
  const int bottom = face_with_tag(cut.body, a.faces[0].tag);
  REQUIRE(bottom >= 0);
  CHECK(cut.body.faces[static_cast<std::size_t>(bottom)].surface == a.faces[0].surface);
}

TEST_CASE("two equal crossing cylinders enclose 16 R³ / 3") {
  // J. Steinmetz's solid, known to Archimedes; any handbook of mathematics.
  const double r = 4.0;
  const Frame along_x{{-10, 0, 0}, {0, 1, 0}, {0, 0, 1}, {1, 0, 0}};
  const Combined c =
      combined(cylinder({{0, 0, -10}}, r, 20.0, 1), std::vector{cylinder(along_x, r, 20.0, 2)},
               Combine::Intersect, 0.01, 3, progress);
  CHECK(volume_of(c.body) == Approx(16.0 * r * r * r / 3.0).epsilon(1e-5));
  CHECK(is_closed_solid(c.body));
}

TEST_CASE("a box with a round hole through it has lost π r² a") {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const Combined c = combined(a, std::vector{cylinder({{5, 5, -1}}, 2.0, 12.0, 2)},
                              Combine::Subtract, 0.01, 3, progress);
  CHECK(volume_of(c.body) == Approx(1000.0 - kPi * 40.0).epsilon(1e-7));
  CHECK(c.body.faces.size() == 7);
  CHECK(is_closed_solid(c.body));
}

TEST_CASE("what cannot be combined is refused with a sentence") {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const Body far = box({50, 0, 0}, {10, 10, 10}, 2);
  const Body open = body_of({make_cylinder({}, 5.0, 12.0)}, 3);
  CHECK_THROWS_WITH(combined(a, std::vector{far}, Combine::Intersect, 0.01, 3, progress),
                    Contains("nothing in common"));
  CHECK_THROWS_WITH(combined(a, std::vector{open}, Combine::Unite, 0.01, 3, progress),
                    Contains("is open: 2 of its edges") && Contains("31.42 mm"));
  CHECK_THROWS_WITH(combined(a, std::vector{box({-1, -1, -1}, {20, 20, 20}, 4)}, Combine::Subtract,
                             0.01, 3, progress),
                    Contains("Nothing of the part would be left"));
  CHECK(combined(a, std::vector{far}, Combine::Unite, 0.01, 3, progress).shells == 2);
}

TEST_CASE("faces without area are refused before the kernel searches them, with their place") {
  const Body solid = box({0, 0, 0}, {10, 10, 10}, 1);
  Surface point = make_plane({}, 10, 10, 3, 3, 2, 2);
  Surface line = point;
  for (Vec3& p : point.points.values()) p = {1, 2, 3};
  for (Vec3& p : line.points.values()) p = {p.x, 2.0 * p.x + 4.0, 0.5 * p.x - 1.0};
  for (const Surface& s : {point, line}) {
    const Body flat = body_of({s}, 2);
    for (const auto& [a, b] : {std::pair{solid, flat}, std::pair{flat, solid}})
      CHECK_THROWS_WITH(combined(a, std::vector{b}, Combine::Unite, 1e-3, 5, progress),
                        Contains("A face at (") && Contains("has no area"));
    CHECK_THROWS_WITH(refuse_collapsed(flat), Contains("move its points apart"));
  }
  // A sheet bent by less than a hair has some.
  for (Vec3& p : line.points.values()) p.z += 1e-5 * p.y * p.y;
  CHECK_NOTHROW(refuse_collapsed(body_of({line}, 2)));
}

TEST_CASE("an open skin loses what lies in a solid") {
  const Body sheet = body_of({make_plane({}, 40.0, 40.0, 2, 2, 1, 1)}, 1);
  const Combined c =
      combined(sheet, std::vector{ball({0, 0, 0}, 6.0, 2)}, Combine::Subtract, 0.01, 3, progress);
  double left = 0.0;
  for (const Face& f : c.body.faces) left += area(f, progress);
  CHECK(left == Approx(1600.0 - kPi * 36.0).epsilon(1e-6));
}

TEST_CASE("one rounded edge of a cube leaves a³ − (1 − π/4) r² a") {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const double r = 2.0;
  const Body rounded = with_cut_edges(a, {0}, {EdgeCut::Round, r, r, 5}, progress);
  CHECK(volume_of(rounded) == Approx(1000.0 - (1.0 - kPi / 4.0) * r * r * 10.0).epsilon(1e-6));
  CHECK(rounded.faces.size() == 7);
  CHECK(is_closed_solid(rounded));
  CHECK(kernel_accepts(rounded));
  for (const Face& f : a.faces) CHECK(holds(rounded, f.tag));
  // A chamfer of distance d takes a prism of d² / 2.
  const Body chamfered = with_cut_edges(a, {0}, {EdgeCut::Chamfer, r, r, 5}, progress);
  CHECK(volume_of(chamfered) == Approx(1000.0 - 0.5 * r * r * 10.0).epsilon(1e-9));
  // The new face is named after the edge, so another radius gives the same name.
  const Body other = with_cut_edges(a, {0}, {EdgeCut::Round, 1.0, 1.0, 5}, progress);
  CHECK(tags_of_faces(other) == tags_of_faces(rounded));
}

TEST_CASE("a radius that runs from one to another takes the mean of its squares") {
  // Along the edge r runs evenly from r1 to r2, so ∫ r² = a (r1² + r1 r2 + r2²) / 3.
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const Body rounded = with_cut_edges(a, {0}, {EdgeCut::Round, 1.0, 3.0, 5}, progress);
  CHECK(volume_of(rounded) ==
        Approx(1000.0 - (1.0 - kPi / 4.0) * 10.0 * (1.0 + 3.0 + 9.0) / 3.0).epsilon(2e-3));
}

TEST_CASE("a round that does not fit names the edge and a size that works") {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  try {
    with_cut_edges(a, {0}, {EdgeCut::Round, 25.0, 25.0, 5}, progress);
    FAIL("25 mm cannot fit a cube of 10 mm");
  } catch (const Error& e) {
    const std::string text = e.what();
    INFO(text);
    const auto at = text.find("25.00 mm: ");
    REQUIRE(at != std::string::npos);
    const auto works = text.rfind(" mm works");
    REQUIRE(works != std::string::npos);
    const double size = std::stod(text.substr(text.rfind(' ', works - 1)));
    CHECK(size > 0.0);
    CHECK_NOTHROW(with_cut_edges(a, {0}, {EdgeCut::Round, size, size, 5}, progress));
  }
  CHECK_THROWS_WITH(with_cut_edges(a, {}, {}, progress), Contains("No edge is picked"));
}

TEST_CASE("a cube with an open top hollowed by t holds a³ − (a − 2t)² (a − t)") {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const Thickened t = shelled(a, {1}, 1.0, offset_by, {}, 0.01, 5, progress);
  CHECK(volume_of(t.body) == Approx(1000.0 - 8.0 * 8.0 * 9.0).epsilon(1e-7));
  CHECK(is_closed_solid(t.body));
  CHECK(kernel_accepts(t.body));
  CHECK(t.by_kernel);
  for (std::size_t f = 0; f < a.faces.size(); ++f)
    if (f != 1) CHECK(holds(t.body, a.faces[f].tag));
}

TEST_CASE("a smooth skin is thickened by our own offset: half a ball has 2π/3 (R³ − r³)") {
  // The upper half of a sphere: v from the equator to the pole.
  Body half = with_explicit_borders(body_of({make_sphere({}, 20.0)}, 1), 1e-9);
  Face face;
  face.tag = 9;
  face.surface = std::make_shared<const Surface>(make_sphere({}, 20.0));
  const Body dish = combined(body_of({make_sphere({}, 20.0)}, 1),
                             std::vector{box({-30, -30, -60}, {60, 60, 60}, 2)}, Combine::Subtract,
                             0.01, 3, progress)
                        .body;
  std::vector<std::size_t> flat;
  for (std::size_t f = 0; f < dish.faces.size(); ++f)
    if (!holds(half, dish.faces[f].tag)) flat.push_back(f);
  const Body skin = without_faces(dish, flat);
  for (const auto& [side, outer, inner] : {std::tuple{ThickenSide::Inward, 20.0, 18.0},
                                           {ThickenSide::Outward, 22.0, 20.0},
                                           {ThickenSide::BothSides, 21.0, 19.0}}) {
    const Thickened t = thickened(skin, 2.0, side, offset_by, 0.01, 5, progress);
    CHECK(volume_of(t.body) ==
          Approx(2.0 * kPi / 3.0 * (std::pow(outer, 3) - std::pow(inner, 3))).epsilon(1e-5));
    CHECK(is_closed_solid(t.body));
    CHECK(kernel_accepts(t.body));
    CHECK_FALSE(t.by_kernel);
  }
  CHECK_THROWS_WITH(thickened(skin, 25.0, ThickenSide::Inward, offset_by, 0.01, 5, progress),
                    Contains("bends with a radius of 20.00 mm") && Contains("mm leaves room"));
  CHECK_THROWS_WITH(thickened(skin, 0.0, ThickenSide::Inward, offset_by, 0.01, 5, progress),
                    Contains("above 0"));
}

TEST_CASE("a hollow ball has two skins and the volume between them") {
  const Thickened t = shelled(ball({0, 0, 0}, 20.0, 1), {}, 2.0, offset_by, {}, 0.01, 5, progress);
  CHECK(volume_of(t.body) == Approx(4.0 * kPi / 3.0 * (8000.0 - 5832.0)).epsilon(1e-6));
  CHECK(topology(with_explicit_borders(t.body, 1e-6)).shells.size() == 2);
}

TEST_CASE(
    "the kernel is given up after its limit of time, with a sentence, and Cancel comes before it") {
  const Body a = with_edges(box({0, 0, 0}, {10, 10, 10}, 1)),
             b = with_edges(box({5, 5, 5}, {10, 10, 10}, 2));
  TopTools_ListOfShape arguments, tools;
  arguments.Append(kernel::to_kernel(a).all);
  tools.Append(kernel::to_kernel(b).all);
  BRepAlgoAPI_Splitter in_time;
  CHECK(cut_by_kernel(in_time, arguments, tools, progress));
  BRepAlgoAPI_Splitter late;
  CHECK_THROWS_WITH(cut_by_kernel(late, arguments, tools, progress, std::chrono::seconds(0)),
                    Contains("without an end") && Contains("fewer points"));
  Progress stopped;
  stopped.cancel();
  BRepAlgoAPI_Splitter cancelled;
  CHECK_THROWS_AS(cut_by_kernel(cancelled, arguments, tools, stopped, std::chrono::seconds(0)),
                  Cancelled);
}
