// Where guide curves lie on a face (guide_curves.h).
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/points/guide_curves.h"

namespace evenclay {

namespace {

constexpr std::size_t kMost = 40;

// The parameter plane laid out in mm, with the guides' direction and the way across them.
class Across {
 public:
  Across(const Face& face, double angle) : face_(face), region_(face) {
    const Surface& s = *face.surface;
    scale_ = mean_scale(*face.surface);
    if (!(scale_.u > 0.0 && scale_.v > 0.0))
      throw Error(say("The face has no length in one direction, so no guide can be laid on it."));
    const double a = angle * std::numbers::pi / 180.0;
    along_ = {std::cos(a), std::sin(a)};
    if (std::abs(along_.u) < 1e-12) along_ = {0.0, along_.v < 0.0 ? -1.0 : 1.0};
    if (std::abs(along_.v) < 1e-12) along_ = {along_.u < 0.0 ? -1.0 : 1.0, 0.0};
    if (region_.whole()) {
      polygons_.push_back({{region_.u_low(), region_.v_low()},
                           {region_.u_high(), region_.v_low()},
                           {region_.u_high(), region_.v_high()},
                           {region_.u_low(), region_.v_high()}});
    } else {
      for (const Loop& loop : face.loops) polygons_.push_back(loop_polygon(loop, s));
    }
    low_ = 1e300;
    high_ = -1e300;
    for (const auto& polygon : polygons_)
      for (const Parameter& p : polygon) {
        low_ = std::min(low_, offset(p));
        high_ = std::max(high_, offset(p));
      }
  }

  double share(const GuidePlace& place) const {
    if (!place.through) return place.across;
    const Surface& s = *face_.surface;
    const Parameter p{s.u.first() + place.through->u * s.u.length(),
                      s.v.first() + place.through->v * s.v.length()};
    return (offset(p) - low_) / (high_ - low_);
  }

  // Nothing when the line at this share runs beside the face.
  std::optional<GuideLine> line(double share) const {
    const double at = low_ + share * (high_ - low_);
    if (const auto round = closed_line(at)) return round;
    double from = 1e300, to = -1e300;
    for (const auto& polygon : polygons_)
      for (std::size_t k = 0; k < polygon.size(); ++k)
        meet(polygon[k], polygon[(k + 1) % polygon.size()], at, from, to);
    if (!(to - from > 1e-6 * (high_ - low_))) return std::nullopt;
    return GuideLine{place(from, at), place(to, at), false};
  }

 private:
  double offset(const Parameter& p) const {
    return -p.u * scale_.u * along_.v + p.v * scale_.v * along_.u;
  }
  double way(const Parameter& p) const {
    return p.u * scale_.u * along_.u + p.v * scale_.v * along_.v;
  }
  Parameter place(double way, double offset) const {
    return {(way * along_.u - offset * along_.v) / scale_.u,
            (way * along_.v + offset * along_.u) / scale_.v};
  }
  void meet(const Parameter& a, const Parameter& b, double at, double& from, double& to) const {
    const double da = offset(a) - at, db = offset(b) - at;
    const double near = 1e-9 * (high_ - low_);
    for (const auto& [d, p] : {std::pair{da, a}, std::pair{db, b}})
      if (std::abs(d) <= near) {
        from = std::min(from, way(p));
        to = std::max(to, way(p));
      }
    if (da * db >= 0.0) return;
    const double t = da / (da - db);
    const double w = way(a) + t * (way(b) - way(a));
    from = std::min(from, w);
    to = std::max(to, w);
  }
  // Once round, where the direction is closed and the face lies under all of it.
  std::optional<GuideLine> closed_line(double at) const {
    const Surface& s = *face_.surface;
    const bool u = along_.v == 0.0 && s.u.periodic;
    const bool v = along_.u == 0.0 && s.v.periodic;
    if (!u && !v) return std::nullopt;
    const Parameter on = place(0.0, at);
    const GuideLine line = u ? GuideLine{{s.u.first(), on.v}, {s.u.last(), on.v}, true}
                             : GuideLine{{on.u, s.v.first()}, {on.u, s.v.last()}, true};
    constexpr int kPlaces = 64;
    for (int k = 0; k < kPlaces && !region_.whole(); ++k) {
      const Parameter p = line.at((k + 0.5) / kPlaces);
      if (!region_.contains(p.u, p.v)) return std::nullopt;
    }
    return line;
  }

  const Face& face_;
  FaceRegion region_;
  Parameter scale_, along_;
  std::vector<std::vector<Parameter>> polygons_;
  double low_ = 0.0, high_ = 0.0;
};

}  // namespace

Parameter mean_scale(const Surface& s) {
  const SurfaceEvaluator e(s);
  constexpr int kPlaces = 8;
  Parameter sum;
  for (int i = 0; i < kPlaces; ++i)
    for (int j = 0; j < kPlaces; ++j) {
      const PointTangents t = e.tangents(s.u.first() + s.u.length() * (i + 0.5) / kPlaces,
                                         s.v.first() + s.v.length() * (j + 0.5) / kPlaces);
      sum.u += length(t.du) / (kPlaces * kPlaces);
      sum.v += length(t.dv) / (kPlaces * kPlaces);
    }
  return sum;
}

std::vector<GuideLine> guide_lines(const Face& face, const GuideLayout& layout) {
  const Across across(face, layout.angle);
  std::vector<double> shares;
  for (const GuidePlace& p : layout.places) {
    shares.push_back(across.share(p));
    if (layout.both_sides) shares.push_back(1.0 - shares.back());
  }
  std::sort(shares.begin(), shares.end());
  const auto same = [](double a, double b) { return std::abs(a - b) < 1e-6; };
  shares.erase(std::unique(shares.begin(), shares.end(), same), shares.end());
  if (shares.empty())
    throw Error(say(
        "There is no guide curve. Click a place on the face, or type how far across it, such as "
        "25, 50, 75."));
  if (shares.size() > kMost)
    throw Error(
        say("{} guide curves are too many for one face; use at most {}.", shares.size(), kMost));
  std::vector<GuideLine> lines;
  for (const double share : shares) {
    const auto line = across.line(share);
    if (!line)
      throw Error(
          say("The guide curve at {:.4g} % of the way across lies beside the face. Choose "
              "places between 0 and 100 %.",
              100.0 * share));
    lines.push_back(*line);
  }
  return lines;
}

}  // namespace evenclay
