#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/memory.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/pattern/border_cut.h"
#include "core/pattern/flow.h"
#include "core/pattern/flow_ends.h"
#include "core/pattern/flow_layout.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostJoints = 20'000;

}  // namespace

struct FlowPlan::Impl : FlowLayout {};

FlowPlan::FlowPlan(const BasedTile& tile, const Chart& chart, const FlowOptions& o,
                   Progress& progress) {
  check_layout(tile, o);
  const FlowEnds ends = ends_of(chart, o);
  impl_ =
      std::make_shared<const Impl>(Impl{laid_out(tile, o, ends, is_mirrored(chart, o), progress)});
}

std::size_t FlowPlan::vertex_count() const {
  return impl_->vertices.size() + impl_->cut_vertices.size();
}

std::size_t FlowPlan::bytes() const {
  const Impl& i = *impl_;
  return i.tile.size() * (sizeof(TileVertex) + 8) + (i.s.values.size() + i.t.values.size()) * 8 +
         i.vertices.size() * sizeof(FlatVertex) + i.triangles.size() * sizeof(i.triangles[0]) +
         i.joints.size() * sizeof(FlowJoint) + i.run_begin.size() * 4 +
         i.cut_vertices.size() * sizeof(TileVertex);
}

std::string FlowPlan::key(const Chart& chart, const FlowOptions& o) {
  const FlowEnds e = ends_of(chart, o);
  std::string made;
  for (const bool m : o.made) made += m ? '1' : '0';
  if (o.cut)
    for (const auto& loop : o.cut->loops)
      for (const Parameter& p : loop) made += fmt::format(" {:.9g},{:.9g}", p.u, p.v);
  const ChartRegion& r = o.region;
  return fmt::format("{} {} {} {} {} | {} {} {} | {} {} {} {} | {} {} {} {} | {}", o.count_u,
                     o.count_v, static_cast<int>(o.corner), o.flip_u, o.flip_v, side_of(chart, o),
                     o.even, o.weld, r.s_from, r.s_to, r.t_from, r.t_to, e.around_s, e.around_t,
                     fmt::join(e.pole, ""), chart.cells.rows() * 1000 + chart.cells.columns(),
                     made);
}

namespace {

// Inputs of the kernel for a piece of a run, as planes.
struct Batch {
  static constexpr std::size_t kMost = 128;
  std::array<double, kMost> v, h, nu, nv, nh;
  std::array<unsigned char, kMost> sound;
};

}  // namespace

TriangleMesh FlowPlan::onto(const Chart& chart, const HeightRule& heights,
                            Progress& progress) const {
  const Impl& plan = *impl_;
  const FlowOptions& o = plan.options;
  if (ends_of(chart, o) != plan.ends)
    throw Error(say("The target of the pattern is closed in another way than before."));
  const FlowMap map(chart, o, heights);
  std::vector<Spread::Place> along_t(plan.t.values.size() * static_cast<std::size_t>(o.count_v));
  for (std::size_t k = 0; k < along_t.size(); ++k)
    along_t[k] = map.along_t().at(
        (static_cast<double>(k / plan.t.values.size()) + plan.t.values[k % plan.t.values.size()]) /
        o.count_v);
  TriangleMesh result;
  // Room for a pattern of millions takes as long as mapping it: side by side.
  parallel_blocks(3, 1, progress, [&](std::size_t what, std::size_t) {
    const std::size_t count = plan.vertices.size() + plan.cut_vertices.size();
    if (what < 2) {
      std::vector<Vec3>& room = what == 0 ? result.points : result.normals;
      make_room(room, count);
      room.resize(count);
    } else {
      make_room(result.triangles, plan.triangles.size());
      result.triangles = plan.triangles;
    }
  });
  progress.report(0.25);

  std::vector<double> per_v;  // repeats by v, for the normals
  per_v.reserve(along_t.size());
  for (const Spread::Place& v : along_t) per_v.push_back(heights.factor * rate(o.count_v, v.slope));
  const bool plain = heights.plain();

  // `count` vertices of one run from `begin` on, all in one cell.
  const auto piece = [&](Batch& batch, const Spread::Place& u, double share_s, int row,
                         std::size_t begin, std::size_t count) {
    const double per_u = heights.factor * rate(o.count_u, u.slope);
    for (std::size_t k = 0; k < count; ++k) {
      const FlatVertex& f = plan.vertices[begin + k];
      const TileVertex& w = plan.tile[f.source];
      batch.v[k] = along_t[f.t_place].parameter;
      if (plain) {
        batch.h[k] = heights.factor * w.z + heights.offset;
        batch.nu[k] = w.slope.x * per_u;
        batch.nv[k] = w.slope.y * per_v[f.t_place];
        batch.nh[k] = w.slope.z;
        continue;
      }
      const double share_t =
          (static_cast<double>(f.t_place / plan.t.values.size()) + w.t) / o.count_v;
      const FlowInput in = flow_input(w, u, along_t[f.t_place], share_s, share_t, o, heights);
      batch.h[k] = in.h;
      batch.nu[k] = in.nu;
      batch.nv[k] = in.nv;
      batch.nh[k] = in.nh;
    }
    const SurfaceEvaluator& evaluator = *map.evaluators_(u.cell, row);
    const kernels::FlowRun run{u.parameter,     count,           batch.v.data(),  batch.h.data(),
                               batch.nu.data(), batch.nv.data(), batch.nh.data(), map.side_};
    evaluator.flow(run, std::span(result.points).subspan(begin, count),
                   std::span(result.normals).subspan(begin, count), batch.sound);
    for (std::size_t k = 0; k < count; ++k) {
      if (batch.sound[k]) continue;  // below: a pole, whose normal is the limit from inside
      const Vec3 n = normal(*map.surfaces_(u.cell, row), u.parameter, batch.v[k]) * map.side_;
      result.points[begin + k] = evaluator.point(u.parameter, batch.v[k]) + n * batch.h[k];
      result.normals[begin + k] = n;
    }
  };
  parallel_blocks(plan.vertices.size(), 8192, progress, [&](std::size_t begin, std::size_t end) {
    Batch batch;
    const auto next = std::upper_bound(plan.run_begin.begin(), plan.run_begin.end(), begin);
    auto run = static_cast<std::size_t>(next - plan.run_begin.begin()) - 1;
    while (begin < end) {
      while (plan.run_begin[run + 1] <= begin) ++run;
      const std::size_t run_end = std::min<std::size_t>(end, plan.run_begin[run + 1]);
      const double share_s = (static_cast<double>(run / plan.s.values.size()) +
                              plan.s.values[run % plan.s.values.size()]) /
                             o.count_u;
      const Spread::Place u = map.along_s().at(share_s);
      while (begin < run_end) {
        const int row = along_t[plan.vertices[begin].t_place].cell;
        std::size_t count = 1;
        while (count < Batch::kMost && begin + count < run_end &&
               along_t[plan.vertices[begin + count].t_place].cell == row)
          ++count;
        piece(batch, u, share_s, row, begin, count);
        begin += count;
      }
    }
  });
  parallel_blocks(plan.cut_vertices.size(), 512, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const FlowMap::Placed p = map.placed(plan.cut_vertices[k], 0, 0);
      result.points[plan.vertices.size() + k] = p.point;
      result.normals[plan.vertices.size() + k] = p.normal;
    }
  });
  progress.report(1.0);
  return result;
}

FlowJoints FlowPlan::joints(const Chart& chart, const HeightRule& heights) const {
  const Impl& plan = *impl_;
  const FlowMap map(chart, plan.options, heights);
  FlowJoints report;
  report.places = plan.joints.size();
  const std::size_t step = plan.joints.size() / kMostJoints + 1;
  std::size_t looked_at = 0;
  for (std::size_t k = 0; k < plan.joints.size(); k += step, ++looked_at) {
    const FlowJoint& j = plan.joints[k];
    const FlowMap::Placed a = map.placed(plan.tile[j.kept], j.kept_a, j.kept_b);
    const FlowMap::Placed b = map.placed(plan.tile[j.other], j.other_a, j.other_b);
    const double angle = degrees_between(a.normal, b.normal);
    report.mean += angle;
    if (angle <= report.angle) continue;
    report.angle = angle;
    report.at = a.point;
  }
  if (looked_at > 0) report.mean /= static_cast<double>(looked_at);
  return report;
}

TriangleMesh flow(const BasedTile& tile, const Chart& chart, const FlowOptions& options,
                  const HeightRule& heights, Progress& progress) {
  return FlowPlan(tile, chart, options, progress).onto(chart, heights, progress);
}

}  // namespace evenclay
