#include "core/check/folds.h"

#include <vector>

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

Grid<Look> looks_of(const Surface& s) {
  std::vector<Parameter> at;
  for (int i = 0; i < kPlaces; ++i)
    for (int j = 0; j < kPlaces; ++j)
      at.push_back({s.u.first() + s.u.length() * (i + 0.5) / kPlaces,
                    s.v.first() + s.v.length() * (j + 0.5) / kPlaces});
  std::vector<PointTangents> d(at.size());
  SurfaceEvaluator(s).tangents(at, d);
  Grid<Look> looks(kPlaces, kPlaces);
  for (std::size_t k = 0; k < d.size(); ++k) {
    const bool sound = has_sound_normal(d[k].du, d[k].dv, s.u.length(), s.v.length());
    looks(static_cast<int>(k) / kPlaces, static_cast<int>(k) % kPlaces) = {
        d[k].p, sound ? normalized(cross(d[k].du, d[k].dv)) : Vec3{}, sound};
  }
  return looks;
}

}  // namespace

std::optional<Vec3> fold_of(const Surface& surface) {
  const Grid<Look> looks = looks_of(surface);
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
