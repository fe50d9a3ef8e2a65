// Forms as bodies of surfaces: exact where they can be, smooth across every joint, closed where the form is. Expected
// values come from the limit of the form deeply refined, which form_test holds against OpenSubdiv, and from formulas.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/kernel/convert.h"
#include "core/subdivision/convert.h"
#include "core/subdivision/corner_patch.h"
#include "core/subdivision/edits.h"
#include "core/subdivision/joining.h"
#include "core/subdivision/refine.h"
#include "core/subdivision/reshape.h"
#include "core/subdivision/sources.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

double volume_of(const Body& body) {
  Progress progress;
  double sum = 0.0;
  for (const Face& f : body.faces) sum += volume(f, progress);
  return sum;
}

// Volume of the limit: that of its triangles at two depths, extrapolated, since their error falls by four a level.
double limit_volume(const Form& form, int levels) {
  Progress progress;
  const double coarse = volume(limit_mesh(form, levels - 1, progress));
  const double fine = volume(limit_mesh(form, levels, progress));
  return fine + (fine - coarse) / 3.0;
}

Form star(int n) {  // a pyramid of n sides on a base of quadrangles: an apex of valence n
  std::vector<std::vector<Vec3>> rows(2);
  for (int k = 0; k < 2 * n; ++k) {
    const double a = std::numbers::pi * k / n;
    rows[0].push_back({2 * std::cos(a), 2 * std::sin(a), -1});
    rows[1].push_back({1.6 * std::cos(a), 1.6 * std::sin(a), 0.3});
  }
  Form ring = make_rows_form(rows, true, false, false, 1);
  // The lid: n quadrangles around an apex.
  std::vector<Vec3> points = ring.points;
  std::vector<std::vector<std::uint32_t>> faces;
  for (const FormFace& f : ring.faces) faces.push_back(f.points);
  const auto apex = static_cast<std::uint32_t>(points.size());
  points.push_back({0, 0, 1});
  const auto m = static_cast<std::uint32_t>(2 * n);
  for (std::uint32_t k = 0; k < m; k += 2)
    faces.push_back({apex, m + k, m + (k + 1) % m, m + (k + 2) % m});
  return make_form(points, faces, 1);
}

struct Named {
  std::string name;
  Form form;
};

std::vector<Named> corpus() {
  std::vector<Named> all;
  all.push_back({"cube", make_box_form({}, {2, 2, 2}, 1, 1, 1, 1)});
  all.push_back({"box 3 × 2 × 2", make_box_form({}, {3, 2, 2}, 3, 2, 2, 1)});
  all.push_back({"ball", make_ball_form({}, 10, 3, 1)});
  all.push_back({"cylinder with caps", make_cylinder_form({}, 5, 12, 8, 3, true, 1)});
  for (const int n : {3, 5, 6, 8, 12}) all.push_back({"star of " + std::to_string(n), star(n)});
  Form bent = make_plane_form({}, 8, 6, 4, 3, 1);
  for (Vec3& p : bent.points) p.z = std::sin(p.x) * std::cos(p.y);
  all.push_back({"open sheet", bent});
  const Form box = make_box_form({}, {3, 3, 2}, 3, 3, 2, 1);
  all.push_back(
      {"extruded", extruded(box, std::array<std::uint32_t, 2>{4, 5}, {1, 0.2, 0.4}, 2).form});
  std::vector<std::uint32_t> middle;
  for (std::uint32_t f = 0; f < box.faces.size(); ++f) {
    Vec3 m;
    for (const std::uint32_t p : box.faces[f].points) m += box.points[p] / 4.0;
    if (std::abs(m.x) < 0.1 && std::abs(m.y) < 0.1) middle.push_back(f);
  }
  all.push_back({"ring by a bridge", bridged_faces(box, middle, {.segments = 2}, 2)});
  Form sharp = box;
  for (const FormTopology::Edge& e : topology(box).edges)
    if (box.points[e.points[0]].z > 0.9 && box.points[e.points[1]].z > 0.9 &&
        (std::abs(box.points[e.points[0]].x + box.points[e.points[1]].x) > 2.9 ||
         std::abs(box.points[e.points[0]].y + box.points[e.points[1]].y) > 2.9))
      sharp.creases[e.points] = kSharp;
  all.push_back({"box with a sharp rim", sharp});
  Form partly = make_box_form({}, {2, 2, 2}, 2, 2, 2, 1);
  partly.creases[topology(partly).edges[3].points] = 1.5;
  all.push_back({"partly creased", partly});
  return all;
}

}  // namespace

TEST_CASE("the limit beside a special point is that of the form subdivided on") {
  Progress progress;
  for (const int n : {3, 5, 8}) {
    INFO("valence " << n);
    Form form = linked(subdivided(star(n), progress));
    std::uint32_t apex = 0;
    for (std::uint32_t p = 0; p < form.points.size(); ++p)
      if (topology(form).edges_of_point[p].size() == static_cast<std::size_t>(n) &&
          form.points[p].z > 0.5)
        apex = p;
    const std::uint32_t face = topology(form).faces_of_point[apex].front();
    AroundPoint around(form, apex);
    // The far corner, the middle and a quarter of the face are points of the subdivided forms, whose limits are known.
    const Cell cell = cell_at(form, face, apex);
    const LimitPoints at0 = limit_of(form);
    CHECK(distance(around.at(form.faces[face].tag, 1, 1).p, at0.points[cell.points[2]]) < 1e-12);
    CHECK(distance(around.at(form.faces[face].tag, 1, 0).p, at0.points[cell.points[1]]) < 1e-12);
    CHECK(distance(around.at(form.faces[face].tag, 0, 0).p, at0.points[apex]) < 1e-12);
    Form fine = form;
    Tag tag = form.faces[face].tag;
    for (int level = 1; level <= 4; ++level) {
      fine = linked(subdivided(fine, progress));
      tag = make_tag(0, tag, form.point_tags[apex]);
      const auto f =
          static_cast<std::uint32_t>(std::find_if(fine.faces.begin(), fine.faces.end(),
                                                  [&](const FormFace& x) { return x.tag == tag; }) -
                                     fine.faces.begin());
      const Cell small = cell_at(fine, f, apex);
      const double side = std::ldexp(1.0, -level);
      const LimitPoints limit = limit_of(fine);
      CHECK(distance(around.at(form.faces[face].tag, side, side).p, limit.points[small.points[2]]) <
            1e-12);
      CHECK(distance(around.at(form.faces[face].tag, side, 0).p, limit.points[small.points[1]]) <
            1e-12);
    }
  }
}

TEST_CASE("regular regions become few large surfaces that are the limit to 1e-10") {
  Progress progress;
  const Form torus = make_torus_form({}, 40, 12, 12, 6, 1);
  const ConvertedForm c = converted(torus, 0.01, 2, progress);
  CHECK(c.exact == 1);
  CHECK(c.fitted == 0);
  CHECK(bounds_volume(c.body, 1e-6));
  const LimitPoints limit = limit_of(torus);
  for (const Vec3& p : limit.points) {
    // The surface passes through the limit of each point where its knots meet.
    const Surface& s = *c.body.faces[0].surface;
    double nearest = 1e9;
    for (const double u : breakpoints(s.u))
      for (const double v : breakpoints(s.v))
        nearest = std::min(nearest, distance(evaluate(s, u, v), p));
    CHECK(nearest < 1e-10);
  }
  Form bent = make_plane_form({}, 8, 6, 4, 3, 1);
  for (Vec3& p : bent.points) p.z = std::sin(p.x) * std::cos(p.y);
  const ConvertedForm sheet = converted(bent, 0.01, 2, progress);
  CHECK(sheet.exact == 1);
  CHECK(sheet.body.faces[0].surface->points.rows() *
            sheet.body.faces[0].surface->points.columns() ==
        7 * 6);
}

TEST_CASE("converted forms lie on the limit, meet smoothly, and closed ones are closed bodies") {
  Progress progress;
  int closed = 0;
  for (const Named& n : corpus()) {
    INFO(n.name);
    const ConvertedForm c = converted(n.form, 0.01, 7, progress);
    check(c.body);
    CHECK(c.deviation <= 0.01);
    INFO("angle near " << c.angle_at.x << " " << c.angle_at.y << " " << c.angle_at.z);
    CHECK(c.angle <= 0.1);
    CHECK(c.exact + c.fitted == c.body.faces.size());
    for (const Edge& e : c.body.edges) CHECK(e.gap < 1e-6);
    const FormTopology t = topology(n.form);
    CHECK(bounds_volume(c.body, 1e-5) == (t.borders == 0));
    // Both ways from triangles of the limit.
    const TriangleMesh mesh = limit_mesh(n.form, 3, progress);
    const std::vector<double> off = signed_distances(mesh.points, c.body, progress);
    for (const double d : off) REQUIRE(std::abs(d) < 0.01);
    if (t.borders > 0) continue;
    ++closed;
    CHECK(volume_of(c.body) == Approx(limit_volume(n.form, 4)).epsilon(1e-4));
  }
  CHECK(closed >= 8);
}

TEST_CASE("a fully creased box becomes six planes") {
  Progress progress;
  Form box = make_box_form({}, {2, 3, 4}, 2, 2, 2, 1);
  for (const FormTopology::Edge& e : topology(box).edges) {
    int sides = 0;
    for (const auto& [axis, half] : {std::pair{0, 1.0}, {1, 1.5}, {2, 2.0}}) {
      const auto a = static_cast<std::size_t>(axis);
      const double p = box.points[e.points[0]][a];
      if (std::abs(std::abs(p) - half) < 1e-9 && p == box.points[e.points[1]][a]) ++sides;
    }
    if (sides == 2) box.creases[e.points] = kSharp;
  }
  const ConvertedForm c = converted(box, 0.01, 2, progress);
  CHECK(c.body.faces.size() == 6);
  CHECK(c.fitted == 0);
  CHECK(volume_of(c.body) == Approx(24.0).epsilon(1e-12));
  CHECK(c.body.edges.size() == 12);
}

TEST_CASE("the kernel takes a converted form as a valid solid of its volume") {
  Progress progress;
  const Form form = make_box_form({}, {30, 20, 10}, 3, 2, 1, 1);
  const ConvertedForm c = converted(form, 0.01, 2, progress);
  CHECK(bounds_volume(c.body, 1e-5));
  CHECK(volume_of(c.body) == Approx(limit_volume(form, 5)).epsilon(1e-4));
}

TEST_CASE("what cannot be converted says so") {
  Progress progress;
  CHECK_THROWS_WITH(converted(make_box_form({}, {1, 1, 1}, 60, 60, 60, 1), 0.01, 2, progress),
                    Contains("at most 20000"));
  CHECK_THROWS_AS(converted({}, 0.01, 2, progress), Error);
}
