#include "core/body/cell_polygons.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace evenclay {

namespace {

double turn(const Parameter& a, const Parameter& b, const Parameter& c) {
  return (b.u - a.u) * (c.v - a.v) - (b.v - a.v) * (c.u - a.u);
}

// Whether p lies in the triangle or on its sides (a, b, c counter-clockwise).
bool in_triangle(const Parameter& p, const Parameter& a, const Parameter& b, const Parameter& c) {
  return turn(a, b, p) >= 0.0 && turn(b, c, p) >= 0.0 && turn(c, a, p) >= 0.0;
}

}  // namespace

std::vector<std::array<std::uint32_t, 3>> triangles_of(const std::vector<Parameter>& p,
                                                       const PlaceBend* bend) {
  // Along lines that do not bend a long side would cost nothing; a tenth of its length keeps triangles round.
  const bool flat = bend == nullptr || (bend->uu == 0.0 && bend->vv == 0.0);
  const auto cost = [bend, flat](double du, double dv) {
    if (flat) return du * du + dv * dv;
    return 8.0 * bend->leaves(du, dv) +
           0.1 * (std::abs(bend->uu) * du * du + std::abs(bend->vv) * dv * dv);
  };
  std::vector<std::array<std::uint32_t, 3>> result;
  std::vector<std::uint32_t> left(p.size());
  for (std::uint32_t k = 0; k < left.size(); ++k) left[k] = k;
  while (left.size() > 3) {
    std::size_t best = left.size();
    double shortest = std::numeric_limits<double>::infinity();
    const std::size_t n = left.size();
    double scale = 0.0;
    for (std::size_t k = 0; k < n; ++k) {
      const Parameter& a = p[left[(k + n - 1) % n]];
      const Parameter& c = p[left[(k + 1) % n]];
      scale = std::max({scale, std::abs(a.u - c.u), std::abs(a.v - c.v)});
    }
    for (std::size_t k = 0; k < n; ++k) {
      const Parameter& a = p[left[(k + n - 1) % n]];
      const Parameter& b = p[left[k]];
      const Parameter& c = p[left[(k + 1) % n]];
      if (!(turn(a, b, c) > 1e-12 * scale * scale)) continue;
      const double side = cost(c.u - a.u, c.v - a.v);
      if (side >= shortest) continue;
      bool free = true;
      for (std::size_t m = 0; m < n && free; ++m) {
        const Parameter& q = p[left[m]];
        if (m == k || m == (k + 1) % n || m == (k + n - 1) % n || q == a || q == b || q == c)
          continue;
        free = !in_triangle(q, a, b, c);
      }
      if (!free) continue;
      shortest = side;
      best = k;
    }
    if (best == n) {  // only rounding is left: take what turns least wrongly
      double least = -std::numeric_limits<double>::infinity();
      for (std::size_t k = 0; k < n; ++k) {
        const double t = turn(p[left[(k + n - 1) % n]], p[left[k]], p[left[(k + 1) % n]]);
        if (std::abs(t) > 1e-12 * scale * scale && t < 0.0) continue;
        if (-std::abs(t) > least) {
          least = -std::abs(t);
          best = k;
        }
      }
      if (best == n) break;
    }
    result.push_back({left[(best + n - 1) % n], left[best], left[(best + 1) % n]});
    left.erase(left.begin() + static_cast<long>(best));
  }
  if (left.size() == 3) result.push_back({left[0], left[1], left[2]});
  return result;
}

namespace {

struct Cell {
  int i = 0, j = 0;
  auto operator<=>(const Cell&) const = default;
};

// A run of polygon sides inside one cell.
struct Piece {
  std::vector<std::uint32_t> vertices;
  bool closed = false;             // a whole polygon inside the cell
  double entry = 0.0, exit = 0.0;  // places on the cell's border, 0..4 counter-clockwise
  bool taken = false;
};

struct SidePoint {
  double at;  // on the cell's border, 0..4
  std::uint32_t vertex;
};

struct CellWork {
  std::vector<Piece> pieces;
  std::vector<SidePoint> points;
};

class Cutter {
 public:
  Cutter(const Polygons& polygons, const GridLines& lines, const BendAt& bend)
      : polygons_(polygons), lines_(lines), bend_(bend) {
    for (const auto& polygon : polygons)
      places_.insert(places_.end(), polygon.begin(), polygon.end());
    node_.assign(lines.u.size() * lines.v.size(), kNone);
  }

  CutGrid run() {
    std::uint32_t first = 0;
    for (const auto& polygon : polygons_) {
      add_pieces(polygon, first);
      first += static_cast<std::uint32_t>(polygon.size());
    }
    for (std::uint32_t k = 0; k < places_.size(); ++k) add_side_points(k);
    cut_cells();
    fill_rows();
    return std::move(result_);
  }

 private:
  static constexpr std::uint32_t kNone = 0xFFFFFFFFU;

  // The interval a coordinate lies in; on a line it depends on the side.
  static int interval(const std::vector<double>& lines, double x, bool below) {
    const auto at = below ? std::lower_bound(lines.begin(), lines.end(), x)
                          : std::upper_bound(lines.begin(), lines.end(), x);
    return std::clamp(static_cast<int>(at - lines.begin()) - 1, 0,
                      static_cast<int>(lines.size()) - 2);
  }

  // The cell at the left of a side.
  Cell cell_of(const Parameter& a, const Parameter& b) const {
    return {interval(lines_.u, 0.5 * (a.u + b.u), b.v > a.v),
            interval(lines_.v, 0.5 * (a.v + b.v), b.u < a.u)};
  }

  double u0(Cell c) const { return lines_.u[static_cast<std::size_t>(c.i)]; }
  double u1(Cell c) const { return lines_.u[static_cast<std::size_t>(c.i) + 1]; }
  double v0(Cell c) const { return lines_.v[static_cast<std::size_t>(c.j)]; }
  double v1(Cell c) const { return lines_.v[static_cast<std::size_t>(c.j) + 1]; }

  // Place on the border of a cell, counter-clockwise from its lower left corner; the nearest one when
  // rounding left the point a hair beside.
  double border_place(Cell c, const Parameter& p) const {
    const double x = std::clamp((p.u - u0(c)) / (u1(c) - u0(c)), 0.0, 1.0);
    const double y = std::clamp((p.v - v0(c)) / (v1(c) - v0(c)), 0.0, 1.0);
    const double d[4] = {y, 1.0 - x, 1.0 - y, x};
    const double at[4] = {x, 1.0 + y, 3.0 - x, 4.0 - y};
    const auto k = static_cast<std::size_t>(std::min_element(d, d + 4) - d);
    return at[k] >= 4.0 ? 0.0 : at[k];
  }

  void add_pieces(const std::vector<Parameter>& p, std::uint32_t first) {
    const std::size_t n = p.size();
    std::vector<Cell> cells(n);
    for (std::size_t k = 0; k < n; ++k) cells[k] = cell_of(p[k], p[(k + 1) % n]);
    std::size_t start = 0;
    while (start < n && cells[start] == cells[(start + n - 1) % n]) ++start;
    const auto number = [&](std::size_t k) { return first + static_cast<std::uint32_t>(k % n); };
    if (start == n) {
      Piece piece;
      piece.closed = true;
      for (std::size_t k = 0; k < n; ++k) piece.vertices.push_back(number(k));
      work_[cells[0]].pieces.push_back(std::move(piece));
      return;
    }
    for (std::size_t k = start; k < start + n;) {
      const Cell cell = cells[k % n];
      Piece piece;
      piece.vertices.push_back(number(k));
      for (; k < start + n && cells[k % n] == cell; ++k) piece.vertices.push_back(number(k + 1));
      piece.entry = border_place(cell, places_[piece.vertices.front()]);
      piece.exit = border_place(cell, places_[piece.vertices.back()]);
      work_[cell].pieces.push_back(std::move(piece));
    }
  }

  // A vertex on a grid line is a point of all cells that touch it there.
  void add_side_points(std::uint32_t vertex) {
    const Parameter& p = places_[vertex];
    const bool on_u = std::binary_search(lines_.u.begin(), lines_.u.end(), p.u);
    const bool on_v = std::binary_search(lines_.v.begin(), lines_.v.end(), p.v);
    if (!on_u && !on_v) return;
    for (const bool below_u : {false, true}) {
      for (const bool below_v : {false, true}) {
        const Cell c{interval(lines_.u, p.u, below_u), interval(lines_.v, p.v, below_v)};
        work_[c].points.push_back({border_place(c, p), vertex});
        if (!on_v) break;
      }
      if (!on_u) break;
    }
  }

  std::uint32_t node(int i, int j) {
    std::uint32_t& n =
        node_[static_cast<std::size_t>(i) * lines_.v.size() + static_cast<std::size_t>(j)];
    if (n == kNone) {
      n = static_cast<std::uint32_t>(places_.size() + result_.nodes.size());
      result_.nodes.push_back(
          {lines_.u[static_cast<std::size_t>(i)], lines_.v[static_cast<std::size_t>(j)]});
    }
    return n;
  }
  Parameter place(std::uint32_t vertex) const {
    return vertex < places_.size() ? places_[vertex] : result_.nodes[vertex - places_.size()];
  }

  // Border points of a cell strictly between two places of its border, counter-clockwise; a polygon
  // vertex takes the corner's place where it lies on it.
  void add_border(Cell c, const CellWork& w, double from, double way,
                  std::vector<std::uint32_t>& polygon) {
    std::vector<SidePoint> found;
    const auto offset = [&](double at) {
      const double d = at - from;
      return d < 0.0 ? d + 4.0 : d;
    };
    for (const SidePoint& p : w.points)
      if (const double d = offset(p.at); d > 0.0 && d < way) found.push_back({d, p.vertex});
    const Cell corners[4] = {c, {c.i + 1, c.j}, {c.i + 1, c.j + 1}, {c.i, c.j + 1}};
    for (int k = 0; k < 4; ++k) {
      const double at = static_cast<double>(k);
      const double d = offset(at);
      const bool covered = std::any_of(w.points.begin(), w.points.end(),
                                       [&](const SidePoint& p) { return p.at == at; });
      if (d > 0.0 && d < way && !covered) found.push_back({d, node(corners[k].i, corners[k].j)});
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const SidePoint& a, const SidePoint& b) { return a.at < b.at; });
    for (const SidePoint& p : found)
      if (polygon.empty() || place(polygon.back()) != place(p.vertex)) polygon.push_back(p.vertex);
  }

  PlaceBend bend_in(Cell c) const { return bend_({0.5 * (u0(c) + u1(c)), 0.5 * (v0(c) + v1(c))}); }

  void add_polygon(Cell cell, const std::vector<std::uint32_t>& polygon) {
    if (polygon.size() < 3) return;
    if (polygon.size() == 3) {
      result_.triangles.push_back({polygon[0], polygon[1], polygon[2]});
      return;
    }
    std::vector<Parameter> places;
    places.reserve(polygon.size());
    for (const std::uint32_t v : polygon) places.push_back(place(v));
    const PlaceBend bend = bend_ ? bend_in(cell) : PlaceBend{};
    for (const auto& t : triangles_of(places, bend_ ? &bend : nullptr))
      result_.triangles.push_back({polygon[t[0]], polygon[t[1]], polygon[t[2]]});
  }

  void cut_cells() {
    for (auto& [cell, work] : work_)
      for (Piece& piece : work.pieces)
        if (!piece.taken) trace(cell, work, piece);
  }

  // From a piece along the border of the cell to the next one, until the first is reached again.
  void trace(Cell cell, CellWork& work, Piece& start) {
    std::vector<std::uint32_t> polygon;
    if (start.closed) {
      start.taken = true;
      add_polygon(cell, start.vertices);
      return;
    }
    Piece* piece = &start;
    for (std::size_t guard = 0; guard <= work.pieces.size(); ++guard) {
      piece->taken = true;
      for (const std::uint32_t v : piece->vertices)
        if (polygon.empty() || polygon.back() != v) polygon.push_back(v);
      Piece* next = nullptr;
      double way = 0.0;
      for (Piece& other : work.pieces) {
        if (other.closed || (other.taken && &other != &start)) continue;
        double d = other.entry - piece->exit;
        if (d < 0.0) d += 4.0;
        if (next == nullptr || d < way) {
          next = &other;
          way = d;
        }
      }
      add_border(cell, work, piece->exit, way, polygon);
      if (next == &start || next == nullptr) break;
      piece = next;
    }
    while (polygon.size() > 1 && polygon.front() == polygon.back()) polygon.pop_back();
    add_polygon(cell, polygon);
  }

  void fill_rows() {
    const int rows = static_cast<int>(lines_.v.size()) - 1;
    const int columns = static_cast<int>(lines_.u.size()) - 1;
    std::vector<std::vector<double>> crossings(static_cast<std::size_t>(rows));
    for (const auto& polygon : polygons_)
      for (std::size_t k = 0; k < polygon.size(); ++k) {
        const Parameter& a = polygon[k];
        const Parameter& b = polygon[(k + 1) % polygon.size()];
        if (a.v == b.v) continue;
        const int j = interval(lines_.v, 0.5 * (a.v + b.v), false);
        const double v = 0.5 * (lines_.v[static_cast<std::size_t>(j)] +
                                lines_.v[static_cast<std::size_t>(j) + 1]);
        if ((a.v <= v) != (b.v <= v))
          crossings[static_cast<std::size_t>(j)].push_back(a.u +
                                                           (b.u - a.u) * ((v - a.v) / (b.v - a.v)));
      }
    // Rows are walked along u, so that the cells that hold pieces are met in one pass for each row.
    std::vector<std::vector<int>> cut(static_cast<std::size_t>(rows));
    for (const auto& [cell, work] : work_)
      if (!work.pieces.empty()) cut[static_cast<std::size_t>(cell.j)].push_back(cell.i);
    for (int j = 0; j < rows; ++j) {
      std::vector<double>& at = crossings[static_cast<std::size_t>(j)];
      std::sort(at.begin(), at.end());
      std::vector<int>& skip = cut[static_cast<std::size_t>(j)];
      std::sort(skip.begin(), skip.end());
      auto next_skip = skip.begin();
      std::size_t passed = 0;
      for (int i = 0; i < columns; ++i) {
        if (next_skip != skip.end() && *next_skip == i) {
          ++next_skip;
          continue;
        }
        const double u = 0.5 * (lines_.u[static_cast<std::size_t>(i)] +
                                lines_.u[static_cast<std::size_t>(i) + 1]);
        while (passed < at.size() && at[passed] < u) ++passed;
        if (passed % 2 == 1) fill_cell({i, j});
      }
    }
  }

  void fill_cell(Cell c) {
    const auto found = work_.find(c);
    if (found != work_.end()) {
      std::vector<std::uint32_t> polygon;
      const bool corner = std::any_of(found->second.points.begin(), found->second.points.end(),
                                      [](const SidePoint& p) { return p.at == 0.0; });
      if (!corner)
        polygon.push_back(node(c.i, c.j));
      else
        for (const SidePoint& p : found->second.points)
          if (p.at == 0.0 && polygon.empty()) polygon.push_back(p.vertex);
      add_border(c, found->second, 0.0, 4.0, polygon);
      add_polygon(c, polygon);
      return;
    }
    const std::uint32_t a = node(c.i, c.j), b = node(c.i + 1, c.j);
    const std::uint32_t d = node(c.i + 1, c.j + 1), e = node(c.i, c.j + 1);
    const double hu = u1(c) - u0(c), hv = v1(c) - v0(c);
    const PlaceBend bend = bend_ ? bend_in(c) : PlaceBend{};
    if (bend.leaves(hu, -hv) < bend.leaves(hu, hv)) {
      result_.triangles.push_back({a, b, e});
      result_.triangles.push_back({b, d, e});
    } else {
      result_.triangles.push_back({a, b, d});
      result_.triangles.push_back({a, d, e});
    }
  }

  const Polygons& polygons_;
  const GridLines& lines_;
  const BendAt& bend_;
  std::vector<Parameter> places_;
  std::map<Cell, CellWork> work_;
  std::vector<std::uint32_t> node_;
  CutGrid result_;
};

}  // namespace

CutGrid cut_grid(const Polygons& polygons, const GridLines& lines, const BendAt& bend) {
  return Cutter(polygons, lines, bend).run();
}

}  // namespace evenclay
