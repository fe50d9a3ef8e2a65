#include "core/pattern/shelf_tile.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/smooth_step.h"
#include "core/body/topology.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/fit.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/refit.h"

namespace evenclay {

namespace {

constexpr double kTurn = 2.0 * std::numbers::pi;

// 1 in the middle, 0 from the rim on, with two smooth derivatives there.
double hill(double share) {
  const double x = 1.0 - share * share;
  return share < 1.0 ? x * x * x : 0.0;
}

double dimple(const ShelfTileSizes& s, double x, double y) {
  const double radius = 0.5 * s.width * std::min(s.length_x, s.length_y);
  return -s.height * hill(std::hypot((x - 0.5) * s.length_x, (y - 0.5) * s.length_y) / radius);
}

// A ridge about y = 0.5, or a bow of it.
double ridge(const ShelfTileSizes& s, double y) {
  const double off = std::abs(y - std::floor(y) - 0.5);
  return s.height * hill(off / (0.5 * s.width));
}

// Three cosine waves at 60° make hills on a hexagonal lattice.
double hex(const ShelfTileSizes& s, double x, double y) {
  const double sum =
      std::cos(kTurn * (x + y)) + std::cos(kTurn * (x - y)) + std::cos(kTurn * 2.0 * y);
  // 3 in the middle of a cell, −1 half-way between two, −1.5 in the corners.
  return -s.height * smooth_step((sum + 1.0) / (4.0 * (1.3 - s.width)));
}

double scale(const ShelfTileSizes& s, double x, double y) {
  const double bow = 0.5 - 0.5 * std::cos(kTurn * x);
  const double phase = y - 0.35 * s.width * bow;
  const double p = phase - std::floor(phase);
  constexpr double kSlope = 0.75;  // of the way the scale rises, then it falls off
  return s.height *
         (p < kSlope ? smooth_step(p / kSlope) : smooth_step((1.0 - p) / (1.0 - kSlope)));
}

}  // namespace

double shelf_height(ShelfTile kind, const ShelfTileSizes& s, double x, double y) {
  switch (kind) {
    case ShelfTile::Dimple:
      return dimple(s, x, y);
    case ShelfTile::Rib:
      return ridge(s, y);
    case ShelfTile::Wave:
      return ridge(s, y + 0.12 * std::sin(kTurn * x));
    case ShelfTile::Hex:
      return hex(s, x, y);
    case ShelfTile::Quilt:
      return s.height * std::pow(std::sin(0.5 * kTurn * x) * std::sin(0.5 * kTurn * y), s.width);
    case ShelfTile::Scale:
      return scale(s, x, y);
    case ShelfTile::Knurl:
    case ShelfTile::Perforation:
      return 0.0;
  }
  return 0.0;
}

namespace {

void check_sizes(const ShelfTileSizes& s) {
  const auto in = [](double x, double low, double high) { return x >= low && x <= high; };
  if (!in(s.length_x, 1e-3, 1e5) || !in(s.length_y, 1e-3, 1e5) || !in(s.width, 0.05, 1.0) ||
      !(std::abs(s.height) <= 1e5) || s.points < 6 || s.points > 40)
    throw Error(say(
        "These sizes make no tile. Use lengths from 0.001 mm, widths from 0.05 to 1, and 6 to 40 "
        "points."));
}

// Heights fitted on even knots, closed where the tile repeats smoothly.
Surface heights(ShelfTile kind, const ShelfTileSizes& s, bool closed) {
  const KnotVector k = uniform_knots(s.points, 3, closed);
  const FitSamples at = fit_samples(k, {});
  std::vector<double> values;
  for (const double x : at.places)
    for (const double y : at.places) values.push_back(shelf_height(kind, s, x, y));
  Progress quiet;
  const std::vector<double> z =
      fit_grid(k, k, {at.places, at.weights, at.places, at.weights}, values, 1, quiet);
  Surface surface{k, k, Grid<Vec3>(k.point_count(), k.point_count()), {}};
  for (std::size_t n = 0; n < z.size(); ++n) surface.points.values()[n].z = z[n];
  if (closed) surface = opened(opened(surface, Direction::U, 0.0), Direction::V, 0.0);
  return surface;
}

// The heights over the tile's rectangle: places at their Greville shares.
Surface laid_out(Surface surface, const ShelfTileSizes& s) {
  const std::vector<double> u = greville_places(surface.u);
  const std::vector<double> v = greville_places(surface.v);
  for (int i = 0; i < surface.points.rows(); ++i)
    for (int j = 0; j < surface.points.columns(); ++j) {
      surface.points(i, j).x = u[static_cast<std::size_t>(i)] * s.length_x;
      surface.points(i, j).y = v[static_cast<std::size_t>(j)] * s.length_y;
    }
  return surface;
}

Frame middle_of(const ShelfTileSizes& s) {
  Frame f;
  f.origin = {0.5 * s.length_x, 0.5 * s.length_y, 0.0};
  return f;
}

Body perforated(const ShelfTileSizes& s, int step) {
  Body body = with_explicit_borders(
      body_of({make_plane(middle_of(s), s.length_x, s.length_y, 2, 2, 1, 1)}, step), 1e-6);
  // At most so wide that a bridge stays.
  const double radius = 0.5 * std::min(s.width, 0.95) * std::min(s.length_x, s.length_y);
  const Curve round = make_circle(middle_of(s), radius);
  const Curve hole =
      first_row(opened(strip_of(round, {0, 0, 1}), Direction::U, round.knots.first()));
  Curve uv = hole;
  for (Vec3& p : uv.points) p = {p.x / s.length_x, p.y / s.length_y, 0.0};
  body.edges.push_back({make_tag(step, body.faces[0].tag, 9), hole, 0.0});
  body.faces[0].loops.push_back({{static_cast<std::uint32_t>(body.edges.size() - 1), false, uv}});
  refresh_gaps(body);
  return body;
}

}  // namespace

Body make_shelf_tile(ShelfTile kind, const ShelfTileSizes& s, int step) {
  check_sizes(s);
  if (kind == ShelfTile::Perforation) return perforated(s, step);
  if (kind == ShelfTile::Knurl) {
    Surface tent = make_plane(middle_of(s), s.length_x, s.length_y, 3, 3, 1, 1);
    tent.points(1, 1).z = s.height;
    return body_of({std::move(tent)}, step);
  }
  return body_of({laid_out(heights(kind, s, kind != ShelfTile::Quilt), s)}, step);
}

}  // namespace evenclay
