#include "core/nurbs/projection_cells.h"

#include <algorithm>

namespace evenclay {

namespace {

// The sample rows of each interval between creases, ends included; a closed direction's last interval ends with row 0 again.
std::vector<std::vector<int>> rows_between(const std::vector<double>& places,
                                           const std::vector<double>& creases) {
  std::vector<std::vector<int>> result(creases.size() - 1);
  const auto n = static_cast<int>(places.size());
  for (std::size_t k = 0; k + 1 < creases.size(); ++k) {
    for (int i = 0; i < n; ++i)
      if (const double x = places[static_cast<std::size_t>(i)];
          x >= creases[k] && x <= creases[k + 1])
        result[k].push_back(i);
    if (k + 2 == creases.size() && places.back() < creases.back()) result[k].push_back(0);
  }
  return result;
}

// The upper end of an interval belongs to the next one.
bool lies_between(const std::vector<double>& creases, std::size_t interval, double x) {
  return x >= creases[interval] &&
         (x < creases[interval + 1] || (interval + 2 == creases.size() && x == creases.back()));
}

}  // namespace

SmoothCells::SmoothCells(const SurfaceSamples& all, const std::vector<double>& us,
                         const std::vector<double>& vs, const std::vector<double>& creases_u,
                         const std::vector<double>& creases_v)
    : points_(all.points), at_(all.at) {
  const auto in_u = rows_between(us, creases_u), in_v = rows_between(vs, creases_v);
  for (const std::vector<int>& rows_u : in_u) {
    Strip strip;
    for (std::size_t b = 0; b < in_v.size(); ++b) {
      Cell cell;
      double reach = 0.0;
      for (const int i : rows_u)
        for (const int j : in_v[b]) {
          const auto k = static_cast<std::uint32_t>(i * all.rows_v + j);
          cell.samples.push_back(k);
          cell.box.add(all.points[k]);
          reach = std::max(reach, static_cast<double>(all.reach[k]));
        }
      if (cell.samples.empty()) continue;
      const Vec3 more{0.25 * reach, 0.25 * reach, 0.25 * reach};  // what bulges between samples
      cell.box.min -= more;
      cell.box.max += more;
      // What begins a search must lie in the cell.
      std::erase_if(cell.samples, [&](std::uint32_t k) {
        return !lies_between(creases_u, strips_.size(), at_[k].u) ||
               !lies_between(creases_v, b, at_[k].v);
      });
      strip.box.add(cell.box);
      strip.cells.push_back(std::move(cell));
    }
    strips_.push_back(std::move(strip));
  }
}

void SmoothCells::keep_only(const std::function<bool(Parameter)>& keep) {
  for (Strip& strip : strips_)
    for (Cell& cell : strip.cells)
      std::erase_if(cell.samples, [&](std::uint32_t k) { return !keep(at_[k]); });
}

void SmoothCells::for_each_nearer(const Vec3& q, const std::function<double()>& found,
                                  const std::function<void(Parameter)>& search) const {
  const auto is_nearer = [&](const Box3& box) {
    const double least = found();
    return box.squared_gap({q, q}) < least * least;
  };
  for (const Strip& strip : strips_) {
    if (!is_nearer(strip.box)) continue;
    for (const Cell& cell : strip.cells) {
      if (cell.samples.empty() || !is_nearer(cell.box)) continue;
      const auto nearest = std::ranges::min_element(
          cell.samples, {}, [&](std::uint32_t k) { return length_squared(points_[k] - q); });
      search(at_[*nearest]);
    }
  }
}

}  // namespace evenclay
