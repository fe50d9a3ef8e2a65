// The smallest rectangle and the hull of places, and what is kept while a question stays the same.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>
#include <stdexcept>
#include <string>

#include "core/base/least_rectangle.h"
#include "core/display/display_cache.h"

using namespace evenclay;

TEST_CASE("the hull of places leaves out what lies inside and on its sides") {
  const std::vector<Vec3> h =
      convex_hull({{0, 0, 0}, {4, 0, 0}, {4, 3, 0}, {0, 3, 0}, {2, 0, 0}, {1, 1, 0}, {4, 1.5, 0}});
  REQUIRE(h.size() == 4);
  double twice = 0.0;
  for (std::size_t k = 0; k < 4; ++k) {
    const Vec3 &a = h[k], &b = h[(k + 1) % 4];
    twice += a.x * b.y - b.x * a.y;
  }
  CHECK(twice == Approx(24.0));  // counter-clockwise
  CHECK(convex_hull({}).empty());
}

TEST_CASE("a turned rectangle is found again, whatever lies in it") {
  std::mt19937 random(1);
  const auto share = [&] { return static_cast<double>(random() % 10001) / 10000.0; };
  for (int n = 0; n < 40; ++n) {
    const double wide = 10.0 + 50.0 * share(), high = wide * (0.1 + 0.8 * share()),
                 turn = 6.3 * share();
    const Vec3 x{std::cos(turn), std::sin(turn), 0.0}, y{-x.y, x.x, 0.0},
        corner{20.0 * share(), -9.0, 0.0};
    std::vector<Vec3> places;
    for (const auto& [a, b] : {std::pair{0.0, 0.0}, {1.0, 0.0}, {1.0, 1.0}, {0.0, 1.0}})
      places.push_back(corner + x * (a * wide) + y * (b * high));
    for (int k = 0; k < 30; ++k)
      places.push_back(corner + x * (share() * wide) + y * (share() * high) + Vec3{0, 0, share()});
    const LeastRectangle r = least_rectangle(places);
    CHECK(r.wide == Approx(wide).epsilon(1e-9));
    CHECK(r.high == Approx(high).epsilon(1e-9));
    CHECK(std::abs(dot(r.x, x)) == Approx(1.0).epsilon(1e-9));
  }
}

TEST_CASE("of an ellipse of places no turned box is smaller than the least rectangle") {
  std::vector<Vec3> places;
  for (int k = 0; k < 200; ++k) {
    const double a = 2.0 * 3.14159265358979 * k / 200;
    const double u = 30.0 * std::cos(a), v = 12.0 * std::sin(a);
    places.push_back({0.6 * u - 0.8 * v, 0.8 * u + 0.6 * v, 0.0});
  }
  const LeastRectangle r = least_rectangle(places);
  CHECK(r.wide * r.high == Approx(60.0 * 24.0).epsilon(1e-3));
  for (int degree = 0; degree < 180; ++degree) {
    const double t = degree * 3.14159265358979 / 180.0;
    double low_u = 1e9, high_u = -1e9, low_v = 1e9, high_v = -1e9;
    for (const Vec3& p : places) {
      const double u = p.x * std::cos(t) + p.y * std::sin(t),
                   v = p.y * std::cos(t) - p.x * std::sin(t);
      low_u = std::min(low_u, u);
      high_u = std::max(high_u, u);
      low_v = std::min(low_v, v);
      high_v = std::max(high_v, v);
    }
    CHECK(r.wide * r.high <= (high_u - low_u) * (high_v - low_v) + 1e-9);
  }
}

TEST_CASE("an answer is kept while its question is the same, and a failed one changes nothing") {
  Last<std::pair<int, std::string>, double> last;
  int asked = 0;
  const auto answer = [&](double value) {
    return [&asked, value] {
      ++asked;
      return value;
    };
  };
  CHECK(last.of({1, "a"}, answer(3.0)) == 3.0);
  CHECK(last.of({1, "a"}, answer(4.0)) == 3.0);
  CHECK(asked == 1);
  CHECK(last.of({1, "b"}, answer(5.0)) == 5.0);
  CHECK_THROWS_AS(last.of({2, "b"}, []() -> double { throw std::runtime_error("no"); }),
                  std::runtime_error);
  CHECK(last.of({1, "b"}, answer(6.0)) == 5.0);
  CHECK(asked == 2);
  CHECK(last.of({2, "b"}, answer(7.0)) == 7.0);
}
