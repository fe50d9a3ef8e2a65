// Guide curves on a face: against deflections of beams and plates, whose bending is what the face keeps least.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/document/evaluator.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/operations/guide_curves.h"
#include "core/operations/plane.h"
#include "core/operations/point_script.h"
#include "core/operations/solids.h"
#include "core/source/compatible.h"
#include "support.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

// A strip of 40 × 60 mm: u across it, v along.
Surface strip() {
  const KnotVector flat = uniform_knots(2, 1, false);
  Surface s{flat, flat, Grid<Vec3>(2, 2), {}};
  for (int i = 0; i < 2; ++i)
    for (int j = 0; j < 2; ++j) s.points(i, j) = {40.0 * i, 60.0 * j, 0.0};
  return s;
}

Curve uv_line(const Vec3& a, const Vec3& b) {
  return make_curve({a, b}, 1, false);
}

// The four borders of the unit square in the order of Border.
std::vector<HeldEdge> borders(std::array<GuideHold, 4> holds) {
  return {{uv_line({0, 0, 0}, {0, 1, 0}), holds[0]},
          {uv_line({1, 0, 0}, {1, 1, 0}), holds[1]},
          {uv_line({0, 0, 0}, {1, 0, 0}), holds[2]},
          {uv_line({0, 1, 0}, {1, 1, 0}), holds[3]}};
}

Curve lifted(double mm, bool closed = false) {
  return {uniform_knots(7, 3, closed), std::vector<Vec3>(7, Vec3{0, 0, mm}), {}};
}

Guided with_one_guide(std::array<GuideHold, 4> holds, double across, double mm) {
  const Body body = body_of({strip()}, 1);
  const GuideLayout layout{0.0, {{across, {}}}, false};
  Progress none;
  const GuidedFace plan(body.faces[0], guide_lines(body.faces[0], layout), {7, 23, borders(holds)},
                        none);
  return plan.moved(std::vector<Curve>{lifted(mm)});
}

constexpr GuideHold kFree = GuideHold::Free, kPlace = GuideHold::Position,
                    kTangent = GuideHold::Tangent;

}  // namespace

// Source: deflection of beams under one load, any handbook of strength (such as Roark's Formulas for Stress and Strain,
// table of straight beams; from memory): with s from the support (0) to the load (1)
//   both ends built in, load in the middle   s² (3 − 2 s)
//   both ends resting                        s (3 − s²) / 2
//   one end built in, load at the other      s² (3 − s) / 2
TEST_CASE("a strip that follows one guide bends as a beam does under one load") {
  const auto z = [](const Guided& g, double v) { return evaluate(g.surface, 0.3, v).z; };
  const Guided built_in = with_one_guide({kFree, kFree, kTangent, kTangent}, 0.5, 8.0);
  const Guided resting = with_one_guide({kFree, kFree, kPlace, kPlace}, 0.5, 8.0);
  const Guided one_end = with_one_guide({kFree, kFree, kTangent, kFree}, 1.0, 8.0);
  for (double s = 0.0; s <= 1.0; s += 0.1) {
    CHECK(z(built_in, 0.5 * s) == Approx(8.0 * s * s * (3 - 2 * s)).margin(0.002));
    CHECK(z(built_in, 1.0 - 0.5 * s) == Approx(8.0 * s * s * (3 - 2 * s)).margin(0.002));
    CHECK(z(resting, 0.5 * s) == Approx(8.0 * s * (3 - s * s) / 2).margin(0.002));
    CHECK(z(one_end, s) == Approx(8.0 * s * s * (3 - s) / 2).margin(0.002));
  }
  CHECK(built_in.miss < 0.001);
}

// Source: S. Timoshenko, S. Woinowsky-Krieger, Theory of Plates and Shells, clamped circular plate with a load at its
// centre (from memory): w(r) = w0 (1 − r² + 2 r² ln r), r over the radius. A face that takes these values along one
// diameter takes them everywhere: the load's shape bends least of all that have its centre.
TEST_CASE("a round trimmed face held tangent along its edge bends as a clamped plate does") {
  Surface square = strip();
  for (int i = 0; i < 2; ++i)
    for (int j = 0; j < 2; ++j) square.points(i, j) = {-30.0 + 60.0 * i, -30.0 + 60.0 * j, 0.0};
  Body body = body_of({square}, 1);
  constexpr double kRadius = 25.0;
  const Curve circle =
      opened(make_circle({{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}}, kRadius), 0.0);
  Curve uv = circle;
  for (Vec3& p : uv.points) p = {(p.x + 30.0) / 60.0, (p.y + 30.0) / 60.0, 0.0};
  body.edges.push_back({77, circle, 0.0});
  body.faces[0].loops = {{{0, true, uv}}};
  check(body);
  const GuideLayout layout{0.0, {{0.5, {}}}, false};
  Progress none;
  const std::vector<GuideLine> lines = guide_lines(body.faces[0], layout);
  REQUIRE(lines.size() == 1);
  CHECK(lines[0].from.u == Approx(5.0 / 60.0).margin(1e-4));  // it ends at the edge
  const auto wanted = [&](double r) {
    return r <= 0.0 ? 1.0 : 1.0 - r * r + 2.0 * r * r * std::log(r);
  };
  // The moves as a fine polyline.
  Curve moves{uniform_knots(201, 1, false), {}, {}};
  for (int k = 0; k <= 200; ++k)
    moves.points.push_back({0, 0, 5.0 * wanted(std::min(1.0, std::abs(k - 100.0) / 100.0))});
  const GuidedFace plan(body.faces[0], lines, {50, 50, {{uv, GuideHold::Tangent}}}, none);
  const Guided made = plan.moved(std::vector<Curve>{moves});
  for (double a = 0.0; a < 2 * std::numbers::pi; a += 0.4)
    for (double r = 0.1; r < 1.0; r += 0.15) {
      const double u = 0.5 + r * kRadius * std::cos(a) / 60.0,
                   v = 0.5 + r * kRadius * std::sin(a) / 60.0;
      CHECK(evaluate(made.surface, u, v).z == Approx(5.0 * wanted(r)).margin(0.05));
    }
  CHECK(made.drift < 0.002);
  CHECK(made.degrees < 0.1);
}

TEST_CASE("a face whose guides have not moved keeps its shape exactly") {
  for (const Surface& s :
       {strip(), make_sphere({{1, 2, 3}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}}, 20.0)}) {
    const Body body = body_of({s}, 1);
    const GuideLayout layout{0.0, {{0.25, {}}, {0.5, {}}}, true};
    const std::vector<GuideLine> lines = guide_lines(body.faces[0], layout);
    CHECK(lines.size() == 3);  // the middle one is its own partner
    Progress none;
    const GuidedFace plan(body.faces[0], lines, {12, 12, {}}, none);
    std::vector<Curve> moves;
    for (const GuideLine& l : lines) moves.push_back(lifted(0.0, l.closed));
    const Guided made = plan.moved(moves);
    for (double u = 0.03; u < 1.0; u += 0.11)
      for (double v = 0.05; v < 1.0; v += 0.1) {
        const auto at = [&](const Surface& x) {
          return evaluate(x, x.u.first() + u * x.u.length(), x.v.first() + v * x.v.length());
        };
        CHECK(distance(at(made.surface), at(s)) < 1e-12 * 60);
      }
  }
}

TEST_CASE("held edges keep place, direction and curvature to the bit of their rows") {
  const Guided made = with_one_guide({GuideHold::Curvature, kPlace, kTangent, kFree}, 0.6, 5.0);
  const Surface flat = raise_degree(raise_degree(strip(), Direction::U, 3), Direction::V, 3);
  for (double t = 0.0; t <= 1.0; t += 0.05) {
    const SurfaceDerivatives left = derivatives(made.surface, 0.0, t, 2),
                             was = derivatives(flat, 0.0, t, 2);
    CHECK(distance(left.p(), was.p()) < 1e-12);
    CHECK(distance(left.du(), was.du()) < 1e-10);
    CHECK(length(left.duu()) < 1e-8);
    CHECK(distance(evaluate(made.surface, 1.0, t), evaluate(flat, 1.0, t)) < 1e-12);
    const SurfaceDerivatives bottom = derivatives(made.surface, t, 0.0, 1);
    CHECK(std::abs(bottom.dv().z) < 1e-10);
  }
  CHECK(std::abs(evaluate(made.surface, 0.5, 1.0).z) > 0.5);  // the movable edge moved
  CHECK(made.drift < 1e-12);
  CHECK(made.degrees < 1e-6);
}

TEST_CASE("a guide round a closed direction closes, and widens a cylinder evenly") {
  const Surface cylinder = make_cylinder({{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}}, 20.0, 50.0);
  REQUIRE(cylinder.u.periodic);
  const Body body = body_of({cylinder}, 1);
  const std::vector<GuideLine> lines = guide_lines(body.faces[0], {0.0, {{0.5, {}}}, false});
  REQUIRE(lines.size() == 1);
  REQUIRE(lines[0].closed);
  // Outward by 2 mm at 48 points around: about a circle of 22 mm.
  const KnotVector around = uniform_knots(48, 3, true);
  Curve moves{around, {}, {}};
  const std::vector<double> at = greville_places(around);
  for (const double t : at) {
    const Vec3 p = evaluate(cylinder, t * cylinder.u.length(), 0.5 * cylinder.v.length());
    moves.points.push_back(Vec3{p.x, p.y, 0.0} * (2.0 / 20.0));
  }
  Progress none;
  const GuidedFace plan(body.faces[0], lines, {48, 12, {}}, none);
  const Guided made = plan.moved(std::vector<Curve>{moves});
  CHECK(made.surface.u.periodic);
  for (double u = 0.0; u < 1.0; u += 0.03) {
    const Vec3 p = evaluate(made.surface, u * cylinder.u.length(), 0.5 * cylinder.v.length());
    CHECK(std::hypot(p.x, p.y) == Approx(22.0).margin(0.02));
  }
}

TEST_CASE(
    "guides turned by an angle run from border to border, and places beside the face are refused") {
  const Body body = body_of({strip()}, 1);
  const std::vector<GuideLine> lines = guide_lines(body.faces[0], {45.0, {{0.5, {}}}, false});
  REQUIRE(lines.size() == 1);
  // In mm: through the middle of 40 × 60 at 45°, so from (0, 10) to (40, 50).
  CHECK(lines[0].from.u == Approx(0.0).margin(1e-9));
  CHECK(lines[0].from.v * 60.0 == Approx(10.0).margin(1e-6));
  CHECK(lines[0].to.u * 40.0 == Approx(40.0).margin(1e-6));
  CHECK(lines[0].to.v * 60.0 == Approx(50.0).margin(1e-6));
  CHECK_THROWS_WITH(guide_lines(body.faces[0], {45.0, {{0.0, {}}}, false}),
                    Contains("beside the face"));
  CHECK_THROWS_WITH(guide_lines(body.faces[0], {0.0, {}, false}), Contains("no guide curve"));
  GuidePlacesData data;
  data.set("", "25, 40:30, 75");
  REQUIRE(data.places.size() == 3);
  CHECK(data.places[1].through->v == Approx(0.3));
  CHECK(data.typed() == "25, 40:30, 75");
  CHECK_THROWS_WITH(data.set("", "25, 140"), Contains("not on the face"));
  CHECK_THROWS_AS(data.from_json("[[1]]"), Error);
}

TEST_CASE("a joined face follows its guides, and its neighbours keep their edges") {
  Document d = with_part({}, "Box", std::make_shared<BoxOperation>()).document;
  auto guides = std::make_shared<GuideCurvesOperation>();
  guides->edges = GuideHold::Free;  // joined edges stay in place all the same
  guides->places.places = {{0.5, {}}};
  d = with_step(d, d.parts[0].id, guides).document;
  Progress none;
  Evaluator evaluator;
  const PartResult flat = evaluator.evaluate(d, none).parts.at(d.parts[0].id);
  INFO(flat.steps[1].message);
  REQUIRE_FALSE(flat.steps[1].failed);
  const std::vector<std::string> edits{"pick [3]", "move off_skin 4"};
  d = with_point_edits(d, d.parts[0].id, edits, none);
  const PartResult up = evaluator.evaluate(d, none).parts.at(d.parts[0].id);
  const Body& body = std::get<Body>(*up.shape);
  const Body& was = std::get<Body>(*flat.shape);
  for (std::size_t f = 0; f < body.faces.size(); ++f)
    for (const Border b : kBorders)
      for (double t = 0.0; t <= 1.0; t += 0.1) {
        const Curve now = border_of(*body.faces[f].surface, b),
                    then = border_of(*was.faces[f].surface, b);
        CHECK(distance(evaluate(now, now.knots.first() + t * now.knots.length()),
                       evaluate(then, then.knots.first() + t * then.knots.length())) < 1e-9);
      }
  // Off the skin is outward: the box has grown.
  const auto volume_of = [&](const Body& b) {
    double sum = 0.0;
    for (const Face& face : b.faces) sum += volume(face, none);
    return sum;
  };
  CHECK(volume_of(body) > volume_of(std::get<Body>(*flat.shape)) + 100.0);
}

TEST_CASE("other guides keep what the hand has made") {
  Document d = with_part({}, "Sheet", std::make_shared<PlaneOperation>()).document;
  const PartId part = d.parts[0].id;
  auto guides = std::make_shared<GuideCurvesOperation>();
  const Added added = with_step(d, part, guides);
  Progress none;
  const std::vector<std::string> edits{"pick [1,3]", "move off_skin 5"};
  d = with_point_edits(added.document, part, edits, none);
  const auto surface = [&](const Document& x) {
    return *std::get<Body>(*Evaluator().evaluate(x, none).parts.at(part).shape).faces[0].surface;
  };
  const Surface before = surface(d);
  for (const auto& [name, value] :
       {std::pair{"points", "11"}, std::pair{"through", "true"},
        std::pair{"places", "20, 35, 50, 65, 80"}, std::pair{"direction", "along_v"}}) {
    const Surface after = surface(with_step_parameter(d, added.step, name, value));
    double worst = 0.0;
    for (double u = 0.0; u <= 1.0; u += 0.05)
      for (double v = 0.0; v <= 1.0; v += 0.05)
        worst = std::max(worst, distance(evaluate(before, u, v), evaluate(after, u, v)));
    INFO(name << " " << worst);
    CHECK(worst < 0.5);  // of 5 mm that the point was moved
  }
}

// On whatever surface: degrees 1 to 7, weights, double knots, poles, closed directions.
TEST_CASE("guides on random surfaces keep the held borders and are followed closely") {
  const std::vector<testing::NamedSurface> all = testing::random_surfaces(40, 77, 12);
  REQUIRE(all.size() >= 20);
  std::mt19937 random(5);
  std::uniform_real_distribution<double> share(0.2, 0.4), way(-1.0, 1.0);
  Progress none;
  int laid = 0;
  for (const auto& [name, s] : all) {
    INFO(name);
    const Body body = body_of({s}, 1);
    // Its borders as edges of the parameter plane, those of closed directions left out.
    std::vector<HeldEdge> edges;
    const double u0 = s.u.first(), u1 = s.u.last(), v0 = s.v.first(), v1 = s.v.last();
    if (!s.u.periodic) {
      edges.push_back({uv_line({u0, v0, 0}, {u0, v1, 0}), GuideHold::Tangent});
      edges.push_back({uv_line({u1, v0, 0}, {u1, v1, 0}), GuideHold::Position});
    }
    if (!s.v.periodic) edges.push_back({uv_line({u0, v0, 0}, {u1, v0, 0}), GuideHold::Curvature});
    const GuideLayout layout{laid % 3 == 0   ? 0.0
                             : laid % 3 == 1 ? 90.0
                                             : 33.0,
                             {{share(random), {}}, {0.4 + share(random), {}}},
                             false};
    const std::vector<GuideLine> lines = guide_lines(body.faces[0], layout);
    const GuidedFace plan(body.faces[0], lines, {18, 18, edges}, none);
    std::vector<Curve> moves;
    for (const GuideLine& line : lines) {
      Curve c = lifted(0.0, line.closed);
      // The ends stay, as the held borders do.
      for (std::size_t k = 2; k < 5; ++k)
        c.points[k] = Vec3{way(random), way(random), way(random)} * (0.05 * size(body));
      moves.push_back(std::move(c));
    }
    const Guided made = plan.moved(moves);
    ++laid;
    for (const Vec3& p : made.surface.points.values()) REQUIRE(std::isfinite(p.x + p.y + p.z));
    CHECK(made.drift < 1e-9 * size(body));
    CHECK(made.surface.u.periodic == s.u.periodic);
    CHECK(made.surface.v.periodic == s.v.periodic);
    // Guides may run into borders that stay, so they are followed as far as those let them: within a tenth of the moves.
    CHECK(made.miss < 0.1 * 0.05 * size(body) * std::sqrt(3.0));
  }
  CHECK(laid == static_cast<int>(all.size()));
}
