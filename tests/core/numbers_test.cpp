// Named numbers and formulas: values, circles, ranges, files, and what follows them.
#include <catch2/catch.hpp>
#include <cmath>

#include "../uncut_demo.h"
#include "core/base/error.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/operations/catalogue.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

Document ball(const std::string& radius = "52") {
  Document d;
  d = with_part(d, "Ball", make_operation("sphere")).document;
  return with_setting(d, "Ball/Sphere.radius=" + radius);
}

double radius_of(const Document& d) {
  Progress p;
  const Evaluation e = Evaluator().evaluate(d, p);
  const Surface& s = *std::get<Body>(*e.parts.begin()->second.shape).faces.front().surface;
  return length(evaluate(s, s.u.first(), s.v.first() + 0.5 * s.v.length()));
}

const Step& step_of(const Document& d) {
  return d.parts.front().steps.front();
}

}  // namespace

TEST_CASE("a formula comes to what arithmetic says") {
  const std::vector<NamedNumber> numbers{{"lift", "1.5", 1.5}, {"ring_2", "8", 8.0}};
  CHECK(formula_value("2 * lift + 1", numbers) == 4.0);
  CHECK(formula_value("ring_2 / (lift + 0.5) ^ 2", numbers) == 2.0);
  CHECK(formula_value("sqrt(ring_2 * 2) - min(lift, 3)", numbers) == 2.5);
  CHECK(formula_value("sin(pi / 6)", numbers) == Approx(0.5).epsilon(1e-15));
  CHECK(formula_value("-2e1 + 3", numbers) == -17.0);
  // An inch is 25.4 mm by definition (international yard and pound agreement, 1959).
  CHECK(formula_value("2in", numbers) == Approx(50.8).epsilon(1e-15));
  CHECK(formula_value("3 cm + 4 mm", numbers) == Approx(34.0).epsilon(1e-15));
}

TEST_CASE("a formula that says nothing is refused with what is wrong in it") {
  const std::vector<NamedNumber> numbers{{"lift", "1.5", 1.5}};
  CHECK_THROWS_WITH(formula_value("2 * width", numbers),
                    Contains("no number 'width'") && Contains("lift"));
  CHECK_THROWS_WITH(formula_value("2 *", numbers), Contains("is not understood"));
  CHECK_THROWS_WITH(formula_value("", numbers), Contains("is not understood"));
  CHECK_THROWS_WITH(formula_value("1 / (lift - 1.5)", numbers), Contains("comes to no number"));
  CHECK_THROWS_WITH(formula_value(std::string(100000, '('), numbers), Contains("too long"));
  CHECK_THROWS_WITH(formula_value("2,5", numbers), Contains("commas"));
  CHECK_THROWS_WITH(formula_value("lift = 3", numbers), Contains("is not understood"));
}

TEST_CASE("numbers are worked out in any order, and a circle is named") {
  const auto all = resolved({{"a", "b + 1", 0}, {"b", "2 * c", 0}, {"c", "3", 0}});
  CHECK(all[0].value == 7.0);
  CHECK(all[1].value == 6.0);
  CHECK(all[0].name == "a");  // they stay where they are
  CHECK_THROWS_WITH(resolved({{"a", "b", 0}, {"b", "c", 0}, {"c", "a", 0}}),
                    Contains("a, b, c, a"));
  CHECK_THROWS_WITH(resolved({{"a", "a + 1", 0}}), Contains("circle"));
  CHECK_THROWS_WITH(resolved({{"2x", "1", 0}}), Contains("cannot be the name"));
  CHECK_THROWS_WITH(resolved({{"sin", "1", 0}}), Contains("means something"));
  CHECK_THROWS_WITH(resolved({{"mm", "1", 0}}), Contains("means something"));
  CHECK_THROWS_WITH(resolved({{"a", "1", 0}, {"a", "2", 0}}), Contains("Two numbers"));
}

TEST_CASE("a parameter follows the number in its formula, and undo is the older document") {
  Document d = with_number(ball(), "size", "40");
  d = with_setting(d, "Ball/Sphere.radius=size / 2 + 1");
  CHECK(step_of(d).formulas.at("radius") == "size / 2 + 1");
  CHECK(radius_of(d) == Approx(21.0).epsilon(1e-12));
  const Document bigger = with_number(d, "size", "60");
  CHECK(radius_of(bigger) == Approx(31.0).epsilon(1e-12));
  CHECK(radius_of(d) == Approx(21.0).epsilon(1e-12));
  // A number that nothing changes for leaves the operation itself, so nothing is computed anew.
  CHECK(step_of(with_number(bigger, "other", "1")).operation == step_of(bigger).operation);
  // A plain value ends the formula; a length with a unit is plain.
  CHECK(step_of(with_setting(d, "Ball/Sphere.radius=30")).formulas.empty());
  const Document inches = with_setting(d, "Ball/Sphere.radius=2in");
  CHECK(step_of(inches).formulas.empty());
  CHECK(radius_of(inches) == Approx(50.8).epsilon(1e-12));
}

TEST_CASE("changing a value by hand ends its formula and leaves the others") {
  Document d = with_number(ball(), "n", "9");
  d = with_step(d, d.parts.front().id, make_operation("rebuild")).document;
  d = with_setting(d, "Ball/Rebuild.points_u=n + 3");
  d = with_setting(d, "Ball/Rebuild.points_v=n");
  const Step& rebuild = d.parts.front().steps.back();
  REQUIRE(rebuild.formulas.size() == 2);
  const Document by_hand =
      with_operation(d, rebuild.id, with_parameter(*rebuild.operation, "points_u", "20"));
  CHECK(by_hand.parts.front().steps.back().formulas.size() == 1);
  CHECK(by_hand.parts.front().steps.back().formulas.contains("points_v"));
  CHECK_THROWS_WITH(with_setting(d, "Ball/Rebuild.points_u=n / 2"), Contains("whole number"));
  // A number that would drive a count out of its range is refused, and says whose.
  CHECK_THROWS_WITH(with_number(d, "n", "500"), Contains("Ball / Rebuild") && Contains("2 to 200"));
}

TEST_CASE("a number in use stays, and a new name reaches every formula") {
  Document d = with_number(with_number(ball(), "lift", "4"), "lift_2", "lift * 2");
  d = with_setting(d, "Ball/Sphere.radius=lift + lift_2 + sqrt(lift)");
  CHECK_THROWS_WITH(without_number(d, "lift"), Contains("lift_2"));
  CHECK_THROWS_WITH(without_number(d, "lift_2"), Contains("Ball / Sphere, radius"));
  CHECK_THROWS_WITH(without_number(d, "nothing"), Contains("no number 'nothing'"));
  const Document named = with_number_name(d, "lift", "rise");
  CHECK(step_of(named).formulas.at("radius") == "rise + lift_2 + sqrt(rise)");
  CHECK(named.numbers[1].text == "rise * 2");
  CHECK(radius_of(with_number(named, "rise", "9")) == Approx(9 + 18 + 3).epsilon(1e-12));
  CHECK_THROWS_WITH(with_number_name(d, "lift", "lift_2"), Contains("Two numbers"));
  CHECK(without_number(with_setting(d, "Ball/Sphere.radius=5"), "lift_2").numbers.size() == 1);
}

TEST_CASE("numbers and formulas are in the file and come back from it") {
  Document d =
      with_number(with_number(evenclay::testing::uncut_demo(), "big", "60"), "bigger", "big + 5");
  d = with_setting(d, "Shell/1.radius=bigger - 1");
  const std::string text = to_project_json(d);
  const Document back = from_project_json(text, make_operation);
  CHECK(to_project_json(back) == text);
  REQUIRE(back.numbers.size() == evenclay::testing::uncut_demo().numbers.size() + 2);
  CHECK(back.numbers.back().value == 65.0);
  const Document changed = with_number(back, "big", "50");
  CHECK_THAT(parameters_json(*find_part(changed, "Shell")->steps[0].operation), Contains("54"));
  // Files without them are as before.
  const Document plain = with_part({}, "Ball", make_operation("sphere")).document;
  CHECK_THAT(to_project_json(plain), !Contains("numbers") && !Contains("formulas"));
}

TEST_CASE("hostile numbers in a file are refused with a sentence") {
  const Document d = with_number(ball(), "size", "40");
  const auto with = [&](const std::string& from, const std::string& to) {
    std::string text = to_project_json(d);
    const auto at = text.find(from);
    REQUIRE(at != std::string::npos);
    return from_project_json(text.replace(at, from.size(), to), make_operation);
  };
  CHECK_THROWS_WITH(with("\"40\"", "\"size + 1\""), Contains("circle"));
  CHECK_THROWS_WITH(with("\"40\"", "7"), Contains("not written as it should be"));
  CHECK_THROWS_WITH(with("\"40\"", "\"1/0\""), Contains("no number"));
  CHECK_THROWS_WITH(with("\"size\"", "\"a b\""), Contains("cannot be the name"));
}

TEST_CASE("the ends of a number's slider are kept in the file, and must be in order") {
  Document d = with_number({}, "lift", "4");
  d = with_number_range(d, "lift", -2.0, 12.5);
  const Document back = from_project_json(to_project_json(d), make_operation);
  CHECK(back.numbers.front().least == -2.0);
  CHECK(back.numbers.front().most == 12.5);
  CHECK(with_number(d, "lift", "5").numbers.front().most == 12.5);
  CHECK_THROWS_WITH(with_number_range(d, "lift", 3.0, 3.0), Catch::Contains("slider"));
  CHECK_THROWS_AS(with_number_range(d, "none", 0.0, 1.0), Error);
}
