#include "core/cut/trim.h"

#include <fmt/format.h>

#include <BOPAlgo_Alerts.hxx>
#include <BRepAlgoAPI_Splitter.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRep_Builder.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/cut/prepared.h"
#include "core/kernel/convert.h"
#include "core/kernel/guard.h"

namespace evenclay {

namespace {

// A curve as a polygon seen along the direction: u across, v up.
std::vector<Parameter> outline_of(const Curve& curve, const Frame& frame) {
  std::vector<Parameter> result;
  const CurveEvaluator e(curve);
  for (const double t : sample_places(curve.knots, curve.knots.degree == 1 ? 1 : 32)) {
    const Vec3 p = frame.to_local(e.point(t));
    result.push_back({p.x, p.y});
  }
  return result;
}

bool is_inside(const std::vector<std::vector<Parameter>>& outlines, const Vec3& p) {
  bool inside = false;
  for (const auto& o : outlines) inside ^= winds_round(o, {p.x, p.y});
  return inside;
}

void check_curves(std::span<const Curve> curves, const Frame& frame) {
  if (curves.empty())
    throw Error(say("There is no curve to cut with. Choose a part with a closed curve."));
  for (const Curve& c : curves) {
    const double gap = distance(evaluate(c, c.knots.first()), evaluate(c, c.knots.last()));
    if (!c.knots.periodic && gap > 1e-6 * size(c))
      throw Error(say(
          "The curve is open by {:.3g} mm, so it has no inside. Close it, or choose another one.",
          gap));
    if (std::abs(doubled_area(outline_of(c, frame))) < 1e-6 * size(c) * size(c))
      throw Error(
          say("Seen along the chosen direction the curve has no inside. Choose a direction across "
              "it."));
  }
}

// Faces swept by the curves along the direction, long enough to leave the part at both sides.
TopoDS_Shape swept(std::span<const Curve> curves, const Frame& frame, const Body& body,
                   TrimReach reach) {
  double low = 1e300, high = -1e300;
  for (const Face& f : body.faces)
    for (const Vec3& p : f.surface->points.values()) {
      const double z = dot(p, frame.z);
      low = std::min(low, z);
      high = std::max(high, z);
    }
  const double margin = 0.1 * (high - low) + 1.0;
  BRep_Builder builder;
  TopoDS_Compound all;
  builder.MakeCompound(all);
  for (const Curve& c : curves) {
    Curve start = c;
    double least = 1e300, most = -1e300;
    for (const Vec3& p : c.points) {
      least = std::min(least, dot(p, frame.z));
      most = std::max(most, dot(p, frame.z));
    }
    const bool forwards = reach == TrimReach::Forwards || reach == TrimReach::FirstSkin;
    const double from = forwards ? 0.0 : std::min(0.0, low - margin - most);
    const double to = reach == TrimReach::Backwards ? 0.0 : std::max(0.0, high + margin - least);
    if (!(to > from)) continue;
    for (Vec3& p : start.points) p += frame.z * from;
    const Vec3 way = frame.z * (to - from);
    builder.Add(all, BRepPrimAPI_MakePrism(kernel::to_kernel(start), gp_Vec(way.x, way.y, way.z)));
  }
  return all;
}

struct Piece {
  std::size_t face;  // it was cut from
  TopoDS_Face shape;
  bool goes = false;
  double height = 0.0;  // along the direction, of a place inside it
};

class Trimmer {
 public:
  Trimmer(const Body& body, std::span<const Curve> curves, const TrimOptions& options,
          Progress& progress)
      : body_(body),
        options_(options),
        progress_(progress),
        frame_(frame_along(options.direction)) {
    for (const Curve& c : curves) outlines_.push_back(outline_of(c, frame_));
    heights_from(curves);
  }

  Trimmed run(std::span<const Curve> curves) {
    refuse_collapsed(body_);
    const kernel::KernelBody given = kernel::to_kernel(body_);
    BRepAlgoAPI_Splitter splitter;
    TopTools_ListOfShape arguments, tools;
    arguments.Append(given.all);
    tools.Append(swept(curves, frame_, body_, options_.reach));
    const bool cut = cut_by_kernel(splitter, arguments, tools, progress_);
    progress_.report(0.6);
    if (!cut)
      throw Error(say(
          "The B-rep kernel could not cut the part along this curve. Move the curve a little, or "
          "give "
          "it fewer points."));
    gather(given, splitter);
    choose();
    return result(splitter, given);
  }

 private:
  void heights_from(std::span<const Curve> curves) {
    for (const Curve& c : curves)
      for (const Vec3& p : c.points) {
        curve_low_ = std::min(curve_low_, dot(p, frame_.z));
        curve_high_ = std::max(curve_high_, dot(p, frame_.z));
      }
  }

  void gather(const kernel::KernelBody& given, BRepAlgoAPI_Splitter& splitter) {
    TopTools_IndexedMapOfShape there;
    TopExp::MapShapes(splitter.Shape(), TopAbs_FACE, there);
    for (std::size_t f = 0; f < given.faces.size(); ++f) {
      const TopoDS_Face face = in_shape(given.all, given.faces[f]);
      const TopTools_ListOfShape& pieces = splitter.Modified(face);
      if (pieces.IsEmpty()) {
        if (there.Contains(face)) pieces_.push_back({f, face});
        continue;
      }
      for (const TopoDS_Shape& s : pieces) {
        TopoDS_Face piece = TopoDS::Face(s);
        piece.Orientation(face.Orientation());
        pieces_.push_back({f, piece});
      }
    }
  }

  // Orienting a solid may have turned its faces: the face as it lies in the shape that was cut.
  static TopoDS_Face in_shape(const TopoDS_Shape& all, const TopoDS_Face& face) {
    for (TopExp_Explorer e(all, TopAbs_FACE); e.More(); e.Next())
      if (e.Current().IsSame(face)) return TopoDS::Face(e.Current());
    return face;
  }

  // A place inside a piece, and whether the carried curve encloses it there.
  void judge(Piece& piece) {
    const Vec3 p = inner_place_of(piece.shape, body_.faces[piece.face], progress_);
    piece.height = dot(p, frame_.z);
    bool enclosed = is_inside(outlines_, frame_.to_local(p));
    if (options_.reach == TrimReach::Backwards) enclosed &= piece.height < curve_high_;
    if (options_.reach == TrimReach::Forwards || options_.reach == TrimReach::FirstSkin)
      enclosed &= piece.height > curve_low_;
    piece.goes = enclosed;
  }

  void choose() {
    for (Piece& piece : pieces_) judge(piece);
    if (options_.reach == TrimReach::FirstSkin) {
      const Piece* first = nullptr;
      for (const Piece& piece : pieces_)
        if (piece.goes && (first == nullptr || piece.height < first->height)) first = &piece;
      for (Piece& piece : pieces_) piece.goes &= &piece == first;
    }
    const bool any =
        std::any_of(pieces_.begin(), pieces_.end(), [](const Piece& p) { return p.goes; });
    const bool cut = pieces_.size() > body_.faces.size() || any;
    if (!any || !cut)
      throw Error(say(
          "The curve, carried along the direction, misses the part. Move the curve over the part, "
          "or "
          "choose another direction."));
    if (options_.keep == TrimKeep::Inside)
      for (Piece& piece : pieces_) piece.goes = !piece.goes;
    if (std::all_of(pieces_.begin(), pieces_.end(), [](const Piece& p) { return p.goes; }))
      throw Error(say(
          "Nothing of the part would be left. Choose the other side to keep, or a smaller curve."));
  }

  Trimmed result(BRepAlgoAPI_Splitter& splitter, const kernel::KernelBody& given) {
    BRep_Builder builder;
    TopoDS_Compound kept;
    builder.MakeCompound(kept);
    Trimmed trimmed;
    for (const Piece& piece : pieces_) {
      trimmed.pieces_taken += piece.goes ? 1 : 0;
      if (!piece.goes) builder.Add(kept, piece.shape);
    }
    const std::vector<kernel::Given> from{{&body_, given}};
    trimmed.body =
        kernel::named_body(kept, from, kernel::history_of(splitter), options_.step, progress_);
    return trimmed;
  }

  const Body& body_;
  const TrimOptions& options_;
  Progress& progress_;
  Frame frame_;
  std::vector<std::vector<Parameter>> outlines_;
  double curve_low_ = 1e300, curve_high_ = -1e300;
  std::vector<Piece> pieces_;
};

}  // namespace

Trimmed trim(const Body& body, std::span<const Curve> curves, const TrimOptions& options,
             Progress& progress) {
  if (body.faces.empty()) throw Error(say("There is no surface to cut."));
  if (!(length(options.direction) > 0.0))
    throw Error(say("The direction of the cut has no length. Choose another one."));
  check_curves(curves, frame_along(options.direction));
  Trimmed result;
  kernel::guarded(say("The part could not be cut"), [&] {
    const Body given = with_edges(body);  // so that every face can be followed
    result = Trimmer(given, curves, options, progress).run(curves);
  });
  return result;
}

}  // namespace evenclay
