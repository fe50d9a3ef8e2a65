#include "core/cut/round.h"

#include <fmt/format.h>

#include <BRepFilletAPI_MakeChamfer.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/topology.h"
#include "core/cut/prepared.h"
#include "core/kernel/guard.h"

namespace evenclay {

namespace {

class Cutter {
 public:
  Cutter(const Body& body, const EdgeCutOptions& options, Progress& progress)
      : body_(body), options_(options), progress_(progress), given_{given_to_kernel(body_)} {
    closed_ = topology(body_).closed;
  }

  /// With all sizes times `share`; throws Error with a reason.
  Body cut(const std::vector<std::size_t>& edges, double share) {
    Body made;
    kernel::guarded(say("it did not work"), [&] {
      made = options_.kind == EdgeCut::Round ? rounded(edges, share) : chamfered(edges, share);
    });
    if (closed_ && !topology(with_edges(made)).closed) throw Error(say("it would not be closed"));
    return made;
  }

  bool works(const std::vector<std::size_t>& edges, double share) {
    try {
      cut(edges, share);
      return true;
    } catch (const Error&) {
      return false;
    }
  }

 private:
  template <typename Maker>
  Body finished(Maker& maker) {
    maker.Build();
    progress_.check();
    if (!maker.IsDone()) throw Error(say("the faces leave no room for it"));
    if (const std::string fault = kernel::faults_of(maker.Shape(), closed_); !fault.empty())
      throw Error(fault);
    Body made = kernel::named_body(maker.Shape(), given_, kernel::history_of(maker), options_.step,
                                   progress_);
    if (const std::string fault = faults_of_body(made); !fault.empty()) throw Error(fault);
    return made;
  }

  Body rounded(const std::vector<std::size_t>& edges, double share) {
    BRepFilletAPI_MakeFillet maker(given_[0].shape.all);
    for (const std::size_t e : edges) {
      const TopoDS_Edge& edge = given_[0].shape.edges[e];
      if (maker.Contour(edge) != 0) continue;  // taken along with one before
      if (options_.size == options_.size_end)
        maker.Add(share * options_.size, edge);
      else
        maker.Add(share * options_.size, share * options_.size_end, edge);
    }
    return finished(maker);
  }

  Body chamfered(const std::vector<std::size_t>& edges, double share) {
    BRepFilletAPI_MakeChamfer maker(given_[0].shape.all);
    for (const std::size_t e : edges)
      if (maker.Contour(given_[0].shape.edges[e]) == 0)
        maker.Add(share * options_.size, given_[0].shape.edges[e]);
    return finished(maker);
  }

  const Body& body_;
  const EdgeCutOptions& options_;
  Progress& progress_;
  std::vector<kernel::Given> given_;
  bool closed_ = false;
};

// What a designer reads: the edge that is to blame and the greatest share that works for all.
Error refusal(Cutter& cutter, const Body& body, const std::vector<std::size_t>& edges,
              const EdgeCutOptions& options, const std::string& reason) {
  std::size_t bad = edges.front();
  for (const std::size_t e : edges)
    if (!cutter.works({e}, 1.0)) {
      bad = e;
      break;
    }
  double low = 0.0, high = 1.0;
  for (double share = 0.5; share > 1e-3 && low == 0.0; share *= 0.4)
    (cutter.works(edges, share) ? low : high) = share;
  if (low > 0.0)
    for (int k = 0; k < 3; ++k) {
      const double middle = 0.5 * (low + high);
      (cutter.works(edges, middle) ? low : high) = middle;
    }
  const char* what = options.kind == EdgeCut::Round ? "rounded" : "chamfered";
  const std::string place = place_words(middle_of(body.edges[bad]));
  const double works = std::floor(low * options.size * 100.0) / 100.0;
  if (works > 0.0)
    return Error(say("The edge {} cannot be {} by {:.2f} mm: {}. {:.2f} mm works.", place, what,
                     options.size, reason, works));
  return Error(
      say("The edge {} cannot be {}: {}, with a thousandth of the size neither. Leave it "
          "out, or cut its neighbours in another step first.",
          place, what, reason));
}

Vec3 outside(const Body& body, const UsePlace& u, double share) {
  const Face& face = body.faces[u.face];
  const EdgeUse& use = face.loops[u.loop][u.place];
  const KnotVector& k = use.uv.knots;
  const Vec3 at = evaluate(use.uv, k.first() + share * k.length());
  return normal(*face.surface, at.x, at.y) * (face.flipped ? -1.0 : 1.0);
}

}  // namespace

double edge_angle(const Body& body, std::size_t edge) {
  const Topology t = topology(body);
  if (t.uses[edge].size() != 2) return 0.0;
  double worst = 0.0;
  for (const double share : {0.05, 0.25, 0.5, 0.75, 0.95}) {
    const Vec3 a = outside(body, t.uses[edge][0], share);
    const Vec3 b = outside(body, t.uses[edge][1], share);
    worst = std::max(worst, std::atan2(length(cross(a, b)), dot(a, b)));
  }
  return worst * 180.0 / std::numbers::pi;
}

std::vector<std::size_t> smooth_chain(const Body& body, const Topology& t, std::size_t edge) {
  const auto leaving = [&](std::size_t e, std::size_t end) {
    const Curve& c = body.edges[e].curve;
    const Vec3 d =
        derivatives(c, end == 0 ? c.knots.first() : c.knots.last(), 1).d1 * (end == 0 ? 1.0 : -1.0);
    return normalized(d);
  };
  const double limit = -std::cos(5.0 * std::numbers::pi / 180.0);
  std::vector<bool> in(body.edges.size(), false);
  in[edge] = true;
  std::vector<std::size_t> chain{edge};
  for (const std::size_t begin : {std::size_t{1}, std::size_t{0}}) {
    std::vector<std::size_t> found;
    for (std::size_t e = edge, end = begin;;) {
      std::optional<std::size_t> next;
      std::size_t next_end = 0;
      for (std::size_t k = 0; k < body.edges.size() && !next; ++k) {
        if (in[k] || t.uses[k].size() != t.uses[edge].size() || t.uses[k].empty()) continue;
        for (const std::size_t other : {std::size_t{0}, std::size_t{1}})
          if (t.corners[k][other] == t.corners[e][end] &&
              dot(leaving(k, other), leaving(e, end)) < limit) {
            next = k;
            next_end = 1 - other;
          }
      }
      if (!next) break;
      in[*next] = true;
      found.push_back(*next);
      e = *next;
      end = next_end;
    }
    if (begin == 1)
      chain.insert(chain.end(), found.begin(), found.end());
    else
      chain.insert(chain.begin(), found.rbegin(), found.rend());
  }
  return chain;
}

Body with_cut_edges(const Body& given, const std::vector<std::size_t>& edges,
                    const EdgeCutOptions& options, Progress& progress) {
  if (edges.empty()) throw Error(say("No edge is picked. Click an edge of the part."));
  if (!(options.size > 0.0 && options.size_end > 0.0))
    throw Error(say("The size must be above 0 mm."));
  const Body body = with_edges(given);
  const Topology t = topology(body);
  std::vector<std::size_t> sharp;
  for (const std::size_t e : edges) {
    if (t.uses[e].size() != 2)
      throw Error(say("The edge {} is open: no second face meets it there. Join the faces first.",
                      place_words(middle_of(body.edges[e]))));
    if (edge_angle(body, e) > 0.5) sharp.push_back(e);
  }
  if (sharp.empty())
    throw Error(
        say("The faces meet smoothly along this edge; there is nothing to cut. Pick another one."));
  std::optional<Cutter> cutter;
  kernel::guarded(say("The edges could not be cut"),
                  [&] { cutter.emplace(body, options, progress); });
  try {
    return cutter->cut(sharp, 1.0);
  } catch (const Error& e) {
    throw refusal(*cutter, body, sharp, options, reason_of(e));
  }
}

}  // namespace evenclay
