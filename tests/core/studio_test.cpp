// Traced pictures: what must hold of light and materials, pixel by pixel.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/error.h"
#include "core/display/studio.h"
#include "core/display/studio_room.h"
#include "core/document/materials.h"
#include "core/document/project_json.h"
#include "core/nurbs/conics.h"
#include "core/operations/catalogue.h"

using namespace evenclay;

namespace {

std::shared_ptr<const DisplayMesh> ball(const Vec3& at, double radius) {
  Progress progress;
  Frame frame;
  frame.origin = at;
  return std::make_shared<const DisplayMesh>(
      display_mesh(Shape{body_of({make_sphere(frame, radius)}, 1)}, {1e-4, 500'000}, progress));
}

// From straight above and far, 100 mm across 100 pixels: a pixel is a millimetre.
StudioPicture from_above(bool transparent = false) {
  StudioPicture wish;
  wish.width = wish.height = 100;
  wish.view = {"", {0, 0, 0}, -90.0, 90.0, 100.0, false};
  wish.transparent = transparent;
  wish.rays = 9;
  return wish;
}

std::array<int, 4> pixel(const Pixels& p, int x, int y) {
  const unsigned char* at = &p.bytes[4 * static_cast<std::size_t>(y * p.width + x)];
  return {at[0], at[1], at[2], at[3]};
}

Pixels picture(const Material& material, std::uint32_t colour, const StudioPicture& wish) {
  Progress progress;
  return studio_picture({{ball({0, 0, 20}, 20), colour, material}}, wish, progress);
}

}  // namespace

TEST_CASE("a ball covers the circle of its radius in a picture without ground") {
  const Pixels p = picture({}, 0xC9A48C, from_above(true));
  double inside = 0.0;
  for (int y = 0; y < 100; ++y)
    for (int x = 0; x < 100; ++x) inside += pixel(p, x, y)[3] == 255 ? 1.0 : 0.0;
  CHECK(inside == Approx(3.14159 * 400.0).epsilon(0.06));
  CHECK(pixel(p, 50, 50)[3] == 255);
  CHECK(pixel(p, 2, 97)[3] < 40);  // far from the ball there is no shadow
  // Beside the ball, away from the light at the upper left, the shadow lies.
  int most = 0;
  for (int y = 55; y < 90; ++y)
    for (int x = 68; x < 90; ++x)
      if (const int a = pixel(p, x, y)[3]; a < 255) most = std::max(most, a);
  CHECK(most > 60);
}

TEST_CASE("with ground every pixel is opaque, and colours are those that were given") {
  const Pixels p = picture({.roughness = 1.0}, 0xB3372F, from_above());
  for (int k = 0; k < 100; ++k) CHECK(pixel(p, k, k)[3] == 255);
  const auto middle = pixel(p, 50, 50);
  CHECK(middle[0] > 2 * middle[1]);
  CHECK(middle[0] > 2 * middle[2]);
}

TEST_CASE("a mirror shows the room, a dull ball does not, and a metal one mirrors in its colour") {
  // At the top of the ball the eye looks straight down and is sent straight up.
  const Vec3 up = studio_room({0, 0, 1}, 0.04);
  const Pixels mirror = picture({.roughness = 0.0, .metal = 1.0}, 0xFFFFFF, from_above());
  CHECK(pixel(mirror, 50, 50)[0] == Approx(255.0 * std::min(1.0, up.x)).margin(12));
  const Pixels red = picture({.roughness = 0.0, .metal = 1.0}, 0xFF0000, from_above());
  CHECK(pixel(red, 50, 50)[0] > 150);
  CHECK(pixel(red, 50, 50)[1] < 40);
  // Sideways a mirror's picture changes from place to place more than a dull ball's.
  const auto wobble = [](const Pixels& p) {
    double sum = 0.0;
    for (int x = 34; x < 66; ++x) sum += std::abs(pixel(p, x, 50)[0] - pixel(p, x + 1, 50)[0]);
    return sum;
  };
  StudioPicture smooth = from_above();
  smooth.rays = 100;  // grain is no picture
  CHECK(wobble(picture({.roughness = 0.0, .metal = 1.0}, 0xFFFFFF, smooth)) >
        2.0 * wobble(picture({.roughness = 1.0}, 0xFFFFFF, smooth)));
}

TEST_CASE("what lets light through shows what stands behind it") {
  Progress progress;
  const auto see = [&](double translucency) {
    // A white ball over a red one of half its radius.
    const std::vector<StudioPart> parts{
        {ball({0, 0, 70}, 20), 0xFFFFFF, {.roughness = 1.0, .translucency = translucency}},
        {ball({0, 0, 15}, 10), 0xFF0000, {.roughness = 1.0}}};
    return pixel(studio_picture(parts, from_above(), progress), 50, 50);
  };
  const auto closed = see(0.0), open = see(1.0);
  CHECK(std::abs(closed[0] - closed[1]) < 25);
  CHECK(open[0] - open[1] > 25);
}

TEST_CASE("what lies on another part is seen, even where it dips a little beneath its skin") {
  Progress progress;
  const auto see = [&](bool on_top) {
    // Two balls of nearly one radius: the red one lies 0.05 mm beneath the white one.
    const std::vector<StudioPart> parts{
        {ball({0, 0, 20}, 20), 0xFFFFFF, {.roughness = 1.0}},
        {ball({0, 0, 20}, 19.95), 0xFF0000, {.roughness = 1.0}, on_top}};
    return pixel(studio_picture(parts, from_above(), progress), 50, 50);
  };
  const auto hidden = see(false), shown = see(true);
  CHECK(hidden[1] > 150);
  CHECK(shown[0] > 3 * shown[1]);
  CHECK(shown[0] > 120);  // and in the light: the white ball throws no shadow on it
}

TEST_CASE("a picture is the same each time") {
  const Pixels all = picture({.roughness = 0.3, .coat = 0.5}, 0xC9A48C, from_above());
  const Pixels again = picture({.roughness = 0.3, .coat = 0.5}, 0xC9A48C, from_above());
  CHECK(all.bytes == again.bytes);
}

TEST_CASE("pictures that make no sense are refused, and one being made is given up") {
  Progress progress;
  StudioPicture wish = from_above();
  wish.width = 9000;
  const std::vector<StudioPart> parts{{ball({}, 20)}};
  CHECK_THROWS_AS(studio_picture(parts, wish, progress), Error);
  wish = from_above();
  wish.rays = 0;
  CHECK_THROWS_AS(studio_picture(parts, wish, progress), Error);
  CHECK_THROWS_WITH(studio_picture({}, from_above(), progress),
                    Catch::Contains("nothing to be seen"));
  progress.cancel();
  CHECK_THROWS_AS(studio_picture(parts, from_above(), progress), Cancelled);
}

TEST_CASE("a picture's bytes are a PNG of its size") {
  const std::string png = png_of(picture({}, 0xC9A48C, from_above()));
  REQUIRE(png.size() > 33);
  CHECK(png.substr(1, 3) == "PNG");  // ISO/IEC 15948, 5.2; width and height stand at 16 and 20
  CHECK(static_cast<int>(png[19]) == 100);
  CHECK(static_cast<int>(png[23]) == 100);
  CHECK(static_cast<int>(png[25]) == 6);  // truecolour with alpha
}

TEST_CASE("materials by words, kept in files") {
  Document d = with_part({}, "Ball", make_operation("sphere")).document;
  d = with_material_words(d, "Ball=gloss, #A8512F, translucency 0.25");
  CHECK(d.parts[0].material.coat == Approx(0.9));
  CHECK(d.parts[0].material.translucency == Approx(0.25));
  CHECK(d.parts[0].look.colour == 0xA8512F);
  const Document back = from_project_json(to_project_json(d), make_operation, nullptr);
  CHECK(back.parts[0].material == d.parts[0].material);
  d = with_part_in_layer(d, d.parts[0].id, "Body");
  d = with_material_words(d, "Layer:Body=brushed-metal");
  CHECK(shelf_material(d.parts[0].material)->name == "brushed-metal");
  for (const char* wrong : {"Ball", "Ball=velvet", "Ball=metal 2", "Ball=metal x", "Ball=#12345",
                            "Nobody=gloss", "Layer:None=gloss"})
    CHECK_THROWS_AS(with_material_words(d, wrong), Error);
  // A project without materials reads as clay; one out of range is refused.
  std::string text = to_project_json(d);
  const auto at = text.find("\"metal\": 1.0");
  REQUIRE(at != std::string::npos);
  CHECK_THROWS_AS(
      from_project_json(text.replace(at, 12, "\"metal\": 7.0"), make_operation, nullptr),
      FileError);
}
