#include "core/operations/tiles.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <numeric>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/join.h"
#include "core/cut/trim.h"
#include "core/mesh/cut_mesh.h"
#include "core/operations/common.h"
#include "core/operations/tile_mesh.h"
#include "core/pattern/pairing.h"
#include "core/source/copies.h"

namespace evenclay {

// Beside what there is, so that it lies free.
void ShelfTileOperation::suit(const Beginning& b) {
  Box3 all;
  for (const auto& [id, shape] : b.parts)
    if (shape && !is_empty(*shape)) all.add(rough_box(*shape));
  if (all.empty()) return;
  corner.x = std::ceil(all.max.x + 0.5 * sizes.length_x);
}

void ShelfTileOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 8> kinds{{{"dimple", "Dimple"},
                                                {"rib", "Rib"},
                                                {"wave", "Wave"},
                                                {"hex", "Hexagons"},
                                                {"quilt", "Quilt cell"},
                                                {"knurl", "Knurl"},
                                                {"perforation", "Perforation"},
                                                {"scale", "Scale"}}};
  visit_choice(v, {"tile", "Kind", "What the tile is."}, tile, kinds);
  const NumberRange length{0.001, 100000.0, "mm", 0.5, 3};
  v.number({"length_x", "Length", "Of the tile along x."}, sizes.length_x, length);
  v.number(
      {"length_y", "Width", "Of the tile along y; hexagons are regular at 1.732 times the length."},
      sizes.length_y, length);
  v.number({"height", "Height", "A hollow goes down by it, a ridge up."}, sizes.height,
           {-1000.0, 1000.0, "mm", 0.1, 3});
  v.number({"width", "Width of the feature", "As a share of the tile's shorter side."}, sizes.width,
           {0.05, 1.0, "", 0.05, 3});
  if (tile != ShelfTile::Knurl && tile != ShelfTile::Perforation)
    v.count({"points", "Points each way", "Control points of the tile."}, sizes.points, {6, 40});
  describe_place(v, corner, "Corner", "corner");
}

std::string ShelfTileOperation::summary() const {
  static constexpr const char* names[] = {"dimple", "rib",   "wave",        "hexagons",
                                          "quilt",  "knurl", "perforation", "scale"};
  return fmt::format("{}, {:g} × {:g} mm", names[static_cast<std::size_t>(tile)], sizes.length_x,
                     sizes.length_y);
}

Outcome ShelfTileOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  Body made = make_shelf_tile(tile, sizes, inputs.step);
  Body placed_body = placed(made, moved_by(corner), inputs.step, 0);
  std::vector<std::string> notes;
  if (tile == ShelfTile::Hex &&
      std::abs(sizes.length_y / sizes.length_x - std::numbers::sqrt3) > 0.01)
    notes.push_back(say("The hexagons are regular at a width of {:.3f} mm.",
                        sizes.length_x * std::numbers::sqrt3));
  return {std::move(placed_body), std::move(notes)};
}

void DiagonalTileOperation::describe(ParameterVisitor& v) {
  v.count({"across", "Tiles across", "So many tiles along x goes the side of the new one."}, across,
          {1, 6});
  v.count({"up", "Tiles up", "And so many along y: 1 and 1 turn by 45°."}, up, {1, 6});
}

std::string DiagonalTileOperation::summary() const {
  return fmt::format("{:.1f}°", std::atan2(up, across) * 180.0 / std::numbers::pi);
}

namespace {

// Between the vertices of cut edges heights and normals are taken along straight lines: so fine that this is no fault
// of the tile.
constexpr int kPairingDivisions = 96;

// The square of the lattice whose side goes `across` and `up` tiles, and where tiles have to lie to cover it.
struct LatticeSquare {
  double tile, side, angle;
  Vec3 corner;
  std::vector<Placement> tiles;
};

LatticeSquare lattice_square(const PatternBase& base, int across, int up) {
  LatticeSquare s{};
  s.tile = base.length_x;
  s.side = s.tile * std::hypot(across, up);
  s.angle = std::atan2(up, across);
  // Its sides run clear of all corners of the tiles, which a cut would rather not meet: on the lines
  // up · x − across · y = 0.4 and across · x + up · y = 0.2, counted in tiles.
  const double square = across * across + up * up;
  const Vec3 shift{(up * 0.4 + across * 0.2) / square, (up * 0.2 - across * 0.4) / square, 0.0};
  s.corner = base.frame.origin + shift * s.tile;
  const Vec3 x{std::cos(s.angle), std::sin(s.angle), 0};
  const Vec3 y{-x.y, x.x, 0};
  for (int i = -up - 1; i <= across + 1; ++i)
    for (int j = -2; j <= across + up + 1; ++j) {
      // The tile's middle in the square's frame; its half diagonal reaches no farther.
      const Vec3 corner{i * s.tile, j * s.tile, 0};
      const Vec3 middle = corner + (Vec3{0.5, 0.5, 0} - shift) * s.tile;
      const double reach = 0.5 * s.tile * std::numbers::sqrt2;
      const double u = dot(middle, x);
      const double w = dot(middle, y);
      if (u < -reach || u > s.side + reach || w < -reach || w > s.side + reach) continue;
      s.tiles.push_back(moved_by(corner));
    }
  return s;
}

Placement back_to(const LatticeSquare& s, const Vec3& origin) {
  Placement p = turned_about(s.corner, {0, 0, 1}, -s.angle * 180.0 / std::numbers::pi);
  p.shift += origin - s.corner;
  return p;
}

Body cut_square(const Body& tile, const LatticeSquare& s, const Vec3& origin, double tolerance,
                int step, Progress& progress) {
  Body all;
  for (std::size_t k = 0; k < s.tiles.size(); ++k)
    append(all, placed(tile, s.tiles[k], step, k + 1));
  all = placed(joined(all, tolerance).body, back_to(s, origin), step, 0);
  // Side by side: a cut along one plane at a time keeps the corners sharper than one along all four.
  const double far = 20.0 * s.side;
  for (const auto& [x0, x1, y0, y1] : {std::array{0.0, far, -far, far},
                                       {-far, s.side, -far, far},
                                       {-far, far, 0.0, far},
                                       {-far, far, -far, s.side}}) {
    const auto at = [&](double x, double y) { return origin + Vec3{x, y, 0}; };
    const std::array<Curve, 1> curves{
        make_curve({at(x0, y0), at(x1, y0), at(x1, y1), at(x0, y1)}, 1, true)};
    all = trim(all, curves, {.direction = {0, 0, 1}, .keep = TrimKeep::Inside, .step = step},
               progress)
              .body;
  }
  return all;
}

TriangleMesh cut_square(const TriangleMesh& tile, const LatticeSquare& s, const Vec3& origin) {
  TriangleMesh all;
  for (const Placement& p : s.tiles) append(all, placed(tile, p));
  all = placed(all, back_to(s, origin));
  const double near = 1e-6 * s.tile;
  all = welded(all, near);
  for (const auto& [way, at] : {std::pair{Vec3{-1, 0, 0}, 0.0},
                                {Vec3{1, 0, 0}, s.side},
                                {Vec3{0, -1, 0}, 0.0},
                                {Vec3{0, 1, 0}, s.side}})
    all =
        cut_by_plane(all, origin + Vec3{std::abs(way.x) * at, std::abs(way.y) * at, 0}, way, near);
  return all;
}

}  // namespace

Outcome DiagonalTileOperation::apply(const Shape& before, const Inputs& inputs,
                                     Progress& progress) const {
  if (is_empty(before)) throw Error(say("There is no tile to repeat yet."));
  if (std::gcd(across, up) != 1)
    throw Error(say("Take the counts without their common factor: 1 and 1 instead of 2 and 2."));
  const TriangleMesh mesh = tile_mesh(before, 6, progress);
  const PatternBase base = base_of(mesh);
  if (!(std::min(base.length_x, base.length_y) > 0.0))
    throw Error(say("The tile covers no area seen from above. Lay it flat on the ground plane."));
  if (std::abs(base.length_x - base.length_y) > 1e-3 * base.length_x)
    throw Error(
        say("Only a square tile has a square that repeats when it is turned; this one is "
            "{:.3f} × {:.3f} mm. Change its "
            "sizes.",
            base.length_x, base.length_y));
  const LatticeSquare s = lattice_square(base, across, up);
  std::vector<std::string> notes{
      say("The new tile is {:.3f} mm square and holds {} of the old ones.", s.side,
          across * across + up * up)};
  if (const auto* own = std::get_if<TriangleMesh>(&before))
    return {cut_square(*own, s, base.frame.origin), std::move(notes)};
  Body cut = cut_square(std::get<Body>(before), s, base.frame.origin, inputs.tolerance, inputs.step,
                        progress);
  const TilePairing p = pairing_of(tile_mesh(cut, kPairingDivisions, progress),
                                   {base.frame, s.side, s.side}, 1e-4 * s.side);
  notes.push_back(say("Opposite edges meet within {:.4f} mm and {:.3f}°.", p.gap, p.angle));
  return {std::move(cut), std::move(notes)};
}

void PairEdgesOperation::describe(ParameterVisitor& v) {
  v.toggle({"along_x", "Edges along x", "The edges at both ends of x."}, along_x);
  v.toggle({"along_y", "Edges along y", "The edges at both ends of y."}, along_y);
  v.toggle({"slopes", "Slopes too", "Off makes only the heights alike and leaves a crease."},
           slopes);
}

std::string PairEdgesOperation::summary() const {
  return slopes ? "heights and slopes" : "heights";
}

namespace {

// Opposite rows get their mean height; the rows beside them the mean rise per length.
void pair_rows(Surface& s, bool slopes) {
  const int n = s.points.rows();
  const auto apart = [](const Vec3& p, const Vec3& q) {
    return std::abs(q.x - p.x) + std::abs(q.y - p.y);
  };
  for (int j = 0; j < s.points.columns(); ++j) {
    Vec3& a = s.points(0, j);
    Vec3& b = s.points(n - 1, j);
    Vec3& beside_a = s.points(1, j);
    Vec3& beside_b = s.points(n - 2, j);
    const double step_a = apart(a, beside_a);
    const double step_b = apart(beside_b, b);
    const double rise = 0.5 * ((beside_a.z - a.z) / std::max(1e-12, step_a) +
                               (b.z - beside_b.z) / std::max(1e-12, step_b));
    a.z = b.z = 0.5 * (a.z + b.z);
    if (!slopes || n < 4) continue;
    beside_a.z = a.z + rise * step_a;
    beside_b.z = b.z - rise * step_b;
  }
}

// Whether u runs along x rather than y.
bool u_along_x(const Surface& s) {
  const Vec3 way = s.points(s.points.rows() - 1, 0) - s.points(0, 0);
  return std::abs(way.x) >= std::abs(way.y);
}

}  // namespace

Outcome PairEdgesOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  const Body& body = faces_of(before, label());
  if (body.faces.size() != 1)
    throw Error(
        say("Edges are paired on a tile of one surface. Rebuild or convert it to one first."));
  refuse_trimmed(body.faces.front(), label());
  Surface s = *body.faces.front().surface;
  if (s.u.periodic || s.v.periodic)
    throw Error(say("The tile is closed in one direction and has no edges to pair there."));
  if (s.rational())
    for (int k = 0; k < s.points.columns(); ++k)
      if (s.weight(0, k) != s.weight(s.points.rows() - 1, k))
        throw Error(say("Points on opposite edges have different weights. Make them alike first."));
  const bool x_is_u = u_along_x(s);
  if (x_is_u ? along_x : along_y) pair_rows(s, slopes);
  s = transposed(s);
  if (x_is_u ? along_y : along_x) pair_rows(s, slopes);
  s = transposed(s);
  Outcome outcome{with_surface(body, 0, std::move(s)), {}};
  const TriangleMesh mesh = tile_mesh(outcome.shape, 24, progress);
  const PatternBase base = base_of(mesh);
  const TilePairing p = pairing_of(mesh, base, near_of(base));
  outcome.notes.push_back(say("Opposite edges meet within {:.4f} mm and {:.3f}°.", p.gap, p.angle));
  return outcome;
}

}  // namespace evenclay
