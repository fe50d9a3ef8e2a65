// How unevenly the faces of a form are pulled, against singular values by hand.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/display/display.h"
#include "core/operations/report.h"
#include "core/subdivision/form_stretch.h"
#include "core/subdivision/limit_plan.h"
#include "core/subdivision/refine.h"
#include "core/subdivision/sources.h"

using namespace evenclay;

namespace {

// A flat sheet of m × n faces of a × b mm, sheared by so much along x.
Form sheet(int m, int n, double a, double b, double shear = 0.0) {
  Form form;
  for (int i = 0; i <= m; ++i)
    for (int j = 0; j <= n; ++j) form.points.push_back({a * i + shear * b * j, b * j, 0.0});
  for (std::uint64_t p = 0; p < form.points.size(); ++p)
    form.point_tags.push_back(make_tag(1, 1, p));
  const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(i * (n + 1) + j); };
  for (int i = 0; i < m; ++i)
    for (int j = 0; j < n; ++j)
      form.faces.push_back({make_tag(1, 2, form.faces.size()),
                            {at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)}});
  return form;
}

FormStretch of(const Form& form, int levels) {
  Progress quiet;
  const TriangleMesh mesh = limit_mesh(form, levels, quiet);
  const auto found = form_stretch(mesh.points, mesh.triangles, corner_count(form));
  REQUIRE(found);
  return *found;
}

}  // namespace

TEST_CASE("squares are not stretched, and rectangles by the root of their sides' ratio") {
  const FormStretch even = of(sheet(4, 3, 7.0, 7.0), 2);
  CHECK(even.worst == Approx(0.0).margin(1e-9));
  CHECK(even.mean == Approx(0.0).margin(1e-9));
  // All faces a × b: side of the mean square √(a b), so σ1 = √(a / b) and σ2 = √(b / a).
  const FormStretch long_ones = of(sheet(4, 3, 9.0, 4.0), 2);
  CHECK(long_ones.stretch == Approx(100.0 * (1.5 - 1.0)));
  CHECK(long_ones.squeeze == Approx(100.0 * (1.0 - 2.0 / 3.0)));
  CHECK(long_ones.worst == Approx(50.0));
  CHECK(long_ones.mean == Approx(50.0));
  for (const double x : long_ones.at_vertices) CHECK(x == Approx(50.0));
  // Of any size.
  CHECK(of(sheet(4, 3, 900.0, 400.0), 1).worst == Approx(50.0));
}

TEST_CASE("sheared squares are stretched along their diagonal as the matrix says") {
  // (1 k; 0 1) with k = 1: σ² = (3 ± √5) / 2, the golden ratio and its inverse (handbook).
  const FormStretch s = of(sheet(3, 3, 5.0, 5.0, 1.0), 2);
  const double golden = 0.5 * (1.0 + std::sqrt(5.0));
  CHECK(s.stretch == Approx(100.0 * (golden - 1.0)));
  CHECK(s.squeeze == Approx(100.0 * (1.0 - 1.0 / golden)));
}

TEST_CASE("a face that is twice as large as the others is called out") {
  // Columns of 10 and one of 20 mm: the corner columns keep their places, a crease keeps them apart.
  Form form = sheet(3, 2, 10.0, 10.0);
  for (Vec3& p : form.points)
    if (p.x > 25.0) p.x += 10.0;
  for (int j = 0; j < 2; ++j)
    for (const int i : {1, 2}) {
      const auto a = static_cast<std::uint32_t>(i * 3 + j);
      form.creases[form_edge(a, a + 1)] = kSharp;
    }
  const FormStretch s = of(form, 3);
  CHECK(s.at.x > 20.0);
  // Mean square of 800 / 6 mm²; the large faces are 20 × 10.
  const double side = std::sqrt(800.0 / 6.0);
  CHECK(s.stretch == Approx(100.0 * (20.0 / side - 1.0)).epsilon(0.02));
}

TEST_CASE("the stretch is that of the limit however finely it is drawn, and of its picture") {
  const Form ball = linked(make_ball_form({}, 40.0, 4, 1));
  const double worst = of(ball, 4).worst;
  CHECK(worst > 5.0);  // the eight points of three faces
  CHECK(of(ball, 5).worst == Approx(worst).epsilon(1e-9));
  CHECK(of(ball, 2).worst == Approx(worst).epsilon(1e-9));
  Progress quiet;
  TriangleMesh mesh;
  const LimitPlan plan(ball, 4, quiet, &mesh);
  CHECK(form_stretch(mesh.points, mesh.triangles, corner_count(ball))->worst == Approx(worst));
  const DisplayMesh drawn = display_mesh(Shape{ball}, {}, quiet);
  const auto values = form_stretch_values(drawn, ball);
  REQUIRE(values);
  CHECK(values->values.size() == drawn.vertices.size() / 6);
  CHECK(*std::max_element(values->values.begin(), values->values.end()) ==
        Approx(worst).epsilon(1e-4));
}

TEST_CASE("triangles that are no halves of quadrangles have no stretch") {
  const std::vector<Vec3> points{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {5, 5, 5}};
  using T = std::array<std::uint32_t, 3>;
  CHECK_FALSE(form_stretch(points, std::vector<T>{{0, 1, 2}}, 4));
  CHECK_FALSE(form_stretch(points, std::vector<T>{{0, 1, 2}, {3, 0, 1}}, 4));
  CHECK_FALSE(form_stretch(points, std::vector<T>{}, 4));
  Progress quiet;
  DisplayQuality flat;
  flat.flat_faces = true;
  const Form box = make_box_form({}, {2, 2, 2}, 1, 1, 1, 1);
  CHECK(form_stretch_values(display_mesh(Shape{box}, flat, quiet), box) == nullptr);
}
