#include "core/display/still.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/display/eye.h"
#include "core/display/ray_model.h"

namespace evenclay {

namespace {

using Colour = std::array<double, 3>;
constexpr Colour kPaper{0.937, 0.918, 0.890}, kMark{0.06, 0.43, 0.52};
constexpr int kAcross = 2;  // rays a pixel each way

Colour lit(std::uint32_t rgb, Vec3 n, const Frame& eye) {
  if (dot(n, eye.z) < 0.0) n = -n;
  const Vec3 key = normalized(eye.x * -0.45 + eye.y * 0.65 + eye.z * 0.6);
  const Vec3 fill = normalized(eye.x * 0.8 + eye.y * 0.05 + eye.z * 0.6);
  const double away = 1.0 - std::abs(dot(n, eye.z));
  const double light = 0.20 + 0.58 * std::max(0.0, dot(n, key)) +
                       0.16 * std::max(0.0, dot(n, fill)) + 0.20 * (0.5 + 0.5 * n.z);
  const double shine = std::pow(std::max(0.0, dot(n, normalized(key + eye.z))), 16.0) * 0.12 +
                       0.10 * away * away * away;
  Colour c{};
  for (std::size_t k = 0; k < 3; ++k)
    c[k] = std::min(1.0, static_cast<double>((rgb >> (16 - 8 * k)) & 0xFF) / 255.0 * light + shine);
  return c;
}

}  // namespace

std::string still_png(const std::vector<StillPart>& parts, const StillView& view,
                      Progress& progress) {
  if (view.width < 16 || view.height < 16 || view.width > 8192 || view.height > 8192)
    throw Error(say("A picture is 16 to 8192 pixels wide and high."));
  std::vector<std::shared_ptr<const DisplayMesh>> meshes;
  for (const StillPart& p : parts) meshes.push_back(p.mesh);
  const RayModel model(meshes);
  const Frame eye = looking_from(view.yaw, view.pitch);
  const Box3 seen = model.box_along(eye);
  const Vec3 extent = seen.empty() ? Vec3{1, 1, 1} : seen.max - seen.min;
  const double pixel = std::max(extent.x / (0.88 * view.width), extent.y / (0.88 * view.height));
  const Vec3 middle = seen.empty() ? Vec3{} : seen.centre();
  const double far = seen.empty() ? 1.0 : seen.max.z + extent.z + 1.0;
  const auto at = [&](double x, double y) {
    return Vec3{middle.x + (x - 0.5 * view.width) * pixel,
                middle.y + (0.5 * view.height - y) * pixel, far};
  };
  std::vector<unsigned char> bytes(static_cast<std::size_t>(view.width) *
                                   static_cast<std::size_t>(view.height) * 3);
  parallel_blocks(
      static_cast<std::size_t>(view.height), 8, progress, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y)
          for (std::size_t x = 0; x < static_cast<std::size_t>(view.width); ++x) {
            Colour sum{};
            for (int k = 0; k < kAcross * kAcross; ++k) {
              const double sx = static_cast<double>(x) + (k % kAcross + 0.5) / kAcross,
                           sy = static_cast<double>(y) + (k / kAcross + 0.5) / kAcross;
              const auto hit = model.scene().first({eye.to_world(at(sx, sy)), -eye.z});
              const Colour c =
                  hit ? lit(parts[model.owner(*hit)].colour, model.normal(*hit, eye.z), eye)
                      : kPaper;
              for (std::size_t a = 0; a < 3; ++a) sum[a] += c[a] / (kAcross * kAcross);
            }
            for (const Vec3& mark : view.marks) {
              const Vec3 p = eye.to_local(mark);
              const double mx = (p.x - middle.x) / pixel + 0.5 * view.width,
                           my = 0.5 * view.height - (p.y - middle.y) / pixel;
              const double off = std::abs(
                  std::hypot(static_cast<double>(x) + 0.5 - mx, static_cast<double>(y) + 0.5 - my) -
                  7.0);
              const double ink = std::clamp(1.8 - off, 0.0, 1.0);
              for (std::size_t a = 0; a < 3; ++a) sum[a] += (kMark[a] - sum[a]) * ink;
            }
            for (std::size_t a = 0; a < 3; ++a)
              bytes[(y * static_cast<std::size_t>(view.width) + x) * 3 + a] =
                  static_cast<unsigned char>(std::lround(255.0 * std::clamp(sum[a], 0.0, 1.0)));
          }
      });
  return png_bytes(view.width, view.height, 3, bytes);
}

}  // namespace evenclay
