#include "core/body/region.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace evenclay {

namespace {

void add_points(const CurveEvaluator& uv, double t0, const Vec3& a, double t1, const Vec3& b,
                double scale_u, double scale_v, double fine, int depth,
                std::vector<Parameter>& out) {
  const double t = 0.5 * (t0 + t1);
  const Vec3 m = uv.point(t);
  const double du = (m.x - 0.5 * (a.x + b.x)) / scale_u;
  const double dv = (m.y - 0.5 * (a.y + b.y)) / scale_v;
  if (depth > 0 && du * du + dv * dv > fine * fine) {
    add_points(uv, t0, a, t, m, scale_u, scale_v, fine, depth - 1, out);
    add_points(uv, t, m, t1, b, scale_u, scale_v, fine, depth - 1, out);
    return;
  }
  out.push_back({a.x, a.y});
}

bool is_straight(const Curve& uv) {
  return uv.knots.degree == 1 && uv.points.size() == 2;
}

}  // namespace

std::vector<Parameter> loop_polygon(const Loop& loop, const Surface& s, double fine) {
  std::vector<Parameter> result;
  for (const EdgeUse& use : loop) {
    std::vector<Parameter> piece;
    if (is_straight(use.uv)) {
      piece = {{use.uv.points[0].x, use.uv.points[0].y}, {use.uv.points[1].x, use.uv.points[1].y}};
    } else {
      const CurveEvaluator uv(use.uv);
      const std::vector<double> places = sample_places(use.uv.knots, fine < 5e-5 ? 4 : 1);
      for (std::size_t k = 0; k + 1 < places.size(); ++k)
        add_points(uv, places[k], uv.point(places[k]), places[k + 1], uv.point(places[k + 1]),
                   s.u.length(), s.v.length(), fine, 8, piece);
      const Vec3 end = uv.point(use.uv.knots.last());
      piece.push_back({end.x, end.y});
    }
    if (!use.forward) std::reverse(piece.begin(), piece.end());
    result.insert(result.end(), piece.begin(), piece.end() - 1);
  }
  return result;
}

bool winds_round(const std::vector<Parameter>& polygon, const Parameter& p) {
  bool inside = false;
  for (std::size_t k = 0; k < polygon.size(); ++k) {
    const Parameter& a = polygon[k];
    const Parameter& b = polygon[(k + 1) % polygon.size()];
    if ((a.v <= p.v) != (b.v <= p.v) && p.u < a.u + (b.u - a.u) * ((p.v - a.v) / (b.v - a.v)))
      inside = !inside;
  }
  return inside;
}

double doubled_area(const std::vector<Parameter>& p) {
  double sum = 0.0;
  for (std::size_t k = 0; k < p.size(); ++k) {
    const Parameter& a = p[k];
    const Parameter& b = p[(k + 1) % p.size()];
    sum += a.u * b.v - b.u * a.v;
  }
  return sum;
}

FaceRegion::FaceRegion(const Face& face) {
  const Surface& s = *face.surface;
  low_ = {s.u.first(), s.v.first()};
  high_ = {s.u.last(), s.v.last()};
  if (!face.trimmed()) return;
  if (s.u.periodic) turn_u_ = s.u.length();
  if (s.v.periodic) turn_v_ = s.v.length();
  std::vector<Segment> all;
  low_ = {1e300, 1e300};
  high_ = {-1e300, -1e300};
  for (const Loop& loop : face.loops) {
    const std::vector<Parameter> p = loop_polygon(loop, s);
    for (std::size_t k = 0; k < p.size(); ++k) {
      all.push_back({p[k], p[(k + 1) % p.size()]});
      low_ = {std::min(low_[0], p[k].u), std::min(low_[1], p[k].v)};
      high_ = {std::max(high_[0], p[k].u), std::max(high_[1], p[k].v)};
    }
  }
  const auto count = std::clamp<std::size_t>(all.size() / 4, 1, 4096);
  bands_.resize(count);
  const double height = std::max(high_[1] - low_[1], 1e-300);
  const auto band = [&](double v) {
    const double k = (v - low_[1]) / height * static_cast<double>(count);
    return std::min(static_cast<std::size_t>(std::max(k, 0.0)), count - 1);
  };
  for (const Segment& g : all)
    for (std::size_t k = band(std::min(g.a.v, g.b.v)); k <= band(std::max(g.a.v, g.b.v)); ++k)
      bands_[k].push_back(g);
}

std::vector<double> FaceRegion::crossings(double v) const {
  if (bands_.empty()) return {low_[0], high_[0]};
  std::vector<double> result;
  if (!(v >= low_[1] && v <= high_[1])) return result;
  const double height = std::max(high_[1] - low_[1], 1e-300);
  const auto k =
      static_cast<std::size_t>((v - low_[1]) / height * static_cast<double>(bands_.size()));
  for (const Segment& g : bands_[std::min(k, bands_.size() - 1)]) {
    if ((g.a.v <= v) == (g.b.v <= v)) continue;
    result.push_back(g.a.u + (g.b.u - g.a.u) * ((v - g.a.v) / (g.b.v - g.a.v)));
  }
  std::sort(result.begin(), result.end());
  return result;
}

bool FaceRegion::contains(double u, double v) const {
  if (bands_.empty()) return true;
  const auto inside = [&](double a, double b) {
    const std::vector<double> at = crossings(b);
    return (std::lower_bound(at.begin(), at.end(), a) - at.begin()) % 2 == 1;
  };
  for (const double du : {0.0, -turn_u_, turn_u_}) {
    for (const double dv : {0.0, -turn_v_, turn_v_}) {
      if (inside(u + du, v + dv)) return true;
      if (turn_v_ == 0.0) break;
    }
    if (turn_u_ == 0.0) break;
  }
  return false;
}

Parameter inner_place(const FaceRegion& region) {
  Parameter best{0.5 * (region.u_low() + region.u_high()),
                 0.5 * (region.v_low() + region.v_high())};
  double widest = 0.0;
  constexpr int kLines = 31;
  for (int k = 0; k < kLines; ++k) {
    // Nearer the middle counts more, so that a long thin border strip does not win.
    const double share = (k + 0.5) / kLines;
    const double v = region.v_low() + (region.v_high() - region.v_low()) * share;
    const std::vector<double> at = region.crossings(v);
    for (std::size_t n = 0; n + 1 < at.size(); n += 2) {
      const double width = (at[n + 1] - at[n]) * (1.0 - std::abs(2.0 * share - 1.0));
      if (width <= widest) continue;
      widest = width;
      best = {0.5 * (at[n] + at[n + 1]), v};
    }
  }
  return best;
}

double parameter_area(const Face& face) {
  if (!face.trimmed()) return std::numeric_limits<double>::infinity();
  double sum = 0.0;
  const std::vector<bool> turned = loops_turned(face);
  for (std::size_t l = 0; l < face.loops.size(); ++l)
    sum += (turned[l] ? -1.0 : 1.0) * doubled_area(loop_polygon(face.loops[l], *face.surface));
  return sum;
}

std::vector<bool> loops_turned(const Face& face) {
  std::vector<std::vector<Parameter>> polygons;
  for (const Loop& loop : face.loops) polygons.push_back(loop_polygon(loop, *face.surface));
  return loops_turned(polygons);
}

std::vector<bool> loops_turned(const std::vector<std::vector<Parameter>>& polygons) {
  std::vector<bool> turned;
  for (std::size_t n = 0; n < polygons.size(); ++n) {
    // Inside an odd number of other loops it is an opening.
    bool opening = false;
    for (std::size_t m = 0; m < polygons.size(); ++m)
      if (m != n) opening ^= winds_round(polygons[m], polygons[n].front());
    turned.push_back((doubled_area(polygons[n]) < 0.0) != opening);
  }
  return turned;
}

}  // namespace evenclay
