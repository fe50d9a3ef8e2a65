#include "core/pattern/chart.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <deque>
#include <map>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/knot_operations.h"

namespace evenclay {

namespace {

// Surfaces by their addresses, which the chart keeps taken, and the regions.
std::vector<double> key_of(std::span<const Surface* const> surfaces, Direction d,
                           std::span<const Region> regions) {
  std::vector<double> key{d == Direction::U ? 0.0 : 1.0};
  for (const Surface* s : surfaces)
    key.push_back(static_cast<double>(reinterpret_cast<std::uintptr_t>(s)));
  for (const Region& r : regions) key.insert(key.end(), {r.u_begin, r.u_end, r.v_begin, r.v_end});
  return key;
}

std::array<bool, 4> poles_of(const Grid<ChartCell>& cells, double tolerance) {
  std::array<bool, 4> all{true, true, true, true};
  for (int c = 0; c < cells.rows(); ++c)
    for (int r = 0; r < cells.columns(); ++r) {
      const Surface& s = *cells(c, r).surface;
      const auto keep = [&](std::size_t k, bool at_border) {
        if (at_border) all[k] = all[k] && is_pole(s, kBorders[k], tolerance);
      };
      keep(0, c == 0);
      keep(1, c + 1 == cells.rows());
      keep(2, r == 0);
      keep(3, r + 1 == cells.columns());
    }
  return all;
}

}  // namespace

std::shared_ptr<const ArcLengthMap> ChartLengths::of(std::span<const Surface* const> surfaces,
                                                     Direction d, std::span<const Region> regions) {
  const std::scoped_lock lock(mutex_);
  auto& map = known_[key_of(surfaces, d, regions)];
  if (!map) map = std::make_shared<const ArcLengthMap>(surfaces, d, regions);
  return map;
}

Chart chart_of(const Face& face, double pole_tolerance) {
  Chart chart;
  chart.cells = Grid<ChartCell>(1, 1);
  chart.cells(0, 0) = {face.surface, face, !face.flipped};
  chart.around_s = face.surface->u.periodic;
  chart.around_t = face.surface->v.periodic;
  chart.pole = poles_of(chart.cells, pole_tolerance);
  return chart;
}

Chart chart_of(const Surface& surface, double pole_tolerance) {
  Face face;
  face.surface = std::make_shared<const Surface>(surface);
  return chart_of(face, pole_tolerance);
}

namespace {

constexpr int kPlaces = 9;
using BorderPlaces = std::array<Vec3, kPlaces>;

// Places along a border of a surface over [0, 1] × [0, 1], in the sense of its parameter.
BorderPlaces places_along(const Surface& s, Border border) {
  BorderPlaces places;
  for (int k = 0; k < kPlaces; ++k) {
    const double x = static_cast<double>(k) / (kPlaces - 1);
    switch (border) {
      case Border::UMin:
        places[static_cast<std::size_t>(k)] = evaluate(s, 0, x);
        break;
      case Border::UMax:
        places[static_cast<std::size_t>(k)] = evaluate(s, 1, x);
        break;
      case Border::VMin:
        places[static_cast<std::size_t>(k)] = evaluate(s, x, 0);
        break;
      case Border::VMax:
        places[static_cast<std::size_t>(k)] = evaluate(s, x, 1);
        break;
    }
  }
  return places;
}

bool meet(const BorderPlaces& a, const BorderPlaces& b, double tolerance) {
  for (std::size_t k = 0; k < kPlaces; ++k)
    if (distance(a[k], b[k]) > tolerance) return false;
  return true;
}

// A face turned in one of eight ways; its domain is [0, 1] × [0, 1].
ChartCell turned(const ChartCell& cell, int way) {
  Surface s = *cell.surface;
  Face face = cell.face;
  bool outward = cell.outward;
  if ((way & 4) != 0) {
    s = transposed(s);
    map_parameters(face, {0, 1, 1, 0, 0, 0});
    outward = !outward;
  }
  if ((way & 1) != 0) {
    s = reversed(s, Direction::U);
    map_parameters(face, {-1, 0, 0, 1, 1, 0});
    outward = !outward;
  }
  if ((way & 2) != 0) {
    s = reversed(s, Direction::V);
    map_parameters(face, {1, 0, 0, -1, 0, 1});
    outward = !outward;
  }
  ChartCell result{std::make_shared<const Surface>(std::move(s)), std::move(face), outward};
  result.face.surface = result.surface;
  return result;
}

// The face over [0, 1] × [0, 1].
ChartCell upright(const Face& face) {
  Surface s = reparameterised(*face.surface, Direction::U, 0.0, 1.0);
  s = reparameterised(s, Direction::V, 0.0, 1.0);
  Face f = face;
  map_parameters(f, scaled_map(*face.surface, s));
  ChartCell cell{std::make_shared<const Surface>(std::move(s)), std::move(f), !face.flipped};
  cell.face.surface = cell.surface;
  return cell;
}

constexpr std::array<Border, 4> kOpposite{Border::UMax, Border::UMin, Border::VMax, Border::VMin};
constexpr std::array<std::array<int, 2>, 4> kStep{{{-1, 0}, {1, 0}, {0, -1}, {0, 1}}};

// The face turned so that it goes on across the border of another one.
std::optional<ChartCell> beside(const ChartCell& next, const BorderPlaces& border, Border opposite,
                                double tolerance) {
  for (int way = 0; way < 8; ++way) {
    ChartCell cell = turned(next, way);
    if (meet(border, places_along(*cell.surface, opposite), tolerance)) return cell;
  }
  return std::nullopt;
}

using Layout = std::map<std::array<int, 2>, ChartCell>;

// From the first face on across common borders.
Layout laid_out(std::vector<ChartCell> waiting, double tolerance) {
  Layout layout;
  layout[{0, 0}] = waiting.front();
  waiting.erase(waiting.begin());
  std::deque<std::array<int, 2>> todo{{0, 0}};
  while (!todo.empty() && !waiting.empty()) {
    const auto at = todo.front();
    todo.pop_front();
    for (std::size_t side = 0; side < 4; ++side) {
      const std::array<int, 2> there{at[0] + kStep[side][0], at[1] + kStep[side][1]};
      if (layout.contains(there)) continue;
      const BorderPlaces border = places_along(*layout.at(at).surface, kBorders[side]);
      for (auto next = waiting.begin(); next != waiting.end(); ++next) {
        auto cell = beside(*next, border, kOpposite[side], tolerance);
        if (!cell) continue;
        layout[there] = std::move(*cell);
        waiting.erase(next);
        todo.push_back(there);
        break;
      }
    }
  }
  if (!waiting.empty())
    throw Error(
        say("The faces for the pattern do not all lie beside each other in rows and columns. Pick "
            "faces with four "
            "borders each that meet along whole borders."));
  return layout;
}

bool closes(const Grid<ChartCell>& cells, Direction direction, double tolerance) {
  const bool s = direction == Direction::U;
  const int across = s ? cells.columns() : cells.rows();
  for (int k = 0; k < across; ++k) {
    const ChartCell& first = s ? cells(0, k) : cells(k, 0);
    const ChartCell& last = s ? cells(cells.rows() - 1, k) : cells(k, cells.columns() - 1);
    const Border begin = s ? Border::UMin : Border::VMin;
    const Border end = s ? Border::UMax : Border::VMax;
    if ((s ? cells.rows() : cells.columns()) == 1) {
      const KnotVector& knots = s ? first.surface->u : first.surface->v;
      if (!knots.periodic) return false;
    } else if (!meet(places_along(*first.surface, begin), places_along(*last.surface, end),
                     tolerance)) {
      return false;
    }
  }
  return true;
}

}  // namespace

Chart chart_of(const Body& body, std::span<const std::size_t> faces, double tolerance) {
  if (faces.size() == 1) return chart_of(body.faces.at(faces[0]));
  if (faces.empty()) throw Error(say("No face is chosen for the pattern. Pick at least one."));
  std::vector<ChartCell> all;
  for (const std::size_t f : faces) all.push_back(upright(body.faces.at(f)));
  const Layout layout = laid_out(std::move(all), tolerance);
  std::array<int, 2> low{0, 0}, high{0, 0};
  for (const auto& [at, cell] : layout)
    for (std::size_t k = 0; k < 2; ++k) {
      low[k] = std::min(low[k], at[k]);
      high[k] = std::max(high[k], at[k]);
    }
  Chart chart;
  chart.cells = Grid<ChartCell>(high[0] - low[0] + 1, high[1] - low[1] + 1);
  if (static_cast<std::size_t>(chart.cells.rows()) *
          static_cast<std::size_t>(chart.cells.columns()) !=
      layout.size())
    throw Error(say(
        "The faces for the pattern do not make a full rectangle. Add or leave out some of them."));
  for (const auto& [at, cell] : layout) {
    ChartCell& put = chart.cells(at[0] - low[0], at[1] - low[1]);
    put = cell;
    put.outward = layout.at({0, 0}).outward;  // the first face says where outside is
  }
  chart.around_s = closes(chart.cells, Direction::U, tolerance);
  chart.around_t = closes(chart.cells, Direction::V, tolerance);
  chart.pole = poles_of(chart.cells, 1e-6);
  return chart;
}

namespace {

// The part of column (or row) k that lies in [from, to], as shares of it.
struct Part {
  int cell;
  double from, to;
};

double mean_length(const Chart& chart, Direction d, int cell) {
  const bool u = d == Direction::U;
  const int across = u ? chart.cells.columns() : chart.cells.rows();
  double sum = 0.0;
  for (int k = 0; k < across; ++k) {
    const Surface& s = u ? chart.surface(cell, k) : chart.surface(k, cell);
    const std::array<const Surface*, 1> one{&s};
    sum += chart.lengths->of(one, d, std::array{whole(s)})->mean_length();
  }
  return sum / across;
}

std::vector<Part> parts_of(const Chart& chart, Direction d, double from, double to) {
  const int count = d == Direction::U ? chart.cells.rows() : chart.cells.columns();
  if (count == 1) return {{0, from, to}};
  std::vector<double> ends{0.0};
  for (int k = 0; k < count; ++k) ends.push_back(ends.back() + mean_length(chart, d, k));
  for (double& e : ends) e /= ends.back();
  std::vector<Part> parts;
  for (int k = 0; k < count; ++k) {
    const double begin = ends[static_cast<std::size_t>(k)];
    const double width = ends[static_cast<std::size_t>(k) + 1] - begin;
    const double a = std::clamp((from - begin) / width, 0.0, 1.0);
    const double b = std::clamp((to - begin) / width, 0.0, 1.0);
    if (b - a > 1e-9) parts.push_back({k, a, b});
  }
  return parts;
}

// Calls use(cell, surfaces, regions) for each column (or row) that the region has a part of.
template <typename Use>
void for_pieces(const Chart& chart, Direction d, const ChartRegion& r, const Use& use) {
  const bool u = d == Direction::U;
  const auto along = parts_of(chart, d, u ? r.s_from : r.t_from, u ? r.s_to : r.t_to);
  const auto across = parts_of(chart, u ? Direction::V : Direction::U, u ? r.t_from : r.s_from,
                               u ? r.t_to : r.s_to);
  if (along.empty() || across.empty())
    throw Error(say("The region on the target has no extent in one direction."));
  for (const Part& p : along) {
    std::vector<const Surface*> surfaces;
    std::vector<Region> regions;
    for (const Part& q : across) {
      const Surface& s = u ? chart.surface(p.cell, q.cell) : chart.surface(q.cell, p.cell);
      surfaces.push_back(&s);
      const Part& pu = u ? p : q;
      const Part& pv = u ? q : p;
      regions.push_back({s.u.first() + pu.from * s.u.length(), s.u.first() + pu.to * s.u.length(),
                         s.v.first() + pv.from * s.v.length(), s.v.first() + pv.to * s.v.length()});
    }
    use(p.cell, surfaces, regions);
  }
}

}  // namespace

Spread::Spread(const Chart& chart, Direction d, const ChartRegion& r, bool even) {
  const bool u = d == Direction::U;
  std::vector<double> lengths;
  const bool measure = even || (u ? chart.cells.rows() : chart.cells.columns()) > 1;
  for_pieces(
      chart, d, r,
      [&](int cell, std::span<const Surface* const> surfaces, std::span<const Region> regions) {
        const Region& first = regions.front();
        const double begin = u ? first.u_begin : first.v_begin;
        const double end = u ? first.u_end : first.v_end;
        if (!(end > begin))
          throw Error(say("The region on the target has no extent in one direction."));
        const auto map = measure ? chart.lengths->of(surfaces, d, regions) : nullptr;
        lengths.push_back(map ? map->mean_length() : 1.0);
        pieces_.push_back({cell, 0.0, 0.0, begin, end, even ? map : nullptr});
      });
  double all = 0.0;
  for (const double l : lengths) all += l;
  double done = 0.0;
  for (std::size_t k = 0; k < pieces_.size(); ++k) {
    pieces_[k].from = done / all;
    done += lengths[k];
    pieces_[k].to = k + 1 == pieces_.size() ? 1.0 : done / all;
  }
}

Spread::Place Spread::at(double share) const {
  const Piece* piece = &pieces_.front();
  for (const Piece& p : pieces_)
    if (share >= p.from) piece = &p;
  const double width = piece->to - piece->from;
  const double x = (share - piece->from) / width;
  if (piece->even) {
    const ArcLengthMap::Place place = piece->even->at_share(x);
    return {piece->cell, place.parameter, place.slope / width};
  }
  const double way = piece->end - piece->begin;
  return {piece->cell, piece->begin + x * way, way / width};
}

double length_along(const Chart& chart, Direction d, const ChartRegion& region) {
  double sum = 0.0;
  for_pieces(chart, d, region,
             [&](int, std::span<const Surface* const> surfaces, std::span<const Region> regions) {
               sum += chart.lengths->of(surfaces, d, regions)->mean_length();
             });
  return sum;
}

std::optional<double> Spread::share(int cell, double parameter) const {
  for (const Piece& p : pieces_) {
    if (p.cell != cell) continue;
    const double x =
        p.even ? p.even->share_of(parameter) : (parameter - p.begin) / (p.end - p.begin);
    return p.from + x * (p.to - p.from);
  }
  return std::nullopt;
}

std::vector<double> Spread::inner_ends() const {
  std::vector<double> ends;
  for (std::size_t k = 0; k + 1 < pieces_.size(); ++k) ends.push_back(pieces_[k].to);
  return ends;
}

}  // namespace evenclay
