#include "core/body/grid_lines.h"

#include <algorithm>
#include <limits>
#include <utility>

namespace evenclay {

namespace {

constexpr std::size_t kMost = 4096;

}  // namespace

Strips strips_of(const KnotVector& k, double low, double high) {
  Strips s{{low}, {1}};
  for (const int turn : {-1, 0, 1}) {
    if (turn != 0 && !k.periodic) continue;
    for (const double t : breakpoints(k)) {
      const double x = t + turn * k.length();
      if (!(x > s.at.back() + 1e-9 * k.length() && x < high - 1e-9 * k.length())) continue;
      const auto [from, to] = std::equal_range(k.knots.begin(), k.knots.end(), t);
      s.at.push_back(x);
      s.creased.push_back(to - from >= k.degree ? 1 : 0);
    }
  }
  s.at.push_back(high);
  s.creased.push_back(1);
  return s;
}

LinePlacer::LinePlacer(const Strips& strips, std::vector<double> most)
    : strips_(strips), most_(std::move(most)) {}

std::vector<double> LinePlacer::between(double from, double to) const {
  const std::vector<double> greedy = reached(from, to);
  const std::vector<double> even = evened(from, to, greedy.size());
  return keeps(from, even) ? even : greedy;
}

std::size_t LinePlacer::count(double from, double to) const {
  return reached(from, to).size();
}

// The strip that begins at or before x, and ends after it.
std::size_t LinePlacer::strip_at(double x) const {
  const auto it = std::upper_bound(strips_.at.begin(), strips_.at.end(), x);
  const auto k = static_cast<std::size_t>(it - strips_.at.begin());
  return std::clamp<std::size_t>(k, 1, most_.size()) - 1;
}

std::vector<double> LinePlacer::reached(double from, double to) const {
  std::vector<double> ends;
  const double least = (to - from) / static_cast<double>(kMost);
  for (double x = from; x < to;) {
    double end = x;
    double widest = std::numeric_limits<double>::infinity();
    for (std::size_t s = strip_at(x); s < most_.size() && end < to; ++s) {
      const double narrower = std::min(widest, most_[s]);
      if (s > strip_at(x) && x + narrower <= strips_.at[s]) break;
      widest = narrower;
      end = std::min({to, strips_.at[s + 1], x + widest});
      if (end < strips_.at[s + 1]) break;
    }
    x = std::max(end, x + least);
    if (x > to - 1e-6 * (to - from)) x = to;
    ends.push_back(x);
  }
  return ends;
}

// As many cells, each of the same share of what its strips allow.
std::vector<double> LinePlacer::evened(double from, double to, std::size_t n) const {
  std::vector<double> x{from}, taken{0.0};
  for (std::size_t s = strip_at(from); s < most_.size() && x.back() < to; ++s) {
    const double end = std::min(to, strips_.at[s + 1]);
    taken.push_back(taken.back() + (end - x.back()) / std::min(most_[s], 1e3 * (to - from)));
    x.push_back(end);
  }
  std::vector<double> ends;
  std::size_t at = 1;
  for (std::size_t k = 1; k < n; ++k) {
    const double want = taken.back() * static_cast<double>(k) / static_cast<double>(n);
    while (at + 1 < taken.size() && taken[at] < want) ++at;
    const double share = (want - taken[at - 1]) / std::max(1e-300, taken[at] - taken[at - 1]);
    ends.push_back(x[at - 1] + (x[at] - x[at - 1]) * share);
  }
  ends.push_back(to);
  return ends;
}

bool LinePlacer::keeps(double from, const std::vector<double>& ends) const {
  for (const double end : ends) {
    for (std::size_t s = strip_at(from); s < most_.size() && strips_.at[s] < end; ++s)
      if (end - from > most_[s] * (1.0 + 1e-9)) return false;
    if (!(end > from)) return false;
    from = end;
  }
  return true;
}

}  // namespace evenclay
