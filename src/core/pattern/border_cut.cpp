#include "core/pattern/border_cut.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <polyclipping/clipper.hpp>

#include "core/body/cell_polygons.h"
#include "core/body/region.h"

namespace evenclay {

namespace {

using ClipperLib::cInt;
using ClipperLib::IntPoint;
using ClipperLib::Path;
using ClipperLib::Paths;

constexpr double kGrain = 1e9;  // whole numbers a repeat

IntPoint rounded(double s, double t) {
  return {static_cast<cInt>(std::llround(s * kGrain)), static_cast<cInt>(std::llround(t * kGrain))};
}

Paths common(const Paths& a, const Path& b, bool odd) {
  ClipperLib::Clipper clipper;
  clipper.AddPaths(a, ClipperLib::ptSubject, true);
  clipper.AddPath(b, ClipperLib::ptClip, true);
  Paths result;
  const auto fill = odd ? ClipperLib::pftEvenOdd : ClipperLib::pftNonZero;
  clipper.Execute(ClipperLib::ctIntersection, result, fill, ClipperLib::pftNonZero);
  return result;
}

using Polygons = std::vector<std::vector<Parameter>>;

// The loops of one face, or its whole domain, in repeats; in closed directions also one turn before and behind.
Polygons flat_loops(const ChartCell& cell,
                    const std::function<std::optional<Parameter>(Parameter)>& flat, bool turns) {
  const Surface& s = *cell.surface;
  Polygons polygons;
  for (const Loop& loop : cell.face.loops) polygons.push_back(loop_polygon(loop, s));
  if (polygons.empty())
    polygons.push_back({{s.u.first(), s.v.first()},
                        {s.u.last(), s.v.first()},
                        {s.u.last(), s.v.last()},
                        {s.u.first(), s.v.last()}});
  Polygons result;
  for (const std::vector<Parameter>& polygon : polygons)
    for (const double du : {0.0, s.u.length(), -s.u.length()})
      for (const double dv : {0.0, s.v.length(), -s.v.length()}) {
        if ((du != 0.0 && !(turns && s.u.periodic)) || (dv != 0.0 && !(turns && s.v.periodic)))
          continue;
        std::vector<Parameter> one;
        for (const Parameter& p : polygon)
          if (const auto q = flat({p.u + du, p.v + dv})) one.push_back(*q);
        if (one.size() == polygon.size()) result.push_back(std::move(one));
      }
  return result;
}

// A parameter that is an end of the domain but for rounding: neighbours then meet without a sliver between them.
double at_end(double x, const KnotVector& k) {
  for (const double end : {k.first(), k.last()})
    if (std::abs(x - end) < 1e-7 * k.length()) return end;
  return x;
}

Path path_of(const std::vector<Parameter>& polygon) {
  Path path;
  for (const Parameter& p : polygon) path.push_back(rounded(p.u, p.v));
  return path;
}

// What several faces cover together.
Polygons united(const std::vector<Polygons>& faces) {
  ClipperLib::Clipper all;
  for (const Polygons& face : faces) {
    Paths paths, odd;
    for (const auto& polygon : face) paths.push_back(path_of(polygon));
    ClipperLib::SimplifyPolygons(paths, odd, ClipperLib::pftEvenOdd);
    all.AddPaths(odd, ClipperLib::ptSubject, true);
  }
  Paths together;
  all.Execute(ClipperLib::ctUnion, together, ClipperLib::pftNonZero, ClipperLib::pftNonZero);
  Polygons result;
  for (const Path& path : together) {
    std::vector<Parameter> polygon;
    for (const IntPoint& p : path)
      polygon.push_back({static_cast<double>(p.X) / kGrain, static_cast<double>(p.Y) / kGrain});
    result.push_back(std::move(polygon));
  }
  return result;
}

}  // namespace

std::shared_ptr<const FlatBorder> flat_border(const Chart& chart, const FlowOptions& o) {
  const std::vector<ChartCell>& cells = chart.cells.values();
  if (std::none_of(cells.begin(), cells.end(), [](const ChartCell& c) { return c.face.trimmed(); }))
    return nullptr;
  const Spread along_s(chart, Direction::U, o.region, o.even);
  const Spread along_t(chart, Direction::V, o.region, o.even);
  std::vector<Polygons> faces;
  for (int i = 0; i < chart.cells.rows(); ++i)
    for (int j = 0; j < chart.cells.columns(); ++j) {
      const Surface& surface = chart.surface(i, j);
      const auto flat = [&](Parameter p) -> std::optional<Parameter> {
        const bool alone = chart.single();
        const auto s = along_s.share(i, alone ? p.u : at_end(p.u, surface.u));
        const auto t = along_t.share(j, alone ? p.v : at_end(p.v, surface.v));
        if (!s || !t) return std::nullopt;
        return Parameter{*s * o.count_u, *t * o.count_v};
      };
      faces.push_back(flat_loops(chart.cells(i, j), flat, chart.single()));
    }
  auto border = std::make_shared<FlatBorder>();
  border->loops = chart.single() ? std::move(faces.front()) : united(faces);
  return border;
}

struct BorderCutter::Impl {
  Paths loops;
};

BorderCutter::BorderCutter(const FlatBorder& border) {
  auto impl = std::make_unique<Impl>();
  for (const auto& loop : border.loops) impl->loops.push_back(path_of(loop));
  impl_ = std::move(impl);
}

BorderCutter::~BorderCutter() = default;

namespace {

// One triangle of a tile in its repeat, and what is left of it.
class TriangleCut {
 public:
  TriangleCut(const std::vector<TileVertex>& tile, const std::array<std::uint32_t, 3>& corners,
              int a, int b, CutTile& out,
              std::map<std::pair<cInt, cInt>, std::vector<std::uint32_t>>& known)
      : tile_(tile), corners_(corners), out_(out), known_(known) {
    for (std::size_t k = 0; k < 3; ++k) {
      const TileVertex& v = tile[corners[k]];
      at_[k] = {a + v.s, b + v.t};
      path_.push_back(rounded(at_[k].u, at_[k].v));
    }
    const double area = ClipperLib::Area(path_);
    turned_ = area < 0.0;
    flat_ = std::abs(area) < 1.0;  // upright in the flat: no inside to cut
  }
  void cut(const Paths& inside, double whole_share) {
    if (flat_) {
      // Walls stay where their foot is inside.
      const IntPoint middle{(path_[0].X + path_[1].X + path_[2].X) / 3,
                            (path_[0].Y + path_[1].Y + path_[2].Y) / 3};
      if (holds(inside, middle)) out_.triangles.push_back(corners_);
      return;
    }
    const Paths left = common(inside, path_, false);
    double area = 0.0;
    for (const Path& p : left) area += ClipperLib::Area(p);
    if (std::abs(area) >= whole_share * std::abs(ClipperLib::Area(path_))) {
      out_.triangles.push_back(corners_);
      return;
    }
    for (const Path& p : left)
      if (ClipperLib::Orientation(p)) add(p);  // openings inside one triangle are left closed
  }

 private:
  static bool holds(const Paths& inside, const IntPoint& p) {
    int inner = 0;
    for (const Path& path : inside) inner += ClipperLib::PointInPolygon(p, path) != 0 ? 1 : 0;
    return inner % 2 == 1;
  }
  void add(const Path& polygon) {
    std::vector<Parameter> flat;
    std::vector<std::uint32_t> numbers;
    for (const IntPoint& p : polygon) {
      flat.push_back({static_cast<double>(p.X) / kGrain, static_cast<double>(p.Y) / kGrain});
      numbers.push_back(number_of(p));
    }
    for (const auto& t : triangles_of(flat)) {
      std::array<std::uint32_t, 3> n{numbers[t[0]], numbers[t[1]], numbers[t[2]]};
      if (n[0] == n[1] || n[1] == n[2] || n[2] == n[0]) continue;
      if (turned_) std::swap(n[1], n[2]);
      out_.triangles.push_back(n);
    }
  }
  // A corner of the triangle, a place that a neighbour has made, or a new one.
  std::uint32_t number_of(const IntPoint& p) {
    for (std::size_t k = 0; k < 3; ++k)
      if (std::abs(p.X - path_[k].X) <= 1 && std::abs(p.Y - path_[k].Y) <= 1) return corners_[k];
    const TileVertex fresh = between(p);
    auto& there = known_[{p.X, p.Y}];
    for (const std::uint32_t k : there)
      if (std::abs(out_.fresh[k].z - fresh.z) < 1e-6)
        return static_cast<std::uint32_t>(tile_.size()) + k;
    there.push_back(static_cast<std::uint32_t>(out_.fresh.size()));
    out_.fresh.push_back(fresh);
    return static_cast<std::uint32_t>(tile_.size() + out_.fresh.size()) - 1;
  }
  TileVertex between(const IntPoint& p) const {
    const double s = static_cast<double>(p.X) / kGrain;
    const double t = static_cast<double>(p.Y) / kGrain;
    const auto twice = [](const Parameter& a, const Parameter& b, double u, double v) {
      return (b.u - a.u) * (v - a.v) - (b.v - a.v) * (u - a.u);
    };
    const double all = twice(at_[0], at_[1], at_[2].u, at_[2].v);
    std::array<double, 3> share{twice(at_[1], at_[2], s, t) / all,
                                twice(at_[2], at_[0], s, t) / all, 0.0};
    share[2] = 1.0 - share[0] - share[1];
    TileVertex v{s, t, 0.0, {}};
    for (std::size_t k = 0; k < 3; ++k) {
      v.z += tile_[corners_[k]].z * share[k];
      v.slope += tile_[corners_[k]].slope * share[k];
    }
    return v;
  }

  const std::vector<TileVertex>& tile_;
  const std::array<std::uint32_t, 3>& corners_;
  CutTile& out_;
  std::map<std::pair<cInt, cInt>, std::vector<std::uint32_t>>& known_;
  std::array<Parameter, 3> at_;
  Path path_;
  bool turned_ = false, flat_ = false;
};

}  // namespace

CutTile BorderCutter::cut(const std::vector<TileVertex>& tile,
                          const std::vector<std::array<std::uint32_t, 3>>& triangles, int a,
                          int b) const {
  CutTile result;
  // A tile may reach a little beyond its repeat.
  double low_s = 0.0, high_s = 1.0, low_t = 0.0, high_t = 1.0;
  for (const TileVertex& v : tile) {
    low_s = std::min(low_s, v.s);
    high_s = std::max(high_s, v.s);
    low_t = std::min(low_t, v.t);
    high_t = std::max(high_t, v.t);
  }
  const Path frame{rounded(a + low_s, b + low_t), rounded(a + high_s, b + low_t),
                   rounded(a + high_s, b + high_t), rounded(a + low_s, b + high_t)};
  const Paths inside = common(impl_->loops, frame, true);
  if (inside.empty()) return result;
  constexpr double kWhole = 1.0 - 1e-7;
  std::map<std::pair<cInt, cInt>, std::vector<std::uint32_t>> known;
  for (const auto& t : triangles) TriangleCut(tile, t, a, b, result, known).cut(inside, kWhole);
  return result;
}

}  // namespace evenclay
