#include "core/operations/reference_picture.h"

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

void ReferencePictureOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<std::string_view, 5> endings{".png", ".jpg", ".jpeg", ".bmp", ".svg"};
  v.file({"file", "File", "The picture; the project keeps its own copy."}, file, endings);
  describe_flat_plane(v, plane);
  describe_place(v, centre, "Middle", "centre");
  v.number({"width", "Width", "Of the picture; its height follows."}, width,
           {0.01, 100000.0, "mm", 5.0, 3});
  v.number({"turn", "Turned", "Counter-clockwise in its plane."}, turn,
           {-360.0, 360.0, "°", 5.0, 2});
  v.number({"opacity", "Opacity", "0 is not seen, 100 covers what lies behind."}, opacity,
           {0.0, 100.0, "%", 10.0, 0});
  v.toggle({"through", "Seen through the model", "Also where something stands before it."},
           through);
}

std::string ReferencePictureOperation::summary() const {
  return file.empty() ? std::string("no file yet") : say("{}, {:g} mm wide", file.name, width);
}

Outcome ReferencePictureOperation::apply(const Shape&, const Inputs&, Progress&) const {
  if (file.empty())
    throw Error(
        say("The reference picture has no file yet. Choose a PNG, JPEG, BMP or SVG file in its "
            "settings."));
  const auto proportion = picture_proportion(*file.bytes);
  if (!proportion)
    throw Error(
        say("{} is no picture that can be read. Choose a PNG, JPEG, BMP or SVG file.", file.name));
  Frame f = frame_in(plane, centre);
  const double a = turn * std::numbers::pi / 180.0;
  const Vec3 x = f.x * std::cos(a) + f.y * std::sin(a);
  f.y = f.y * std::cos(a) - f.x * std::sin(a);
  f.x = x;
  return {Picture{file.bytes, f, width, width / *proportion, opacity / 100.0, through}, {}};
}

OperationPtr ReferencePictureOperation::scaled_about(const Vec3& fixed, double factor) const {
  auto changed = std::make_shared<ReferencePictureOperation>(*this);
  changed->width = width * factor;
  changed->centre = fixed + (centre - fixed) * factor;
  return changed;
}

OperationPtr ReferencePictureOperation::moved_by(const Vec3& way) const {
  auto changed = std::make_shared<ReferencePictureOperation>(*this);
  changed->centre = centre + way;
  return changed;
}

}  // namespace evenclay
