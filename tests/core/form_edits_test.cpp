// Edits of subdivision forms: by counts and volumes of their own formulas, and after any sequence of them.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <functional>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/mesh/triangle_mesh.h"
#include "core/subdivision/crossings.h"
#include "core/subdivision/edit_parts.h"
#include "core/subdivision/edits.h"
#include "core/subdivision/joining.h"
#include "core/subdivision/refine.h"
#include "core/subdivision/reshape.h"
#include "core/subdivision/sources.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

// Volume within the polygons (divergence theorem), each cut into triangles from its first corner.
double polygon_volume(const Form& form) {
  double v = 0.0;
  for (const FormFace& f : form.faces)
    for (std::size_t k = 1; k + 1 < f.points.size(); ++k)
      v += dot(form.points[f.points[0]],
               cross(form.points[f.points[k]], form.points[f.points[k + 1]])) /
           6.0;
  return v;
}

std::vector<std::uint32_t> faces_where(const Form& form,
                                       const std::function<bool(const Vec3&)>& in) {
  std::vector<std::uint32_t> result;
  for (std::uint32_t f = 0; f < form.faces.size(); ++f)
    if (in(middle_of(form, f))) result.push_back(f);
  return result;
}

std::vector<FormEdge> edges_where(const Form& form, const std::function<bool(const Vec3&)>& in) {
  std::vector<FormEdge> result;
  for (const FormTopology::Edge& e : topology(form).edges)
    if (in((form.points[e.points[0]] + form.points[e.points[1]]) * 0.5)) result.push_back(e.points);
  return result;
}

}  // namespace

TEST_CASE("extruding a face adds a ring of faces, and names stay") {
  const Form box = make_box_form({}, {2, 2, 2}, 2, 2, 2, 1);
  std::vector<std::uint32_t> top;
  for (std::uint32_t f = 0; f < box.faces.size(); ++f) {
    bool up = true;
    for (const std::uint32_t p : box.faces[f].points) up = up && box.points[p].z > 0.9;
    if (up) top.push_back(f);
  }
  REQUIRE(top.size() == 4);
  const Edited e = extruded(box, top, {0, 0, 1}, 2);
  CHECK(e.form.faces.size() == box.faces.size() + 8);
  CHECK(e.form.points.size() == box.points.size() + 8);
  CHECK(topology(e.form).euler == 2);
  CHECK(e.faces == top);
  for (std::size_t f = 0; f < box.faces.size(); ++f) CHECK(e.form.faces[f].tag == box.faces[f].tag);
  // Straight walls: the volume of the box grows by 2 × 2 × 1, measured on the polygons.
  double v = 0.0;
  for (const FormFace& f : e.form.faces)
    for (std::size_t k = 1; k + 1 < f.points.size(); ++k)
      v += dot(e.form.points[f.points[0]],
               cross(e.form.points[f.points[k]], e.form.points[f.points[k + 1]])) /
           6.0;
  CHECK(v == Approx(12.0));
}

TEST_CASE("a loop goes all the way round a box, on one side or both") {
  const Form box = make_box_form({}, {2, 2, 2}, 1, 1, 1, 1);
  const FormTopology t = topology(box);
  // An edge along z: the ring across it goes round four sides.
  FormEdge upright{};
  for (const FormTopology::Edge& e : t.edges)
    if (std::abs(box.points[e.points[0]].z - box.points[e.points[1]].z) > 1) upright = e.points;
  const EdgeRing ring = ring_across(box, t, upright);
  CHECK(ring.closed);
  CHECK(ring.edges.size() == 4);
  const Form one = with_loop(box, upright, 0.25, false, 2);
  CHECK(one.points.size() == 12);
  CHECK(one.faces.size() == 10);
  const Form two = with_loop(box, upright, 0.25, true, 2);
  CHECK(two.points.size() == 16);
  CHECK(two.faces.size() == 14);
  int low = 0, high = 0;
  for (std::size_t k = 8; k < 16; ++k) {
    low += std::abs(two.points[k].z + 0.5) < 1e-12 ? 1 : 0;
    high += std::abs(two.points[k].z - 0.5) < 1e-12 ? 1 : 0;
  }
  CHECK(low == 4);
  CHECK(high == 4);
  CHECK_THROWS_WITH(with_loop(box, upright, 0.0, false, 2), Contains("between 0 and 1"));
  CHECK_THROWS_WITH(with_loop(box, upright, 0.5, true, 2), Contains("both loops"));
  CHECK_THROWS_WITH(with_loop(box, {0, 7}, 0.3, false, 2), Contains("no longer there"));
  // Creases of the edges that are cut stay on both halves.
  const Form creased = with_creases(box, std::array<FormEdge, 1>{upright}, 2.0);
  const Form cut = with_loop(creased, upright, 0.25, false, 2);
  CHECK(cut.creases.size() == 2);
}

TEST_CASE("a loop of edges runs straight on") {
  const Form box = make_box_form({}, {2, 2, 2}, 2, 2, 2, 1);
  const FormTopology t = topology(box);
  for (const FormTopology::Edge& e : t.edges) {
    const std::vector<FormEdge> loop = loop_along(t, e.points);
    // Across the middle of the sides all round, or along an edge of the box.
    CHECK((loop.size() == 8 || loop.size() == 2));
  }
}

TEST_CASE("two openings are bridged without a twist, and the form gains a handle") {
  const Form box = make_box_form({}, {3, 3, 1}, 3, 3, 1, 1);
  std::vector<std::uint32_t> middle;
  for (std::uint32_t f = 0; f < box.faces.size(); ++f) {
    Vec3 m;
    for (const std::uint32_t p : box.faces[f].points) m += box.points[p] / 4.0;
    if (std::abs(m.x) < 0.1 && std::abs(m.y) < 0.1) middle.push_back(f);
  }
  REQUIRE(middle.size() == 2);
  const Form open = without_faces(box, middle);
  const FormTopology t = topology(open);
  CHECK(t.borders == 2);
  CHECK(t.euler == 0);
  std::vector<FormEdge> borders;
  for (const FormTopology::Edge& e : t.edges)
    if (e.border()) borders.push_back(e.points);
  FormEdge upper{}, lower{};
  for (const FormEdge& e : borders) (open.points[e[0]].z > 0 ? upper : lower) = e;
  const Form ring = bridged(open, upper, lower, {}, 2);
  const FormTopology done = topology(ring);
  CHECK(done.borders == 0);
  CHECK(done.euler == 0);  // a torus
  // Straight down: each new edge is as long as the box is high.
  for (const FormFace& f : ring.faces) {
    if (std::any_of(open.faces.begin(), open.faces.end(),
                    [&](const FormFace& o) { return o.tag == f.tag; }))
      continue;
    CHECK(distance(ring.points[f.points[1]], ring.points[f.points[2]]) == Approx(1.0));
  }
  CHECK_THROWS_WITH(bridged(open, upper, upper, {}, 2), Contains("one border"));
  CHECK_THROWS_WITH(bridged(ring, upper, lower, {}, 2), Contains("no border"));
}

TEST_CASE("sources are closed or open as they should be, with the counts of their formulas") {
  const Form cylinder = make_cylinder_form({}, 10, 30, 8, 3, true, 1);
  CHECK(cylinder.faces.size() == 8 * 5 + 2);
  CHECK(topology(cylinder).euler == 2);
  CHECK(polygon_volume(cylinder) == Approx(8 * 0.5 * 100 * std::sin(std::numbers::pi / 4) * 30));
  const Form tube = make_cylinder_form({}, 10, 30, 8, 3, false, 1);
  CHECK(tube.faces.size() == 24);
  CHECK(topology(tube).borders == 2);
  const Form torus = make_torus_form({}, 40, 12, 12, 6, 1);
  CHECK(topology(torus).euler == 0);
  CHECK(polygon_volume(torus) > 0.0);
  const Form ball = make_ball_form({}, 30, 3, 1);
  CHECK(topology(ball).euler == 2);
  double least = 1e9, most = 0.0;
  const LimitPoints limit = limit_of(ball);
  for (const Vec3& p : limit.points) {
    least = std::min(least, length(p));
    most = std::max(most, length(p));
  }
  CHECK(least > 29.0);  // a box of 3 × 3 a side is round within a few percent
  CHECK(most < 31.0);
  CHECK(make_plane_form({}, 20, 10, 4, 2, 1).faces.size() == 8);
  CHECK_THROWS_WITH(make_torus_form({}, 10, 12, 12, 6, 1),
                    Contains("greater than that of its tube"));
  CHECK_THROWS_WITH(make_cylinder_form({}, 10, 30, 2, 1, true, 1), Contains("3 to 200"));
}

TEST_CASE("flat pairs of triangles become quadrangles, and a mesh too large is refused") {
  // A box of 12 triangles: 6 quadrangles within any angle below a right one.
  TriangleMesh box;
  const Form quads = make_box_form({}, {2, 3, 4}, 1, 1, 1, 1);
  box.points = quads.points;
  for (const FormFace& f : quads.faces) {
    box.triangles.push_back({f.points[0], f.points[1], f.points[2]});
    box.triangles.push_back({f.points[0], f.points[2], f.points[3]});
  }
  const Form form = make_mesh_form(box, 5.0, 1);
  CHECK(form.faces.size() == 6);
  for (const FormFace& f : form.faces) CHECK(f.points.size() == 4);
  CHECK(polygon_volume(form) == Approx(24.0));
  CHECK(make_mesh_form(box, 0.0, 1).faces.size() == 12);
  CHECK_THROWS_WITH(make_mesh_form({}, 5.0, 1), Contains("no triangles"));
  box.triangles.resize(20'001, box.triangles[0]);
  CHECK_THROWS_WITH(make_mesh_form(box, 5.0, 1), Contains("at most 20000"));
}

TEST_CASE("control nets become one form, poles triangles") {
  Surface s;
  s.points = Grid<Vec3>(4, 3);
  s.u.periodic = true;
  for (int i = 0; i < 4; ++i)
    for (int j = 0; j < 3; ++j) {
      const double a = std::numbers::pi / 2 * i;
      const double r = j == 2 ? 0.0 : 1.0;
      s.points(i, j) = {r * std::cos(a), r * std::sin(a), 1.0 * j};
    }
  const Form form = make_net_form(std::vector<Surface>{s}, 1);
  CHECK(form.points.size() == 9);
  CHECK(form.faces.size() == 8);
  CHECK(std::count_if(form.faces.begin(), form.faces.end(),
                      [](const FormFace& f) { return f.points.size() == 3; }) == 4);
  CHECK(topology(form).borders == 1);
}

TEST_CASE("a bevelled box loses its edges' volume, and all rounds with more segments") {
  // By hand: a cube of side 2 with all edges cut 0.2 back on both sides. Each of its 6 faces shrinks to 1.6 × 1.6, each
  // edge becomes a strip and each corner a triangle. Volume: 8 − 12 prisms of section 0.2² / 2 and length 1.6, and
  // at the corners 8 times the cube of side 0.2 less the tetrahedron that stays, which is a sixth of it.
  const Form box = make_box_form({}, {2, 2, 2}, 1, 1, 1, 1);
  const std::vector<FormEdge> all = edges_where(box, [](const Vec3&) { return true; });
  const Form one = bevelled(box, all, 0.2, 1, 2);
  CHECK(one.faces.size() == 6 + 12 + 8);
  CHECK(topology(one).euler == 2);
  CHECK(polygon_volume(one) == Approx(8 - 12 * 0.02 * 1.6 - 8 * 0.008 * 5.0 / 6.0));
  const Form round = bevelled(box, all, 0.2, 4, 2);
  CHECK(round.faces.size() == 6 + 12 * 4 + 8);
  CHECK(topology(round).euler == 2);
  CHECK(polygon_volume(round) > polygon_volume(one));
  // Names of the faces stay.
  for (std::size_t f = 0; f < 6; ++f) CHECK(one.faces[f].tag == box.faces[f].tag);
  // A single edge runs out in its ends.
  const Form single = bevelled(box, std::vector<FormEdge>{all[0]}, 0.2, 2, 2);
  CHECK(topology(single).euler == 2);
  CHECK(single.faces.size() == 8);
  CHECK_THROWS_WITH(bevelled(box, all, 0.0, 1, 2), Contains("greater than 0"));
  const Form open = without_faces(box, std::array<std::uint32_t, 1>{0});
  const std::vector<FormEdge> rim = edges_where(open, [](const Vec3&) { return true; });
  CHECK_THROWS_WITH(bevelled(open, rim, 0.2, 1, 2), Contains("border"));
}

TEST_CASE("melting undoes what dividing did") {
  const Form box = make_box_form({}, {2, 2, 2}, 1, 1, 1, 1);
  const Form divided = subdivided_faces(box, std::array<std::uint32_t, 1>{5}, 2);
  CHECK(divided.faces.size() == 9);
  CHECK(divided.points.size() == 13);
  CHECK(polygon_volume(divided) == Approx(8.0));
  // The middle point alone: those on the edges are passed by two faces only then, and go too.
  std::vector<std::uint32_t> middle;
  for (std::uint32_t p = 8; p < 13; ++p)
    if (topology(divided).edges_of_point[p].size() == 4) middle.push_back(p);
  REQUIRE(middle.size() == 1);
  const Form back = melted_points(divided, middle, 3);
  CHECK(back.faces.size() == 6);
  CHECK(back.points.size() == 8);
  CHECK(polygon_volume(back) == Approx(8.0));
  const std::vector<FormEdge> one =
      edges_where(box, [](const Vec3& m) { return m.x > 0.9 && m.z > 0.9; });
  REQUIRE(one.size() == 1);
  const Form five = melted_edges(box, one, 2);
  CHECK(five.faces.size() == 5);
  CHECK(topology(five).euler == 2);
  const Form open = without_faces(box, std::array<std::uint32_t, 1>{0});
  for (const FormTopology::Edge& e : topology(open).edges)
    if (e.border())
      CHECK_THROWS_WITH(melted_edges(open, std::vector<FormEdge>{e.points}, 2),
                        Contains("one face"));
}

TEST_CASE("a slid loop keeps to its edges, by the share asked for") {
  Form box = make_box_form({}, {2, 2, 2}, 1, 1, 1, 1);
  FormEdge upright{};
  for (const FormTopology::Edge& e : topology(box).edges)
    if (std::abs(box.points[e.points[0]].z - box.points[e.points[1]].z) > 1) upright = e.points;
  const Form cut = with_loop(box, upright, 0.5, false, 2);
  const std::vector<FormEdge> loop =
      edges_where(cut, [](const Vec3& m) { return std::abs(m.z) < 1e-9; });
  REQUIRE(loop.size() == 4);
  for (const double share : {0.4, -0.4}) {
    const Form moved = slid(cut, loop, share);
    // Half the box is 1 high: by 0.4 of it up or down, the same for all four.
    const double z = moved.points[8].z;
    CHECK(std::abs(z) == Approx(0.4));
    for (std::size_t k = 8; k < 12; ++k) CHECK(moved.points[k].z == Approx(z));
  }
  CHECK(slid(cut, loop, 0.4).points[8].z == Approx(-slid(cut, loop, -0.4).points[8].z));
  CHECK_THROWS_WITH(slid(cut, loop, 0.0), Contains("not by none"));
  CHECK_THROWS_WITH(slid(cut, edges_where(cut, [](const Vec3&) { return true; }), 0.2),
                    Contains("branch"));
}

TEST_CASE("two borders of 8 and 16 edges are stitched by eight faces") {
  Form both = make_cylinder_form({{0, 0, 0}}, 10, 10, 8, 1, false, 1);
  append(both, make_cylinder_form({{0, 0, 20}}, 10, 10, 16, 1, false, 2));
  check(both);
  std::vector<FormEdge> picked;
  for (const FormTopology::Edge& e : topology(both).edges) {
    const double z = both.points[e.points[0]].z;
    const bool rim = e.border() && (z == Approx(10.0) || z == Approx(20.0));
    if (!rim) continue;
    if (picked.empty() || (picked.size() == 1 && both.points[picked[0][0]].z != Approx(z)))
      picked.push_back(e.points);
  }
  REQUIRE(picked.size() == 2);
  const Form one = stitched(both, picked, 3);
  const FormTopology t = topology(one);
  CHECK(t.shells == 1);
  CHECK(t.borders == 2);
  CHECK(t.euler == 0);  // a tube
  CHECK(one.faces.size() == 8 + 16 + 8);
  for (std::size_t f = 24; f < one.faces.size(); ++f)  // each of 1 + 2 edges and two sides
    CHECK(one.faces[f].points.size() == 5);
  // Straight across: no side leans by more than half an edge of the finer ring.
  for (std::size_t f = 24; f < one.faces.size(); ++f) {
    const auto& p = one.faces[f].points;
    CHECK(distance(one.points[p[1]], one.points[p[2]]) < 10.5);
  }
}

TEST_CASE("groups of faces are bridged with rows, and refusals say why") {
  const Form box = make_box_form({}, {3, 3, 1}, 3, 3, 1, 1);
  const std::vector<std::uint32_t> middle =
      faces_where(box, [](const Vec3& m) { return std::abs(m.x) < 0.1 && std::abs(m.y) < 0.1; });
  const Form ring = bridged_faces(box, middle, {.segments = 3, .crease = 10}, 2);
  const FormTopology t = topology(ring);
  CHECK(t.euler == 0);
  CHECK(t.borders == 0);
  CHECK(ring.faces.size() == box.faces.size() - 2 + 4 * 3);
  CHECK(ring.creases.size() == 8);
  CHECK(polygon_volume(ring) == Approx(9.0 - 1.0));
  CHECK_THROWS_WITH(bridged_faces(box, std::vector<std::uint32_t>{middle[0]}, {}, 2),
                    Contains("1 groups"));
  CHECK_THROWS_WITH(bridged_faces(box, middle, {.segments = 0}, 2), Contains("1 to 50"));
  // At the rim of a flat box the bridge would stand on its wall.
  const std::vector<std::uint32_t> end =
      faces_where(box, [](const Vec3& m) { return m.x > 0.9 && m.x < 1.4 && std::abs(m.y) < 0.1; });
  REQUIRE(end.size() == 2);
  CHECK_THROWS_WITH(bridged_faces(box, end, {}, 2), Contains("two rows or more"));
}

TEST_CASE("a thickened sheet has a wall of that thickness, a closed form a hollow") {
  const Form sheet = make_plane_form({}, 20, 10, 2, 2, 1);
  const Form wall = thickened(sheet, 2.0, 10.0, 2);
  CHECK(topology(wall).euler == 2);
  CHECK(polygon_volume(wall) == Approx(20.0 * 10 * 2));
  CHECK(wall.creases.size() == 16);
  CHECK(polygon_volume(thickened(sheet, -2.0, 0.0, 2)) == Approx(400.0));
  // The planes of a box move by the thickness each, so the hollow is a box again.
  const Form hollow = thickened(make_box_form({}, {10, 10, 10}, 1, 1, 1, 1), 1.0, 0.0, 2);
  CHECK(topology(hollow).shells == 2);
  CHECK(polygon_volume(hollow) == Approx(1000.0 - 512.0).epsilon(1e-3));
  CHECK_THROWS_WITH(thickened(sheet, 0.0, 0.0, 2), Contains("no wall"));
}

TEST_CASE("holes are filled, faces drawn, edges pulled out, halves mirrored") {
  const Form box = make_box_form({}, {2, 2, 2}, 2, 2, 2, 1);
  const Form half = without_faces(box, faces_where(box, [](const Vec3& m) { return m.y < 0.0; }));
  CHECK(topology(half).borders == 1);
  const Form whole = mirrored_form(half, {}, {0, 1, 0}, 0.01, true, 2);
  CHECK(topology(whole).euler == 2);
  CHECK(topology(whole).borders == 0);
  CHECK(polygon_volume(whole) == Approx(8.0));
  for (std::size_t k = 0; k < half.points.size(); ++k) CHECK(whole.points[k] == half.points[k]);
  CHECK(topology(mirrored_form(half, {}, {0, 1, 0}, 0.01, false, 2)).shells == 2);
  const std::vector<FormEdge> rim =
      edges_where(half, [](const Vec3& m) { return std::abs(m.y) < 1e-9; });
  REQUIRE(rim.size() == 8);
  const Form closed = filled(half, rim[0], 2);
  CHECK(topology(closed).euler == 2);
  CHECK(polygon_volume(closed) == Approx(4.0));
  const Form longer = pulled_out(half, rim, {0, -1, 0}, 2);
  CHECK(longer.faces.size() == half.faces.size() + 8);
  CHECK(polygon_volume(filled(longer, topology(longer).edges.back().points, 3)) > 0.0);
  std::vector<std::uint32_t> corners;
  for (const double x : {-1.0, 1.0})
    for (std::uint32_t p = 0; p < half.points.size(); ++p)
      if (half.points[p] == Vec3{x, 0, 1}) corners.push_back(p);
  for (std::uint32_t p = 0; p < half.points.size(); ++p)
    if (half.points[p] == Vec3{0, 0, 1}) corners.insert(corners.begin() + 1, p);
  REQUIRE(corners.size() == 3);
  const Form drawn = with_face(half, corners, 2);
  CHECK(drawn.faces.size() == half.faces.size() + 1);
  CHECK_THROWS_WITH(filled(box, {0, 1}, 2), Contains("border") || Contains("no longer"));
}

TEST_CASE("after any sequence of edits a form is an oriented manifold and names stay its own") {
  std::mt19937 random(11);
  const auto below = [&](std::size_t n) {
    return std::uniform_int_distribution<std::size_t>(0, n - 1)(random);
  };
  Progress progress;
  std::array<int, 15> done{};
  int refused = 0;
  for (int round = 0; round < 150; ++round) {
    Form form = round % 2 == 0 ? make_box_form({}, {3, 2, 2}, 2, 2, 1, 1)
                               : make_plane_form({}, 3, 3, 3, 3, 1);
    for (int step = 2; step < 30 && form.faces.size() < 300; ++step) {
      const FormTopology t = topology(form);
      const Form before = form;
      const auto face = [&] { return static_cast<std::uint32_t>(below(form.faces.size())); };
      const auto edge = [&] { return t.edges[below(t.edges.size())].points; };
      const std::vector<std::uint32_t> faces{face(), face(), face()};
      const std::vector<FormEdge> edges{edge(), edge(), edge()};
      const std::size_t kind = below(done.size());
      try {
        switch (kind) {
          case 0:
            form = extruded(form, faces, {0.3, 0.1, 0.4}, step).form;
            break;
          case 1:
            form = with_loop(form, edges[0], 0.3, below(2) == 0, step);
            break;
          case 2:
            form = without_faces(form, std::array{faces[0]});
            break;
          case 3:
            form = with_creases(form, edges, below(2) == 0 ? kSharp : 1.5);
            break;
          case 4:
            form = bevelled(form, edges, 0.1, 1 + static_cast<int>(below(3)), step);
            break;
          case 5:
            form = melted_edges(form, edges, step);
            break;
          case 6:
            form = melted_points(
                form, std::array{static_cast<std::uint32_t>(below(form.points.size()))}, step);
            break;
          case 7:
            form = slid(form, loop_along(t, edges[0]), 0.3);
            break;
          case 8:
            form = subdivided_faces(form, faces, step);
            break;
          case 9:
            form = filled(form, edges[0], step);
            break;
          case 10:
            form = stitched(form, std::array{edges[0], edges[1]}, step);
            break;
          case 11:
            form = bridged_faces(form, std::array{faces[0], faces[1]}, {.segments = 2}, step);
            break;
          case 12:
            form = pulled_out(form, std::array<FormEdge, 1>{edges[0]}, {0, 0, 0.5}, step);
            break;
          case 13:
            if (form.faces.size() < 60) form = thickened(form, 0.1, 0.0, step);
            break;
          default: {
            std::vector<FormEdge> rims;
            for (const FormTopology::Edge& e : t.edges)
              if (e.border()) rims.push_back(e.points);
            if (rims.empty()) throw Error("There is no border now that could be bridged.");
            form = bridged(form, rims[below(rims.size())], rims[below(rims.size())], {}, step);
          }
        }
        ++done[kind];
      } catch (const Error& e) {
        form = before;
        ++refused;
        CHECK(std::string(e.what()).size() > 30);  // a sentence
      }
      INFO("edit " << kind);
      form.links.reset();
      const FormTopology now = topology(form);  // throws when it is no manifold
      // χ = Σ (2 − 2g − b) over the shells: of closed pieces an even number, never more than two a shell.
      CHECK((now.euler + static_cast<int>(now.borders)) % 2 == 0);
      CHECK(now.euler + static_cast<int>(now.borders) <= 2 * static_cast<int>(now.shells));
    }
    check(subdivided(form, progress));
  }
  for (std::size_t kind = 0; kind < done.size(); ++kind) {
    INFO("edit " << kind);
    CHECK(done[kind] > 3);
  }
  CHECK(refused > 50);
}

namespace {

// Two sharp cubes of side 2 in one form, the second moved by `by`.
Form two_cubes(const Vec3& by) {
  Form both = make_box_form({}, {2, 2, 2}, 1, 1, 1, 1);
  append(both, make_box_form({by}, {2, 2, 2}, 1, 1, 1, 2));
  for (const FormTopology::Edge& e : topology(both).edges) both.creases[e.points] = kSharp;
  return linked(both);
}

}  // namespace

TEST_CASE("crossings have the length of the line along which boxes cross, and none is made up") {
  Progress progress;
  // Cubes moved by (1, 1, 1) cross in a closed line of six pieces of length 1, each between two faces of theirs.
  const std::vector<Crossing> found = crossings(two_cubes({1, 1, 1}), 50'000, progress);
  CHECK(found.size() == 6);
  double sum = 0.0;
  for (const Crossing& c : found) {
    sum += c.length;
    CHECK(c.length == Approx(1.0).epsilon(1e-9));
    CHECK(c.face_a != c.face_b);
    // On both cubes' skins: one coordinate is 1, another 0.
    CHECK(std::min({std::abs(c.at.x - 1), std::abs(c.at.y - 1), std::abs(c.at.z - 1)}) < 1e-9);
    CHECK(std::min({std::abs(c.at.x), std::abs(c.at.y), std::abs(c.at.z)}) < 1e-9);
  }
  CHECK(sum == Approx(6.0));
  CHECK(crossings(two_cubes({2.5, 0, 0}), 50'000, progress).empty());
  CHECK(crossings(make_torus_form({}, 40, 12, 12, 6, 1), 50'000, progress).empty());
  CHECK(crossings(make_ball_form({}, 10, 4, 1), 50'000, progress).empty());
}

TEST_CASE("what was pushed through the other side is pulled in again") {
  Progress progress;
  Form box = make_box_form({}, {40, 30, 6}, 6, 5, 1, 1);
  for (Vec3& p : box.points)
    if (p.z > 2.9 && length(Vec3{p.x, p.y, 0}) < 6.0) p.z -= 25.0;
  box = linked(box);
  const std::vector<Crossing> found = crossings(box, 50'000, progress);
  REQUIRE_FALSE(found.empty());
  for (std::size_t k = 0; k + 1 < found.size(); ++k) CHECK(found[k].length >= found[k + 1].length);
  const Form mended = crossings_pulled_in(box, 0.5, 50, progress);
  CHECK(crossings(mended, 50'000, progress).empty());
  // Points far from it stay to the bit.
  for (std::size_t p = 0; p < box.points.size(); ++p)
    if (std::abs(box.points[p].x) > 19.0) CHECK(mended.points[p] == box.points[p]);
}
