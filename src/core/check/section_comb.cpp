// Combs along sections, also over the poles of a surface.
#include <algorithm>
#include <cmath>
#include <optional>

#include "core/check/on_plane.h"

namespace evenclay {

namespace {

// `lengths` of the domain make the two directions comparable: close to a pole, where one of them
// vanishes, second derivatives are mostly rounding.
std::optional<Tooth> tooth_at(const SurfaceEvaluator& s, const SectionPlane& plane, Parameter p,
                              const Parameter& lengths) {
  const PointSecond d = s.seconds(p.u, p.v);
  const Vec3 raw = cross(d.du, d.dv);
  const double lu = length(d.du) * lengths.u;
  const double lv = length(d.dv) * lengths.v;
  if (!(length(raw) * lengths.u * lengths.v > 2e-3 * (lu * lu + lv * lv))) return std::nullopt;
  const Vec3 n = normalized(raw);
  const Vec3 along = cross(n, plane.normal);
  if (!(length(along) > 1e-6)) return std::nullopt;
  const Vec3 t = normalized(along);
  // t = a du + b dv, by the first fundamental form.
  const double e = dot(d.du, d.du);
  const double f = dot(d.du, d.dv);
  const double g = dot(d.dv, d.dv);
  const double det = e * g - f * f;
  const double a = (g * dot(t, d.du) - f * dot(t, d.dv)) / det;
  const double b = (e * dot(t, d.dv) - f * dot(t, d.du)) / det;
  const double normal_curvature =
      a * a * dot(d.duu, n) + 2.0 * a * b * dot(d.duv, n) + b * b * dot(d.dvv, n);
  const Vec3 inside = cross(plane.normal, t);  // in the plane, across the section
  return Tooth{d.p, inside * (normal_curvature / dot(inside, n))};
}

struct Entry {
  Parameter at;
  Tooth tooth;
  bool limit = false;  // of a pole, from one side
};

class SectionComb {
 public:
  SectionComb(const Surface& surface, const SectionPlane& plane)
      : surface_(surface),
        plane_(plane),
        evaluator_(surface),
        on_(surface, plane),
        lengths_{surface.u.length(), surface.v.length()},
        same_(1e-6 * std::max(size(surface), 1e-9)) {}

  Comb of(const SectionRun& run) {
    std::vector<Parameter> places = run.at;
    if (run.closed) places.push_back(run.at.front());
    if (!run.closed) reach_poles(places);
    fill(places);
    return comb();
  }

 private:
  std::optional<Tooth> tooth(const Parameter& p) const {
    return tooth_at(evaluator_, plane_, p, lengths_);
  }
  Vec3 point(const Parameter& p) const { return evaluator_.point(p.u, p.v); }
  Parameter middle(const Parameter& a, const Parameter& b, double share) const {
    const auto along = [share](const KnotVector& k, double from, double to) {
      if (k.periodic && std::abs(to - from) > 0.5 * k.length())
        to += to < from ? k.length() : -k.length();
      return from + (to - from) * share;
    };
    return on_.refined({along(surface_.u, a.u, b.u), along(surface_.v, a.v, b.v)});
  }

  // The pole straight on from a place, if the edge of the domain that is nearest to `towards` is one.
  std::optional<Parameter> pole(const Parameter& from, const Parameter& towards) const {
    for (const bool in_v : {true, false}) {
      const KnotVector& k = in_v ? surface_.v : surface_.u;
      if (k.periodic) continue;
      const double t = in_v ? towards.v : towards.u;
      const double end = t - k.first() < k.last() - t ? k.first() : k.last();
      Parameter p = from;
      (in_v ? p.v : p.u) = end;
      const PointTangents d = evaluator_.tangents(p.u, p.v);
      const double width = in_v ? length(d.du) * lengths_.u : length(d.dv) * lengths_.v;
      if (width < same_) return p;
    }
    return std::nullopt;
  }

  // A run that ends just before a pole on the plane goes on to it.
  void reach_poles(std::vector<Parameter>& places) const {
    if (places.size() < 2) return;
    for (const bool end : {false, true}) {
      const Parameter last = end ? places.back() : places.front();
      const Parameter before = end ? places[places.size() - 2] : places[1];
      const auto p = pole(last, last);
      if (!p) continue;
      const Vec3 at = point(*p);
      const bool near = distance(at, point(last)) < 2.0 * distance(point(last), point(before));
      if (!near || std::abs(dot(at - plane_.origin, plane_.normal)) > same_) continue;
      if (distance(at, point(last)) > same_) places.insert(end ? places.end() : places.begin(), *p);
    }
  }

  void fill(const std::vector<Parameter>& places) {
    for (std::size_t k = 0; k < places.size();) {
      if (const auto t = tooth(places[k])) {
        entries_.push_back({places[k], *t, false});
        ++k;
        continue;
      }
      std::size_t end = k + 1;
      while (end < places.size() && !tooth(places[end])) ++end;
      over_pole(places, k, end);
      k = end;
    }
  }

  // Places [begin, end) have no tooth. Where they are all one place, the pole, the comb goes up to it from
  // both sides.
  void over_pole(const std::vector<Parameter>& places, std::size_t begin, std::size_t end) {
    const Vec3 at = point(places[begin]);
    for (std::size_t k = begin; k < end; ++k)
      if (distance(point(places[k]), at) > same_) return;
    if (begin > 0)
      for (const Entry& e : up_to_pole(places[begin - 1], places[begin])) entries_.push_back(e);
    if (end < places.size()) {
      std::vector<Entry> after = up_to_pole(places[end], places[end - 1]);
      entries_.insert(entries_.end(), after.rbegin(), after.rend());
    }
  }

  // Teeth ever closer to the pole, and at last the limit that the last two point to.
  std::vector<Entry> up_to_pole(const Parameter& from, const Parameter& towards) const {
    const auto p = pole(from, towards);
    if (!p) return {};
    std::vector<Entry> found;
    for (double rest = 0.5; rest > 0.01; rest *= 0.5) {
      const Parameter q = middle(from, *p, 1.0 - rest);
      if (const auto t = tooth(q)) found.push_back({q, *t, false});
    }
    if (found.size() < 2) return found;
    const Vec3 at = point(*p);
    const Vec3 limit = carried_on(found, at);
    found.push_back({*p, {at, limit}, true});
    return found;
  }

  // The curvature at `at` by the polynomial through the last four teeth over their distance from it
  // (Neville's scheme; Numerical Recipes, section 3.1).
  static Vec3 carried_on(const std::vector<Entry>& teeth, const Vec3& at) {
    const std::size_t count = std::min<std::size_t>(4, teeth.size());
    std::vector<double> d;
    std::vector<Vec3> value;
    for (std::size_t k = teeth.size() - count; k < teeth.size(); ++k) {
      d.push_back(distance(teeth[k].tooth.at, at));
      value.push_back(teeth[k].tooth.curvature);
    }
    for (std::size_t step = 1; step < count; ++step)
      for (std::size_t k = 0; k + step < count; ++k) {
        const double apart = d[k] - d[k + step];
        if (!(apart > 0.0)) return value.back();
        value[k] = value[k + 1] + (value[k + 1] - value[k]) * (d[k + step] / apart);
      }
    return value.front();
  }

  Comb comb() const {
    Comb result;
    for (const Entry& e : entries_) {
      result.teeth.push_back(e.tooth);
      result.greatest = std::max(result.greatest, length(e.tooth.curvature));
    }
    // Rounding bends a straight line to all sides.
    const double nothing = 1e-7 * result.greatest + 1e-9 / std::max(size(surface_), 1e-9);
    for (std::size_t k = 1; k < entries_.size(); ++k) {
      const Entry& a = entries_[k - 1];
      const Entry& b = entries_[k];
      const bool turns = dot(a.tooth.curvature, b.tooth.curvature) < 0.0 &&
                         length(a.tooth.curvature) > nothing && length(b.tooth.curvature) > nothing;
      if (turns) result.inflections.push_back(turning(a, b));
    }
    return result;
  }

  Vec3 turning(const Entry& a, const Entry& b) const {
    if (a.limit || b.limit) return a.limit ? a.tooth.at : b.tooth.at;
    Parameter low = a.at;
    Parameter high = b.at;
    for (int halving = 0; halving < 10; ++halving) {
      const Parameter m = middle(low, high, 0.5);
      const auto t = tooth(m);
      if (!t) break;
      (dot(t->curvature, a.tooth.curvature) >= 0.0 ? low : high) = m;
    }
    return point(middle(low, high, 0.5));
  }

  const Surface& surface_;
  SectionPlane plane_;
  SurfaceEvaluator evaluator_;
  OnPlane on_;
  Parameter lengths_;
  double same_;  // mm within which places are one
  std::vector<Entry> entries_;
};

}  // namespace

Comb section_comb(const Surface& surface, const SectionPlane& plane, const SectionRun& run) {
  return SectionComb(surface, plane).of(run);
}

}  // namespace evenclay
