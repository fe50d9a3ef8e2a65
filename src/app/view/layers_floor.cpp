// The quiet grid that gives size, the box around the chosen part, and the frame of a section.
#include <cmath>

#include "app/look/colours.h"
#include "app/view/layers.h"
#include "core/base/box_edges.h"

namespace evenclay {

namespace {

constexpr double kLeastPixels = 26.0;  // between lines
constexpr int kMostLines = 60;         // to each side

bool is_level(const Frame& plane) {
  return std::abs(plane.z.z) > 1.0 - 1e-12 && length(plane.origin) < 1e-12;
}

}  // namespace

double floor_spacing(const Camera& camera, const QRect& viewport) {
  const double least = kLeastPixels * camera.height / std::max(1, viewport.height());
  const double decade = std::pow(10.0, std::floor(std::log10(std::max(least, 1e-6))));
  for (const double step : {1.0, 2.0, 5.0, 10.0})
    if (step * decade >= least) return step * decade;
  return 10.0 * decade;
}

// On the work plane where one was set, else under the model.
void add_floor(Scene& s, const LayerInput& in, std::size_t k) {
  if (!in.settings.floor || in.settings.look == ModelLook::Presentation || s.box.empty() || k > 0)
    return;
  const Camera& camera = in.views.camera(k);
  Frame plane = in.editor.work_plane();
  if (is_level(plane)) plane.origin = {0, 0, s.box.min.z};
  const Vec3 eye = camera.perspective ? camera.eye() - plane.origin : camera.axes().z;
  if (dot(eye, plane.z) <= 0.0 || std::abs(dot(camera.axes().z, plane.z)) < 0.06) return;
  const double step = floor_spacing(camera, in.views.rect(k));
  const Vec3 middle = plane.to_local(s.box.centre());
  const double reach = std::min(0.9 * s.box.size(), step * kMostLines);
  const auto first = [&](double at) { return static_cast<int>(std::floor((at - reach) / step)); };
  const auto last = [&](double at) { return static_cast<int>(std::ceil((at + reach) / step)); };
  QColor colour = look::colours().quiet_ink;
  colour.setAlpha(30);
  LineItem fine{{}, colour, 1.0F, false};
  fine.ground = true;
  colour.setAlpha(58);
  LineItem fifth{{}, colour, 1.0F, false};
  fifth.ground = true;
  const auto place = [&](double x, double y) { return plane.origin + plane.x * x + plane.y * y; };
  const double x0 = first(middle.x) * step, x1 = last(middle.x) * step;
  const double y0 = first(middle.y) * step, y1 = last(middle.y) * step;
  for (int i = first(middle.x); i <= last(middle.x); ++i)
    add_piece((i % 5 == 0 ? fifth : fine).pieces, place(i * step, y0), place(i * step, y1));
  for (int j = first(middle.y); j <= last(middle.y); ++j)
    add_piece((j % 5 == 0 ? fifth : fine).pieces, place(x0, j * step), place(x1, j * step));
  s.lines.push_back(std::move(fine));
  s.lines.push_back(std::move(fifth));
}

std::optional<Box3> size_box(const LayerInput& in) {
  const auto gauges = in.model.gauges();
  if (!in.settings.size_box || !gauges || gauges->box.empty()) return std::nullopt;
  return gauges->box;
}

void add_size_box(Scene& s, const LayerInput& in) {
  const auto box = size_box(in);
  if (!box) return;
  LineItem edges{{}, look::colours().water, 1.2F, true};
  for (const auto& [a, b] : box_edges(*box)) add_piece(edges.pieces, a, b);
  s.lines.push_back(std::move(edges));
}

}  // namespace evenclay
