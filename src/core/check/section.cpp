#include "core/check/section.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <map>
#include <optional>

#include "core/check/on_plane.h"

namespace evenclay {

namespace {

std::vector<double> lines_of(const KnotVector& k, int per_span) {
  std::vector<double> places = sample_places(k, per_span);
  if (k.periodic) places.push_back(k.last());
  return places;
}

// A crossing on one edge of the grid of cells: an edge along u from (i, j), or along v. The edges of
// a closed direction's last line are those of its first.
struct Crossings {
  const std::vector<double>&us, &vs;
  std::vector<double> f;
  bool closed_u, closed_v;
  std::map<std::int64_t, Parameter> at;

  double value(std::size_t i, std::size_t j) const { return f[i * vs.size() + j]; }
  std::int64_t number(bool along_u, std::size_t i, std::size_t j) const {
    if (closed_u && i + 1 == us.size()) i = 0;
    if (closed_v && j + 1 == vs.size()) j = 0;
    return static_cast<std::int64_t>((i * vs.size() + j) * 2 + (along_u ? 1 : 0));
  }
  // The number of the crossing on an edge; nothing when both its ends are on one side.
  std::optional<std::int64_t> crossing(bool along_u, std::size_t i, std::size_t j) {
    const double a = value(i, j);
    const double b = along_u ? value(i + 1, j) : value(i, j + 1);
    if ((a < 0.0) == (b < 0.0)) return std::nullopt;
    const double share = a / (a - b);
    Parameter p{us[i], vs[j]};
    if (along_u)
      p.u += (us[i + 1] - us[i]) * share;
    else
      p.v += (vs[j + 1] - vs[j]) * share;
    const std::int64_t n = number(along_u, i, j);
    at.try_emplace(n, p);
    return n;
  }
};

using Links = std::map<std::int64_t, std::vector<std::int64_t>>;

void link(Links& links, std::int64_t a, std::int64_t b) {
  links[a].push_back(b);
  links[b].push_back(a);
}

// Two crossings of a cell belong together; of four the pairs round the corner with the sign of the
// cell's middle.
void link_cell(Crossings& c, Links& links, std::size_t i, std::size_t j, double middle) {
  const auto low = c.crossing(true, i, j);
  const auto high = c.crossing(true, i, j + 1);
  const auto left = c.crossing(false, i, j);
  const auto right = c.crossing(false, i + 1, j);
  std::vector<std::int64_t> found;
  for (const auto& n : {low, right, high, left})
    if (n) found.push_back(*n);
  if (found.size() == 2) link(links, found[0], found[1]);
  if (found.size() != 4) return;
  const bool first_corner_apart = (c.value(i, j) < 0.0) != (middle < 0.0);
  if (first_corner_apart) {
    link(links, *low, *left);
    link(links, *right, *high);
  } else {
    link(links, *low, *right);
    link(links, *high, *left);
  }
}

std::vector<std::int64_t> walk(Links& links, std::int64_t from) {
  std::vector<std::int64_t> run{from};
  for (;;) {
    auto& next = links[run.back()];
    if (next.empty()) return run;
    const std::int64_t to = next.back();
    next.pop_back();
    auto& back = links[to];
    back.erase(std::find(back.begin(), back.end(), run.back()));
    if (to == from) {
      run.push_back(to);
      return run;
    }
    run.push_back(to);
  }
}

}  // namespace

std::vector<SectionRun> section(const Surface& s, const SectionPlane& plane, int per_span) {
  const OnPlane on(s, plane);
  const std::vector<double> us = lines_of(s.u, std::clamp(per_span, 1, 64));
  const std::vector<double> vs = lines_of(s.v, std::clamp(per_span, 1, 64));
  Crossings c{us, vs, std::vector<double>(us.size() * vs.size()), s.u.periodic, s.v.periodic, {}};
  for (std::size_t i = 0; i < us.size(); ++i)
    for (std::size_t j = 0; j < vs.size(); ++j)
      c.f[i * vs.size() + j] = on.distance({us[i], vs[j]});
  Links links;
  for (std::size_t i = 0; i + 1 < us.size(); ++i)
    for (std::size_t j = 0; j + 1 < vs.size(); ++j)
      link_cell(c, links, i, j,
                on.distance({0.5 * (us[i] + us[i + 1]), 0.5 * (vs[j] + vs[j + 1])}));
  std::vector<SectionRun> runs;
  const auto take = [&](std::int64_t from) {
    const std::vector<std::int64_t> numbers = walk(links, from);
    if (numbers.size() < 2) return;
    SectionRun run;
    run.closed = numbers.front() == numbers.back();
    for (std::size_t k = 0; k + (run.closed ? 1 : 0) < numbers.size(); ++k)
      run.at.push_back(on.refined(c.at.at(numbers[k])));
    runs.push_back(std::move(run));
  };
  // Open runs from their ends first; what is left is closed.
  for (const auto& [number, place] : c.at)
    if (links[number].size() == 1) take(number);
  for (const auto& [number, place] : c.at)
    while (!links[number].empty()) take(number);
  return runs;
}

}  // namespace evenclay
