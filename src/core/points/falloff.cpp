#include "core/points/falloff.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "core/base/smooth_step.h"

namespace evenclay {

namespace {

int steps_between(int a, int b, int count, bool closed) {
  const int d = std::abs(a - b);
  return closed ? std::min(d, count - d) : d;
}

// The places from `from` − reach to `from` + reach, each once, inside the net.
std::vector<int> places_around(const Net& net, int direction, int from, int reach) {
  const int count = net.count(direction);
  std::vector<int> result;
  if (net.closed(direction)) {
    const int below = std::min(reach, (count - 1) / 2);
    const int above = std::min(reach, count / 2);
    for (int d = -below; d <= above; ++d) result.push_back((from + d + count) % count);
  } else {
    for (int k = std::max(0, from - reach); k <= std::min(count - 1, from + reach); ++k)
      result.push_back(k);
  }
  return result;
}

}  // namespace

double falloff(FalloffShape shape, double t, double k) {
  if (t >= 1.0) return 0.0;
  t = std::max(t, 0.0);
  switch (shape) {
    case FalloffShape::Rigid:
      return 1.0;
    case FalloffShape::Ramp:
      return 1.0 - t;
    case FalloffShape::Scoop:
      return std::pow(1.0 - t, 1.0 + k);
    case FalloffShape::Dome:
      return 1.0 - std::pow(t, 1.0 + k);
    case FalloffShape::Bell:
      return std::pow(1.0 - smooth_step(t), k);
  }
  return 0.0;
}

namespace {

// On a form steps are counted along edges; the wider of both falloffs decides.
void add_form_shares(const Net& net, int number, const Selection& picked, const Falloff& f,
                     PointShares& result) {
  const int reach = std::max(f.reach_along, f.reach_across);
  std::vector<PointIndex> ring;
  std::vector<bool> seen(net.size(), false);
  for (const PointIndex& p : picked)
    if (p.net == number) {
      ring.push_back(p);
      seen[static_cast<std::size_t>(p.i)] = true;
    }
  for (int steps = 0; steps <= reach && !ring.empty(); ++steps) {
    const double along =
        falloff(f.along, static_cast<double>(steps) / (f.reach_along + 1), f.strength_along);
    const double across =
        falloff(f.across, static_cast<double>(steps) / (f.reach_across + 1), f.strength_across);
    std::vector<PointIndex> next;
    for (const PointIndex& p : ring) {
      result(p) = std::max(along, across);
      for_each_neighbour(net, p, [&](PointIndex q) {
        if (seen[static_cast<std::size_t>(q.i)]) return;
        seen[static_cast<std::size_t>(q.i)] = true;
        next.push_back(q);
      });
    }
    ring = std::move(next);
  }
}

}  // namespace

PointShares shares(const Nets& nets, const Selection& picked, const Falloff& f) {
  PointShares result(nets);
  for (std::size_t n = 0; n < nets.nets.size(); ++n)
    if (nets.nets[n].form() != nullptr)
      add_form_shares(nets.nets[n], static_cast<int>(n), picked, f, result);
  const int along_direction = row_direction(picked).value_or(0);
  for (const PointIndex& p : picked) {
    const Net& net = nets.of(p);
    if (net.form() != nullptr) continue;
    // The share of each place near p, direction by direction.
    std::array<std::vector<std::pair<int, double>>, 3> near;
    for (int d = 0; d < 3; ++d) {
      const bool along = d == along_direction;
      const int reach = along ? f.reach_along : f.reach_across;
      const int from = place_along(p, d);
      for (const int k : places_around(net, d, from, reach)) {
        const int steps = steps_between(k, from, net.count(d), net.closed(d));
        near[static_cast<std::size_t>(d)].emplace_back(
            k, falloff(along ? f.along : f.across, static_cast<double>(steps) / (reach + 1),
                       along ? f.strength_along : f.strength_across));
      }
    }
    for (const auto& [i, of_u] : near[0])
      for (const auto& [j, of_v] : near[1])
        for (const auto& [k, of_w] : near[2]) {
          double& share = result({p.net, i, j, k});
          share = std::max(share, of_u * of_v * of_w);
        }
  }
  for (const auto& one_place : nets.united) {
    double greatest = 0.0;
    for (const PointIndex& p : one_place) greatest = std::max(greatest, result(p));
    for (const PointIndex& p : one_place) result(p) = greatest;
  }
  return result;
}

}  // namespace evenclay
