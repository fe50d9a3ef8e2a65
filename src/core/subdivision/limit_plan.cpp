#include "core/subdivision/limit_plan.h"

#include <algorithm>
#include <optional>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/subdivision/refine.h"
#include "core/subdivision/refine_rules.h"

namespace evenclay {

namespace {

// Weights of a few points: what the rules sum instead of places.
class Weights {
 public:
  Weights() = default;
  explicit Weights(std::uint32_t point) : terms_{{point, 1.0}} {}

  const std::vector<std::pair<std::uint32_t, double>>& terms() const { return terms_; }
  Weights& operator+=(const Weights& other) { return add(other, 1.0); }
  Weights operator+(const Weights& other) const { return Weights(*this).add(other, 1.0); }
  Weights operator-(const Weights& other) const { return Weights(*this).add(other, -1.0); }
  Weights operator*(double f) const {
    Weights r = *this;
    for (auto& t : r.terms_) t.second *= f;
    return r;
  }
  Weights operator/(double f) const { return *this * (1.0 / f); }

 private:
  Weights& add(const Weights& other, double f) {
    for (const auto& [point, w] : other.terms_) {
      const auto found = std::find_if(terms_.begin(), terms_.end(),
                                      [p = point](const auto& t) { return t.first == p; });
      if (found == terms_.end())
        terms_.emplace_back(point, w * f);
      else
        found->second += w * f;
    }
    return *this;
  }
  std::vector<std::pair<std::uint32_t, double>> terms_;
};

}  // namespace

// Rows of one subdivision are written in terms of those before.
class LimitPlanMaker {
 public:
  using Rows = LimitPlan::Rows;

  static Rows unit(std::size_t points) {
    Rows r;
    for (std::uint32_t p = 0; p < points; ++p) {
      r.index.push_back(p);
      r.weight.push_back(1.0);
      r.begin.push_back(p + 1);
    }
    return r;
  }

  explicit LimitPlanMaker(std::size_t controls) : dense_(controls, 0.0), seen_(controls, 0) {}

  // The row of `local`, which weighs rows of `below`, as one of control points.
  void append(const Weights& local, const Rows& below, Rows& out) {
    touched_.clear();
    ++mark_;
    for (const auto& [row, w] : local.terms()) {
      if (w == 0.0) continue;
      for (std::uint32_t k = below.begin[row]; k < below.begin[row + 1]; ++k) {
        const std::uint32_t p = below.index[k];
        if (seen_[p] != mark_) {
          seen_[p] = mark_;
          dense_[p] = 0.0;
          touched_.push_back(p);
        }
        dense_[p] += w * below.weight[k];
      }
    }
    for (const std::uint32_t p : touched_) {
      out.index.push_back(p);
      out.weight.push_back(dense_[p]);
    }
    out.begin.push_back(static_cast<std::uint32_t>(out.index.size()));
  }

  Rows subdivided_rows(const Form& form, const Rows& below, Progress& progress) {
    const std::shared_ptr<const FormLinks> links = links_of(form);
    const FormTopology& t = links->topology;
    std::vector<Weights> units;
    for (std::uint32_t p = 0; p < form.points.size(); ++p) units.emplace_back(p);
    const SubdivisionRules<Weights> rules(form, t, units);
    Rows out;
    for (std::uint32_t p = 0; p < form.points.size(); ++p) {
      if (p % 4096 == 0) progress.check();
      append(rules.of_point(p), below, out);
    }
    for (const FormTopology::Edge& e : t.edges) append(rules.of_edge(e), below, out);
    for (std::uint32_t f = 0; f < form.faces.size(); ++f) append(rules.of_face(f), below, out);
    return out;
  }

 private:
  std::vector<double> dense_;
  std::vector<std::uint32_t> seen_;
  std::uint32_t mark_ = 0;
  std::vector<std::uint32_t> touched_;
};

LimitPlan::LimitPlan(const Form& form, int levels, Progress& progress)
    : links_(links_of(form)), creases_(form.creases), levels_(levels) {
  if (levels < 0 || levels > 6) throw Error("A form is drawn with 0 to 6 subdivisions.");
  LimitPlanMaker maker(form.points.size());
  Rows rows = LimitPlanMaker::unit(form.points.size());
  Form fine = form;
  fine.links = links_;
  for (int k = 0; k < 18 && (k < levels || !ready_for_limit(fine)); ++k) {
    rows = maker.subdivided_rows(fine, rows, progress);
    fine = linked(subdivided(fine, progress));
  }
  std::vector<Weights> units;
  for (std::uint32_t p = 0; p < fine.points.size(); ++p) units.emplace_back(p);
  const LimitRules<Weights> limit(fine, fine.links->topology, units);
  std::vector<std::array<std::uint32_t, 4>> corners(fine.faces.size());
  for (std::uint32_t p = 0; p < fine.points.size(); ++p) {
    if (p % 4096 == 0) progress.check();
    const LimitAtPoint<Weights> at = limit.at(p);
    for (std::size_t s = 0; s < at.sectors.size(); ++s) {
      const auto vertex = static_cast<std::uint32_t>(vertices());
      maker.append(at.place, rows, places_);
      for (const Weights& t : at.tangents[s]) maker.append(t, rows, tangents_);
      tangents_begin_.push_back(static_cast<std::uint32_t>(tangents_.begin.size() - 1));
      set_corners(fine, at.fan, at.sectors[s], p, vertex, corners);
    }
  }
  // How a quadrangle is halved is settled once, by the shape it has now.
  TriangleMesh now;
  now.points.resize(vertices());
  for (std::size_t v = 0; v < vertices(); ++v) now.points[v] = sum(places_, v, form.points);
  for (const auto& c : corners) add_quad(now.points, c, triangles_);
  find_reach(form.points.size());
}

// Which vertices each point moves, or turns the normals of.
void LimitPlan::find_reach(std::size_t controls) {
  std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;  // control point, vertex
  std::vector<std::uint32_t> last(controls, 0xFFFFFFFF);
  for (std::uint32_t v = 0; v < vertices(); ++v) {
    const auto take = [&](const Rows& rows, std::size_t row) {
      for (std::uint32_t k = rows.begin[row]; k < rows.begin[row + 1]; ++k)
        if (std::uint32_t& seen = last[rows.index[k]]; seen != v) {
          seen = v;
          pairs.emplace_back(rows.index[k], v);
        }
    };
    take(places_, v);
    for (std::uint32_t t = tangents_begin_[v]; t < tangents_begin_[v + 1]; ++t) take(tangents_, t);
  }
  reach_begin_.assign(controls + 1, 0);
  for (const auto& [p, v] : pairs) ++reach_begin_[p + 1];
  for (std::size_t p = 0; p < controls; ++p) reach_begin_[p + 1] += reach_begin_[p];
  std::vector<std::uint32_t> at = reach_begin_;
  reach_.resize(pairs.size());
  for (const auto& [p, v] : pairs) reach_[at[p]++] = v;
}

bool LimitPlan::fits(const Form& form, int levels) const {
  return form.links == links_ && levels == levels_ && form.creases == creases_;
}

Vec3 LimitPlan::sum(const Rows& rows, std::size_t row, std::span<const Vec3> points) {
  Vec3 r;
  for (std::uint32_t k = rows.begin[row]; k < rows.begin[row + 1]; ++k) {
    const Vec3& p = points[rows.index[k]];
    const double w = rows.weight[k];
    r.x += w * p.x;
    r.y += w * p.y;
    r.z += w * p.z;
  }
  return r;
}

void LimitPlan::vertex(std::size_t v, std::span<const Vec3> points, TriangleMesh& mesh) const {
  mesh.points[v] = sum(places_, v, points);
  const std::uint32_t first = tangents_begin_[v];
  const std::uint32_t last = tangents_begin_[v + 1];
  Vec3 before = sum(tangents_, first, points);
  Vec3 normal;
  for (std::uint32_t t = first + 1; t < last; ++t) {
    const Vec3 next = sum(tangents_, t, points);
    const Vec3 n = cross(before, next);
    if (const double l = length(n); l > 1e-300) normal += n / l;
    before = next;
  }
  mesh.normals[v] = length(normal) > 0.0 ? normalized(normal) : Vec3{0, 0, 1};
}

TriangleMesh LimitPlan::mesh(std::span<const Vec3> points) const {
  TriangleMesh result;
  result.points.resize(vertices());
  result.normals.resize(vertices());
  result.triangles = triangles_;
  Progress quiet;
  parallel_blocks(vertices(), 4096, quiet, [&](std::size_t from, std::size_t to) {
    for (std::size_t v = from; v < to; ++v) vertex(v, points, result);
  });
  return result;
}

void LimitPlan::update(std::span<const Vec3> points, std::span<const std::uint32_t> moved,
                       TriangleMesh& mesh) const {
  for (const std::uint32_t p : moved)
    for (std::uint32_t k = reach_begin_[p]; k < reach_begin_[p + 1]; ++k)
      vertex(reach_[k], points, mesh);
}

}  // namespace evenclay
