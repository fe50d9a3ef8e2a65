#include "core/grid/even_out.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/grid/counts.h"
#include "core/nurbs/refit.h"

namespace evenclay {

namespace {
constexpr int kMostPoints = 200;

int grown(int n) {
  return std::min(kMostPoints, n + std::max(1, n / 7));
}
}  // namespace

EvenedOut even_out(const Surface& s, const EvenOutOptions& o, Progress& progress) {
  if (!o.along_u && !o.along_v) throw Error(say("Choose at least one direction to even out."));
  if (!(o.tolerance > 0.0)) throw Error(say("Even out needs a tolerance greater than 0 mm."));
  const auto least = [](const KnotVector& k) { return fewest_points(k.degree, k.periodic); };
  int nu = std::clamp(s.u.point_count(), least(s.u), std::max(kMostPoints, s.u.point_count()));
  int nv = std::clamp(s.v.point_count(), least(s.v), std::max(kMostPoints, s.v.point_count()));
  EvenedOut result;
  result.before = evenness(s);
  for (;;) {
    progress.check();
    result.surface = refit(s, uniform_knots(nu, s.u.degree, s.u.periodic),
                           uniform_knots(nv, s.v.degree, s.v.periodic),
                           {.even_u = o.along_u, .even_v = o.along_v}, progress);
    const bool can_grow = o.add_points && (nu < kMostPoints || nv < kMostPoints);
    // A quick look decides while the counts still grow; the result is measured in full.
    const int quick = can_grow ? 3 : 10;
    result.deviation = deviation(s, result.surface, progress, quick);
    result.within_tolerance = result.deviation.max <= o.tolerance;
    if (result.within_tolerance && quick < 10) {
      result.deviation = deviation(s, result.surface, progress);
      result.within_tolerance = result.deviation.max <= o.tolerance;
    }
    if (result.within_tolerance || !can_grow) break;
    if (nu < kMostPoints) nu = grown(nu);
    if (nv < kMostPoints) nv = grown(nv);
  }
  result.after = evenness(result.surface);
  return result;
}

}  // namespace evenclay
