#include "core/grid/count_plot.h"

#include <algorithm>
#include <cmath>

#include "core/grid/counts.h"

namespace evenclay {

namespace {
constexpr int kPerSpan = 6;  // fewer miss a tenth of the greatest deviation
}

std::vector<CountPlace> count_plot(const Surface& s, const RebuildOptions& chosen,
                                   Progress& progress) {
  const auto limited = [](double n, int degree, bool periodic) {
    return std::clamp(static_cast<int>(std::lround(n)), fewest_points(degree, periodic), 200);
  };
  std::vector<CountPlace> places;
  constexpr double kShares[] = {0.35, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0, 1.15, 1.35, 1.6, 2.0, 2.6, 4.0};
  for (const double share : kShares) {
    const CountPlace p{limited(chosen.points_u * share, chosen.degree_u, s.u.periodic),
                       limited(chosen.points_v * share, chosen.degree_v, s.v.periodic), 0.0, 0.0};
    const bool known = !places.empty() && places.back().points_u == p.points_u &&
                       places.back().points_v == p.points_v;
    if (!known) places.push_back(p);
  }
  double done = 0.0;
  for (CountPlace& p : places) {
    Progress quiet;
    RebuildOptions o = chosen;
    o.points_u = p.points_u;
    o.points_v = p.points_v;
    const Surface r = rebuild(s, o, quiet);
    progress.report(done / static_cast<double>(places.size()));
    const Deviation d = deviation(s, r, quiet, kPerSpan);
    p.max = d.max;
    p.mean = d.mean;
    done += 1.0;
  }
  return places;
}

}  // namespace evenclay
