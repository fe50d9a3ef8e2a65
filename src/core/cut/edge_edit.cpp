#include "core/cut/edge_edit.h"

#include <fmt/format.h>

#include <BRepBuilderAPI_Sewing.hxx>
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/join.h"
#include "core/body/topology.h"
#include "core/check/curve_measures.h"
#include "core/cut/prepared.h"
#include "core/cut/thicken.h"
#include "core/kernel/guard.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

// The piece of a curve between two parameters, over that domain.
Curve piece_of(const Curve& curve, double from, double to) {
  const CurveEvaluator e(curve);
  std::vector<double> breaks{from};
  for (const double t : breakpoints(curve.knots))
    if (t > from + 1e-12 * curve.knots.length() && t < to - 1e-12 * curve.knots.length())
      breaks.push_back(t);
  breaks.push_back(to);
  return hermite_curve([&](double t) { return e.derivatives(t, 1); }, breaks,
                       1e-10 * (1.0 + size(curve)));
}

Vec3 direction_at(const Curve& c, bool end) {
  return normalized(derivatives(c, end ? c.knots.last() : c.knots.first(), 1).d1);
}

// One curve through two that follow each other, each over a stretch as long as it is (mm); where they meet it takes the
// mean of both directions, so that a joint of a fraction of a degree leaves no kink. A parameter curve laid with the
// lengths of its edge runs as the edge does.
Curve strung(const std::array<Curve, 2>& curves, const std::array<bool, 2>& forward,
             const std::array<double, 2>& lengths) {
  const std::array<CurveEvaluator, 2> all{CurveEvaluator(curves[0]), CurveEvaluator(curves[1])};
  const auto piece = [&](std::size_t k, double t) {
    const KnotVector& knots = curves[k].knots;
    const double share = (t - (k == 0 ? 0.0 : lengths[0])) / lengths[k];
    CurveDerivatives d =
        all[k].derivatives(knots.first() + (forward[k] ? share : 1.0 - share) * knots.length(), 1);
    d.d1 *= (forward[k] ? 1.0 : -1.0) * knots.length() / lengths[k];
    return d;
  };
  // Breaks that each needs by itself.
  std::vector<double> breaks{0.0};
  for (const std::size_t k : {std::size_t{0}, std::size_t{1}}) {
    const double begin = k == 0 ? 0.0 : lengths[0];
    std::vector<double> own;
    for (const double t : breakpoints(curves[k].knots)) {
      const double share = (t - curves[k].knots.first()) / curves[k].knots.length();
      own.push_back(begin + lengths[k] * (forward[k] ? share : 1.0 - share));
    }
    std::sort(own.begin(), own.end());
    const Curve fitted =
        hermite_curve([&](double t) { return piece(k, t); }, own, 1e-7 * (1.0 + size(curves[k])));
    for (const double t : breakpoints(fitted.knots))
      if (t > breaks.back() + 1e-12 * (lengths[0] + lengths[1])) breaks.push_back(t);
  }
  const auto function = [&](double t) {
    if (t < lengths[0]) return piece(0, t);
    CurveDerivatives d = piece(1, t);
    if (t <= lengths[0]) d.d1 = (d.d1 + piece(0, t).d1) * 0.5;
    return d;
  };
  return hermite_curve(function, breaks, 1e300);
}

void drop_unused(Body& body) {
  body = without_faces(body, {});
}

}  // namespace

Body with_edges(const Body& body) {
  const bool all_there =
      std::all_of(body.faces.begin(), body.faces.end(), [](const Face& f) { return f.trimmed(); });
  return all_there ? body : with_explicit_borders(body, 1e-6);
}

double greatest_gap(const Body& body) {
  double gap = 0.0;
  for (const Edge& e : body.edges) gap = std::max(gap, e.gap);
  return gap;
}

Body with_split_edge(const Body& given, std::size_t edge, const std::vector<double>& shares,
                     int step) {
  Body body = with_edges(given);
  if (edge >= body.edges.size())
    throw Error(say("There is no such edge on the part any more. Pick it again."));
  for (std::size_t k = 0; k < shares.size(); ++k)
    if (!(shares[k] > 1e-6 && shares[k] < 1.0 - 1e-6) || (k > 0 && !(shares[k] > shares[k - 1])))
      throw Error(say(
          "The edge is split at its very end, which changes nothing. Choose a place along it."));
  const Edge whole = body.edges[edge];
  const KnotVector& k = whole.curve.knots;
  std::vector<double> cuts{k.first()};
  for (const double s : shares) cuts.push_back(k.first() + s * k.length());
  cuts.push_back(k.last());
  std::vector<std::uint32_t> numbers{static_cast<std::uint32_t>(edge)};
  for (std::size_t n = 0; n + 1 < cuts.size(); ++n) {
    const Edge piece{n == 0 ? whole.tag : make_tag(step, whole.tag, n),
                     piece_of(whole.curve, cuts[n], cuts[n + 1]), whole.gap};
    if (n == 0) {
      body.edges[edge] = piece;
    } else {
      numbers.push_back(static_cast<std::uint32_t>(body.edges.size()));
      body.edges.push_back(piece);
    }
  }
  for (Face& face : body.faces)
    for (Loop& loop : face.loops) {
      Loop now;
      for (const EdgeUse& use : loop) {
        if (use.edge != edge) {
          now.push_back(use);
          continue;
        }
        for (std::size_t n = 0; n < numbers.size(); ++n) {
          const std::size_t at = use.forward ? n : numbers.size() - 1 - n;
          now.push_back({numbers[at], use.forward, piece_of(use.uv, cuts[at], cuts[at + 1])});
        }
      }
      loop = std::move(now);
    }
  return body;
}

MergedEdges with_merged_edges(const Body& given, const std::vector<std::size_t>& edges,
                              double degrees, Progress& progress) {
  MergedEdges result{with_edges(given), 0, 0.0, {}, 0};
  std::set<Tag> among;  // by name, since numbers change
  for (const std::size_t e : edges) among.insert(result.body.edges.at(e).tag);
  std::set<std::pair<Tag, Tag>> refused;
  for (bool again = true; again;) {
    again = false;
    progress.check();
    Body& body = result.body;
    const Topology t = topology(body);
    std::map<std::uint32_t, std::vector<std::size_t>> at_corner;
    for (std::size_t e = 0; e < body.edges.size(); ++e)
      for (const std::size_t end : {std::size_t{0}, std::size_t{1}})
        if (!t.uses[e].empty()) at_corner[t.corners[e][end]].push_back(e);
    for (const auto& [corner, there] : at_corner) {
      if (there.size() != 2 || there[0] == there[1]) continue;
      const std::size_t a = there[0], b = there[1];
      if (!among.empty() &&
          !(among.contains(body.edges[a].tag) && among.contains(body.edges[b].tag)))
        continue;
      if (t.uses[a].size() != t.uses[b].size() || size(body.edges[a].curve) < 1e-9 ||
          size(body.edges[b].curve) < 1e-9)
        continue;
      const bool a_ends = t.corners[a][1] == corner;
      const bool b_begins = t.corners[b][0] == corner;
      const Vec3 da = direction_at(body.edges[a].curve, a_ends) * (a_ends ? 1.0 : -1.0);
      const Vec3 db = direction_at(body.edges[b].curve, !b_begins) * (b_begins ? 1.0 : -1.0);
      const double angle =
          std::atan2(length(cross(da, db)), dot(da, db)) * 180.0 / std::numbers::pi;
      // In every face they must follow each other.
      bool follow = true;
      for (const UsePlace& u : t.uses[a]) {
        const Loop& loop = body.faces[u.face].loops[u.loop];
        const std::size_t n = loop.size();
        follow &= loop[(u.place + 1) % n].edge == b || loop[(u.place + n - 1) % n].edge == b;
        follow &= n >= 2;
      }
      if (!follow) continue;
      if (angle > degrees) {
        if (refused
                .emplace(std::min(body.edges[a].tag, body.edges[b].tag),
                         std::max(body.edges[a].tag, body.edges[b].tag))
                .second) {
          ++result.refused;
          if (result.refused == 1 || angle < result.worst_refused) {
            result.worst_refused = angle;
            result.refused_at =
                a_ends ? body.edges[a].curve.points.back() : body.edges[a].curve.points.front();
          }
        }
        continue;
      }
      const std::array<bool, 2> ways{a_ends, b_begins};
      const std::array<double, 2> lengths{arc_length(body.edges[a].curve),
                                          arc_length(body.edges[b].curve)};
      body.edges[a].curve = strung({body.edges[a].curve, body.edges[b].curve}, ways, lengths);
      body.edges[a].gap = std::max(body.edges[a].gap, body.edges[b].gap);
      for (const UsePlace& u : t.uses[a]) {
        Loop& loop = body.faces[u.face].loops[u.loop];
        std::size_t other = 0;
        for (std::size_t k = 0; k < loop.size(); ++k)
          if (loop[k].edge == b) other = k;
        EdgeUse& use = loop[u.place];
        use.uv = strung({use.uv, loop[other].uv}, ways, lengths);
        use.forward = use.forward == a_ends;
        loop.erase(loop.begin() + static_cast<std::ptrdiff_t>(other));
      }
      drop_unused(body);
      ++result.merged;
      again = true;
      break;  // numbers have changed
    }
  }
  refresh_gaps(result.body);
  return result;
}

RefreshedEdges with_refreshed_edges(const Body& given, double reach) {
  RefreshedEdges result{given, 0, greatest_gap(given), 0.0};
  Body& body = result.body;
  const Topology t = topology(body);
  for (Face& face : body.faces) {
    if (face.loops.size() != 1) continue;
    const SurfaceEvaluator e(*face.surface);
    const Surface& s = *face.surface;
    bool natural = true;
    for (const EdgeUse& use : face.loops[0]) {
      if (t.uses[use.edge].size() != 1) natural = false;
      for (int k = 0; k <= 16 && natural; ++k) {
        const Vec3 uv = evaluate(use.uv, use.uv.knots.first() + use.uv.knots.length() * k / 16);
        const Vec3 here = e.point(uv.x, uv.y);
        double nearest = 1e300;
        for (const double u : {s.u.first(), s.u.last()})
          nearest = std::min(nearest, distance(here, e.point(u, uv.y)));
        for (const double v : {s.v.first(), s.v.last()})
          nearest = std::min(nearest, distance(here, e.point(uv.x, v)));
        natural = nearest <= reach;
      }
    }
    if (!natural) continue;
    face.loops.clear();
    ++result.borders;
  }
  drop_unused(body);
  body = with_edges(body);
  refresh_edges(body);
  result.worst_after = greatest_gap(body);
  return result;
}

Body taken_apart(const Body& given, const std::vector<std::size_t>& faces, int step) {
  Body body = with_edges(given);
  std::vector<int> uses(body.edges.size(), 0);
  const std::set<std::size_t> coming_off(faces.begin(), faces.end());
  std::vector<std::size_t> order;  // those that stay together keep their edges
  for (std::size_t f = 0; f < body.faces.size(); ++f)
    if (!coming_off.empty() && !coming_off.contains(f)) {
      for (const Loop& loop : body.faces[f].loops)
        for (const EdgeUse& use : loop) uses[use.edge] = 1;
    } else {
      order.push_back(f);
    }
  for (const std::size_t f : order) {
    Face& face = body.faces[f];
    std::map<std::uint32_t, std::uint32_t> own;  // a seam stays one edge
    for (Loop& loop : face.loops)
      for (EdgeUse& use : loop) {
        if (const auto at = own.find(use.edge); at != own.end()) {
          use.edge = at->second;
          continue;
        }
        const std::uint32_t was = use.edge;
        if (uses[was]++ > 0) {
          Edge copy = body.edges[was];
          copy.tag = make_tag(step, copy.tag, static_cast<std::uint64_t>(uses[was]));
          use.edge = static_cast<std::uint32_t>(body.edges.size());
          body.edges.push_back(std::move(copy));
          uses.push_back(1);
        }
        own[was] = use.edge;
      }
  }
  refresh_edges(body);
  return body;
}

std::vector<EdgeGap> edge_gaps(const Body& given, double reach, Progress& progress) {
  const Body body = with_edges(given);
  const Topology t = topology(body);
  std::map<std::uint32_t, CurveEvaluator> open;
  for (const std::uint32_t e : t.open_edges) open.emplace(e, body.edges[e].curve);
  std::vector<EdgeGap> result;
  for (const auto& [e, curve] : open) {
    progress.check();
    EdgeGap gap{e, 0.0, 0.0, {}, {}, {}};
    constexpr int kPlaces = 24;
    bool near_all = true;
    for (int k = 0; k <= kPlaces && near_all; ++k) {
      const KnotVector& knots = curve.curve().knots;
      const Vec3 p = curve.point(knots.first() + knots.length() * k / kPlaces);
      CurvePlace nearest;
      nearest.distance = 1e300;
      for (const auto& [other, c] : open) {
        if (t.uses[other][0].face == t.uses[e][0].face) continue;
        if (const CurvePlace place = closest_place(c, p); place.distance < nearest.distance)
          nearest = place;
      }
      near_all = nearest.distance <= reach;
      gap.mean += nearest.distance / (kPlaces + 1);
      gap.lines.push_back({p, nearest.p});
      if (nearest.distance <= gap.greatest && k > 0) continue;
      gap.greatest = nearest.distance;
      gap.at = p;
      gap.to = nearest.p;
    }
    if (near_all) result.push_back(std::move(gap));
  }
  std::stable_sort(result.begin(), result.end(),
                   [](const EdgeGap& a, const EdgeGap& b) { return a.greatest > b.greatest; });
  return result;
}

SewnBody sewn(const Body& given, double tolerance, int step, Progress& progress) {
  JoinedBody own = joined(given, tolerance);
  SewnBody result{std::move(own.body), own.open, own.gap};
  if (own.open == 0 || edge_gaps(result.body, tolerance, progress).empty()) return result;
  // Some edges still lie on pieces of others.
  kernel::guarded(say("The faces could not be joined"), [&] {
    const Body body = result.body;
    const std::vector<kernel::Given> at_kernel{given_to_kernel(body)};
    BRepBuilderAPI_Sewing sewing(tolerance);
    for (const TopoDS_Face& f : at_kernel[0].shape.faces) sewing.Add(f);
    Handle(kernel::Stop) stop = new kernel::Stop(progress);
    sewing.Perform(stop->Start());
    stop->check();
    const kernel::History history{[&](const TopoDS_Shape& s) {
                                    TopTools_ListOfShape list;
                                    if (sewing.IsModified(s))
                                      list.Append(sewing.Modified(s));
                                    else if (sewing.IsModifiedSubShape(s))
                                      list.Append(sewing.ModifiedSubShape(s));
                                    return list;
                                  },
                                  [](const TopoDS_Shape&) { return TopTools_ListOfShape{}; }};
    Body made = kernel::named_body(sewing.SewedShape(), at_kernel, history, step, progress);
    const Topology t = topology(made);
    const double gap = greatest_gap(made);
    if (t.open_edges.size() < result.open && gap <= tolerance)
      result = {std::move(made), t.open_edges.size(), gap};
  });
  return result;
}

Body put_together(const std::vector<Body>& bodies, int step) {
  Body result;
  for (const Body& body : bodies) {
    const auto first = static_cast<std::uint32_t>(result.edges.size());
    for (Face f : body.faces) {
      for (Loop& loop : f.loops)
        for (EdgeUse& use : loop) use.edge += first;
      result.faces.push_back(std::move(f));
    }
    result.edges.insert(result.edges.end(), body.edges.begin(), body.edges.end());
  }
  kernel::give_own_names(result, step);
  return result;
}

}  // namespace evenclay
