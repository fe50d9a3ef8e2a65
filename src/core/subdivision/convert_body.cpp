#include "core/subdivision/convert_body.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/angles.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

Curve line(const Vec3& a, const Vec3& b, double first, double last) {
  return {{1, false, {first, first, last, last}}, {a, b}, {}};
}

// The surface's border between two of its parameters, running with them.
Curve border_curve(const Surface& s, std::size_t side, double from, double to) {
  const bool along_u = side == 0 || side == 2;
  const int last_u = s.points.rows() - 1;
  const int last_v = s.points.columns() - 1;
  Curve c{along_u ? s.u : s.v, {}, {}};
  for (int k = 0; k <= (along_u ? last_u : last_v); ++k)
    c.points.push_back(along_u ? s.points(k, side == 0 ? 0 : last_v)
                               : s.points(side == 3 ? 0 : last_u, k));
  Surface strip = strip_of(c, {0, 0, 1});
  const double least = 1e-9 * c.knots.length();
  if (from > c.knots.first() + least) strip = split(strip, Direction::U, from).second;
  if (to < c.knots.last() - least) strip = split(strip, Direction::U, to).first;
  return first_row(strip);
}

class Assembly {
 public:
  Assembly(const Walker& w, const std::vector<Piece>& pieces, int step)
      : w_(w), pieces_(pieces), step_(step) {
    for (std::size_t p = 0; p < pieces.size(); ++p)
      for (std::size_t s = 0; s < 4; ++s)
        for (std::size_t k = 0; k < pieces[p].sides[s].size(); ++k)
          use_[pieces[p].sides[s][k].walked] = {p, s, k};
  }

  Body run() {
    for (std::size_t p = 0; p < pieces_.size(); ++p) {
      Face face;
      face.tag = make_tag(step_, pieces_[p].tag, 50);
      face.surface = std::make_shared<const Surface>(pieces_[p].surface);
      face.loops.emplace_back();
      for (std::size_t s = 0; s < 4; ++s) add_side(p, s, face.loops.front());
      body_.faces.push_back(std::move(face));
    }
    refresh_gaps(body_);
    return std::move(body_);
  }

 private:
  struct Use {
    std::size_t piece, side, place;
    bool operator==(const Use&) const = default;
  };
  std::optional<Use> other(const BorderStretch& s) const {
    const auto found = use_.find({s.walked[1], s.walked[0]});
    if (found == use_.end()) return std::nullopt;
    return found->second;
  }
  // Whether the next stretch of a side goes on against the same side of the same piece.
  bool goes_on(const std::vector<BorderStretch>& side, std::size_t k) const {
    if (k + 1 >= side.size()) return false;
    if (w_.sharp(side[k].walked[0], side[k].walked[1]) !=
        w_.sharp(side[k + 1].walked[0], side[k + 1].walked[1]))
      return false;
    const auto a = other(side[k]);
    const auto b = other(side[k + 1]);
    if (!a || !b) return !a && !b;
    return a->piece == b->piece && a->side == b->side && b->place + 1 == a->place;
  }

  void add_side(std::size_t p, std::size_t s, Loop& loop) {
    const std::vector<BorderStretch>& side = pieces_[p].sides[s];
    for (std::size_t k = 0; k < side.size();) {
      std::size_t end = k;
      while (goes_on(side, end)) ++end;
      loop.push_back(use_of(p, s, side[k], side[end]));
      k = end + 1;
    }
  }

  EdgeUse use_of(std::size_t p, std::size_t s, const BorderStretch& first,
                 const BorderStretch& last) {
    const Vec3 from{first.u0, first.v0, 0};
    const Vec3 to{last.u1, last.v1, 0};
    const bool rising = s < 2;  // with the parameter of the surface
    const FormEdge begins{last.walked[1], last.walked[0]};
    if (const auto known = made_.find(begins); known != made_.end()) {
      // Walked by the other piece before, the other way round.
      const Edge& edge = body_.edges[known->second.first];
      const bool forward = !known->second.second;
      const KnotVector& k = edge.curve.knots;
      return {known->second.first, forward,
              line(forward ? from : to, forward ? to : from, k.first(), k.last())};
    }
    const bool along_u = s == 0 || s == 2;
    const double a = along_u ? std::min(from.x, to.x) : std::min(from.y, to.y);
    const double b = along_u ? std::max(from.x, to.x) : std::max(from.y, to.y);
    Edge edge;
    edge.tag =
        make_tag(step_, edge_tag(w_.form(), form_edge(first.walked[0], first.walked[1])), 51);
    edge.curve = border_curve(pieces_[p].surface, s, a, b);
    const auto number = static_cast<std::uint32_t>(body_.edges.size());
    const KnotVector& k = edge.curve.knots;
    EdgeUse use{number, rising, line(rising ? from : to, rising ? to : from, k.first(), k.last())};
    body_.edges.push_back(std::move(edge));
    // The other piece walks the run from its end.
    made_[first.walked] = {number, rising};
    return use;
  }

  const Walker& w_;
  const std::vector<Piece>& pieces_;
  int step_;
  std::map<FormEdge, Use> use_;  // by the edge as it is walked
  std::map<FormEdge, std::pair<std::uint32_t, bool>>
      made_;  // by the first edge of the run as it was walked
  Body body_;
};

// A corner of three sharp edges or more may end in a cone: the limit itself has no tangent plane there.
bool has_no_plane(const Walker& w, std::uint32_t point) {
  std::size_t sharp = 0;
  for (const std::uint32_t e : w.topology().edges_of_point[point]) {
    const FormEdge& ends = w.topology().edges[e].points;
    sharp += w.sharp(ends[0], ends[1]) ? 1 : 0;
  }
  return sharp > 2;
}

}  // namespace

Body assembled(const Walker& walker, const std::vector<Piece>& pieces, int step) {
  return Assembly(walker, pieces, step).run();
}

void measure_joints(const Walker& w, const std::vector<Piece>& pieces, ConvertedForm& result) {
  std::map<FormEdge, std::pair<std::size_t, const BorderStretch*>> use;
  for (std::size_t p = 0; p < pieces.size(); ++p)
    for (const auto& side : pieces[p].sides)
      for (const BorderStretch& s : side) use[s.walked] = {p, &s};
  for (const auto& [walked, here] : use) {
    if (walked[0] > walked[1] || w.sharp(walked[0], walked[1])) continue;
    const auto there = use.find({walked[1], walked[0]});
    if (there == use.end()) continue;
    constexpr int kPlaces = 16;
    for (int k = 0; k <= kPlaces; ++k) {
      if (k == 0 && has_no_plane(w, walked[0])) continue;
      if (k == kPlaces && has_no_plane(w, walked[1])) continue;
      const double x = static_cast<double>(k) / kPlaces;
      const auto normal_at = [&](std::size_t p, const BorderStretch& s, double share) {
        return normal(pieces[p].surface, s.u0 + (s.u1 - s.u0) * share,
                      s.v0 + (s.v1 - s.v0) * share);
      };
      const double angle =
          degrees_between(normal_at(here.first, *here.second, x),
                          normal_at(there->second.first, *there->second.second, 1.0 - x));
      if (angle <= result.angle) continue;
      result.angle = angle;
      result.angle_at = evaluate(pieces[here.first].surface,
                                 here.second->u0 + (here.second->u1 - here.second->u0) * x,
                                 here.second->v0 + (here.second->v1 - here.second->v0) * x);
    }
  }
}

}  // namespace evenclay
