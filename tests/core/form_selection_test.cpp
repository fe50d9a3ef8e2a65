// Picking on forms: rings, loops, bands and neighbours of boxes and planes, by counting.
#include "core/points/form_selection.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <set>

#include "core/subdivision/edit_parts.h"
#include "core/subdivision/sources.h"

using namespace evenclay;

namespace {

FormNet net_of(const Form& form) {
  return {form.points, links_of(form)};
}

Tag face_at(const Form& form, const Vec3& at) {
  std::size_t best = 0;
  for (std::uint32_t f = 0; f < form.faces.size(); ++f)
    if (distance(middle_of(form, f), at) <
        distance(middle_of(form, static_cast<std::uint32_t>(best)), at))
      best = f;
  return form.faces[best].tag;
}

Vec3 middle_of_edge(const Form& form, const FormTopology::Edge& e) {
  return (form.points[e.points[0]] + form.points[e.points[1]]) * 0.5;
}

Tag edge_at(const Form& form, const Vec3& at) {
  Tag best = 0;
  double least = 1e300;
  const std::shared_ptr<const FormLinks> links = links_of(form);
  for (const FormTopology::Edge& e : links->topology.edges)
    if (const double d = distance(middle_of_edge(form, e), at); d < least) {
      least = d;
      best = edge_tag(form, e.points);
    }
  return best;
}

std::size_t different(const std::vector<Tag>& tags) {
  return std::set<Tag>(tags.begin(), tags.end()).size();
}

// A box of 6 × 4 × 2 faces about 0, a face 1 mm long everywhere.
Form block() {
  return make_box_form({}, {6, 4, 2}, 6, 4, 2, 1);
}

}  // namespace

TEST_CASE("a ring across a box goes once round it") {
  const Form form = block();
  const FormNet net = net_of(form);
  // Edges along x on the top: the ring across one crosses top, side, bottom and side: 4 + 2 + 4 + 2.
  CHECK(different(rings_across(net, {edge_at(form, {0.5, 0, 1})})) == 12);
  // Along y: 6 + 2 + 6 + 2. Along z, on a side: 6 + 4 + 6 + 4.
  CHECK(different(rings_across(net, {edge_at(form, {0, 0.5, 1})})) == 16);
  CHECK(different(rings_across(net, {edge_at(form, {3, 0, 0.5})})) == 20);
  // Each edge of the ring leads to the same ring.
  const std::vector<Tag> ring = rings_across(net, {edge_at(form, {0.5, 0, 1})});
  for (const Tag t : ring)
    CHECK(std::set<Tag>(ring.begin(), ring.end()) == [&] {
      const std::vector<Tag> other = rings_across(net, {t});
      return std::set<Tag>(other.begin(), other.end());
    }());
}

TEST_CASE("a loop runs straight on and ends at corners of three") {
  const Form form = block();
  const FormNet net = net_of(form);
  // In the middle of the top along x, down both sides and back below: 6 + 2 + 6 + 2.
  CHECK(different(loops_along(net, {edge_at(form, {0.5, 0, 1})})) == 16);
  // On an edge of the box it runs between two corners, where three edges meet.
  CHECK(different(loops_along(net, {edge_at(form, {0.5, 2, 1})})) == 6);
  const Form plane = make_plane_form({}, 5, 3, 5, 3, 1);
  // On an open form an inner loop ends at the border, and a border loop is the whole border: 2 (5 + 3).
  CHECK(different(loops_along(net_of(plane), {edge_at(plane, {0, 0.5, 0})})) == 5);
  CHECK(different(loops_along(net_of(plane), {edge_at(plane, {0, 1.5, 0})})) == 16);
}

TEST_CASE("a band lies between two neighbouring faces, and both bands through one") {
  const Form form = block();
  const FormNet net = net_of(form);
  const Tag a = face_at(form, {0.5, 0.5, 1}), b = face_at(form, {1.5, 0.5, 1});
  const Tag c = face_at(form, {0.5, 1.5, 1});
  CHECK(different(bands_along(net, {a, b})) == 16);
  CHECK(different(bands_along(net, {a, c})) == 12);
  // Both cross in the face itself and in the one below it.
  CHECK(different(bands_along(net, {a})) == 16 + 12 - 2);
}

TEST_CASE("what is picked grows by its neighbours, and shrinks back") {
  const Form plane = make_plane_form({}, 7, 7, 7, 7, 1);
  const FormNet net = net_of(plane);
  const std::vector<Tag> one{face_at(plane, {0, 0, 0})};
  const std::vector<Tag> nine = grown(net, PickKind::Face, one);
  CHECK(different(nine) == 9);
  CHECK(different(grown(net, PickKind::Face, nine)) == 25);
  CHECK(shrunk(net, PickKind::Face, nine) == one);
  CHECK(shrunk(net, PickKind::Face, one).empty());
  // A corner has three neighbours, and cannot grow beyond the form.
  CHECK(different(grown(net, PickKind::Face, {face_at(plane, {-3, -3, 0})})) == 4);
  std::vector<Tag> all = one;
  for (int k = 0; k < 4; ++k) all = grown(net, PickKind::Face, all);
  CHECK(different(all) == 49);
  CHECK(different(grown(net, PickKind::Face, all)) == 49);
}

TEST_CASE("a box on the screen takes what lies whole in it, or what it touches") {
  const Form plane = make_plane_form({}, 6, 4, 6, 4, 1);
  const FormNet net = net_of(plane);
  const auto left = [](const Vec3& p) { return p.x < 0.25; };
  CHECK(tags_where(net, PickKind::Face, left, false).size() == 12);
  CHECK(tags_where(net, PickKind::Face, left, true).size() == 16);
  CHECK(tags_where(net, PickKind::Corner, left, false).size() == 20);
  // Edges between 4 columns of points of 5: 3 · 5 along x and 4 · 4 along y.
  CHECK(tags_where(net, PickKind::Edge, left, false).size() == 31);
  CHECK(tags_where(net, PickKind::Edge, left, true).size() == 36);
}

TEST_CASE("points of picks lead back to the picks, and names that are gone are passed over") {
  const Form form = block();
  const FormNet net = net_of(form);
  const std::vector<Tag> faces{face_at(form, {0.5, 0.5, 1}), face_at(form, {1.5, 0.5, 1})};
  const Selection points = points_of(net, PickKind::Face, faces);
  CHECK(points.size() == 6);
  std::vector<Tag> back = tags_with(net, PickKind::Face, points);
  CHECK(std::set<Tag>(back.begin(), back.end()) == std::set<Tag>(faces.begin(), faces.end()));
  CHECK(tags_with(net, PickKind::Edge, points).size() == 7);
  CHECK(tags_with(net, PickKind::Corner, points).size() == 6);
  CHECK(still_there(net, PickKind::Face, {faces[0], 12345, faces[0], faces[1]}) == faces);
  CHECK(points_of(net, PickKind::Edge, {777}).empty());
  const std::vector<Pick> picks = as_picks(net, PickKind::Face, faces);
  REQUIRE(picks.size() == 2);
  CHECK(picks[0].tag == faces[0]);
  CHECK(distance(picks[0].near, {0.5, 0.5, 1}) < 1e-12);
}

TEST_CASE("under symmetry the partners of picks are picked, in each plane after the other") {
  const Form form = block();
  const FormNet net = net_of(form);
  const Nets nets(std::vector<Net>{net});
  const auto mirrors = find_mirrors(nets, SymmetryPlane::YZAndXZ, 1e-6);
  REQUIRE(mirrors);
  REQUIRE(mirrors->size() == 2);
  const std::vector<Tag> one{face_at(form, {2.5, 1.5, 1})};
  const std::vector<Tag> four = with_mirrored(net, PickKind::Face, one, *mirrors);
  CHECK(different(four) == 4);
  for (const Vec3& at : {Vec3{2.5, 1.5, 1}, {-2.5, 1.5, 1}, {2.5, -1.5, 1}, {-2.5, -1.5, 1}})
    CHECK(std::find(four.begin(), four.end(), face_at(form, at)) != four.end());
}
