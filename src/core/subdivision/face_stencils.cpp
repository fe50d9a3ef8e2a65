#include "core/subdivision/face_stencils.h"

#include "core/subdivision/fan.h"
#include "core/subdivision/limit_rules.h"
#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

// One corner of a cell: how many faces lie around it, which of them the cell is, and which of its edges are sharp.
struct CornerFan {
  int faces = 0, cell = 0;
  bool closed = true;
  std::vector<int> sharp;  // of each edge; a border is none

  int edges() const { return closed ? faces : faces + 1; }
  int edge(int k) const { return closed ? (k + faces) % faces : k; }
  int face(int k) const { return closed ? (k + faces) % faces : k; }
  bool has_face(int k) const { return closed || (k >= 0 && k < faces); }
  bool of_cell(int k) const { return edge(k) == edge(cell) || edge(k) == edge(cell + 1); }
  bool beside_cell(int k) const {
    return face(k) == face(cell) || (has_face(cell + 1) && face(k) == face(cell + 1)) ||
           (has_face(cell - 1) && face(k) == face(cell - 1));
  }
};

std::array<CornerFan, 4> read(const std::vector<int>& signature) {
  std::array<CornerFan, 4> corners;
  std::size_t at = 0;
  for (CornerFan& c : corners) {
    c.faces = signature[at++];
    c.cell = signature[at++];
    c.closed = signature[at++] != 0;
    for (int k = 0; k < c.edges(); ++k) c.sharp.push_back(signature[at++]);
  }
  return corners;
}

// Numbers of the points around a cell: its corners, then for each corner in turn the ends of its other edges, then what
// lies opposite in the faces that touch the cell there alone.
struct LocalNumbers {
  std::array<std::vector<int>, 4> ends, diagonals;
  int count = 4;

  explicit LocalNumbers(const std::array<CornerFan, 4>& corners) {
    for (std::size_t k = 0; k < 4; ++k) {
      const CornerFan& c = corners[k];
      ends[k].assign(static_cast<std::size_t>(c.edges()), -1);
      diagonals[k].assign(static_cast<std::size_t>(c.faces), -1);
      ends[k][static_cast<std::size_t>(c.edge(c.cell))] = static_cast<int>((k + 1) % 4);
      ends[k][static_cast<std::size_t>(c.edge(c.cell + 1))] = static_cast<int>((k + 3) % 4);
      for (int& end : ends[k])
        if (end < 0) end = count++;
      for (int f = 0; f < c.faces; ++f)
        if (!c.beside_cell(f)) diagonals[k][static_cast<std::size_t>(f)] = count++;
    }
  }
};

Form local_form(const std::vector<int>& signature) {
  const std::array<CornerFan, 4> corners = read(signature);
  const LocalNumbers numbers(corners);
  Form form;
  form.points.resize(static_cast<std::size_t>(numbers.count));
  for (std::uint64_t p = 0; p < form.points.size(); ++p)
    form.point_tags.push_back(make_tag(1, 1, p));
  const auto add_face = [&](std::array<int, 4> p) {
    FormFace f{make_tag(1, 2, form.faces.size()), {}};
    for (const int q : p) f.points.push_back(static_cast<std::uint32_t>(q));
    form.faces.push_back(std::move(f));
  };
  add_face({0, 1, 2, 3});
  for (std::size_t k = 0; k < 4; ++k) {
    const CornerFan& c = corners[k];
    const auto end = [&](std::size_t corner, int e) {
      return numbers.ends[corner][static_cast<std::size_t>(corners[corner].edge(e))];
    };
    const int own = static_cast<int>(k);
    // Across the edge to the next corner, which knows the point opposite.
    if (c.has_face(c.cell - 1)) {
      const std::size_t next = (k + 1) % 4;
      add_face(
          {own, end(k, c.cell - 1), end(next, corners[next].cell + 2), static_cast<int>(next)});
    }
    for (int f = 0; f < c.faces; ++f)
      if (!c.beside_cell(f))
        add_face(
            {own, end(k, f), numbers.diagonals[k][static_cast<std::size_t>(f)], end(k, f + 1)});
    for (int e = 0; e < c.edges(); ++e)
      if (c.sharp[static_cast<std::size_t>(e)] != 0)
        form.creases[form_edge(static_cast<std::uint32_t>(k),
                               static_cast<std::uint32_t>(end(k, e)))] = kSharp;
  }
  return linked(std::move(form));
}

// Rows of points of a subdivided neighbourhood over the points of that one, as dense columns.
std::vector<double> dense(const SparseRows& rows, const Weights& point, std::size_t columns) {
  std::vector<double> r(columns, 0.0);
  for (const auto& [row, w] : point.terms())
    for (std::uint32_t k = rows.begin[row]; k < rows.begin[row + 1]; ++k)
      r[rows.index[k]] += w * rows.weight[k];
  return r;
}

// A quarter of a face in the grid of the whole.
struct Quarter {
  std::size_t whole;  // cells a side of the whole
  std::size_t corner;

  std::size_t place(std::size_t i, std::size_t j) const {
    const std::size_t n = whole;
    const std::array<std::array<std::size_t, 2>, 4> at{
        {{i, j}, {n - j, i}, {n - i, n - j}, {j, n - i}}};
    return at[corner][0] * (n + 1) + at[corner][1];
  }
};

// A quarter that is a B-spline patch.
void add_patch(const Walker& walker, const Cell& cell, const SparseRows& rows,
               const Quarter& quarter, FaceStencil& out) {
  const auto points = patch_weights(walker, cell);
  const std::size_t m = quarter.whole / 2;
  std::array<std::array<std::vector<double>, 4>, 4> columns;
  for (std::size_t a = 0; a < 4; ++a)
    for (std::size_t b = 0; b < 4; ++b) columns[a][b] = dense(rows, points[a][b], out.columns);
  for (std::size_t i = 0; i <= m; ++i) {
    const double u = static_cast<double>(i) / static_cast<double>(m);
    const auto bu = span_basis(u), du = span_slope(u);
    // The four rows put together first, for the place and for the slope along u.
    std::array<std::array<std::vector<double>, 4>, 2> across;
    for (auto& kind : across) kind.fill(std::vector<double>(out.columns, 0.0));
    for (std::size_t b = 0; b < 4; ++b)
      for (std::size_t a = 0; a < 4; ++a)
        for (std::size_t c = 0; c < out.columns; ++c) {
          across[0][b][c] += bu[a] * columns[a][b][c];
          across[1][b][c] += du[a] * columns[a][b][c];
        }
    for (std::size_t j = 0; j <= m; ++j) {
      const double v = static_cast<double>(j) / static_cast<double>(m);
      const auto bv = span_basis(v), dv = span_slope(v);
      const std::size_t g = quarter.place(i, j);
      for (std::size_t c = 0; c < out.columns; ++c) {
        double sums[3] = {0.0, 0.0, 0.0};
        for (std::size_t b = 0; b < 4; ++b) {
          sums[0] += bv[b] * across[0][b][c];
          sums[1] += bv[b] * across[1][b][c];
          sums[2] += dv[b] * across[0][b][c];
        }
        for (std::size_t kind = 0; kind < 3; ++kind)
          out.planes[(kind * out.columns + c) * out.grid + g] = sums[kind];
      }
    }
  }
}

// A quarter at a special corner, by its own matrix. What is a special corner there stays unwritten: it is one of the
// whole's corners.
void add_quarter(const FaceStencil& inner, const std::vector<std::uint32_t>& points,
                 const SparseRows& rows, const Quarter& quarter, FaceStencil& out) {
  const std::size_t m = quarter.whole / 2;
  std::vector<std::vector<double>> columns;
  for (const std::uint32_t p : points) columns.push_back(dense(rows, Weights(p), out.columns));
  for (std::size_t i = 0; i <= m; ++i)
    for (std::size_t j = 0; j <= m; ++j) {
      if (i == 0 && j == 0) continue;
      const std::size_t g = quarter.place(i, j);
      for (std::size_t kind = 0; kind < 3; ++kind)
        for (std::size_t c = 0; c < out.columns; ++c) {
          double s = 0.0;
          for (std::size_t k = 0; k < inner.columns; ++k)
            s += inner.planes[(kind * inner.columns + k) * inner.grid + i * (m + 1) + j] *
                 columns[k][c];
          out.planes[(kind * out.columns + c) * out.grid + g] = s;
        }
    }
}

// The corners themselves, by their rules.
void add_corners(const Form& form, FaceStencil& out) {
  std::vector<Weights> units;
  for (std::uint32_t p = 0; p < form.points.size(); ++p) units.emplace_back(p);
  const LimitRules<Weights> limit(form, form.links->topology, units);
  const std::array<std::size_t, 4> places{0, 2, 3, 1};  // of 2 × 2
  for (std::uint32_t k = 0; k < 4; ++k) {
    const LimitAtPoint<Weights> at = limit.at(k);
    const auto put = [&](std::size_t kind, const Weights& w) {
      for (const auto& [p, x] : w.terms())
        out.planes[(kind * out.columns + p) * out.grid + places[k]] += x;
    };
    put(0, at.place);
    for (std::size_t s = 0; s < at.sectors.size(); ++s) {
      bool of_cell = false;
      for (std::size_t f = at.sectors[s].first; f < at.sectors[s].first + at.sectors[s].count; ++f)
        of_cell = of_cell || at.fan.faces[f % at.fan.faces.size()] == 0;
      if (!of_cell || at.tangents[s].size() != 2) continue;
      put(1, at.tangents[s][0]);
      put(2, at.tangents[s][1]);
    }
  }
}

}  // namespace

std::optional<Neighbourhood> neighbourhood(const Form& form, const FormTopology& t,
                                           const Cell& cell) {
  Neighbourhood n;
  std::array<Fan, 4> fans;
  for (std::size_t k = 0; k < 4; ++k) {
    fans[k] = fan_of(form, t, cell.points[k]);
    Fan& fan = fans[k];
    const int faces = static_cast<int>(fan.faces.size());
    if (fan.closed && faces < 3) return std::nullopt;
    const auto at = static_cast<int>(std::find(fan.faces.begin(), fan.faces.end(), cell.face) -
                                     fan.faces.begin());
    if (fan.closed) {  // the cell first
      std::rotate(fan.faces.begin(), fan.faces.begin() + at, fan.faces.end());
      std::rotate(fan.ends.begin(), fan.ends.begin() + at, fan.ends.end());
      std::rotate(fan.diagonals.begin(), fan.diagonals.begin() + at, fan.diagonals.end());
    }
    n.signature.insert(n.signature.end(), {faces, fan.closed ? 0 : at, fan.closed ? 1 : 0});
    for (const std::uint32_t end : fan.ends)
      n.signature.push_back(form.crease(cell.points[k], end) >= kSharp ? 1 : 0);
  }
  const std::array<CornerFan, 4> corners = read(n.signature);
  const LocalNumbers numbers(corners);
  n.points.resize(static_cast<std::size_t>(numbers.count));
  for (std::size_t k = 0; k < 4; ++k) {
    n.points[k] = cell.points[k];
    for (std::size_t e = 0; e < numbers.ends[k].size(); ++e)
      n.points[static_cast<std::size_t>(numbers.ends[k][e])] = fans[k].ends[e];
    for (std::size_t f = 0; f < numbers.diagonals[k].size(); ++f)
      if (numbers.diagonals[k][f] >= 0)
        n.points[static_cast<std::size_t>(numbers.diagonals[k][f])] = fans[k].diagonals[f];
  }
  return n;
}

std::uint32_t FaceStencils::number(const std::vector<int>& signature, int levels,
                                   Progress& progress) {
  const auto found = numbers_.find({signature, levels});
  if (found != numbers_.end()) return found->second;
  FaceStencil made = make(signature, levels, progress);
  const auto n = static_cast<std::uint32_t>(all_.size());
  all_.push_back(std::move(made));
  numbers_[{signature, levels}] = n;
  return n;
}

FaceStencil FaceStencils::make(const std::vector<int>& signature, int levels, Progress& progress) {
  progress.check();
  const Form form = local_form(signature);
  FaceStencil out;
  const std::size_t n = std::size_t{1} << levels;
  out.columns = form.points.size();
  out.grid = (n + 1) * (n + 1);
  out.planes.assign(3 * out.columns * out.grid, 0.0);
  if (levels == 0) {
    add_corners(form, out);
    return out;
  }
  RowMaker maker(form.points.size());
  const SparseRows rows = maker.subdivided_rows(form, unit_rows(form.points.size()), progress);
  const Form fine = linked(subdivided(form, progress));
  const Walker walker(fine);
  for (std::uint32_t k = 0; k < 4; ++k) {
    const Cell cell = cell_at(fine, k, fine.faces[k].points[0]);
    const Quarter quarter{n, k};
    if (walker.regular(k)) {
      add_patch(walker, cell, rows, quarter, out);
      continue;
    }
    const auto around = neighbourhood(fine, fine.links->topology, cell);
    const std::uint32_t inner = number(around->signature, levels - 1, progress);
    add_quarter(all_[inner], around->points, rows, quarter, out);
  }
  return out;
}

}  // namespace evenclay
