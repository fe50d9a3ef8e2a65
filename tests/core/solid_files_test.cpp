// What was cut and joined, written and read back by another reader: closed, and of the same volume. And names that stay.
#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <numbers>
#include <random>
#include <set>

#include "core/base/error.h"
#include "core/cut/combine.h"
#include "core/cut/edge_edit.h"
#include "core/cut/round.h"
#include "core/cut/split.h"
#include "core/cut/thicken.h"
#include "core/exchange/brought_file.h"
#include "core/exchange/export.h"
#include "core/exchange/step_file.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
constexpr double kPi = std::numbers::pi;

namespace {

Progress progress;

struct Named {
  const char* name;
  Body body;
};

std::vector<Named> results() {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  std::vector<Named> all;
  all.push_back({"rounded", with_cut_edges(a, {0, 5}, {EdgeCut::Round, 2.0, 2.0, 4}, progress)});
  all.push_back(
      {"hollow", shelled(ball({}, 20.0, 1), {}, 2.0, offset_by, {}, 0.01, 5, progress).body});
  all.push_back({"open box", shelled(a, {1}, 1.0, offset_by, {}, 0.01, 5, progress).body});
  all.push_back({"drilled", combined(a, std::vector{cylinder({{5, 5, -1}}, 2.0, 12.0, 2)},
                                     Combine::Subtract, 0.01, 3, progress)
                                .body});
  all.push_back({"half ball", split(ball({}, 10.0, 1), {.plane = Frame{}},
                                    {.keep = SplitKeep::First, .step = 2}, progress)
                                  .body});
  return all;
}

}  // namespace

TEST_CASE("solids written as STEP come back closed and with the same volume") {
  for (const Named& n : results()) {
    INFO(n.name);
    const StepFile file = read_step(to_step(n.body, n.name), 1, progress);
    REQUIRE(file.bodies.size() == 1);
    CHECK(file.faces_left_out == 0);
    CHECK(file.bodies[0].body.faces.size() == n.body.faces.size());
    CHECK(is_closed_solid(file.bodies[0].body));
    CHECK(volume_of(file.bodies[0].body) == Approx(volume_of(n.body)).epsilon(1e-6));
  }
}

TEST_CASE("solids written as STL are watertight to another reader, and hold their volume") {
  for (const Named& n : results()) {
    INFO(n.name);
    const BroughtFile file =
        read_file("solid.stl", to_stl(mesh_of(n.body, 0.002, progress), n.name), 1, progress);
    REQUIRE(file.parts.size() == 1);
    const auto& mesh = std::get<TriangleMesh>(*file.parts[0].shape);
    // Each edge twice, once each way; the divergence theorem gives the volume.
    std::map<std::pair<std::uint32_t, std::uint32_t>, int> edges;
    double volume = 0.0;
    for (const auto& t : mesh.triangles) {
      for (std::size_t k = 0; k < 3; ++k) ++edges[{t[k], t[(k + 1) % 3]}];
      volume += dot(mesh.points[t[0]], cross(mesh.points[t[1]], mesh.points[t[2]])) / 6.0;
    }
    bool watertight = true;
    for (const auto& [edge, count] : edges)
      watertight &= count == 1 && edges.contains({edge.second, edge.first});
    CHECK(watertight);
    CHECK(volume == Approx(volume_of(n.body)).epsilon(2e-3));
  }
}

TEST_CASE("random rows of cuts keep the names of what they do not touch") {
  std::mt19937 random(20261126);
  const auto number = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  int done = 0;
  for (int run = 0; run < 6; ++run) {
    Body body = box({0, 0, 0}, {30, 30, 30}, 1);
    for (int step = 2; step < 6; ++step) {
      INFO("run " << run << ", step " << step);
      // What lies well away from the cut is remembered with its surface and a place on it.
      const Vec3 at{number(4, 26), number(4, 26), 30.0};
      const double r = number(0.5, 2.5);
      try {
        const Body cut =
            combined(body,
                     std::vector{cylinder({at - Vec3{0, 0, number(2, 40)}}, r, 50.0, 90 + step)},
                     Combine::Subtract, 0.01, step, progress)
                .body;
        ++done;
        std::set<Tag> names;
        for (const Face& f : cut.faces) CHECK(names.insert(f.tag).second);
        for (const Face& f : body.faces) {
          // The cylinder meets the top and the bottom only, and what was drilled before.
          const int now = face_with_tag(cut, f.tag);
          const bool upright = std::abs(normal(*f.surface, 0.5, 0.5).z) < 0.5;
          if (!upright || !f.surface->u.periodic) REQUIRE(now >= 0);
          if (now >= 0) CHECK(cut.faces[static_cast<std::size_t>(now)].surface == f.surface);
        }
        body = cut;
      } catch (const Error&) {
        continue;
      }
    }
    CHECK(is_closed_solid(body));
  }
  CHECK(done > 18);
}

TEST_CASE("a cut that moves gives its edges and faces the same names") {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const auto drilled = [&](double x, double r) {
    return combined(a, std::vector{cylinder({{x, 5, -1}}, r, 12.0, 2)}, Combine::Subtract, 0.01, 3,
                    progress)
        .body;
  };
  const Body here = drilled(4.0, 1.5), there = drilled(6.0, 2.0);
  CHECK(tags_of_faces(here) == tags_of_faces(there));
  std::set<Tag> first, second;
  for (const Edge& e : here.edges) first.insert(e.tag);
  for (const Edge& e : there.edges) second.insert(e.tag);
  CHECK(first == second);
}
