#include "core/subdivision/limit_plan.h"

#include "core/base/error.h"
#include "core/base/memory.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/subdivision/limit_kernels.h"
#include "core/subdivision/limit_rows.h"
#include "core/subdivision/limit_rules.h"
#include "core/subdivision/limit_tables.h"
#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

// A sum of points that are made when they are asked for.
template <typename At>
Vec3 summed(const SparseRows& rows, std::size_t row, const At& at) {
  Vec3 r;
  for (std::uint32_t k = rows.begin[row]; k < rows.begin[row + 1]; ++k) {
    const Vec3 p = at(rows.index[k]);
    const double w = rows.weight[k];
    r.x += w * p.x;
    r.y += w * p.y;
    r.z += w * p.z;
  }
  return r;
}

// Room for one face.
struct Bench {
  std::vector<double> x, y, z;
  std::array<std::vector<double>, 4> side_points, side_normals;
};

class Evaluation {
 public:
  Evaluation(const LimitTables& tables, std::span<const Vec3> points, TriangleMesh& mesh)
      : t_(tables), points_(points), mesh_(mesh) {}

  /// Works all points out beforehand, for an evaluation of everything.
  void prepare() {
    all_.reserve(t_.ready_points + t_.mirrored.size());
    for (std::uint32_t r = 0; r < t_.ready_points; ++r) all_.push_back(ready(r));
    for (std::uint32_t m = 0; m < t_.mirrored.size(); ++m)
      all_.push_back(sum(t_.mirrored, m, all_));
  }

  void face(const LimitFace& f, Bench& b) const {
    const bool patch = f.stencil == LimitFace::kPatch;
    if (f.points == 0 || (t_.cells < 2 && !own_any(f))) return;
    b.x.resize(f.points);
    b.y.resize(f.points);
    b.z.resize(f.points);
    for (std::uint32_t k = 0; k < f.points; ++k) {
      const Vec3 p = at(t_.gather[f.first_point + k]);
      b.x[k] = p.x;
      b.y[k] = p.y;
      b.z[k] = p.z;
    }
    const std::size_t places = t_.cells + 1;
    limit_kernels::FaceOut out{};
    if (t_.cells > 1) {
      out.points = &mesh_.points[f.inner].x;
      out.normals = &mesh_.normals[f.inner].x;
    }
    for (std::size_t k = 0; k < 4; ++k) {
      b.side_points[k].resize(3 * places);
      b.side_normals[k].resize(3 * places);
      out.side_points[k] = b.side_points[k].data();
      out.side_normals[k] = b.side_normals[k].data();
    }
    const limit_kernels::Table& kernels = limit_kernels::best();
    if (patch) {
      kernels.patch({places, t_.basis.data(), t_.slope.data()}, b.x.data(), b.y.data(), b.z.data(),
                    out);
    } else {
      const FaceStencil& s = t_.stencils.stencil(f.stencil);
      kernels.stencil(s.planes.data(), s.columns, places, b.x.data(), b.y.data(), b.z.data(), out);
    }
    write_sides(f, b);
  }

  void corner(const LimitCorner& c) const {
    const auto of_ready = [&](std::uint32_t r) { return at(r); };
    mesh_.points[c.vertex] = summed(t_.rules, c.place, of_ready);
    Vec3 before = summed(t_.rules, c.first_tangent, of_ready), normal;
    for (std::uint32_t k = 1; k < c.tangents; ++k) {
      const Vec3 next = summed(t_.rules, c.first_tangent + k, of_ready);
      const Vec3 n = cross(before, next);
      if (const double l = length(n); l > 1e-300) normal += n / l;
      before = next;
    }
    mesh_.normals[c.vertex] = length(normal) > 0.0 ? normalized(normal) : Vec3{0, 0, 1};
  }

 private:
  static bool own_any(const LimitFace& f) {
    return f.own_corners[0] || f.own_corners[1] || f.own_corners[2] || f.own_corners[3];
  }
  Vec3 ready(std::uint32_t r) const {
    return t_.ready.size() == 0 ? points_[r] : sum(t_.ready, r, points_);
  }
  Vec3 at(std::uint32_t g) const {
    if (!all_.empty()) return all_[g];
    if (g < t_.ready_points) return ready(g);
    return summed(t_.mirrored, g - t_.ready_points, [&](std::uint32_t r) { return ready(r); });
  }
  void put(std::uint32_t vertex, const Bench& b, std::size_t side, std::size_t place) const {
    const double* p = &b.side_points[side][3 * place];
    const double* n = &b.side_normals[side][3 * place];
    mesh_.points[vertex] = {p[0], p[1], p[2]};
    mesh_.normals[vertex] = {n[0], n[1], n[2]};
  }
  // The first two sides run with the walk round the face, the others against it.
  void write_sides(const LimitFace& f, const Bench& b) const {
    const auto n = static_cast<std::uint32_t>(t_.cells);
    for (std::size_t k = 0; k < 4; ++k) {
      if (f.own_corners[k]) put(f.corners[k], b, k, k < 2 ? 0 : n);
      if (!f.sides[k].own) continue;
      for (std::uint32_t t = 1; t < n; ++t) put(f.sides[k].first + t - 1, b, k, k < 2 ? t : n - t);
    }
  }

  const LimitTables& t_;
  std::span<const Vec3> points_;
  TriangleMesh& mesh_;
  std::vector<Vec3> all_;
};

void evaluate_all(const LimitTables& t, std::span<const Vec3> points, TriangleMesh& mesh,
                  Progress& progress) {
  make_room(mesh.points, t.vertices);
  make_room(mesh.normals, t.vertices);
  mesh.points.resize(t.vertices);
  mesh.normals.resize(t.vertices);
  Evaluation evaluation(t, points, mesh);
  evaluation.prepare();
  const std::size_t block = std::max<std::size_t>(1, 8192 / (t.cells * t.cells));
  parallel_blocks(t.faces.size(), block, progress, [&](std::size_t from, std::size_t to) {
    Bench bench;
    for (std::size_t f = from; f < to; ++f) evaluation.face(t.faces[f], bench);
  });
  for (const LimitCorner& c : t.corners) evaluation.corner(c);
}

// The quadrangles of a face in the order in which subdivisions make them, as places on its grid: the corner, then halves
// of its sides and the middle, quarter after quarter.
using Place = std::array<std::uint32_t, 2>;
void add_quads(const std::array<Place, 4>& c, std::uint32_t row,
               std::vector<std::array<std::uint32_t, 4>>& out) {
  const auto middle = [](const Place& a, const Place& b) {
    return Place{(a[0] + b[0]) / 2, (a[1] + b[1]) / 2};
  };
  const std::uint32_t side = c[0][0] > c[1][0]   ? c[0][0] - c[1][0]
                             : c[1][0] > c[0][0] ? c[1][0] - c[0][0]
                             : c[0][1] > c[1][1] ? c[0][1] - c[1][1]
                                                 : c[1][1] - c[0][1];
  if (side == 1) {
    std::array<std::uint32_t, 4> quad{};
    for (std::size_t k = 0; k < 4; ++k) quad[k] = c[k][0] * row + c[k][1];
    out.push_back(quad);
    return;
  }
  const Place centre = middle(c[0], c[2]);
  for (std::size_t k = 0; k < 4; ++k)
    add_quads({c[k], middle(c[k], c[(k + 1) % 4]), centre, middle(c[(k + 3) % 4], c[k])}, row, out);
}

// The quadrangles of a face, by the turn of its cell.
std::array<std::vector<std::array<std::uint32_t, 4>>, 4> quads_of(std::size_t cells) {
  const auto n = static_cast<std::uint32_t>(cells);
  const std::array<Place, 4> cell{{{0, 0}, {n, 0}, {n, n}, {0, n}}};
  std::array<std::vector<std::array<std::uint32_t, 4>>, 4> quads;
  for (std::size_t turn = 0; turn < 4; ++turn) {
    std::array<Place, 4> face;
    for (std::size_t k = 0; k < 4; ++k) face[k] = cell[(k + 4 - turn) % 4];
    add_quads(face, n + 1, quads[turn]);
  }
  return quads;
}

// How a quadrangle is halved is settled once, by the shape the form has then.
void set_triangles(const LimitTables& t, std::vector<char>& halves, bool settle,
                   TriangleMesh& mesh) {
  const auto quads = quads_of(t.cells);
  const std::size_t of_face = t.cells * t.cells;
  make_room(mesh.triangles, 2 * t.faces.size() * of_face);
  mesh.triangles.resize(2 * t.faces.size() * of_face);
  if (settle) halves.resize(t.faces.size() * of_face);
  Progress quiet;
  const std::size_t block = std::max<std::size_t>(1, 8192 / of_face);
  parallel_blocks(t.faces.size(), block, quiet, [&](std::size_t from, std::size_t to) {
    std::vector<std::uint32_t> numbers;
    for (std::size_t f = from; f < to; ++f) {
      vertices_of(t, t.faces[f], numbers);
      std::size_t at = f * of_face;
      for (const auto& q : quads[t.faces[f].turn]) {
        const std::array<std::uint32_t, 4> c{numbers[q[0]], numbers[q[1]], numbers[q[2]],
                                             numbers[q[3]]};
        if (settle) halves[at] = halved_otherwise(mesh.points, c) ? 1 : 0;
        const auto two = halved(c, halves[at] != 0);
        mesh.triangles[2 * at] = two[0];
        mesh.triangles[2 * at + 1] = two[1];
        ++at;
      }
    }
  });
}

}  // namespace

LimitPlan::LimitPlan(const Form& form, int levels, Progress& progress, TriangleMesh* first)
    : links_(links_of(form)), creases_(form.creases), levels_(levels) {
  if (levels < 0 || levels > 6) throw Error(say("A form is drawn with 0 to 6 subdivisions."));
  auto tables = limit_tables(form, levels, progress);
  if (!tables) {
    rows_ = std::make_unique<const LimitRows>(form, levels, progress);
    if (first != nullptr) *first = rows_->mesh(form.points);
    return;
  }
  TriangleMesh own;
  TriangleMesh& mesh = first != nullptr ? *first : own;
  evaluate_all(*tables, form.points, mesh, progress);
  std::vector<char> halves;
  set_triangles(*tables, halves, true, mesh);
  tables->halves = std::move(halves);
  tables_ = std::make_unique<const LimitTables>(std::move(*tables));
}

LimitPlan::~LimitPlan() = default;
LimitPlan::LimitPlan(LimitPlan&&) noexcept = default;
LimitPlan& LimitPlan::operator=(LimitPlan&&) noexcept = default;

bool LimitPlan::fits(const Form& form, int levels) const {
  return form.links == links_ && levels == levels_ && form.creases == creases_;
}

std::size_t LimitPlan::vertices() const {
  return tables_ ? tables_->vertices : rows_->vertices();
}

std::optional<double> LimitPlan::greatest_sag(const TriangleMesh& mesh) const {
  if (!tables_ || tables_->cells != 2 || tables_->ready.size() != 0) return std::nullopt;
  double sag = 0.0;
  std::vector<std::uint32_t> n;  // of 3 × 3
  for (const LimitFace& f : tables_->faces) {
    vertices_of(*tables_, f, n);
    for (const auto& [a, middle, b] :
         {std::array{0, 3, 6}, std::array{6, 7, 8}, std::array{8, 5, 2}, std::array{2, 1, 0}}) {
      const auto at = [&](int k) { return mesh.points[n[static_cast<std::size_t>(k)]]; };
      sag = std::max(sag, distance((at(a) + at(b)) * 0.5, at(middle)));
    }
  }
  return sag;
}

TriangleMesh LimitPlan::mesh(std::span<const Vec3> points) const {
  if (!tables_) return rows_->mesh(points);
  TriangleMesh result;
  renew(points, result);
  std::vector<char> halves = tables_->halves;
  set_triangles(*tables_, halves, false, result);
  return result;
}

void LimitPlan::renew(std::span<const Vec3> points, TriangleMesh& mesh) const {
  if (!tables_) {
    mesh = rows_->mesh(points);
    return;
  }
  Progress quiet;
  evaluate_all(*tables_, points, mesh, quiet);
}

void LimitPlan::update(std::span<const Vec3> points, std::span<const std::uint32_t> moved,
                       TriangleMesh& mesh) const {
  if (!tables_) return rows_->update(points, moved, mesh);
  std::vector<std::uint32_t> faces, corners;
  for (const std::uint32_t p : moved) {
    const auto f = tables_->faces_of.of(p), c = tables_->corners_of.of(p);
    faces.insert(faces.end(), f.begin(), f.end());
    corners.insert(corners.end(), c.begin(), c.end());
  }
  for (auto* list : {&faces, &corners}) {
    std::sort(list->begin(), list->end());
    list->erase(std::unique(list->begin(), list->end()), list->end());
  }
  const Evaluation evaluation(*tables_, points, mesh);
  Progress quiet;
  parallel_blocks(faces.size(), std::max<std::size_t>(1, 8192 / (tables_->cells * tables_->cells)),
                  quiet, [&](std::size_t from, std::size_t to) {
                    Bench bench;
                    for (std::size_t f = from; f < to; ++f)
                      evaluation.face(tables_->faces[faces[f]], bench);
                  });
  for (const std::uint32_t c : corners) evaluation.corner(tables_->corners[c]);
}

}  // namespace evenclay
