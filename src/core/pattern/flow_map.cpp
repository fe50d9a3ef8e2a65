#include <fmt/format.h>

#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/pattern/flow.h"
#include "core/pattern/flow_ends.h"

namespace evenclay {

namespace {

// The linear part: shares of the tile to shares along the target's u and v.
struct Turn {
  // along = origin + a s + b t for u and for v
  double u0, us, ut, v0, vs, vt;
};

Turn turn_of(const FlowOptions& o) {
  static constexpr std::array<Turn, 4> turns{
      {{0, 1, 0, 0, 0, 1}, {1, 0, -1, 0, 1, 0}, {1, -1, 0, 1, 0, -1}, {0, 0, 1, 1, -1, 0}}};
  Turn t = turns[static_cast<std::size_t>(o.corner)];
  if (o.flip_u) t = {1 - t.u0, -t.us, -t.ut, t.v0, t.vs, t.vt};
  if (o.flip_v) t = {t.u0, t.us, t.ut, 1 - t.v0, -t.vs, -t.vt};
  return t;
}

}  // namespace

TileVertex turned(const TileVertex& v, const FlowOptions& o) {
  const Turn t = turn_of(o);
  return {t.u0 + t.us * v.s + t.ut * v.t,
          t.v0 + t.vs * v.s + t.vt * v.t,
          v.z,
          {t.us * v.slope.x + t.ut * v.slope.y, t.vs * v.slope.x + t.vt * v.slope.y, v.slope.z}};
}

bool is_mirrored(const Chart& chart, const FlowOptions& o) {
  const Turn t = turn_of(o);
  return (t.us * t.vt - t.ut * t.vs) * side_of(chart, o) < 0.0;
}

double side_of(const Chart& chart, const FlowOptions& o) {
  return chart.cells(0, 0).outward != o.inward ? 1.0 : -1.0;
}

namespace {

bool beyond_ends(const ChartRegion& r, bool around_s, bool around_t) {
  constexpr double e = 1e-9;
  return r.s_to - r.s_from > 1 + e || r.t_to - r.t_from > 1 + e ||
         (!around_s && (r.s_from < -e || r.s_to > 1 + e)) ||
         (!around_t && (r.t_from < -e || r.t_to > 1 + e));
}

}  // namespace

FlowEnds ends_of(const Chart& chart, const FlowOptions& o) {
  constexpr double e = 1e-9;
  const ChartRegion& r = o.region;
  if (!(r.s_to - r.s_from > 1e-6) || !(r.t_to - r.t_from > 1e-6))
    throw Error(
        say("The region on the target has no extent. Let its end be greater than its begin in both "
            "directions."));
  FlowEnds ends;
  ends.around_s = chart.around_s && std::abs(r.s_to - r.s_from - 1.0) < e;
  ends.around_t = chart.around_t && std::abs(r.t_to - r.t_from - 1.0) < e;
  const bool touches[4] = {r.s_from<e, r.s_to> 1 - e, r.t_from<e, r.t_to> 1 - e};
  for (std::size_t k = 0; k < 4; ++k) ends.pole[k] = touches[k] && chart.pole[k];
  const auto complain = [](const char* direction) {
    throw Error(say(
        "The target's {} direction has no length at one end (a pole). Choose a band that leaves "
        "out the pole, or flow from pole to pole.",
        direction));
  };
  if (ends.pole[0] != ends.pole[1]) complain("u");
  if (ends.pole[2] != ends.pole[3]) complain("v");
  if (beyond_ends(r, chart.around_s, chart.around_t))
    throw Error(say("The region on the target must lie between 0 and 1 in both directions."));
  return ends;
}

void check_counts(const FlowOptions& o) {
  if (o.count_u < 1 || o.count_u > 500 || o.count_v < 1 || o.count_v > 500)
    throw Error(say("{} × {} repeats cannot be used; choose 1 to 500 in each direction.", o.count_u,
                    o.count_v));
}

namespace {

// Before any length is asked for, which would say less of what is wrong.
const FlowOptions& checked(const Chart& chart, const FlowOptions& o) {
  check_counts(o);
  ends_of(chart, o);
  return o;
}

}  // namespace

FlowMap::FlowMap(const Chart& chart, const FlowOptions& options, const HeightRule& heights)
    : options_(checked(chart, options)),
      heights_(heights),
      along_s_(chart, Direction::U, options.region, options.even),
      along_t_(chart, Direction::V, options.region, options.even),
      evaluators_(chart.cells.rows(), chart.cells.columns()),
      surfaces_(chart.cells.rows(), chart.cells.columns()),
      side_(side_of(chart, options)) {
  options_.made.clear();
  for (int c = 0; c < chart.cells.rows(); ++c)
    for (int r = 0; r < chart.cells.columns(); ++r) {
      surfaces_(c, r) = chart.cells(c, r).surface;
      evaluators_(c, r) = std::make_shared<const SurfaceEvaluator>(*surfaces_(c, r));
    }
}

Vec3 FlowMap::point(double s, double t, double z) const {
  const double share_s = s / options_.count_u;
  const double share_t = t / options_.count_v;
  const Spread::Place u = along_s_.at(share_s);
  const Spread::Place v = along_t_.at(share_t);
  const PointTangents d = evaluators_(u.cell, v.cell)->tangents(u.parameter, v.parameter);
  const Surface& surface = *surfaces_(u.cell, v.cell);
  const Vec3 n = has_sound_normal(d.du, d.dv, surface.u.length(), surface.v.length())
                     ? normalized(cross(d.du, d.dv))
                     : normal(surface, u.parameter, v.parameter);
  const double f = heights_.factor * height_factor(heights_, share_s, share_t).value;
  return d.p + n * (side_ * (f * z + heights_.offset));
}

FlowMap::Placed FlowMap::placed(const TileVertex& vertex, int a, int b) const {
  const double share_s = (a + vertex.s) / options_.count_u;
  const double share_t = (b + vertex.t) / options_.count_v;
  const Spread::Place u = along_s_.at(share_s);
  const Spread::Place v = along_t_.at(share_t);
  const FlowInput in = flow_input(vertex, u, v, share_s, share_t, options_, heights_);
  Placed placed;
  unsigned char sound = 0;
  const kernels::FlowRun run{u.parameter, 1, &v.parameter, &in.h, &in.nu, &in.nv, &in.nh, side_};
  evaluators_(u.cell, v.cell)
      ->flow(run, std::span(&placed.point, 1), std::span(&placed.normal, 1), std::span(&sound, 1));
  if (!sound) {
    const Vec3 n = normal(*surfaces_(u.cell, v.cell), u.parameter, v.parameter) * side_;
    placed = {evaluators_(u.cell, v.cell)->point(u.parameter, v.parameter) + n * in.h, n};
  }
  return placed;
}

void fit_counts(FlowOptions& o, const Chart& chart, double tile_u, double tile_v) {
  const auto whole = [](double length, double tile) {
    return static_cast<int>(std::clamp(std::round(length / tile), 1.0, 500.0));
  };
  if (tile_u > 0.0) o.count_u = whole(length_along(chart, Direction::U, o.region), tile_u);
  if (tile_v > 0.0) o.count_v = whole(length_along(chart, Direction::V, o.region), tile_v);
}

}  // namespace evenclay
