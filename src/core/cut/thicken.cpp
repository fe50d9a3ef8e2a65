#include "core/cut/thicken.h"

#include <fmt/format.h>

#include <BRepOffsetAPI_MakeThickSolid.hxx>
#include <BRepOffset_MakeOffset.hxx>
#include <TopTools_ListOfShape.hxx>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/cut/edge_edit.h"
#include "core/cut/flat_rims.h"
#include "core/cut/flat_skin.h"
#include "core/cut/offset_body.h"
#include "core/cut/openings.h"
#include "core/cut/prepared.h"
#include "core/cut/raise.h"
#include "core/cut/sharp_lines.h"
#include "core/kernel/guard.h"
#include "core/nurbs/hermite.h"

namespace evenclay {

namespace {

// Greatest normal curvature towards one side of du × dv at a place; negative when it bends the other way.
double bend_towards(const PointSecond& s, bool along_normal) {
  const Vec3 n = normalized(cross(s.du, s.dv));
  const double e = dot(s.du, s.du), f = dot(s.du, s.dv), g = dot(s.dv, s.dv);
  const double l = dot(s.duu, n), m = dot(s.duv, n), k = dot(s.dvv, n);
  const double area = e * g - f * f;
  if (!(area > 1e-12 * e * g)) return -1.0;  // a pole says nothing
  const double mean = 0.5 * (e * k - 2.0 * f * m + g * l) / area;
  const double gauss = (l * k - m * m) / area;
  const double root = std::sqrt(std::max(0.0, mean * mean - gauss));
  return along_normal ? mean + root : -(mean - root);
}

// Both curves as cubics on the same knots, within `tolerance`.
std::array<Curve, 2> on_same_knots(const Curve& a, const Curve& b, double tolerance) {
  const CurveEvaluator ea(a);
  const CurveEvaluator eb(b);
  std::set<double> breaks;
  for (const Curve* c : {&a, &b})
    for (const double t : breakpoints(c->knots)) breaks.insert(t);
  const auto laid = [&](const CurveEvaluator& e) {
    const std::vector<double> all(breaks.begin(), breaks.end());
    return hermite_curve([&](double t) { return e.derivatives(t, 1); }, all, 1e300);
  };
  for (int halving = 0; halving < 8; ++halving) {
    const Curve la = laid(ea);
    const Curve lb = laid(eb);
    std::vector<double> missing;
    for (auto t = breaks.begin(); std::next(t) != breaks.end(); ++t) {
      const double m = 0.5 * (*t + *std::next(t));
      if (distance(evaluate(la, m), ea.point(m)) > tolerance ||
          distance(evaluate(lb, m), eb.point(m)) > tolerance)
        missing.push_back(m);
    }
    if (missing.empty()) return {la, lb};
    breaks.insert(missing.begin(), missing.end());
  }
  return {laid(ea), laid(eb)};
}

// Two skins of the same faces and edges, put together with walls along open edges.
class TwoSkins {
 public:
  // No walls stand on the edges in `free`.
  TwoSkins(const Body& outer, const Body& inner, bool outer_is_given, int step,
           const std::set<std::uint32_t>& free = {})
      : step_(step), topology_(topology(outer)) {
    body_.faces = outer.faces;
    body_.edges = outer.edges;
    const auto first_edge = static_cast<std::uint32_t>(outer.edges.size());
    for (Edge e : inner.edges) body_.edges.push_back(std::move(e));
    for (Face f : inner.faces) {
      f.flipped = !f.flipped;
      for (Loop& loop : f.loops)
        for (EdgeUse& use : loop) use.edge += first_edge;
      body_.faces.push_back(std::move(f));
    }
    // The skin that was not there before gets names of its own.
    const std::size_t faces = outer.faces.size();
    for (std::size_t f = 0; f < faces; ++f)
      rename(body_.faces[outer_is_given ? faces + f : f].tag, 701);
    for (std::size_t e = 0; e < first_edge; ++e)
      rename(body_.edges[outer_is_given ? first_edge + e : e].tag, 702);
    for (const std::uint32_t e : topology_.open_edges)
      if (!free.contains(e)) add_wall(outer, e, e + first_edge);
  }

  Body take() {
    refresh_gaps(body_);
    return std::move(body_);
  }

 private:
  void rename(Tag& tag, std::uint64_t ordinal) const { tag = make_tag(step_, tag, ordinal); }

  std::uint32_t corner_edge(std::uint32_t corner, const Vec3& from, const Vec3& to, Tag beside) {
    const auto [at, fresh] = corners_.try_emplace(corner, body_.edges.size());
    if (fresh) body_.edges.push_back({make_tag(step_, beside, 704), line_curve(from, to), 0.0});
    return static_cast<std::uint32_t>(at->second);
  }

  void add_wall(const Body& outer, std::uint32_t a, std::uint32_t b) {
    const bool sense = walks_forward(outer, topology_.uses[a].front());
    const auto [ca, cb] = on_same_knots(body_.edges[a].curve, body_.edges[b].curve,
                                        1e-7 * (1.0 + size(body_.edges[a].curve)));
    const double t0 = ca.knots.first();
    const double t1 = ca.knots.last();
    const Tag name = outer.edges[a].tag;
    const std::uint32_t begin =
        corner_edge(topology_.corners[a][0], ca.points.front(), cb.points.front(), name);
    const std::uint32_t end =
        corner_edge(topology_.corners[a][1], ca.points.back(), cb.points.back(), name + 1);
    Face wall;
    wall.tag = make_tag(step_, name, 703);
    wall.surface = std::make_shared<const Surface>(ruled_between(ca, cb));
    wall.flipped = sense;
    const Curve& eb = body_.edges[b].curve;
    wall.loops.push_back(
        {{a, true, line_curve({t0, 0, 0}, {t1, 0, 0}, t0, t1)},
         {end, true, line_curve({t1, 0, 0}, {t1, 1, 0})},
         {b, false, line_curve({t0, 1, 0}, {t1, 1, 0}, eb.knots.first(), eb.knots.last())},
         {begin, false, line_curve({t0, 0, 0}, {t0, 1, 0})}});
    body_.faces.push_back(std::move(wall));
  }

  int step_;
  Topology topology_;
  Body body_;
  std::map<std::uint32_t, std::size_t> corners_;
};

// The thickness that still works, with a little room.
double that_works(double reach) {
  return std::max(0.01, std::floor(reach * 0.95 * 100.0) / 100.0);
}

// The face that folds first says what works.
void check_reach(const Body& body, double out, double in, double whole, Progress& progress) {
  std::optional<OffsetReach> least;
  std::size_t face = 0;
  bool outside = false;
  double asked = 0.0;
  for (const auto& [mm, outward] : {std::pair{out, true}, {in, false}}) {
    if (!(mm > 0.0)) continue;
    for (std::size_t f = 0; f < body.faces.size(); ++f) {
      const std::optional<OffsetReach> reach = offset_reach(body.faces[f], outward, progress);
      if (!reach || reach->mm > mm || (least && least->mm <= reach->mm)) continue;
      least = reach;
      face = f;
      outside = outward;
      asked = mm;
    }
  }
  if (!least) return;
  throw Error(
      say("Face {} bends with a radius of {:.2f} mm {}, so a skin {:.2f} mm {} would fold. "
          "Up to {:.2f} "
          "mm leaves room; or make the bend wider.",
          face + 1, least->mm, place_words(least->at), asked, outside ? "outside" : "inside",
          that_works(least->mm * whole / asked)));
}

// The kernel's way, for faces that meet at angles.
class KernelThickener {
 public:
  KernelThickener(const Body& body, int step, Progress& progress)
      : body_(body), given_{given_to_kernel(body_)}, step_(step), progress_(progress) {}

  Body solid_without(const std::vector<std::size_t>& faces, double mm) {
    TopTools_ListOfShape open;
    for (const std::size_t f : faces) open.Append(given_[0].shape.faces[f]);
    BRepOffsetAPI_MakeThickSolid maker;
    Handle(kernel::Stop) stop = new kernel::Stop(progress_);
    maker.MakeThickSolidByJoin(given_[0].shape.all, open, mm, 1e-4, BRepOffset_Skin, Standard_False,
                               Standard_False, GeomAbs_Intersection, Standard_False, stop->Start());
    stop->check();
    if (!maker.IsDone()) throw Error(say("the offset faces do not meet"));
    if (const std::string fault = kernel::faults_of(maker.Shape(), true); !fault.empty())
      throw Error(fault);
    return kernel::named_body(maker.Shape(), given_, kernel::history_of(maker), step_, progress_);
  }

  // An open shell, or a closed one of which nothing is taken away.
  Body skin(double mm) {
    BRepOffset_MakeOffset maker;
    maker.Initialize(given_[0].shape.all, mm, 1e-4, BRepOffset_Skin, Standard_False, Standard_False,
                     GeomAbs_Intersection, Standard_True);
    Handle(kernel::Stop) stop = new kernel::Stop(progress_);
    maker.MakeOffsetShape(stop->Start());
    stop->check();
    if (!maker.IsDone()) throw Error(say("the offset faces do not meet"));
    if (const std::string fault = kernel::faults_of(maker.Shape(), true); !fault.empty())
      throw Error(fault);
    const kernel::History history{[&](const TopoDS_Shape& s) { return maker.Modified(s); },
                                  [&](const TopoDS_Shape& s) { return maker.Generated(s); }};
    return kernel::named_body(maker.Shape(), given_, history, step_, progress_);
  }

 private:
  const Body& body_;
  std::vector<kernel::Given> given_;
  int step_;
  Progress& progress_;
};

constexpr double kWidestGap = 0.05;  // mm

// A sound closed body, or Error.
Body attempted(const Body& body, const std::vector<std::size_t>& open, double mm, int step,
               Progress& progress) {
  Body made;
  kernel::guarded(say("The part could not be given a thickness"), [&] {
    KernelThickener t(body, step, progress);
    made = open.empty() ? t.skin(mm) : t.solid_without(open, mm);
  });
  if (!topology(with_edges(made)).closed) throw Error(say("the result would not be closed"));
  if (const std::string fault = faults_of_body(made); !fault.empty()) throw Error(fault);
  // The kernel calls sound what its tolerances, however wide, still cover.
  if (const double gap = greatest_gap(made); gap > kWidestGap)
    throw Error(say("edges would lie {:.2f} mm off their faces", gap));
  return made;
}

Body by_kernel(const Body& body, const std::vector<std::size_t>& open, double mm, int step,
               Progress& progress) {
  try {
    return attempted(body, open, mm, step, progress);
  } catch (const Error& e) {
    for (const double share : {0.5, 0.1}) {
      try {
        attempted(body, open, mm * share, step, progress);
      } catch (const Error&) {
        continue;
      }
      throw Error(say("A thickness of {:.2f} mm does not work here: {}. {:.2f} mm works.",
                      std::abs(mm), reason_of(e), std::abs(mm) * share));
    }
    throw Error(say(
        "The part could not be given a thickness: {}, at a tenth of it neither. Round the edges at "
        "which faces meet first, or thicken before they are joined; a form takes Thicken form "
        "before it is converted.",
        reason_of(e)));
  }
}

// Faces put together, edges of one name becoming one.
Body glued_by_name(Body a, const Body& b) {
  std::map<Tag, std::uint32_t> by_name;
  for (std::uint32_t e = 0; e < a.edges.size(); ++e) by_name[a.edges[e].tag] = e;
  std::vector<std::uint32_t> number;
  for (const Edge& e : b.edges) {
    const auto [at, fresh] = by_name.try_emplace(e.tag, static_cast<std::uint32_t>(a.edges.size()));
    if (fresh) a.edges.push_back(e);
    number.push_back(at->second);
  }
  for (Face f : b.faces) {
    for (Loop& loop : f.loops)
      for (EdgeUse& use : loop) use.edge = number[use.edge];
    a.faces.push_back(std::move(f));
  }
  return a;
}

// Hollowed so that the rims of these openings lie in their planes; nothing where none of them can.
std::optional<Thickened> with_flat_rims(const Body& body, const Body& rest,
                                        const std::vector<FlatOpening>& flat, double thickness,
                                        const OffsetSurface& offset, const GrowSurface& grow,
                                        double tolerance, int step, Progress& progress) {
  const Body grown = grow ? grown_for_rims(rest, flat, thickness, grow, progress) : rest;
  Body inner = offset_body(grown, -thickness, offset, progress);
  Thickened result;
  result.off = std::max(greatest_gap(inner) - greatest_gap(rest), 0.0);
  if (result.off > tolerance) return std::nullopt;
  std::set<std::uint32_t> free;
  std::map<Tag, Tag> rim_of_edge;
  for (const FlatOpening& o : flat) {
    progress.check();
    if (!end_in_plane(inner, o, tolerance)) {
      result.rim_off = std::max(result.rim_off, o.off);
      continue;
    }
    free.insert(o.edges.begin(), o.edges.end());
    for (const std::uint32_t e : o.edges) rim_of_edge[rest.edges[e].tag] = body.faces[o.face].tag;
  }
  if (free.empty()) return std::nullopt;
  Capped rims = capped(TwoSkins(rest, inner, true, step, free).take(), tolerance, step);
  for (const std::size_t f : rims.added)
    for (const EdgeUse& use : rims.body.faces[f].loops.front())
      if (const auto at = rim_of_edge.find(rims.body.edges[use.edge].tag); at != rim_of_edge.end())
        rims.body.faces[f].tag = at->second;
  if (!rims.left.empty() || !topology(rims.body).closed || !faults_of_body(rims.body).empty())
    return std::nullopt;
  result.body = std::move(rims.body);
  return result;
}

}  // namespace

Body raised(const Body& given, const std::vector<std::size_t>& faces, double mm,
            const OffsetSurface& offset, double tolerance, int step, Progress& progress) {
  if (mm == 0.0) return given;
  const Body body = with_edges(given);
  if (faces.empty()) throw Error(say("No face is picked. Click the faces that shall move."));
  std::vector<std::size_t> others;
  for (std::size_t f = 0; f < body.faces.size(); ++f)
    if (std::find(faces.begin(), faces.end(), f) == faces.end()) others.push_back(f);
  if (others.empty())
    throw Error(say("All faces are picked; Offset surface moves a whole part. Pick fewer faces."));
  const Body moving = without_faces(body, others);
  check_reach(moving, std::max(mm, 0.0), std::max(-mm, 0.0), std::abs(mm), progress);
  const Body moved = offset_body(moving, mm, offset, progress);
  if (greatest_gap(moved) - greatest_gap(moving) > tolerance)
    throw Error(say(
        "The picked faces meet at an angle and would come apart. Pick one of them, or round the "
        "edge between them first."));
  Body skins = TwoSkins(moved, moving, false, step).take();
  // What was moved leaves nothing where it was; its old edges stay as those of the faces around.
  const std::size_t count = moving.faces.size();
  std::vector<std::size_t> old;
  for (std::size_t f = count; f < 2 * count; ++f) old.push_back(f);
  for (std::size_t f = 0; f < count; ++f) skins.faces[f].tag = moving.faces[f].tag;
  Body result = glued_by_name(without_faces(body, faces), without_faces(skins, old));
  refresh_gaps(result);
  return result;
}

std::optional<OffsetReach> offset_reach(const Face& face, bool outward, Progress& progress,
                                        int per_span) {
  const SurfaceEvaluator e(*face.surface);
  const FaceRegion region(face);
  std::optional<OffsetReach> least;
  const auto samples = [&](const KnotVector& k) {
    std::vector<double> result;
    const std::vector<double> breaks = breakpoints(k);
    for (std::size_t s = 0; s + 1 < breaks.size(); ++s)
      for (int n = 0; n <= per_span; ++n)
        result.push_back(breaks[s] + (breaks[s + 1] - breaks[s]) * (n + 1e-2) / (per_span + 2e-2));
    return result;
  };
  const std::vector<double> us = samples(face.surface->u);
  const std::vector<double> vs = samples(face.surface->v);
  for (const double u : us) {
    progress.check();
    for (const double v : vs) {
      if (!region.contains(u, v)) continue;
      // Outward folds where the surface bends towards its outside.
      const double bend = bend_towards(e.seconds(u, v), outward != face.flipped);
      if (bend > 1e-9 && (!least || 1.0 / bend < least->mm)) least = {1.0 / bend, e.point(u, v)};
    }
  }
  return least;
}

Body without_faces(const Body& body, const std::vector<std::size_t>& faces,
                   std::vector<std::uint32_t>* numbers) {
  Body result;
  std::vector<std::uint32_t> number(body.edges.size(), 0xFFFFFFFFU);
  for (std::size_t f = 0; f < body.faces.size(); ++f) {
    if (std::find(faces.begin(), faces.end(), f) != faces.end()) continue;
    Face face = body.faces[f];
    for (Loop& loop : face.loops)
      for (EdgeUse& use : loop) {
        std::uint32_t& n = number[use.edge];
        if (n == 0xFFFFFFFFU) {
          n = static_cast<std::uint32_t>(result.edges.size());
          result.edges.push_back(body.edges[use.edge]);
        }
        use.edge = n;
      }
    result.faces.push_back(std::move(face));
  }
  if (numbers != nullptr) *numbers = std::move(number);
  return result;
}

Thickened thickened(const Body& given, double thickness, ThickenSide side,
                    const OffsetSurface& offset, double tolerance, int step, Progress& progress) {
  if (!(thickness > 0.0)) throw Error(say("The thickness must be above 0 mm."));
  if (given.faces.empty()) throw Error(say("The part has no faces."));
  const Body body = with_edges(split_at_sharp_lines(given, step));
  const double out = side == ThickenSide::Inward    ? 0.0
                     : side == ThickenSide::Outward ? thickness
                                                    : 0.5 * thickness;
  const double in = thickness - out;
  check_reach(body, out, in, thickness, progress);
  if (const auto high = flat_skin(body, out))
    if (const auto low = flat_skin(body, -in))
      return {TwoSkins(*high, *low, out == 0.0, step).take(), 0.0, false};
  const Body outer = offset_body(body, out, offset, progress);
  progress.report(0.4);
  const Body inner = offset_body(body, -in, offset, progress);
  const double off = std::max(greatest_gap(outer), greatest_gap(inner)) - greatest_gap(body);
  if (off <= tolerance)
    return {TwoSkins(outer, inner, out == 0.0, step).take(), std::max(off, 0.0), false};
  if (side == ThickenSide::BothSides)
    throw Error(say(
        "The faces meet at angles, where a thickness to both sides is not possible. Thicken inward "
        "or outward, or round the edges first."));
  return {by_kernel(body, {}, side == ThickenSide::Inward ? -thickness : thickness, step, progress),
          0.0, true};
}

Thickened shelled(const Body& given, const std::vector<std::size_t>& open_faces, double thickness,
                  const OffsetSurface& offset, const GrowSurface& grow, double tolerance, int step,
                  Progress& progress) {
  need_closed(given, "The part");
  if (!(thickness > 0.0)) throw Error(say("The thickness must be above 0 mm."));
  if (open_faces.size() >= given.faces.size())
    throw Error(say("No face would be left. Pick fewer faces as openings."));
  if (open_faces.empty())
    return thickened(given, thickness, ThickenSide::Inward, offset, tolerance, step, progress);
  const Body body = with_edges(given);
  std::vector<std::uint32_t> numbers;
  const Body rest = without_faces(body, open_faces, &numbers);
  check_reach(rest, 0.0, thickness, thickness, progress);
  std::vector<FlatOpening> flat = flat_openings(body, open_faces, numbers, thickness);
  // Where the skin stands square to the plane, so do the walls.
  std::erase_if(flat, [&](const FlatOpening& o) { return o.off <= tolerance; });
  if (!flat.empty()) {
    try {
      if (std::optional<Thickened> t =
              with_flat_rims(body, rest, flat, thickness, offset, grow, tolerance, step, progress))
        return std::move(*t);
    } catch (const Error&) {
      // A skin that folds where it was carried on: square rims need less of it.
    }
  }
  const Body inner = offset_body(rest, -thickness, offset, progress);
  const double off = greatest_gap(inner) - greatest_gap(rest);
  if (off > tolerance) return {by_kernel(body, open_faces, -thickness, step, progress), 0.0, true};
  double rim = 0.0;
  for (const FlatOpening& o : flat) rim = std::max(rim, o.off);
  return {TwoSkins(rest, inner, true, step).take(), std::max(off, 0.0), false, rim};
}

}  // namespace evenclay
