// The rules of Catmull–Clark, written once for anything that can be summed: places (refine.cpp), and weights of control
// points (limit_plan.cpp). Sources as in refine.h.
#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/subdivision/form.h"

namespace evenclay {

/// What a point does while it is subdivided, by how many sharp edges meet there.
enum class PointRule { Smooth, Crease, Corner };

inline PointRule rule_of(std::size_t sharp_edges, bool lone_corner) {
  if (lone_corner || sharp_edges > 2) return PointRule::Corner;
  return sharp_edges == 2 ? PointRule::Crease : PointRule::Smooth;
}

inline double next_sharpness(double s) {
  return s >= kSharp ? kSharp : std::max(0.0, s - 1.0);
}

/// What a subdivision makes of the points of a form: in this order one for each point, each edge, each face. P adds, and
/// is multiplied and divided by numbers.
template <typename P>
class SubdivisionRules {
 public:
  SubdivisionRules(const Form& form, const FormTopology& topology, const std::vector<P>& points)
      : form_(form), t_(topology), points_(points) {
    middles_.reserve(form.faces.size());
    for (const FormFace& f : form.faces) {
      P sum{};
      for (const std::uint32_t p : f.points) sum += points[p];
      middles_.push_back(sum / static_cast<double>(f.points.size()));
    }
  }

  const P& of_face(std::uint32_t f) const { return middles_[f]; }
  P of_edge(const FormTopology::Edge& e) const {
    const P middle = (points_[e.points[0]] + points_[e.points[1]]) * 0.5;
    const double s = sharpness(e);
    if (s >= 1.0) return middle;
    const P smooth = middle * 0.5 + (middles_[static_cast<std::size_t>(e.faces[0])] +
                                     middles_[static_cast<std::size_t>(e.faces[1])]) *
                                        0.25;
    return s > 0.0 ? smooth * (1.0 - s) + middle * s : smooth;
  }
  /// Where creases run out within this subdivision, the rules of before and after are mixed by their share.
  P of_point(std::uint32_t p) const {
    const bool lone = t_.faces_of_point[p].size() == 1;
    std::size_t now = 0, then = 0, ending = 0;
    double share = 0.0;
    for (const std::uint32_t e : t_.edges_of_point[p]) {
      const double s = sharpness(t_.edges[e]);
      if (!(s > 0.0)) continue;
      ++now;
      if (next_sharpness(s) > 0.0) {
        ++then;
        continue;
      }
      ++ending;
      share += s;
    }
    const PointRule before = rule_of(now, lone);
    const PointRule after = rule_of(then, lone);
    if (before == after || ending == 0) return by_rule(p, before, 0);
    const double weight = std::min(1.0, share / static_cast<double>(ending));
    return by_rule(p, before, 0) * weight + by_rule(p, after, 1) * (1.0 - weight);
  }

 private:
  double sharpness(const FormTopology::Edge& e) const {
    if (e.border()) return kSharp;
    return form_.creases.empty() ? 0.0 : form_.crease(e.points[0], e.points[1]);
  }
  P smooth_place(std::uint32_t p) const {
    const auto n = static_cast<double>(t_.edges_of_point[p].size());
    P faces{}, ends{};
    for (const std::uint32_t f : t_.faces_of_point[p]) faces += middles_[f];
    for (const std::uint32_t e : t_.edges_of_point[p]) {
      const FormEdge& points = t_.edges[e].points;
      ends += points_[points[0] == p ? points[1] : points[0]];
    }
    return (faces / n + ends / n + points_[p] * (n - 2.0)) / n;
  }
  // By the sharp edges after `falls` subdivisions.
  P by_rule(std::uint32_t p, PointRule rule, int falls) const {
    if (rule == PointRule::Smooth) return smooth_place(p);
    if (rule == PointRule::Corner) return points_[p];
    P sum = points_[p] * 6.0;
    for (const std::uint32_t e : t_.edges_of_point[p]) {
      double s = sharpness(t_.edges[e]);
      for (int k = 0; k < falls; ++k) s = next_sharpness(s);
      const FormEdge& points = t_.edges[e].points;
      if (s > 0.0) sum += points_[points[0] == p ? points[1] : points[0]];
    }
    return sum / 8.0;
  }

  const Form& form_;
  const FormTopology& t_;
  const std::vector<P>& points_;
  std::vector<P> middles_;
};

}  // namespace evenclay
