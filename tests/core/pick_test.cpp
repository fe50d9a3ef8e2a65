// Picks: found by tag, else by where they were, in files, in text, and in steps that use them.
#include <catch2/catch.hpp>

#include "core/base/error.h"
#include "core/body/pick.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/nurbs/conics.h"
#include "core/operations/catalogue.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

// Two sheets of 40 × 30 mm side by side along x, the left one about x = −30.
Body two_sheets() {
  Frame left;
  left.origin = {-30, 0, 0};
  Frame right;
  right.origin = {30, 0, 0};
  return body_of({make_plane(left, 40, 30, 3, 3, 2, 2), make_plane(right, 40, 30, 3, 3, 2, 2)}, 7);
}

Document sheet() {
  Document d = with_part({}, "Sheet", make_operation("plane")).document;
  d = with_setting(d, "Sheet/1.length_x=80");
  return with_setting(d, "Sheet/1.length_y=40");
}

const Body& body_of_part(const Document& d, Evaluation& e) {
  Progress p;
  e = Evaluator().evaluate(d, p);
  return std::get<Body>(*e.parts.at(d.parts.front().id).shape);
}

// How long a face is along x, from its corners.
double length_x(const Face& f) {
  const Surface& s = *f.surface;
  return std::abs(evaluate(s, s.u.last(), s.v.first()).x - evaluate(s, s.u.first(), s.v.first()).x);
}

}  // namespace

TEST_CASE("a face is found by its tag whatever its number, else by where it was") {
  Body b = two_sheets();
  const Pick right{PickKind::Face, b.faces[1].tag, {30, 0, 0}};
  REQUIRE(find_face(b, right)->index == 1);
  CHECK(find_face(b, right)->by_tag);
  std::swap(b.faces[0], b.faces[1]);
  CHECK(find_face(b, right)->index == 0);
  CHECK(find_face(b, right)->by_tag);
  b.faces[0].tag = 99;  // gone: what is nearest to the place
  CHECK(find_face(b, right)->index == 0);
  CHECK_FALSE(find_face(b, right)->by_tag);
  CHECK(find_face(b, {PickKind::Face, 0, {-28, 3, 1}})->index == 1);
  // A piece of what was picked goes before anything nearer.
  b.faces[1].piece_of = right.tag;
  CHECK(find_face(b, right)->index == 1);
  CHECK_FALSE(find_face({}, right));
  CHECK_THROWS_WITH(find_face(b, {PickKind::Edge, 1, {}}), Contains("A face is needed"));
}

TEST_CASE("an edge is found by its tag, else the nearest one") {
  Body b = two_sheets();
  for (int k = 0; k < 3; ++k)
    b.edges.push_back({static_cast<Tag>(100 + k),
                       Curve{{1, false, {0, 0, 1, 1}}, {{10.0 * k, 0, 0}, {10.0 * k, 9, 0}}, {}},
                       0.0});
  CHECK(find_edge(b, {PickKind::Edge, 102, {}})->index == 2);
  CHECK(find_edge(b, {PickKind::Edge, 102, {}})->by_tag);
  CHECK(find_edge(b, {PickKind::Edge, 555, {11, 4, 0}})->index == 1);
  CHECK_FALSE(find_edge(two_sheets(), {PickKind::Edge, 102, {}}));
}

TEST_CASE("a step on a picked face stays on it when a split below renumbers the faces") {
  Document d = sheet();
  const PartId part = d.parts.front().id;
  d = with_step(d, part, make_operation("split_surface")).document;
  d = with_setting(d, "Sheet/Split surface.place_u=0.5");
  const StepId split = d.parts.front().steps.back().id;
  d = with_step(d, part, make_operation("extend")).document;
  d = with_setting(d, "Sheet/Extend.all=0");
  d = with_setting(d, "Sheet/Extend.u_end=10");
  Evaluation e;
  // Picked by its place in words: the right half, whose outer edge is at x = 40.
  const Document picked = with_setting(d, "Sheet/Extend.face=face 30,0,0");
  const Body& grown = body_of_part(picked, e);
  REQUIRE(grown.faces.size() == 2);
  CHECK(length_x(grown.faces[0]) == Approx(40.0));
  CHECK(length_x(grown.faces[1]) == Approx(50.0).epsilon(1e-6));

  // By its tag; then another split of the left half makes it the third face.
  Evaluation plain;
  const Tag tag = body_of_part(with_step_enabled(d, d.parts.front().steps.back().id, false), plain)
                      .faces[1]
                      .tag;
  std::string text = to_project_json(picked);
  const auto at = text.find("\"tag\": 0");
  REQUIRE(at != std::string::npos);
  text.replace(at, 8, "\"tag\": " + std::to_string(tag));
  Document by_tag = from_project_json(text, make_operation);
  CHECK(to_project_json(by_tag) == text);
  auto again = make_operation("split_surface");
  by_tag = with_step(by_tag, part, again, split).document;
  by_tag = with_setting(by_tag, "Sheet/3.surface=1");
  Evaluation more;
  const Body& three = body_of_part(by_tag, more);
  REQUIRE(three.faces.size() == 3);
  CHECK(length_x(three.faces[2]) == Approx(50.0).epsilon(1e-6));
  CHECK(more.parts.at(part).steps.back().notes.size() == 1);

  // The picked face itself split: the step works on the piece nearest to the place, and says so.
  by_tag = with_setting(by_tag, "Sheet/3.surface=2");
  Evaluation last;
  const Body& pieces = body_of_part(by_tag, last);
  REQUIRE(pieces.faces.size() == 3);
  CHECK_THAT(last.parts.at(part).steps.back().notes.front(), Contains("no longer there"));
  double sum = 0.0;
  for (const Face& f : pieces.faces) sum += length_x(f);
  CHECK(sum == Approx(90.0).epsilon(1e-6));
}

TEST_CASE("picks in words and files that make no sense are refused") {
  Document d = sheet();
  d = with_step(d, d.parts.front().id, make_operation("extend")).document;
  const auto set = [&](const std::string& text) {
    return with_setting(d, "Sheet/Extend.face=" + text);
  };
  CHECK_THROWS_WITH(set("face"), Contains("face 10,0,52"));
  CHECK_THROWS_WITH(set("face 1,2"), Contains("does not say"));
  CHECK_THROWS_WITH(set("wall 1,2,3"), Contains("cannot be picked"));
  CHECK_THROWS_WITH(set("edge 1,2,3"), Contains("picked edge does not fit"));
  CHECK_THROWS_WITH(set("face 1,2,3; face 3,2,1"), Contains("1 at most"));
  CHECK_THROWS_WITH(set("face 1,2,1e300"), Contains("not a number in reach"));
  CHECK_NOTHROW(set(""));
  std::string text = to_project_json(set("face 1,2,3"));
  const auto at = text.find("\"near\"");
  REQUIRE(at != std::string::npos);
  text.replace(at, 6, "\"nexr\"");
  CHECK_THROWS_AS(from_project_json(text, make_operation), FileError);
}
