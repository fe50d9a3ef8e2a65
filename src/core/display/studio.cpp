#include "core/display/studio.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/base/smooth_step.h"
#include "core/display/eye.h"
#include "core/display/look_ranges.h"
#include "core/display/ray_model.h"
#include "core/display/studio_room.h"

namespace evenclay {

namespace {

using Colour = Vec3;  // red, green, blue, 0..1

constexpr Colour kTop{0.906, 0.886, 0.859}, kBottom{0.749, 0.722, 0.682};
constexpr Colour kWarm{1.03, 1.0, 0.96}, kCool{0.95, 0.99, 1.05};

Colour times(const Colour& a, const Colour& b) {
  return {a.x * b.x, a.y * b.y, a.z * b.z};
}
Colour mixed(const Colour& a, const Colour& b, double t) {
  return a + (b - a) * t;
}

// Numbers that look like chance and are the same every time.
class Chance {
 public:
  Chance(std::size_t x, std::size_t y, int ray) {
    state_ = x * 0x9E3779B97F4A7C15ULL ^ y * 0xC2B2AE3D27D4EB4FULL ^
             static_cast<std::uint64_t>(ray) * 0x165667B19E3779F9ULL;
    (void)next();
  }
  double next() {  // splitmix64 (G. Steele and others 2014)
    std::uint64_t z = (state_ += 0x9E3779B97F4A7C15ULL);
    z = (z ^ (z >> 30U)) * 0xBF58476D1CE4E5B9ULL;
    z = (z ^ (z >> 27U)) * 0x94D049BB133111EBULL;
    return static_cast<double>((z ^ (z >> 31U)) >> 11U) * 0x1.0p-53;
  }

 private:
  std::uint64_t state_ = 0;
};

std::vector<std::shared_ptr<const DisplayMesh>> meshes_of(const std::vector<StudioPart>& parts) {
  std::vector<std::shared_ptr<const DisplayMesh>> meshes;
  for (const StudioPart& p : parts) meshes.push_back(p.mesh);
  return meshes;
}

// A direction about `axis` whose chance is the cosine to it.
Vec3 about(const Vec3& axis, double a, double b) {
  const Vec3 side = normalized(cross(std::abs(axis.z) < 0.9 ? Vec3{0, 0, 1} : Vec3{1, 0, 0}, axis));
  const Vec3 other = cross(axis, side);
  const double r = std::sqrt(a), turn = 2.0 * std::numbers::pi * b;
  return normalized(side * (r * std::cos(turn)) + other * (r * std::sin(turn)) +
                    axis * std::sqrt(std::max(0.0, 1.0 - a)));
}

struct Shaded {
  Colour colour;
  double alpha = 1.0;
};

class Studio {
 public:
  Studio(const std::vector<StudioPart>& parts, const StudioPicture& wish)
      : parts_(parts), wish_(wish), model_(meshes_of(parts)) {
    if (model_.empty())
      throw Error(say("There is nothing to be seen: no part with a surface is visible."));
    if (!(wish_.view.height > 0.0)) {
      wish_.view.target = model_.box().centre();
      const double aspect = static_cast<double>(wish.width) / wish.height;
      wish_.view.height = std::max(model_.box().size(), 1.0) * 1.02 / std::min(1.0, aspect);
    }
    eye_ = looking_from(wish_.view.yaw, wish_.view.pitch);
    key_ = key_light_of(eye_);
    fill_ = normalized(eye_.x * 0.83 + eye_.y * 0.05 + eye_.z * 0.556);
    start_ = 2e-5 * model_.box().size();
    close_ = 2.5e-3 * model_.box().size();
    floor_ = model_.box().min.z - 0.006 * model_.box().size();
  }

  Shaded at(std::size_t x, std::size_t y, int k) const {
    Chance chance(x, y, k);
    const int across = std::max(1, static_cast<int>(std::lround(std::sqrt(wish_.rays))));
    const double sx = static_cast<double>(x) + (k % across + chance.next()) / across,
                 sy = static_cast<double>(y) + (k / across % across + chance.next()) / across;
    return seen(ray_through(sx, sy), sy / wish_.height, chance);
  }

 private:
  Ray ray_through(double x, double y) const {
    const SavedView& v = wish_.view;
    const double mm = v.height / wish_.height;
    const Vec3 off =
        eye_.x * ((x - 0.5 * wish_.width) * mm) - eye_.y * ((y - 0.5 * wish_.height) * mm);
    const double far = v.perspective ? 0.5 * v.height / std::tan(radians(kHalfViewDegrees))
                                     : v.height + 4.0 * model_.box().size();
    const Vec3 from = v.target + eye_.z * far;
    if (!v.perspective) return {from + off, -eye_.z};
    return {from, normalized(v.target + off - from)};
  }

  Shaded seen(Ray ray, double down, Chance& chance) const {
    Colour sum{};
    Colour tint{1, 1, 1};
    constexpr int kMostLayers = 4;  // of what lets light through
    for (int layer = 0; layer < kMostLayers; ++layer) {
      auto hit = model_.scene().first(ray, start_);
      if (hit && !part_of(*hit).on_top)
        if (const auto next = model_.scene().first(ray, hit->distance + 0.1 * start_);
            next && part_of(*next).on_top && next->distance < hit->distance + close_)
          hit = next;
      if (!hit) return ground(ray, down, sum, tint, chance);
      const StudioPart& part = part_of(*hit);
      const Vec3 place = ray.origin + ray.direction * hit->distance;
      const Vec3 n = normal_at(*hit, ray.direction);
      const double edge = std::pow(1.0 - std::max(0.0, -dot(n, ray.direction)), 5.0);
      const double clear = 0.6 * part.material.translucency * (1.0 - edge);
      const bool last = layer + 1 == kMostLayers;
      const Colour own = shade(part, place, n, ray.direction, edge, chance);
      sum += times(tint, own) * (last ? 1.0 : 1.0 - clear);
      if (last || clear < 0.004) return {sum, 1.0};
      tint = times(tint, mixed({1, 1, 1}, rgb(part.colour), 0.5)) * clear;
      ray.origin = place;
    }
    return {sum, 1.0};
  }

  static Colour rgb(std::uint32_t c) {
    return {((c >> 16U) & 255U) / 255.0, ((c >> 8U) & 255U) / 255.0, (c & 255U) / 255.0};
  }

  // Towards the eye; at a silhouette triangles turn away while the surface does not.
  Vec3 normal_at(const TriangleHit& h, const Vec3& seen) const {
    const Vec3 n = model_.normal(h, -seen);
    return dot(n, seen) > 0.15 ? -n : n;
  }

  const StudioPart& part_of(const TriangleHit& hit) const { return parts_[model_.owner(hit)]; }

  // From where on something is in the way of what leaves a part: what it lies on is not.
  double leaves(const StudioPart& part) const { return part.on_top ? close_ : 40.0 * start_; }

  bool free_way(const Vec3& from, const Vec3& way, double begin) const {
    return !model_.scene().first({from, way}, begin).has_value();
  }

  Vec3 somewhere_in_key(Chance& chance) const {
    constexpr double kBreadth = 0.24;
    const Vec3 side = normalized(cross(key_, Vec3{0, 0, 1})), up = cross(side, key_);
    const double r = kBreadth * std::sqrt(chance.next()),
                 turn = 2.0 * std::numbers::pi * chance.next();
    return normalized(key_ + side * (r * std::cos(turn)) + up * (r * std::sin(turn)));
  }

  // What the room shows that way: the room itself, or a part in plain light.
  Colour mirrored(const Vec3& from, const Vec3& way, double rough, double begin) const {
    const auto hit = model_.scene().first({from, way}, begin);
    if (!hit) {
      const double below = smooth_step(-4.0 * way.z);
      return mixed(studio_room(way, rough), kBottom * 0.8, 0.5 * below);
    }
    const StudioPart& part = part_of(*hit);
    const Vec3 n = normal_at(*hit, way);
    return times(rgb(part.colour), light(n, std::max(0.0, dot(n, key_)) * 0.7, 0.5 + 0.5 * n.z));
  }

  Colour light(const Vec3& n, double key, double sky) const {
    return Colour{0.16, 0.16, 0.16} + kCool * (0.33 * sky) + kWarm * (0.62 * key) +
           kCool * (0.15 * std::max(0.0, dot(n, fill_))) + kWarm * (0.30 * (0.5 - 0.5 * n.z));
  }

  Colour shade(const StudioPart& part, const Vec3& place, const Vec3& n, const Vec3& seen,
               double edge, Chance& chance) const {
    const Material& m = part.material;
    const Colour base = rgb(part.colour);
    const Vec3 to_key = somewhere_in_key(chance);
    const double facing_key = std::max(0.0, dot(n, to_key));
    const bool lit = facing_key > 0.0 && free_way(place, to_key, leaves(part));
    const Vec3 to_sky = about(n, chance.next(), chance.next());
    // Blocked ways still bring light that others give back.
    const double sky = free_way(place, to_sky, leaves(part)) ? (to_sky.z > 0.0 ? 1.0 : 0.0) : 0.12;
    const Colour diffuse = light(n, lit ? facing_key : 0.0, sky);

    const double rough = std::max(0.04, m.roughness);
    const Colour straight = mixed({0.04, 0.04, 0.04}, base, m.metal);
    Colour share;
    for (std::size_t k = 0; k < 3; ++k)
      share[k] = straight[k] + (std::max(1.0 - rough, straight[k]) - straight[k]) * edge;
    const double a2 = rough * rough * rough * rough;
    const Vec3 half = normalized(to_key - seen);
    const double nh = std::max(0.0, dot(n, half)), lobe = nh * nh * (a2 - 1.0) + 1.0;
    const double glint =
        lit ? std::min(a2 / (4.0 * std::numbers::pi * lobe * lobe), 3.0) * facing_key : 0.0;
    const Vec3 bent =
        normalized(mixed(n, about(n, chance.next(), chance.next()), 0.6 * rough * rough));
    Vec3 way = seen - bent * (2.0 * dot(seen, bent));
    if (dot(way, n) < 0.02) way = normalized(way + n * (0.02 - dot(way, n)));
    const Colour mirror = mirrored(place, way, rough, leaves(part)) + Colour{glint, glint, glint};
    const double through =
        m.translucency * (0.30 * (0.5 - 0.5 * dot(n, key_)) + 0.25 * edge + 0.12);
    Colour made = times(times(base, diffuse) * (1.0 - m.metal), Colour{1, 1, 1} - share) +
                  base * through + times(share, mirror);
    if (m.coat > 0.0)
      made = coated(made, m.coat, place, n, seen, edge, lit ? nh : 0.0, facing_key, leaves(part));
    return made;
  }

  Colour coated(const Colour& beneath, double coat, const Vec3& place, const Vec3& n,
                const Vec3& seen, double edge, double nh, double facing_key, double begin) const {
    constexpr double kSmooth = 0.0016;
    const double lobe = nh * nh * (kSmooth - 1.0) + 1.0;
    const double gloss = nh > 0.0
                             ? std::min(kSmooth / (4.0 * std::numbers::pi * lobe * lobe), 2.0) *
                                   facing_key * 0.3 * coat
                             : 0.0;
    const Vec3 way = seen - n * (2.0 * dot(seen, n));
    return mixed(beneath, mirrored(place, way, 0.02, begin), coat * (0.05 + 0.95 * edge)) +
           Colour{gloss, gloss, gloss};
  }

  // Nothing but the ground, with the shadow that lies on it.
  Shaded ground(const Ray& ray, double down, const Colour& sum, const Colour& tint,
                Chance& chance) const {
    double dark = 0.0;
    if (ray.direction.z < -1e-6) {
      const double t = (floor_ - ray.origin.z) / ray.direction.z;
      const Vec3 place = ray.origin + ray.direction * t;
      const Vec3 off = place - model_.box().centre();
      const double fade =
          1.0 - smooth_step((std::hypot(off.x, off.y) / (1.3 * model_.box().size()) - 0.25) / 0.65);
      if (t > 0.0 && fade > 0.0) {
        const bool key = free_way(place, somewhere_in_key(chance), 40.0 * start_);
        const bool sky =
            free_way(place, about({0, 0, 1}, chance.next(), chance.next()), 40.0 * start_);
        dark = fade * ((key ? 0.0 : 0.40) + (sky ? 0.0 : 0.36));
      }
    }
    constexpr Colour kShadow{0.10, 0.08, 0.07};
    // In a picture without ground what has been seen through still counts as there.
    if (wish_.transparent) {
      const double before = std::max({1.0 - tint.x, 1.0 - tint.y, 1.0 - tint.z, 0.0});
      const double alpha = before + (1.0 - before) * dark;
      const Colour colour = sum + times(tint, kShadow) * dark;
      return {alpha > 1e-6 ? colour * (1.0 / std::max(alpha, 1e-6)) : Colour{}, alpha};
    }
    const Colour backdrop = mixed(kTop, kBottom, std::clamp(down, 0.0, 1.0));
    return {sum + times(tint, mixed(backdrop, kShadow, dark)), 1.0};
  }

  const std::vector<StudioPart>& parts_;
  StudioPicture wish_;
  RayModel model_;
  Frame eye_;
  Vec3 key_, fill_;
  double start_ = 0.0, close_ = 0.0, floor_ = 0.0;
};

}  // namespace

std::vector<StudioPart> studio_parts(const Part& part, const Shape& shape,
                                     const std::shared_ptr<const DisplayMesh>& mesh) {
  const bool on_top = kind_of(shape) == kMesh;
  const std::vector<LookRange> ranges = look_ranges(*mesh, shape, part.face_looks);
  if (ranges.size() == 1 && ranges.front().look < 0)
    return {{mesh, part.look.colour, part.material, on_top}};
  std::vector<StudioPart> all;
  for (const LookRange& r : ranges) {
    const FaceLook look = r.look < 0 ? FaceLook{{}, part.look.colour, part.material}
                                     : part.face_looks[static_cast<std::size_t>(r.look)];
    all.push_back({std::make_shared<const DisplayMesh>(range_of(*mesh, r)), look.colour,
                   look.material, on_top});
  }
  return all;
}

Pixels studio_picture(const std::vector<StudioPart>& parts, const StudioPicture& wish,
                      Progress& progress) {
  if (wish.width < 16 || wish.height < 16 || wish.width > 8192 || wish.height > 8192)
    throw Error(say("A picture is 16 to 8192 pixels wide and high."));
  if (wish.rays < 1 || wish.rays > 256) throw Error(say("A picture takes 1 to 256 rays a pixel."));
  const Studio studio(parts, wish);
  const auto width = static_cast<std::size_t>(wish.width),
             height = static_cast<std::size_t>(wish.height);
  Pixels pixels{wish.width, wish.height, std::vector<unsigned char>(4 * width * height)};
  parallel_blocks(height, 4, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t y = begin; y < end; ++y)
      for (std::size_t x = 0; x < width; ++x) {
        Vec3 sum;
        double alpha = 0.0;
        for (int k = 0; k < wish.rays; ++k) {
          const Shaded s = studio.at(x, y, k);
          sum += Vec3{std::clamp(s.colour.x, 0.0, 1.0), std::clamp(s.colour.y, 0.0, 1.0),
                      std::clamp(s.colour.z, 0.0, 1.0)} *
                 s.alpha;
          alpha += s.alpha;
        }
        unsigned char* p = &pixels.bytes[4 * (y * width + x)];
        // Rounded up or down by chance, so that slow changes have no bands.
        const double round = Chance(x, y, -1).next();
        for (std::size_t c = 0; c < 3; ++c)
          p[c] = static_cast<unsigned char>(
              std::clamp(255.0 * (alpha > 0.0 ? sum[c] / alpha : 0.0) + round, 0.0, 255.0));
        p[3] = static_cast<unsigned char>(
            std::lround(255.0 * std::clamp(alpha / wish.rays, 0.0, 1.0)));
      }
  });
  return pixels;
}

std::string png_of(const Pixels& pixels) {
  return png_bytes(pixels.width, pixels.height, 4, pixels.bytes);
}

}  // namespace evenclay
