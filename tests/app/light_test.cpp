// The light of the refined picture, the key of a picture, and limits of gauges: values without a window.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "app/panels/gauge_card.h"
#include "app/view/layers.h"
#include "app/view/refiner.h"

using namespace evenclay;

TEST_CASE("the many pictures hold, in the mean, one key light and one sky") {
  Camera camera;
  for (const int count : {8, 48, 64}) {
    double key = 0.0;
    double sky = 0.0;
    double x = 0.0;
    double y = 0.0;
    for (int n = 0; n < count; ++n) {
      const LightSample s = light_sample(n, count, true, camera);
      REQUIRE(s.to_light);
      CHECK(length(*s.to_light) == Approx(1.0).epsilon(1e-12));
      CHECK(s.to_light->z > 0.0);  // no light from below the floor
      CHECK(std::abs(s.shift_x) <= 0.5);
      CHECK(std::abs(s.shift_y) <= 0.5);
      key += s.key_share / count;
      sky += s.sky_share / count;
      x += s.shift_x / count;
      y += s.shift_y / count;
    }
    CHECK(key == Approx(1.0));
    CHECK(sky == Approx(1.0));
    CHECK(std::abs(x) < 0.1);
    CHECK(std::abs(y) < 0.1);
  }
  CHECK_FALSE(light_sample(3, 8, false, camera).to_light);
}

TEST_CASE("the sky of many pictures lights a level face fully and an upright one by half") {
  // The mean of 2 cos over directions spread evenly over the half sphere: 1 for a face that looks up, and
  // (1 + cos) / 2 = 1/2 for one that looks to the side.
  Camera camera;
  const int count = 4096;
  for (const auto& [normal, wanted] : {std::pair{Vec3{0, 0, 1}, 1.0},
                                       {Vec3{1, 0, 0}, 0.5},
                                       {Vec3{0, -1, 0}, 0.5},
                                       {Vec3{0, 0, -1}, 0.0}}) {
    double mean = 0.0;
    for (int n = 0; n < count; ++n) {
      const LightSample s = light_sample(n, count, true, camera);
      mean += s.sky_share * 2.0 * std::max(0.0, dot(normal, *s.to_light)) / count;
    }
    CHECK(mean == Approx(wanted).margin(0.04));
  }
}

TEST_CASE("the key light stands above and to the left of whoever looks, from every side") {
  for (double yaw = -180.0; yaw < 180.0; yaw += 30.0)
    for (const double pitch : {-30.0, 0.0, 20.0, 60.0, 90.0}) {
      Camera c;
      c.yaw = yaw;
      c.pitch = pitch;
      const Vec3 key = key_light(c);
      CHECK(length(key) == Approx(1.0).epsilon(1e-12));
      CHECK(dot(key, c.axes().x) < -0.3);
      CHECK(key.z > 0.2);
    }
}

TEST_CASE("a refined picture belongs to just what it was made of") {
  Scene scene;
  scene.meshes.push_back(
      {std::make_shared<DisplayMesh>(), nullptr, nullptr, QColor(200, 160, 140)});
  const Camera camera;
  const QSize size(400, 300);
  const PictureKey key = key_of(scene, camera, size);
  CHECK((key == key_of(scene, camera, size)));
  Camera turned = camera;
  turned.orbit(1, 0);
  CHECK_FALSE((key == key_of(scene, turned, size)));
  CHECK_FALSE((key == key_of(scene, camera, QSize(401, 300))));
  Scene other = scene;
  other.meshes[0].colour = QColor(10, 10, 10);
  CHECK_FALSE((key == key_of(other, camera, size)));
  other = scene;
  other.look = ModelLook::Zebra;
  CHECK_FALSE((key == key_of(other, camera, size)));
  other = scene;
  other.section = SectionCut{};
  CHECK_FALSE((key == key_of(other, camera, size)));
  other = scene;
  other.meshes.push_back(other.meshes[0]);
  CHECK_FALSE((key == key_of(other, camera, size)));
  // Marks over the surfaces do not matter: points, legs, combs.
  other = scene;
  other.points.push_back({{1, 2, 3}});
  other.lines.push_back({{0, 0, 0, 1, 1, 1}, QColor(0, 0, 0)});
  CHECK((key == key_of(other, camera, size)));
}

TEST_CASE(
    "limits turn a gauge amber and red on the side they are meant for, and 0 switches them off") {
  const GaugeLimits above{0.01, 0.1, false};
  CHECK(QString(above.level(0.005)).isEmpty());
  CHECK(QString(above.level(0.05)) == "caution");
  CHECK(QString(above.level(0.5)) == "bad");
  const GaugeLimits below{75.0, 50.0, true};
  CHECK(QString(below.level(90.0)).isEmpty());
  CHECK(QString(below.level(60.0)) == "caution");
  CHECK(QString(below.level(20.0)) == "bad");
  const GaugeLimits off{0.0, 0.0, false};
  CHECK(QString(off.level(1e9)).isEmpty());
  const GaugeLimits only_bad{0.0, 1.0, false};
  CHECK(QString(only_bad.level(0.9)).isEmpty());
  CHECK(QString(only_bad.level(1.1)) == "bad");
}

TEST_CASE(
    "points and legs of a net are drawn whole while there is room, and smaller where it is "
    "crowded") {
  const auto thinned = [](double pixels) {
    Scene s;
    s.lines = {{{}, Qt::black, 1.5F}, {{}, Qt::black, 1.5F}};
    s.lines[0].leg = 2.0;
    s.points = {{{}, PointState::Plain}, {{}, PointState::Picked}, {{}, PointState::Plain}};
    s.points[0].leg = s.points[1].leg = 2.0;
    s.points[2].leg = 200.0;  // of another net, with plenty of room
    thin_crowded_net(s, pixels / 2.0);
    return s;
  };
  CHECK(thinned(40.0).points[0].scale == 1.0);
  CHECK(thinned(40.0).lines[0].width == 1.5F);
  // A point with its rim is 10.8 pixels wide: drawn smaller it never touches the next one.
  for (const double pixels : {7.5, 9.0, 12.0, 20.0})
    CHECK(10.8 * thinned(pixels).points[0].scale <= pixels);
  CHECK(thinned(9.1).points[0].scale == Approx(0.7));
  CHECK(thinned(9.1).points[2].scale == 1.0);
  CHECK(thinned(9.1).points.size() == 3);
  CHECK(thinned(6.5).lines[0].width == 0.75F);
  CHECK(thinned(6.5).lines[1].width == 1.5F);  // no line of the net
  CHECK(thinned(5.0).points.size() == 2);      // what is picked is seen from any distance
  CHECK(thinned(5.0).lines.size() == 2);
  CHECK(thinned(1.0).lines.size() == 1);
  CHECK(thinned(1.0).points[0].scale > 0.25);
}
