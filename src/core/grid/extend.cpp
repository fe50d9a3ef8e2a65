#include "core/grid/extend.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/arc_length.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/line_matrix.h"
#include "core/nurbs/refit.h"

namespace evenclay {

namespace {

constexpr double kPoleTolerance = 1e-9;  // mm

const char* name_of(Border e) {
  switch (e) {
    case Border::UMin:
      return "edge where u begins";
    case Border::UMax:
      return "edge where u ends";
    case Border::VMin:
      return "edge where v begins";
    case Border::VMax:
      return "edge where v ends";
  }
  return "";
}

Direction across(Border e) {
  return e == Border::UMin || e == Border::UMax ? Direction::U : Direction::V;
}

bool at_end(Border e) {
  return e == Border::UMax || e == Border::VMax;
}

// --- below, the edge is always the end of u ---------------------------------------------------

Surface with_end(const Surface& s, double end) {
  KnotVector to = s.u;
  std::fill(to.knots.end() - (s.u.degree + 1), to.knots.end(), end);
  return applied(end_moved(s.u, end), s, Direction::U, to);
}

Surface grown(const Surface& s, double mm) {
  const double border = s.u.last();
  // Hardly farther than asked for: weights that stay positive so far need not do so beyond.
  double reach = 0.01 * s.u.length();
  for (int tries = 0; tries < 200; ++tries) {
    const Surface longer = with_end(s, border + reach);
    Region added = whole(longer);
    added.u_begin = border;
    const ArcLengthMap map(longer, Direction::U, added);
    if (map.mean_length() >= mm) return with_end(s, map.at_share(mm / map.mean_length()).parameter);
    reach *= std::clamp(1.02 * mm / map.mean_length(), 1.02, 2.0);
  }
  throw Error(say("The surface cannot be carried on by {:g} mm.", mm));
}

double widest_middle(const KnotVector& k) {
  const std::vector<double> breaks = breakpoints(k);
  std::size_t widest = 0;
  for (std::size_t i = 0; i + 1 < breaks.size(); ++i)
    if (breaks[i + 1] - breaks[i] > (breaks[widest + 1] - breaks[widest]) * (1.0 + 1e-9))
      widest = i;
  return 0.5 * (breaks[widest] + breaks[widest + 1]);
}

Surface shrunk(const Surface& s, double mm, Border edge) {
  const ArcLengthMap map(s, Direction::U, whole(s));
  if (!(mm < 0.999 * map.mean_length()))
    throw Error(
        say("Shrinking the {} by {:g} mm leaves nothing: the surface is {:.4g} mm long "
            "there. Use a shorter length.",
            name_of(edge), mm, map.mean_length()));
  const double place = map.at_share(1.0 - mm / map.mean_length()).parameter;
  Surface result = split(s, Direction::U, place).first;
  while (result.points.rows() < s.points.rows())
    result = insert_knots(result, Direction::U, std::array<double, 1>{widest_middle(result.u)});
  return result;
}

// The surface without weights, on as few halvings of its spans as the tolerance takes.
struct Unweighted {
  Surface surface;
  Deviation deviation;
};

Unweighted without_weights(const Surface& s, double tolerance, Progress& progress) {
  constexpr int kMost = 400;  // control points a direction
  Surface finer = s;
  for (;;) {
    Unweighted result{refit(s, finer.u, finer.v, {}, progress), {}};
    result.deviation = deviation(s, result.surface, progress);
    if (result.deviation.max <= tolerance) return result;
    const int most = std::max(finer.points.rows(), finer.points.columns());
    if (2 * most > kMost)
      throw Error(
          say("The surface's weights cannot be carried on, and without them it would not keep its "
              "shape within the tolerance. Rebuild it first, which makes all weights 1."));
    finer = insert_halfway(insert_halfway(finer, Direction::V), Direction::U);
  }
}

// How the two sides of the old border meet: one-sided derivatives a hair beside it.
void measure_border(const Surface& s, double border, Extended& out) {
  const double hair = 1e-7 * s.u.length();
  for (int k = 0; k < 25; ++k) {
    const double v = s.v.first() + s.v.length() * (k + 0.5) / 25;
    const SurfaceDerivatives a = derivatives(s, border - hair, v, 2);
    const SurfaceDerivatives b = derivatives(s, border + hair, v, 2);
    const Vec3 na = normalized(cross(a.du(), a.dv()));
    const Vec3 nb = normalized(cross(b.du(), b.dv()));
    const Vec3 step = a.du() * hair + b.du() * hair;
    out.gap = std::max(out.gap, length(b.p() - a.p() - step));
    out.angle = std::max(out.angle, degrees_between(na, nb));
    const double ca = dot(a.duu(), na) / std::max(dot(a.du(), a.du()), 1e-300);
    const double cb = dot(b.duu(), nb) / std::max(dot(b.du(), b.du()), 1e-300);
    const double greater = std::max(std::abs(ca), std::abs(cb));
    if (greater > 1e-4)  // flatter than that counts as flat
      out.curvature_share = std::max(out.curvature_share, std::abs(ca - cb) / greater);
  }
}

// One edge grown or shrunk.
Surface changed(const Surface& surface, Border edge, double mm, Extended& measured) {
  // Turned so that the edge is the end of u, and back again.
  const Direction d = across(edge);
  const auto turn = [&](Surface s) { return d == Direction::U ? std::move(s) : transposed(s); };
  Surface s = turn(surface);
  if (!at_end(edge)) s = reversed(s, Direction::U);
  const double border = s.u.last();
  s = mm > 0.0 ? grown(s, mm) : shrunk(s, -mm, edge);
  if (mm > 0.0) measure_border(s, border, measured);
  if (!at_end(edge)) {
    // Back to the old parameters: reversing mirrors about the new domain.
    const double first = knots_of(surface, d).last() - (s.u.last() - s.u.first());
    const double last = knots_of(surface, d).last();
    s = reparameterised(reversed(s, Direction::U), Direction::U, first, last);
  }
  return turn(std::move(s));
}

void check_edge(const Surface& surface, Border edge, double mm) {
  if (!std::isfinite(mm)) throw Error(say("A length to extend by is not a number."));
  const Direction d = across(edge);
  if (knots_of(surface, d).periodic)
    throw Error(
        say("{} is closed and has no edge to extend. Open it first, or extend the "
            "other direction.",
            d == Direction::U ? "u" : "v"));
  if (mm > 0.0 && is_pole(surface, edge, kPoleTolerance))
    throw Error(
        say("The {} is a pole, a single point, and has nothing to carry on. Shrink it "
            "first, or extend another edge.",
            name_of(edge)));
}

Extended with_edges(const Surface& surface, const ExtendOptions& o, Progress& progress) {
  Extended result{surface, 0.0, 0.0, 0.0};
  for (std::size_t e = 0; e < kBorders.size(); ++e) {
    if (o.lengths[e] == 0.0) continue;
    progress.check();
    check_edge(surface, kBorders[e], o.lengths[e]);
    result.surface = changed(result.surface, kBorders[e], o.lengths[e], result);
  }
  return result;
}

}  // namespace

Extended extend(const Surface& surface, const ExtendOptions& o, Progress& progress) {
  try {
    return with_edges(surface, o, progress);
  } catch (const WeightError&) {
    const Unweighted plain = without_weights(surface, o.tolerance, progress);
    Extended result = with_edges(plain.surface, o, progress);
    result.unweighted = plain.deviation;
    return result;
  }
}

}  // namespace evenclay
