#include "core/subdivision/patches.h"

#include <algorithm>

namespace evenclay {

namespace {

// How far the corner of the neighbour that answers this cell's first lies from the point that both share.
struct Across {
  std::size_t here, turn;  // a corner of the side, and which corner of the neighbour it is
};
constexpr std::array<Across, 4> kAcross{{{0, 3}, {1, 0}, {3, 0}, {0, 1}}};

}  // namespace

Cell cell_at(const Form& form, std::uint32_t face, std::uint32_t from) {
  const auto& p = form.faces[face].points;
  const auto at = static_cast<std::size_t>(std::find(p.begin(), p.end(), from) - p.begin());
  return {face, {p[at % 4], p[(at + 1) % 4], p[(at + 2) % 4], p[(at + 3) % 4]}};
}

Walker::Walker(const Form& form)
    : form_(form), links_(links_of(form)), topology_(&links_->topology) {}

bool Walker::sharp(std::uint32_t a, std::uint32_t b) const {
  return topology_->edges[topology_->number.at(form_edge(a, b))].border() ||
         form_.crease(a, b) >= kSharp;
}

std::optional<Cell> Walker::beyond(const Cell& cell, Side side) const {
  const auto k = static_cast<std::size_t>(side);
  const std::uint32_t a = cell.points[k];
  const std::uint32_t b = cell.points[(k + 1) % 4];
  if (sharp(a, b)) return std::nullopt;
  const auto& faces = topology_->edges[topology_->number.at(form_edge(a, b))].faces;
  const std::int32_t other = faces[0] == static_cast<std::int32_t>(cell.face) ? faces[1] : faces[0];
  // Turned so that the shared corner is the one that answers it.
  Cell next = cell_at(form_, static_cast<std::uint32_t>(other), cell.points[kAcross[k].here]);
  std::array<std::uint32_t, 4> turned{};
  for (std::size_t c = 0; c < 4; ++c) turned[(c + kAcross[k].turn) % 4] = next.points[c];
  next.points = turned;
  return next;
}

Walker::Sector Walker::sector(std::uint32_t face, std::uint32_t point) const {
  Sector result;
  for (const std::uint32_t e : topology_->edges_of_point[point]) {
    const FormEdge& ends = topology_->edges[e].points;
    if (sharp(ends[0], ends[1])) ++result.sharp_edges;
  }
  const std::size_t all = topology_->faces_of_point[point].size();
  // Round the point both ways until a sharp edge stops.
  Cell cell = cell_at(form_, face, point);
  result.faces = 1;
  while (result.faces < all) {
    const auto next = beyond(cell, Side::Left);
    if (!next) break;
    cell = cell_at(form_, next->face, point);
    ++result.faces;
  }
  if (result.faces == all && beyond(cell, Side::Left)) {
    result.closed = true;
    return result;
  }
  cell = cell_at(form_, face, point);
  while (result.faces < all) {
    const auto next = beyond(cell, Side::Down);
    if (!next) break;
    cell = cell_at(form_, next->face, point);
    ++result.faces;
  }
  return result;
}

bool Walker::regular(std::uint32_t face, std::uint32_t corner) const {
  const Sector s = sector(face, corner);
  if (s.sharp_edges == 0) return s.closed && s.faces == 4;
  const bool lone = topology_->faces_of_point[corner].size() == 1;
  if (s.sharp_edges > 2 || lone) return s.faces == 1;
  return s.sharp_edges == 2 && s.faces == 2;
}

bool Walker::regular(std::uint32_t face) const {
  const auto& p = form_.faces[face].points;
  return p.size() == 4 &&
         std::all_of(p.begin(), p.end(), [&](std::uint32_t c) { return regular(face, c); });
}

namespace {

// P is what a point of the form is taken for, by `at`.
template <typename P, typename At>
std::array<std::array<P, 4>, 4> patch_of(const Walker& w, const Cell& cell, const At& at) {
  std::array<std::array<P, 4>, 4> p{};
  p[1][1] = at(cell.points[0]);
  p[2][1] = at(cell.points[1]);
  p[2][2] = at(cell.points[2]);
  p[1][2] = at(cell.points[3]);
  const auto down = w.beyond(cell, Side::Down);
  const auto right = w.beyond(cell, Side::Right);
  const auto up = w.beyond(cell, Side::Up);
  const auto left = w.beyond(cell, Side::Left);
  const auto mirrored = [](const P& border, const P& inner) { return border * 2.0 - inner; };
  p[1][0] = down ? at(down->points[0]) : mirrored(p[1][1], p[1][2]);
  p[2][0] = down ? at(down->points[1]) : mirrored(p[2][1], p[2][2]);
  p[1][3] = up ? at(up->points[3]) : mirrored(p[1][2], p[1][1]);
  p[2][3] = up ? at(up->points[2]) : mirrored(p[2][2], p[2][1]);
  p[0][1] = left ? at(left->points[0]) : mirrored(p[1][1], p[2][1]);
  p[0][2] = left ? at(left->points[3]) : mirrored(p[1][2], p[2][2]);
  p[3][1] = right ? at(right->points[1]) : mirrored(p[2][1], p[1][1]);
  p[3][2] = right ? at(right->points[2]) : mirrored(p[2][2], p[1][2]);
  // The corners: of the cell beyond both sides, else mirrored at the side that is sharp.
  const auto corner = [&](const std::optional<Cell>& across, Side onward, std::size_t which,
                          bool onward_open, std::size_t i, std::size_t j, std::size_t ii,
                          std::size_t jj) {
    // (ii, jj): the next place inwards along u and along v
    if (across && onward_open) {
      if (const auto far = w.beyond(*across, onward)) {
        p[i][j] = at(far->points[which]);
        return;
      }
    }
    if (!across)
      p[i][j] = mirrored(p[ii][j], p[ii + (ii - i)][j]);
    else
      p[i][j] = mirrored(p[i][jj], p[i][jj + (jj - j)]);
  };
  corner(left, Side::Down, 0, down.has_value(), 0, 0, 1, 1);
  corner(left, Side::Up, 3, up.has_value(), 0, 3, 1, 2);
  corner(right, Side::Down, 1, down.has_value(), 3, 0, 2, 1);
  corner(right, Side::Up, 2, up.has_value(), 3, 3, 2, 2);
  return p;
}

}  // namespace

PatchPoints patch_points(const Walker& w, const Cell& cell) {
  return patch_of<Vec3>(w, cell, [&](std::uint32_t k) { return w.form().points[k]; });
}

std::array<std::array<Weights, 4>, 4> patch_weights(const Walker& w, const Cell& cell) {
  return patch_of<Weights>(w, cell, [](std::uint32_t k) { return Weights(k); });
}

std::array<double, 4> span_basis(double t) {
  const double s = 1.0 - t;
  return {s * s * s / 6.0, (3 * t * t * t - 6 * t * t + 4) / 6.0,
          (3 * s * s * s - 6 * s * s + 4) / 6.0, t * t * t / 6.0};
}

std::array<double, 4> span_slope(double t) {
  const double s = 1.0 - t;
  return {-s * s / 2.0, (3 * t * t - 4 * t) / 2.0, -(3 * s * s - 4 * s) / 2.0, t * t / 2.0};
}

PatchPlace evaluate(const PatchPoints& points, double u, double v) {
  const auto bu = span_basis(u), bv = span_basis(v), du = span_slope(u), dv = span_slope(v);
  PatchPlace r;
  for (std::size_t i = 0; i < 4; ++i)
    for (std::size_t j = 0; j < 4; ++j) {
      r.p += points[i][j] * (bu[i] * bv[j]);
      r.du += points[i][j] * (du[i] * bv[j]);
      r.dv += points[i][j] * (bu[i] * dv[j]);
    }
  return r;
}

}  // namespace evenclay
