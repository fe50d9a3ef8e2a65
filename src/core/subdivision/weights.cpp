#include "core/subdivision/weights.h"

#include "core/subdivision/refine_rules.h"

namespace evenclay {

Vec3 sum(const SparseRows& rows, std::size_t row, std::span<const Vec3> points) {
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

SparseRows unit_rows(std::size_t points) {
  SparseRows r;
  for (std::uint32_t p = 0; p < points; ++p) {
    r.index.push_back(p);
    r.weight.push_back(1.0);
    r.begin.push_back(p + 1);
  }
  return r;
}

Reach::Reach(const std::vector<std::pair<std::uint32_t, std::uint32_t>>& pairs,
             std::size_t points) {
  begin_.assign(points + 1, 0);
  for (const auto& pair : pairs) ++begin_[pair.first + 1];
  for (std::size_t p = 0; p < points; ++p) begin_[p + 1] += begin_[p];
  std::vector<std::uint32_t> at = begin_;
  items_.resize(pairs.size());
  for (const auto& [p, item] : pairs) items_[at[p]++] = item;
}

void RowMaker::append(const Weights& local, const SparseRows& below, SparseRows& out) {
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

SparseRows RowMaker::subdivided_rows(const Form& form, const SparseRows& below,
                                     Progress& progress) {
  const std::shared_ptr<const FormLinks> links = links_of(form);
  const FormTopology& t = links->topology;
  std::vector<Weights> units;
  for (std::uint32_t p = 0; p < form.points.size(); ++p) units.emplace_back(p);
  const SubdivisionRules<Weights> rules(form, t, units);
  SparseRows out;
  for (std::uint32_t p = 0; p < form.points.size(); ++p) {
    if (p % 4096 == 0) progress.check();
    append(rules.of_point(p), below, out);
  }
  for (const FormTopology::Edge& e : t.edges) append(rules.of_edge(e), below, out);
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) append(rules.of_face(f), below, out);
  return out;
}

}  // namespace evenclay
