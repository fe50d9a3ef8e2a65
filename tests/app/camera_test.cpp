#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "app/view/picking.h"
#include "core/nurbs/conics.h"

using namespace evenclay;

namespace {

const QRect kViewport(0, 0, 800, 600);

Camera camera(bool perspective, double yaw, double pitch) {
  Camera c;
  c.target = {3, -2, 5};
  c.yaw = yaw;
  c.pitch = pitch;
  c.height = 120;
  c.perspective = perspective;
  return c;
}

}  // namespace

TEST_CASE("the camera's own projection agrees with its OpenGL matrices") {
  for (const bool perspective : {true, false})
    for (const double yaw : {-50.0, 10.0, 170.0})
      for (const double pitch : {-35.0, 0.0, 80.0}) {
        const Camera c = camera(perspective, yaw, pitch);
        const QMatrix4x4 m = c.projection(800.0 / 600.0, 100) * c.view();
        for (const Vec3& p : {Vec3{0, 0, 0}, Vec3{20, -10, 30}, Vec3{-15, 25, -5}}) {
          const QVector4D clip = m * QVector4D(static_cast<float>(p.x), static_cast<float>(p.y),
                                               static_cast<float>(p.z), 1.0F);
          const double x = (static_cast<double>(clip.x() / clip.w()) * 0.5 + 0.5) * 800;
          const double y = (0.5 - static_cast<double>(clip.y() / clip.w()) * 0.5) * 600;
          const OnScreen s = to_screen(c, kViewport, p);
          CHECK(s.at.x() == Approx(x).margin(0.05));
          CHECK(s.at.y() == Approx(y).margin(0.05));
          CHECK(s.depth > 0);
        }
      }
}

TEST_CASE("a ray through a point's place on the screen goes through the point") {
  for (const bool perspective : {true, false}) {
    const Camera c = camera(perspective, 33, 21);
    for (const Vec3& p : {Vec3{0, 0, 0}, Vec3{20, -10, 30}}) {
      const Ray ray = ray_through(c, kViewport, to_screen(c, kViewport, p).at);
      CHECK(length(cross(p - ray.origin, ray.direction)) < 1e-9);
      CHECK(dot(p - ray.origin, ray.direction) > 0);
    }
  }
}

TEST_CASE("a ray hits the near side of a sphere and misses beside it") {
  Progress progress;
  DisplayPart part;
  part.mesh = std::make_shared<const DisplayMesh>(
      display_mesh(body_of({make_sphere({}, 10)}), {}, progress));
  for (const bool prepared : {false, true}) {
    if (prepared) part.rays = std::make_shared<const MeshRays>(part.mesh);
    const auto near_side = hit({{0, -50, 0.2}, {0, 1, 0}}, part);
    REQUIRE(near_side);
    CHECK(*near_side == Approx(40).epsilon(1e-3));
    CHECK_FALSE(hit({{0, -50, 11}, {0, 1, 0}}, part));
    CHECK_FALSE(hit({{0, 50, 0}, {0, 1, 0}}, part));
  }
}

TEST_CASE("prepared rays meet what trying every triangle meets") {
  Progress progress;
  DisplayPart plain;
  plain.mesh = std::make_shared<const DisplayMesh>(
      display_mesh(body_of({make_torus({}, 40, 12)}), kCoarse, progress));
  DisplayPart prepared = plain;
  prepared.rays = std::make_shared<const MeshRays>(plain.mesh);
  std::mt19937 r(9);
  std::uniform_real_distribution<double> mm(-60, 60);
  int met = 0;
  for (int k = 0; k < 400; ++k) {
    const Vec3 from{mm(r), mm(r), 90};
    const Ray ray{from, normalized(Vec3{mm(r), mm(r), 0} * 0.5 - from)};
    const auto a = first_hit(ray, plain);
    const auto b = first_hit(ray, prepared);
    REQUIRE(a.has_value() == b.has_value());
    if (!a) continue;
    ++met;
    CHECK(a->distance == Approx(b->distance).margin(1e-3));  // single precision
    if (a->triangle == b->triangle) {
      CHECK(a->b == Approx(b->b).margin(1e-3));
      CHECK(a->c == Approx(b->c).margin(1e-3));
    }
  }
  CHECK(met > 100);
  CHECK_FALSE(MeshRays(std::make_shared<const DisplayMesh>()).first({{0, 0, 9}, {0, 0, -1}}));
}

TEST_CASE("panning by pixels moves the target by as many pixels") {
  for (const bool perspective : {true, false}) {
    Camera c = camera(perspective, 33, 21);
    const Vec3 p = c.target;
    c.pan({40, -25}, kViewport);
    const OnScreen s = to_screen(c, kViewport, p);
    CHECK(s.at.x() == Approx(400 + 40 - 0.5).margin(0.6));
    CHECK(s.at.y() == Approx(300 - 25 - 0.5).margin(0.6));
  }
}

TEST_CASE("framing brings a box into the viewport whole") {
  Box3 box;
  box.add(Vec3{-30, -20, -10});
  box.add(Vec3{50, 25, 40});
  for (const bool perspective : {true, false}) {
    Camera c = camera(perspective, -50, 22);
    c.frame(box, 800.0 / 600.0);
    for (int k = 0; k < 8; ++k) {
      const Vec3 corner{(k & 1) != 0 ? box.min.x : box.max.x, (k & 2) != 0 ? box.min.y : box.max.y,
                        (k & 4) != 0 ? box.min.z : box.max.z};
      CHECK(kViewport.contains(to_screen(c, kViewport, corner).at.toPoint()));
    }
  }
  Camera untouched = camera(true, 0, 0);
  untouched.frame(Box3{}, 1.0);
  CHECK(untouched.height == 120);
}

TEST_CASE("orbit stays between the poles") {
  Camera c = camera(true, 0, 0);
  c.orbit(0, 10000);
  CHECK(c.pitch == 90);
  c.orbit(0, -20000);
  CHECK(c.pitch == -90);
  c.orbit(5000, 0);
  CHECK(std::abs(c.yaw) <= 180);
}
