#include "core/subdivision/limit_tables.h"

#include "core/subdivision/fan.h"
#include "core/subdivision/limit_kernels.h"
#include "core/subdivision/limit_rules.h"
#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

constexpr std::uint32_t kNone = 0xFFFFFFFF;

class TableMaker {
 public:
  TableMaker(const Form& form, int levels, Progress& progress) : progress_(progress), form_(form) {
    form_.links = links_of(form);
    out_.controls = form.points.size();
    int rest = levels;
    for (int k = 0; k < 12 && !ready_for_limit(form_); ++k, --rest) {
      RowMaker maker(out_.controls);
      out_.ready = maker.subdivided_rows(
          form_, out_.ready.size() == 0 ? unit_rows(out_.controls) : out_.ready, progress);
      form_ = linked(subdivided(form_, progress));
    }
    levels_ = std::max(rest, 0);
    out_.cells = std::size_t{1} << levels_;
    out_.ready_points = form_.points.size();
  }

  std::optional<LimitTables> made() {
    number_corners();
    if (!add_faces()) return std::nullopt;
    add_rules();
    number_inner();
    find_reach();
    const std::size_t places = out_.cells + 1, row = limit_kernels::in_fours(places);
    out_.basis.resize(4 * row);
    out_.slope.resize(4 * row);
    for (std::size_t j = 0; j < row; ++j) {
      const double t =
          static_cast<double>(std::min(j, out_.cells)) / static_cast<double>(out_.cells);
      const auto b = span_basis(t), s = span_slope(t);
      for (std::size_t k = 0; k < 4; ++k) {
        out_.basis[k * row + j] = b[k];
        out_.slope[k * row + j] = s[k];
      }
    }
    return std::move(out_);
  }

 private:
  const FormTopology& topology() const { return form_.links->topology; }

  // One vertex for each run of faces between sharp edges.
  void number_corners() {
    const FormTopology& t = topology();
    corners_.assign(form_.faces.size(), {kNone, kNone, kNone, kNone});
    for (std::uint32_t p = 0; p < form_.points.size(); ++p) {
      if (p % 4096 == 0) progress_.check();
      int sharp = 0;
      for (const std::uint32_t e : t.edges_of_point[p]) {
        const FormTopology::Edge& edge = t.edges[e];
        sharp += edge.border() ||
                 (!form_.creases.empty() && form_.crease(edge.points[0], edge.points[1]) >= kSharp);
      }
      if (sharp < 2) {
        const std::uint32_t vertex = new_vertex(p, 0);
        for (const std::uint32_t f : t.faces_of_point[p]) corner_of(f, p) = vertex;
        continue;
      }
      const Fan fan = fan_of(form_, t, p);
      const auto sectors = sectors_at(form_, t, p, fan);
      for (std::uint32_t s = 0; s < sectors.size(); ++s) {
        const std::uint32_t vertex = new_vertex(p, s);
        for (std::size_t k = sectors[s].first; k < sectors[s].first + sectors[s].count; ++k)
          corner_of(fan.faces[k % fan.faces.size()], p) = vertex;
      }
    }
  }
  std::uint32_t new_vertex(std::uint32_t point, std::uint32_t sector) {
    at_.push_back({point, sector});
    return static_cast<std::uint32_t>(out_.vertices++);
  }
  std::uint32_t& corner_of(std::uint32_t face, std::uint32_t point) {
    const auto& p = form_.faces[face].points;
    return corners_[face]
                   [static_cast<std::size_t>(std::find(p.begin(), p.end(), point) - p.begin())];
  }

  bool add_faces() {
    const Walker walker(form_);
    strip_of_edge_.assign(topology().edges.size(), kNone);
    owned_.assign(out_.vertices, 0);
    for (std::uint32_t f = 0; f < form_.faces.size(); ++f) {
      if (f % 1024 == 0) progress_.check();
      LimitFace face;
      face.first_point = static_cast<std::uint32_t>(out_.gather.size());
      const bool patch = walker.regular(f);
      if (patch)
        add_patch(walker, cell_at(form_, f, form_.faces[f].points[0]));
      else if (out_.cells > 1 && !add_stencil(f, face))
        return false;
      face.points = static_cast<std::uint32_t>(out_.gather.size()) - face.first_point;
      for (std::size_t k = 0; k < 4; ++k) {
        face.corners[k] = corners_[f][(k + face.turn) % 4];
        if (patch && owned_[face.corners[k]] == 0) {
          owned_[face.corners[k]] = 1;
          face.own_corners[k] = true;
        }
        add_side(f, face, k);
      }
      out_.faces.push_back(face);
    }
    return true;
  }
  void add_patch(const Walker& walker, const Cell& cell) {
    for (const auto& row : patch_weights(walker, cell))
      for (const Weights& w : row) {
        if (w.terms().size() == 1 && w.terms()[0].second == 1.0) {
          out_.gather.push_back(w.terms()[0].first);
          continue;
        }
        out_.gather.push_back(static_cast<std::uint32_t>(out_.ready_points + out_.mirrored.size()));
        for (const auto& [p, x] : w.terms()) {
          out_.mirrored.index.push_back(p);
          out_.mirrored.weight.push_back(x);
        }
        out_.mirrored.begin.push_back(static_cast<std::uint32_t>(out_.mirrored.index.size()));
      }
  }
  // Begun at the corner from which it looks like most others.
  bool add_stencil(std::uint32_t f, LimitFace& face) {
    Neighbourhood best;
    for (std::uint32_t k = 0; k < 4; ++k) {
      auto around = neighbourhood(form_, topology(), cell_at(form_, f, form_.faces[f].points[k]));
      if (!around) return false;
      if (k > 0 && !(around->signature < best.signature)) continue;
      best = std::move(*around);
      face.turn = k;
    }
    face.stencil = out_.stencils.number(best.signature, levels_, progress_);
    out_.gather.insert(out_.gather.end(), best.points.begin(), best.points.end());
    return true;
  }
  void add_side(std::uint32_t f, LimitFace& face, std::size_t k) {
    if (out_.cells < 2) return;
    const auto& p = form_.faces[f].points;
    const std::uint32_t a = p[(k + face.turn) % 4], b = p[(k + 1 + face.turn) % 4];
    const std::uint32_t e = topology().number.at(form_edge(a, b));
    const bool sharp =
        topology().edges[e].border() || (!form_.creases.empty() && form_.crease(a, b) >= kSharp);
    if (!sharp && strip_of_edge_[e] != kNone) {
      face.sides[k] = {strip_of_edge_[e], false};
      return;
    }
    face.sides[k] = {static_cast<std::uint32_t>(out_.vertices), true};
    if (!sharp) strip_of_edge_[e] = face.sides[k].first;
    out_.vertices += out_.cells - 1;
  }

  void add_rules() {
    std::vector<Weights> units;
    std::optional<LimitRules<Weights>> limit;
    RowMaker maker(out_.ready_points);
    const SparseRows unit = unit_rows(out_.ready_points);
    for (std::uint32_t v = 0; v < owned_.size(); ++v) {
      if (owned_[v] != 0) continue;
      if (!limit) {
        for (std::uint32_t p = 0; p < out_.ready_points; ++p) units.emplace_back(p);
        limit.emplace(form_, topology(), units);
      }
      const LimitAtPoint<Weights> at = limit->at(at_[v][0], levels_);
      LimitCorner c{v, static_cast<std::uint32_t>(out_.rules.size()), 0, 0};
      maker.append(at.place, unit, out_.rules);
      c.first_tangent = static_cast<std::uint32_t>(out_.rules.size());
      for (const Weights& t : at.tangents[at_[v][1]]) maker.append(t, unit, out_.rules);
      c.tangents = static_cast<std::uint32_t>(out_.rules.size()) - c.first_tangent;
      out_.corners.push_back(c);
    }
  }

  void number_inner() {
    const std::size_t inner = (out_.cells - 1) * (out_.cells - 1);
    for (LimitFace& f : out_.faces) {
      f.inner = static_cast<std::uint32_t>(out_.vertices);
      out_.vertices += inner;
    }
  }

  void find_reach() {
    std::vector<std::uint32_t> last(out_.controls, kNone);
    std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;
    const auto of_ready = [&](std::uint32_t r, std::uint32_t item) {
      const auto take = [&](std::uint32_t control) {
        if (last[control] == item) return;
        last[control] = item;
        pairs.emplace_back(control, item);
      };
      if (out_.ready.size() == 0) return take(r);
      for (std::uint32_t k = out_.ready.begin[r]; k < out_.ready.begin[r + 1]; ++k)
        take(out_.ready.index[k]);
    };
    for (std::uint32_t f = 0; f < out_.faces.size(); ++f)
      for (std::uint32_t g = 0; g < out_.faces[f].points; ++g) {
        const std::uint32_t at = out_.gather[out_.faces[f].first_point + g];
        if (at < out_.ready_points) {
          of_ready(at, f);
          continue;
        }
        const std::size_t m = at - out_.ready_points;
        for (std::uint32_t k = out_.mirrored.begin[m]; k < out_.mirrored.begin[m + 1]; ++k)
          of_ready(out_.mirrored.index[k], f);
      }
    out_.faces_of = Reach(pairs, out_.controls);
    pairs.clear();
    last.assign(out_.controls, kNone);
    for (std::uint32_t c = 0; c < out_.corners.size(); ++c)
      for (std::uint32_t row = out_.corners[c].place;
           row < out_.corners[c].first_tangent + out_.corners[c].tangents; ++row)
        for (std::uint32_t k = out_.rules.begin[row]; k < out_.rules.begin[row + 1]; ++k)
          of_ready(out_.rules.index[k], c);
    out_.corners_of = Reach(pairs, out_.controls);
  }

  Progress& progress_;
  Form form_;  // ready for limits
  int levels_ = 0;
  LimitTables out_;
  std::vector<std::array<std::uint32_t, 4>> corners_;  // vertices of each face
  std::vector<std::array<std::uint32_t, 2>> at_;       // point and sector of each corner vertex
  std::vector<std::uint32_t> strip_of_edge_;
  std::vector<char> owned_;
};

}  // namespace

std::optional<LimitTables> limit_tables(const Form& form, int levels, Progress& progress) {
  return TableMaker(form, levels, progress).made();
}

void vertices_of(const LimitTables& tables, const LimitFace& face,
                 std::vector<std::uint32_t>& numbers) {
  const std::size_t n = tables.cells, row = n + 1;
  numbers.resize(row * row);
  const std::array<std::size_t, 4> at{0, n * row, n * row + n, n};
  for (std::size_t k = 0; k < 4; ++k) numbers[at[k]] = face.corners[k];
  for (std::uint32_t t = 1; t < n; ++t) {
    const auto on = [&](std::size_t side) {
      const LimitFace::Strip& s = face.sides[side];
      return s.first + (s.own ? t - 1 : static_cast<std::uint32_t>(n) - 1 - t);
    };
    numbers[t * row] = on(0);
    numbers[n * row + t] = on(1);
    numbers[(n - t) * row + n] = on(2);
    numbers[n - t] = on(3);
  }
  std::uint32_t next = face.inner;
  for (std::size_t i = 1; i < n; ++i)
    for (std::size_t j = 1; j < n; ++j) numbers[i * row + j] = next++;
}

}  // namespace evenclay
