// The greatest value of a function over a surface's domain.
#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

struct SearchResult {
  Parameter at;
  double value = 0.0;
};

/// Climbs from a start by trying steps along u and v that halve when none helps, until the step is
/// `least_share` of the first one. f is called about 150 times for 1e-9, 40 times for 1e-2. Along a
/// ridge that is flat up to rounding a step could creep on for ever: what is gained must be more than
/// rounding, and there are at most 60 steps of one length.
template <typename F>
SearchResult climb(const Surface& surface, SearchResult best, double step_u, double step_v,
                   const F& f, double least_share = 1e-9) {
  constexpr double kRounding = 4e-16;
  int steps = 0;
  for (double share = 1.0; share > least_share;) {
    bool better = false;
    for (const auto& [du, dv] : {std::pair{1.0, 0.0},
                                 {-1.0, 0.0},
                                 {0.0, 1.0},
                                 {0.0, -1.0},
                                 {0.7, 0.7},
                                 {0.7, -0.7},
                                 {-0.7, 0.7},
                                 {-0.7, -0.7}}) {
      const Parameter p{into_domain(surface.u, best.at.u + du * share * step_u),
                        into_domain(surface.v, best.at.v + dv * share * step_v)};
      const double value = f(p);
      if (value > best.value + kRounding * std::abs(best.value)) {
        best = {p, value};
        better = true;
      }
    }
    if (better && ++steps < 60) continue;
    steps = 0;
    share *= 0.4;
  }
  return best;
}

/// Samples every span per_span × per_span and climbs from the best three.
template <typename F>
SearchResult search_maximum(const Surface& surface, int per_span, const F& f) {
  const std::vector<double> us = sample_places(surface.u, per_span);
  const std::vector<double> vs = sample_places(surface.v, per_span);
  std::vector<SearchResult> all;
  for (const double u : us)
    for (const double v : vs) all.push_back({{u, v}, f(Parameter{u, v})});
  const auto top = std::min<std::size_t>(3, all.size());
  std::partial_sort(all.begin(), all.begin() + static_cast<long>(top), all.end(),
                    [](const auto& a, const auto& b) { return a.value > b.value; });
  SearchResult best = all.front();
  for (std::size_t k = 0; k < top; ++k) {
    const SearchResult r =
        climb(surface, all[k], surface.u.length() / static_cast<double>(us.size()),
              surface.v.length() / static_cast<double>(vs.size()), f);
    if (r.value > best.value) best = r;
  }
  return best;
}

}  // namespace evenclay
