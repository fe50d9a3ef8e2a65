#include "core/cut/split.h"

#include <fmt/format.h>

#include <BRepAdaptor_Curve.hxx>
#include <BRepAlgoAPI_Splitter.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/cut/edge_edit.h"
#include "core/cut/prepared.h"
#include "core/cut/split_sides.h"
#include "core/kernel/guard.h"

namespace evenclay {

namespace {

Strip strip_of(const SplitOptions& o) {
  if (o.gap_side == GapSide::First) return {o.gap, 0.0};
  if (o.gap_side == GapSide::Second) return {0.0, o.gap};
  return {0.5 * o.gap, 0.5 * o.gap};
}

// A face, or, of a closed body, a solid, that is left between the cuts.
struct Piece {
  TopoDS_Shape shape;
  double side = 0.0;
};

class Splitting {
 public:
  Splitting(const Body& body, const SplitSides& sides, const SplitOptions& options,
            Progress& progress)
      : body_(body),
        sides_(sides),
        options_(options),
        strip_(strip_of(options)),
        progress_(progress),
        given_{given_to_kernel(body_)},
        closed_(topology(body_).closed) {}

  Split run() {
    cut(first_, given_[0].shape.all, sides_.band(strip_.first));
    Side whole{kernel::history_of(first_), first_.Shape(), {}};
    const bool separated = gather(whole);
    if (strip_.empty()) return separated ? result({whole}) : refuse();
    // Each border of the strip cuts the part by itself, and gives the pieces on its far side. Together, or one after the
    // other, the kernel looks for where the two borders, which run beside each other all along, would meet: for minutes.
    cut(second_, given_[0].shape.all, sides_.band(-strip_.second));
    Side beyond{kernel::history_of(second_), second_.Shape(), {}};
    const bool too = gather(beyond);
    std::erase_if(whole.pieces, [&](const Piece& p) { return p.side < strip_.first; });
    std::erase_if(beyond.pieces, [&](const Piece& p) { return p.side > -strip_.second; });
    if (separated && too && clear_of_strip(whole, 1.0) && clear_of_strip(beyond, -1.0))
      return result({whole, beyond});
    // A cut that does not go all the way through leaves pieces that are on both sides.
    cut(after_, first_.Shape(), sides_.band(-strip_.second));
    Side both{kernel::one_behind_other(first_, after_), after_.Shape(), {}};
    return gather(both) ? result({both}) : refuse();
  }

 private:
  // What one cut, or two, have left.
  struct Side {
    kernel::History history;
    TopoDS_Shape shape;
    std::vector<Piece> pieces;
  };

  void cut(BRepAlgoAPI_Splitter& splitter, const TopoDS_Shape& argument, const TopoDS_Shape& tool) {
    TopTools_ListOfShape arguments, tools;
    arguments.Append(argument);
    tools.Append(tool);
    if (!cut_by_kernel(splitter, arguments, tools, progress_))
      throw Error(
          say("The B-rep kernel could not split the part there. Move the cut a little, or give the "
              "curve fewer points."));
  }

  // Whether all edges of the pieces lie on their side of the strip.
  bool clear_of_strip(const Side& side, double sign) const {
    const double border = sign > 0.0 ? strip_.first : strip_.second;
    const double near = 0.05 * options_.gap + 1e-4;
    for (const Piece& p : side.pieces)
      for (TopExp_Explorer e(p.shape, TopAbs_EDGE); e.More(); e.Next()) {
        const TopoDS_Edge& edge = TopoDS::Edge(e.Current());
        if (BRep_Tool::Degenerated(edge)) continue;
        const BRepAdaptor_Curve curve(edge);
        const gp_Pnt m = curve.Value(0.5 * (curve.FirstParameter() + curve.LastParameter()));
        if (sign * sides_.side({m.X(), m.Y(), m.Z()}) < border - near) return false;
      }
    return true;
  }

  [[noreturn]] static Split refuse() {
    throw Error(say(
        "The cut misses the part or ends on it, so it separates nothing. Move it over the part, "
        "choose another direction, or make the curve longer."));
  }

  // Whether there are more pieces than before, or such on both sides.
  bool gather(Side& side) {
    const TopAbs_ShapeEnum kind = closed_ ? TopAbs_SOLID : TopAbs_FACE;
    TopTools_IndexedMapOfShape all;
    TopExp::MapShapes(side.shape, kind, all);
    std::size_t before = closed_ ? 0 : body_.faces.size();
    if (closed_)
      for (TopExp_Explorer e(given_[0].shape.all, TopAbs_SOLID); e.More(); e.Next()) ++before;
    for (int k = 1; k <= all.Extent(); ++k)
      side.pieces.push_back({all(k), side_of(all(k), side.history)});
    bool first = false, second = false;
    for (const Piece& p : side.pieces) {
      first |= p.side > 0.0;
      second |= p.side <= 0.0;
    }
    return side.pieces.size() > before || (first && second);
  }

  // Of an inner place of a face that was there before; a solid has the sides of such a face.
  double side_of(const TopoDS_Shape& shape, const kernel::History& history) {
    for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) {
      const Face* from = origin(e.Current(), history);
      if (from == nullptr) continue;
      return sides_.side(inner_place_of(TopoDS::Face(e.Current()), *from, progress_));
    }
    return 0.0;
  }

  const Face* origin(const TopoDS_Shape& face, const kernel::History& history) {
    for (std::size_t f = 0; f < given_[0].shape.faces.size(); ++f) {
      const TopoDS_Face& ours = given_[0].shape.faces[f];
      if (ours.IsSame(face)) return &body_.faces[f];
      for (const TopoDS_Shape& s : history.modified(ours))
        if (s.IsSame(face)) return &body_.faces[f];
    }
    return nullptr;
  }

  bool stays(const Piece& piece) const {
    if (!strip_.empty() && piece.side < strip_.first && piece.side > -strip_.second) return false;
    const bool first = piece.side > 0.5 * (strip_.first - strip_.second);
    return options_.keep == SplitKeep::All || (options_.keep == SplitKeep::First) == first;
  }

  Split result(const std::vector<Side>& sides) {
    Split split;
    std::vector<Body> bodies;
    for (const Side& side : sides) {
      BRep_Builder builder;
      TopoDS_Compound faces;
      builder.MakeCompound(faces);
      int stay = 0;
      for (const Piece& piece : side.pieces) {
        if (!stays(piece)) {
          ++split.taken;
          continue;
        }
        ++stay;
        if (closed_)
          bodies.push_back(
              kernel::named_body(piece.shape, given_, side.history, options_.step, progress_));
        else
          builder.Add(faces, piece.shape);
      }
      split.pieces += stay;
      if (!closed_ && stay > 0)
        bodies.push_back(kernel::named_body(faces, given_, side.history, options_.step, progress_));
    }
    if (sides.size() > 1) ++split.taken;  // the strip
    if (split.pieces == 0)
      throw Error(
          say("Nothing of the part would be left. Keep the other side, or make the gap narrower."));
    split.body =
        closed_ || bodies.size() > 1 ? put_together(bodies, options_.step) : bodies.front();
    merge_pieces(split.body);
    check_result(split.body);
    measure_gap(split);
    return split;
  }

  // The bands are cut in several pieces; the edges they leave go on smoothly.
  void merge_pieces(Body& body) const {
    std::set<Tag> before;
    for (const Edge& e : body_.edges) before.insert(e.tag);
    std::vector<std::size_t> made;
    for (std::size_t e = 0; e < body.edges.size(); ++e)
      if (!before.contains(body.edges[e].tag)) made.push_back(e);
    if (made.size() > 1) body = with_merged_edges(body, made, 0.1, progress_).body;
  }

  void check_result(const Body& body) const {
    if (const std::string fault = faults_of_body(body); !fault.empty())
      throw Error(say(
          "The part cannot be split there: {}. The cut touches the skin without crossing it, or "
          "runs along an edge; move it a little.",
          fault));
    if (!closed_ || topology(with_edges(body)).closed) return;
    throw Error(say("The pieces would not be closed. Move the cut a little."));
  }

  // Across the strip, between edges that lie on its two borders.
  void measure_gap(Split& split) const {
    if (strip_.empty() || options_.keep != SplitKeep::All) return;
    std::vector<CurveEvaluator> first, second;
    for (const Edge& e : split.body.edges) {
      const double d = sides_.side(middle_of(e));
      const double near = 0.05 * options_.gap + 1e-4;
      if (std::abs(d - strip_.first) < near) first.emplace_back(e.curve);
      if (std::abs(d + strip_.second) < near) second.emplace_back(e.curve);
    }
    if (first.empty() || second.empty()) return;
    split.narrowest = 1e300;
    for (const CurveEvaluator& a : first)
      for (int k = 1; k < 12; ++k) {
        const KnotVector& knots = a.curve().knots;
        const Vec3 p = a.point(knots.first() + knots.length() * k / 12.0);
        double away = 1e300;
        for (const CurveEvaluator& b : second) away = std::min(away, closest_place(b, p).distance);
        split.narrowest = std::min(split.narrowest, away);
        split.widest = std::max(split.widest, away);
      }
  }

  const Body& body_;
  const SplitSides& sides_;
  const SplitOptions& options_;
  Strip strip_;
  Progress& progress_;
  std::vector<kernel::Given> given_;
  bool closed_;
  BRepAlgoAPI_Splitter first_, second_, after_;
};

}  // namespace

Split split(const Body& given, const Splitter& splitter, const SplitOptions& options,
            Progress& progress) {
  if (given.faces.empty()) throw Error(say("The part has no faces."));
  if (!(options.gap >= 0.0)) throw Error(say("The gap must be 0 mm or more."));
  const bool by_bodies = splitter.curves.empty() && !splitter.plane;
  if (options.gap > 0.0 && by_bodies && splitter.bodies.size() > 1)
    throw Error(say("A gap goes along one other part at a time. Choose one, or set the gap to 0."));
  Split result;
  kernel::guarded(say("The part could not be split"), [&] {
    const Body body = with_edges(given);
    const std::unique_ptr<SplitSides> sides = sides_of(splitter, body);
    result = Splitting(body, *sides, options, progress).run();
  });
  return result;
}

}  // namespace evenclay
