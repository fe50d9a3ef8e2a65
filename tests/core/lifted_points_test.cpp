// Lifted points: rows of point numbers with amounts that follow named numbers. And reference pictures.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/error.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/operations/catalogue.h"
#include "core/operations/lifted_points.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"
#include "core/operations/reference_picture.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

struct Sheet {
  Document d;
  PartId part = 0;
  StepId rebuild = 0, lift = 0;
};

// A flat sheet of 5 x 5 points with three of them lifted.
Sheet sheet() {
  const Added plane = with_part({}, "Sheet", std::make_shared<PlaneOperation>());
  auto rebuild = std::make_shared<RebuildOperation>();
  rebuild->points_u = rebuild->points_v = 5;
  const Added grid = with_step(plane.document, plane.part, rebuild);
  const Added lift =
      with_step(grid.document, plane.part, std::make_shared<LiftedPointsOperation>());
  Document d = with_step_parameter(lift.document, lift.step, "rows", "[1,2] off; [2,2] z;[4,4] x");
  d = with_number(d, "lift", "4");
  d = with_step_parameter(d, lift.step, "amount_1", "lift");
  d = with_step_parameter(d, lift.step, "amount_2", "2 * lift + 1");
  d = with_step_parameter(d, lift.step, "amount_3", "1.5");
  return {d, plane.part, grid.step, lift.step};
}

PartResult result(const Document& d, PartId part) {
  Progress progress;
  return Evaluator().evaluate(d, progress, {part}).parts.at(part);
}

Vec3 point(const PartResult& r, int i, int j) {
  return std::get<Body>(*r.shape).faces[0].surface->points(i, j);
}

}  // namespace

TEST_CASE("a number lifts every point whose row uses it, each its own way") {
  Sheet s = sheet();
  const PartResult low = result(s.d, s.part);
  REQUIRE_FALSE(low.failed);
  CHECK(std::abs(point(low, 1, 2).z) == Approx(4.0));  // off the skin of a flat sheet
  CHECK(point(low, 2, 2).z == Approx(9.0));
  const double flat_x = point(low, 4, 3).x;
  CHECK(point(low, 4, 4).x == Approx(flat_x + 1.5));
  CHECK(point(low, 3, 3).z == Approx(0.0).margin(1e-12));
  const PartResult high = result(with_number(s.d, "lift", "10"), s.part);
  CHECK(std::abs(point(high, 1, 2).z) == Approx(10.0));
  CHECK(point(high, 2, 2).z == Approx(21.0));
  CHECK(point(high, 4, 4).x == Approx(flat_x + 1.5));
}

TEST_CASE("a row whose point is gone says so, and the others hold") {
  Sheet s = sheet();
  s.d = with_step_parameter(s.d, s.rebuild, "points_u", "4");
  const PartResult r = result(s.d, s.part);
  CHECK_FALSE(r.failed);
  REQUIRE(r.steps.back().notes.size() == 1);
  CHECK_THAT(r.steps.back().notes[0], Contains("[4,4]"));
  CHECK(point(r, 2, 2).z == Approx(9.0));
}

TEST_CASE("rows and their formulas are kept in the file, and what is no row is refused") {
  const Sheet s = sheet();
  const Document back = from_project_json(to_project_json(s.d), make_operation);
  CHECK(to_project_json(back) == to_project_json(s.d));
  CHECK(find_step(back, s.lift)->formulas.at("amount_2") == "2 * lift + 1");
  LiftRows rows;
  CHECK_THROWS_WITH(rows.set("", "4,2 off"), Contains("no row"));
  CHECK_THROWS_WITH(rows.set("", "[4,2] sideways"), Contains("sideways"));
  CHECK_THROWS_AS(rows.set("", "[-1,2] x"), Error);
  CHECK_THROWS_AS(rows.set("", "[1.5] x"), Error);
  CHECK_THROWS_AS(rows.set("[0]", "[1,1] x"), Error);
}

TEST_CASE("picked points become rows") {
  LiftedPointsOperation o;
  Beginning b;
  const Sheet s = sheet();
  b.before = result(s.d, s.part).shape;
  b.points = {{0, 1, 1, 0}, {0, 3, 2, 0}};
  o.suit(b);
  REQUIRE(o.rows.rows.size() == 2);
  CHECK(o.rows.typed() == "[1,1] off; [3,2] off");
}

namespace {

std::string png_head(int width, int height) {
  std::string s = "\x89PNG\r\n\x1a\n";
  s += std::string("\0\0\0\rIHDR", 8);
  for (const int x : {width, height})
    for (const int shift : {24, 16, 8, 0}) s += static_cast<char>((x >> shift) & 0xFF);
  return s + "....";
}

}  // namespace

TEST_CASE("the proportion of a picture is read from the head of its file") {
  CHECK(picture_proportion(png_head(300, 200)) == Approx(1.5));
  CHECK_FALSE(picture_proportion(png_head(300, 0)).has_value());
  // A bitmap of 64 x 32: BM, sizes, and the info header's width and height from byte 18 on.
  std::string bmp(54, '\0');
  bmp[0] = 'B';
  bmp[1] = 'M';
  bmp[18] = 64;
  bmp[22] = 32;
  CHECK(picture_proportion(bmp) == Approx(2.0));
  // A JPEG with an application segment before its frame header of 480 rows and 640 columns.
  const std::string jpeg("\xff\xd8\xff\xe0\x00\x04\x11\x22\xff\xc0\x00\x11\x08\x01\xe0\x02\x80\x03",
                         18);
  CHECK(picture_proportion(jpeg + "................") == Approx(640.0 / 480));
  CHECK(picture_proportion("<?xml version='1.0'?><svg xmlns='x' viewBox=\"0 0 120 40\"></svg>") ==
        Approx(3.0));
  CHECK(picture_proportion("<svg width=\"210mm\" height=\"297mm\" viewBox=\"0 0 1 1\"/>") ==
        Approx(210.0 / 297));
  for (const char* none : {"", "text", "<svg", "\x89PNG", "BM", "\xff\xd8\xff"})
    CHECK_FALSE(picture_proportion(none).has_value());
}

TEST_CASE("a reference picture stands on its plane, turned and scaled about a place") {
  ReferencePictureOperation o;
  Progress progress;
  CHECK_THROWS_WITH(o.apply(CurveSet{}, {}, progress), Contains("no file yet"));
  o.file = {"notes.txt", std::make_shared<const std::string>("text")};
  CHECK_THROWS_WITH(o.apply(CurveSet{}, {}, progress), Contains("no picture"));
  o.file = {"side.png", std::make_shared<const std::string>(png_head(400, 100))};
  o.width = 80;
  o.turn = 90;
  o.centre = {5, 0, 20};
  const Picture p = std::get<Picture>(o.apply(CurveSet{}, {}, progress).shape);
  CHECK(p.height == Approx(20.0));
  CHECK(distance(p.frame.x, {0, 0, 1}) < 1e-12);  // turned up in the x-z plane
  CHECK(p.frame.origin == Vec3{5, 0, 20});
  // Twice as large about a place: that place stays, the middle moves away from it.
  const auto larger =
      std::static_pointer_cast<const ReferencePictureOperation>(o.scaled_about({0, 0, 10}, 2.0));
  CHECK(larger->width == Approx(160.0));
  CHECK(larger->centre == Vec3{10, 0, 30});
}
