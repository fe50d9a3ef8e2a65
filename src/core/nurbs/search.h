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

/// The greatest value of f over one direction's domain: the best of per_span samples a span, refined by
/// golden section between its neighbours, to 1e-12 of their distance.
struct LineSearchResult {
  double at = 0.0;
  double value = 0.0;
};
template <typename F>
LineSearchResult search_maximum(const KnotVector& knots, int per_span, const F& f) {
  std::vector<double> places = sample_places(knots, per_span);
  if (knots.periodic) places.push_back(knots.last());
  std::size_t best = 0;
  LineSearchResult found{places[0], f(places[0])};
  for (std::size_t n = 1; n < places.size(); ++n)
    if (const double value = f(places[n]); value > found.value) {
      best = n;
      found = {places[n], value};
    }
  double a = places[best > 0 ? best - 1 : 0];
  double b = places[std::min(best + 1, places.size() - 1)];
  constexpr double kGolden = 0.6180339887498949;
  for (int pass = 0; pass < 60; ++pass) {
    const double left = b - (b - a) * kGolden;
    const double right = a + (b - a) * kGolden;
    if (f(left) > f(right))
      b = right;
    else
      a = left;
  }
  const double t = 0.5 * (a + b);
  const double value = f(t);
  return value > found.value ? LineSearchResult{t, value} : found;
}

}  // namespace evenclay
