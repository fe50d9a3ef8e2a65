#include "core/check/folds.h"

#include "core/base/grid.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

constexpr int kPlaces = 32;
constexpr double kCosine = -0.707;  // of 135°

struct Look {
  Vec3 place, normal;
  bool sound = false;
};

Look look_at(const Surface& s, double share_u, double share_v) {
  const SurfaceDerivatives at =
      derivatives(s, s.u.first() + s.u.length() * share_u, s.v.first() + s.v.length() * share_v, 1);
  const Vec3 n = cross(at.du(), at.dv());
  const bool sound = has_sound_normal(at.du(), at.dv(), s.u.length(), s.v.length());
  return {at.p(), sound ? normalized(n) : Vec3{}, sound};
}

}  // namespace

std::optional<Vec3> fold_of(const Surface& surface) {
  Grid<Look> looks(kPlaces, kPlaces);
  for (int i = 0; i < kPlaces; ++i)
    for (int j = 0; j < kPlaces; ++j)
      looks(i, j) = look_at(surface, (i + 0.5) / kPlaces, (j + 0.5) / kPlaces);
  double least = kCosine;
  std::optional<Vec3> found;
  const auto pair = [&](const Look& a, const Look& b) {
    if (!a.sound || !b.sound) return;
    if (const double c = dot(a.normal, b.normal); c < least) {
      least = c;
      found = (a.place + b.place) * 0.5;
    }
  };
  for (int i = 0; i < kPlaces; ++i)
    for (int j = 0; j < kPlaces; ++j) {
      if (i + 1 < kPlaces) pair(looks(i, j), looks(i + 1, j));
      if (j + 1 < kPlaces) pair(looks(i, j), looks(i, j + 1));
    }
  return found;
}

}  // namespace evenclay
