#include <fmt/format.h>

#include <BRepBuilderAPI_NurbsConvert.hxx>
#include <BRepLib.hxx>
#include <BRepTools.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <BRep_Tool.hxx>
#include <Geom2dConvert.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <Geom2d_TrimmedCurve.hxx>
#include <GeomConvert.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_RectangularTrimmedSurface.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/kernel/convert.h"
#include "core/kernel/guard.h"
#include "core/kernel/lowered.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay::kernel {

namespace {

template <typename Spline>
KnotVector knots_of_spline(const Handle(Spline) & c) {
  KnotVector k;
  k.degree = c->Degree();
  for (int i = 1; i <= c->NbKnots(); ++i)
    k.knots.insert(k.knots.end(), static_cast<std::size_t>(c->Multiplicity(i)), c->Knot(i));
  return k;
}

// In degree 3, within 1e-9 of its length.
Curve laid_anew(const Handle(Geom_BSplineCurve) & c, double first, double last) {
  double length_of_net = 0.0;
  for (int i = 2; i <= c->NbPoles(); ++i) length_of_net += c->Pole(i).Distance(c->Pole(i - 1));
  const auto function = [&](double t) {
    gp_Pnt p;
    gp_Vec d;
    c->D1(t, p, d);
    CurveDerivatives made{};
    made.p = {p.X(), p.Y(), p.Z()};
    made.d1 = {d.X(), d.Y(), d.Z()};
    return made;
  };
  std::vector<double> breaks;
  for (int i = 1; i <= c->NbKnots(); ++i) breaks.push_back(c->Knot(i));
  return reparameterised(hermite_curve(function, breaks, 1e-9 * length_of_net), first, last);
}

Curve our_curve(const Handle(Geom_Curve) & any, double first, double last) {
  const Handle(Geom_BSplineCurve) c = GeomConvert::CurveToBSplineCurve(
      new Geom_TrimmedCurve(any, first, last), Convert_QuasiAngular);
  if (c->IsPeriodic()) c->SetNotPeriodic();
  if (c->Degree() > kMaxDegree) return laid_anew(c, first, last);
  Curve result{knots_of_spline(c), {}, {}};
  for (int i = 1; i <= c->NbPoles(); ++i) {
    result.points.push_back({c->Pole(i).X(), c->Pole(i).Y(), c->Pole(i).Z()});
    if (c->IsRational()) result.weights.push_back(c->Weight(i));
  }
  return reparameterised(result, first, last);
}

// Polynomial in the parameter plane: a rational one is laid anew.
Curve our_uv(const Handle(Geom2d_Curve) & any, double first, double last, double tolerance) {
  const auto function = [&](double t) {
    gp_Pnt2d p;
    gp_Vec2d d;
    any->D1(t, p, d);
    CurveDerivatives c{};
    c.p = {p.X(), p.Y(), 0.0};
    c.d1 = {d.X(), d.Y(), 0.0};
    return c;
  };
  const Handle(Geom2d_BSplineCurve) spline = Handle(Geom2d_BSplineCurve)::DownCast(any);
  if (!spline.IsNull() && !spline->IsRational() && !spline->IsPeriodic() &&
      spline->Degree() <= kMaxDegree) {
    const Handle(Geom2d_BSplineCurve) c = Handle(Geom2d_BSplineCurve)::DownCast(spline->Copy());
    if (first > c->FirstParameter() + 1e-12 || last < c->LastParameter() - 1e-12)
      c->Segment(std::max(first, c->FirstParameter()), std::min(last, c->LastParameter()));
    Curve result{knots_of_spline(c), {}, {}};
    for (int i = 1; i <= c->NbPoles(); ++i)
      result.points.push_back({c->Pole(i).X(), c->Pole(i).Y(), 0.0});
    return reparameterised(result, first, last);
  }
  const Vec3 a = function(first).p;
  const Vec3 b = function(last).p;
  const Vec3 m = function(0.5 * (first + last)).p;
  const Vec3 q = function(first + 0.25 * (last - first)).p;
  const bool straight = distance(m, (a + b) * 0.5) < 1e-12 * (1.0 + length(a) + length(b)) &&
                        distance(q, a * 0.75 + b * 0.25) < 1e-12 * (1.0 + length(a) + length(b));
  if (straight) return line_curve(a, b, first, last);
  std::vector<double> breaks;
  constexpr int kParts = 8;
  for (int k = 0; k <= kParts; ++k) breaks.push_back(first + (last - first) * k / kParts);
  breaks.back() = last;
  return hermite_curve(function, breaks, tolerance);
}

// The place of the converted surface that is the kernel's at its own parameters, from a guess: both have the same
// domain, but conics run otherwise between their knots. Newton's method.
Parameter same_place(const SurfaceEvaluator& ours, const Vec3& place, Parameter at) {
  for (int k = 0; k < 20; ++k) {
    const PointTangents s = ours.tangents(at.u, at.v);
    const Vec3 miss = place - s.p;
    const double e = dot(s.du, s.du), f = dot(s.du, s.dv), g = dot(s.dv, s.dv);
    const double area = e * g - f * f;
    if (!(area > 1e-14 * e * g)) break;  // a pole
    const double a = dot(miss, s.du), b = dot(miss, s.dv);
    const double du = (a * g - b * f) / area, dv = (b * e - a * f) / area;
    at.u += du;
    at.v += dv;
    if (std::abs(du) + std::abs(dv) < 1e-14 * (1.0 + std::abs(at.u) + std::abs(at.v))) break;
  }
  return at;
}

// A parameter curve laid anew where the surface was converted.
Curve our_uv_on(const Handle(Geom_Surface) & theirs, const SurfaceEvaluator& ours,
                const Handle(Geom2d_Curve) & uv, double first, double last, double tolerance) {
  const auto function = [&](double t) {
    gp_Pnt2d p;
    gp_Vec2d d;
    uv->D1(t, p, d);
    gp_Pnt at;
    gp_Vec du, dv;
    theirs->D1(p.X(), p.Y(), at, du, dv);
    const gp_Vec way = du * d.X() + dv * d.Y();
    const Parameter q = same_place(ours, {at.X(), at.Y(), at.Z()}, {p.X(), p.Y()});
    const PointTangents s = ours.tangents(q.u, q.v);
    const Vec3 w{way.X(), way.Y(), way.Z()};
    const double e = dot(s.du, s.du), f = dot(s.du, s.dv), g = dot(s.dv, s.dv);
    const double area = e * g - f * f;
    CurveDerivatives c{};
    c.p = {q.u, q.v, 0.0};
    c.d1 = {d.X(), d.Y(), 0.0};
    if (area > 1e-14 * e * g)
      c.d1 = {(dot(w, s.du) * g - dot(w, s.dv) * f) / area,
              (dot(w, s.dv) * e - dot(w, s.du) * f) / area, 0.0};
    return c;
  };
  std::vector<double> breaks;
  constexpr int kParts = 8;
  for (int k = 0; k <= kParts; ++k) breaks.push_back(first + (last - first) * k / kParts);
  breaks.back() = last;
  return hermite_curve(function, breaks, tolerance);
}

Surface our_surface(const TopoDS_Face& face, Progress& progress) {
  Handle(Geom_Surface) any = BRep_Tool::Surface(face);
  Handle(Geom_BSplineSurface) s = Handle(Geom_BSplineSurface)::DownCast(any);
  if (s.IsNull()) {
    double u0 = 0.0, u1 = 0.0, v0 = 0.0, v1 = 0.0;
    BRepTools::UVBounds(face, u0, u1, v0, v1);
    s = GeomConvert::SurfaceToBSplineSurface(
        new Geom_RectangularTrimmedSurface(any, u0, u1, v0, v1));
  } else {
    s = Handle(Geom_BSplineSurface)::DownCast(s->Copy());
  }
  if (s->IsUPeriodic()) s->SetUNotPeriodic();
  if (s->IsVPeriodic()) s->SetVNotPeriodic();
  if (s->UDegree() > kMaxDegree || s->VDegree() > kMaxDegree) return lowered(s, progress);
  Surface result;
  const auto direction = [](int degree, int count, auto&& knot, auto&& multiplicity) {
    KnotVector k;
    k.degree = degree;
    for (int i = 1; i <= count; ++i)
      k.knots.insert(k.knots.end(), static_cast<std::size_t>(multiplicity(i)), knot(i));
    return k;
  };
  result.u = direction(
      s->UDegree(), s->NbUKnots(), [&](int i) { return s->UKnot(i); },
      [&](int i) { return s->UMultiplicity(i); });
  result.v = direction(
      s->VDegree(), s->NbVKnots(), [&](int i) { return s->VKnot(i); },
      [&](int i) { return s->VMultiplicity(i); });
  const int nu = s->NbUPoles();
  const int nv = s->NbVPoles();
  result.points = Grid<Vec3>(nu, nv);
  const bool rational = s->IsURational() || s->IsVRational();
  if (rational) result.weights = Grid<double>(nu, nv, 1.0);
  for (int i = 0; i < nu; ++i)
    for (int j = 0; j < nv; ++j) {
      const gp_Pnt p = s->Pole(i + 1, j + 1);
      result.points(i, j) = {p.X(), p.Y(), p.Z()};
      if (rational) result.weights(i, j) = s->Weight(i + 1, j + 1);
    }
  check(result);
  return result;
}

class Reader {
 public:
  Reader(const std::function<Origin(const TopoDS_Face&, std::size_t)>& origin,
         const std::function<Tag(const TopoDS_Edge&, std::size_t)>& edge_tag, Progress& progress)
      : origin_(origin), edge_tag_(edge_tag), progress_(progress) {}

  Body read(const TopoDS_Shape& shape) {
    TopTools_IndexedMapOfShape faces;
    TopExp::MapShapes(shape, TopAbs_FACE, faces);
    for (int k = 1; k <= faces.Extent(); ++k) {
      progress_.report(static_cast<double>(k - 1) / faces.Extent());
      read_face(TopoDS::Face(faces(k)), static_cast<std::size_t>(k - 1));
    }
    drop_natural_borders();
    drop_unused_edges();
    return std::move(body_);
  }

 private:
  std::uint32_t edge_number(const TopoDS_Edge& edge) {
    const int before = edges_.Extent();
    const int k = edges_.Add(edge);
    if (k <= before) return static_cast<std::uint32_t>(k - 1);
    Edge made;
    made.tag = edge_tag_(edge, static_cast<std::size_t>(k - 1));
    double first = 0.0, last = 1.0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
    if (curve.IsNull()) {  // a pole
      BRep_Tool::Range(edge, first, last);
      const gp_Pnt p = BRep_Tool::Pnt(TopExp::FirstVertex(edge));
      const Vec3 at{p.X(), p.Y(), p.Z()};
      made.curve = line_curve(at, at, first, last);
    } else {
      made.curve = our_curve(curve, first, last);
    }
    body_.edges.push_back(std::move(made));
    return static_cast<std::uint32_t>(k - 1);
  }

  void read_face(const TopoDS_Face& oriented, std::size_t number) {
    const TopoDS_Face face = TopoDS::Face(oriented.Oriented(TopAbs_FORWARD));
    const Origin origin = origin_(oriented, number);
    Face made;
    made.tag = origin.tag;
    converted_.push_back(origin.face == nullptr);
    made.flipped = origin.face != nullptr && origin.as_given
                       ? origin.face->flipped
                       : oriented.Orientation() == TopAbs_REVERSED;
    made.surface = origin.face != nullptr
                       ? origin.face->surface
                       : std::make_shared<const Surface>(our_surface(face, progress_));
    const double scale = made.surface->u.length() + made.surface->v.length();
    const Handle(Geom_Surface) theirs = BRep_Tool::Surface(face);
    std::optional<SurfaceEvaluator> anew;  // where parameters run otherwise than the kernel's
    if (origin.face == nullptr && Handle(Geom_BSplineSurface)::DownCast(theirs).IsNull())
      anew.emplace(*made.surface);
    for (TopoDS_Iterator w(face); w.More(); w.Next()) {
      if (w.Value().ShapeType() != TopAbs_WIRE) continue;
      Loop loop;
      for (BRepTools_WireExplorer e(TopoDS::Wire(w.Value()), face); e.More(); e.Next()) {
        const TopoDS_Edge& edge = e.Current();
        EdgeUse use;
        use.edge = edge_number(edge);
        use.forward = edge.Orientation() != TopAbs_REVERSED;
        double first = 0.0, last = 1.0;
        const Handle(Geom2d_Curve) uv = BRep_Tool::CurveOnSurface(edge, face, first, last);
        if (uv.IsNull())
          throw Error(say("A face of the part has an edge that does not lie on it."));
        const KnotVector& k = body_.edges[use.edge].curve.knots;
        const Curve laid = anew ? our_uv_on(theirs, *anew, uv, first, last, 1e-9 * scale)
                                : our_uv(uv, first, last, 1e-9 * scale);
        use.uv = reparameterised(laid, k.first(), k.last());
        loop.push_back(std::move(use));
      }
      if (!loop.empty()) {
        close_in_parameters(loop);
        made.loops.push_back(std::move(loop));
      }
    }
    body_.faces.push_back(std::move(made));
  }

  // Ends of parameter curves meet only within the kernel's tolerances: both go to the middle.
  static void close_in_parameters(Loop& loop) {
    for (std::size_t k = 0; k < loop.size(); ++k) {
      EdgeUse& use = loop[k];
      EdgeUse& next = loop[(k + 1) % loop.size()];
      Vec3& end = use.forward ? use.uv.points.back() : use.uv.points.front();
      Vec3& begin = next.forward ? next.uv.points.front() : next.uv.points.back();
      const Vec3 middle = (end + begin) * 0.5;
      end = begin = middle;
    }
  }

  // A loop that runs along the borders of the domain only, on edges no other face uses, says nothing.
  void drop_natural_borders() {
    std::vector<std::vector<std::size_t>> users(body_.edges.size());
    for (std::size_t f = 0; f < body_.faces.size(); ++f)
      for (const Loop& loop : body_.faces[f].loops)
        for (const EdgeUse& use : loop) users[use.edge].push_back(f);
    for (std::size_t f = 0; f < body_.faces.size(); ++f) {
      Face& face = body_.faces[f];
      if (face.loops.size() != 1) continue;
      const bool natural =
          std::all_of(face.loops[0].begin(), face.loops[0].end(), [&](const EdgeUse& use) {
            const bool own = std::all_of(users[use.edge].begin(), users[use.edge].end(),
                                         [&](std::size_t user) { return user == f; });
            return own && runs_along_border(use.uv, *face.surface);
          });
      if (!natural) continue;
      face.loops.clear();
      if (converted_[f]) face.surface = closed_where_it_meets(face.surface);
    }
  }

  // A closed surface of the kernel has a seam; ours goes round where the ends meet smoothly.
  static std::shared_ptr<const Surface> closed_where_it_meets(std::shared_ptr<const Surface> s) {
    for (const Direction d : {Direction::U, Direction::V}) {
      if (knots_of(*s, d).periodic) continue;
      try {
        s = std::make_shared<const Surface>(closed(*s, d, 1e-9 * (1.0 + size(*s))));
      } catch (const Error&) {
        // It stays open.
      }
    }
    return s;
  }

  static bool runs_along_border(const Curve& uv, const Surface& s) {
    const auto along = [&](auto&& get, const KnotVector& k) {
      for (const double end : {k.first(), k.last()})
        if (std::all_of(uv.points.begin(), uv.points.end(),
                        [&](const Vec3& p) { return std::abs(get(p) - end) <= 1e-7 * k.length(); }))
          return true;
      return false;
    };
    return along([](const Vec3& p) { return p.x; }, s.u) ||
           along([](const Vec3& p) { return p.y; }, s.v);
  }

  void drop_unused_edges() {
    std::vector<std::uint32_t> number(body_.edges.size(), 0);
    std::vector<bool> used(body_.edges.size(), false);
    for (const Face& face : body_.faces)
      for (const Loop& loop : face.loops)
        for (const EdgeUse& use : loop) used[use.edge] = true;
    std::vector<Edge> kept;
    for (std::size_t e = 0; e < used.size(); ++e) {
      number[e] = static_cast<std::uint32_t>(kept.size());
      if (used[e]) kept.push_back(std::move(body_.edges[e]));
    }
    body_.edges = std::move(kept);
    for (Face& face : body_.faces)
      for (Loop& loop : face.loops)
        for (EdgeUse& use : loop) use.edge = number[use.edge];
  }

  const std::function<Origin(const TopoDS_Face&, std::size_t)>& origin_;
  const std::function<Tag(const TopoDS_Edge&, std::size_t)>& edge_tag_;
  Progress& progress_;
  TopTools_IndexedMapOfShape edges_;  // same edge whatever its sense
  std::vector<bool> converted_;       // faces whose surfaces are not ones of ours
  Body body_;
};

}  // namespace

TopoDS_Shape as_splines(const TopoDS_Shape& shape,
                        const std::function<void(const TopoDS_Face&, const TopoDS_Face&)>& each) {
  TopoDS_Shape result;
  guarded(say("A shape could not be brought into B-spline form"), [&] {
    BRepBuilderAPI_NurbsConvert convert(shape, Standard_True);
    result = convert.Shape();
    TopTools_IndexedMapOfShape faces;
    TopExp::MapShapes(shape, TopAbs_FACE, faces);
    for (int k = 1; k <= faces.Extent(); ++k)
      each(TopoDS::Face(faces(k)), TopoDS::Face(convert.ModifiedShape(faces(k))));
  });
  return result;
}

Body from_kernel(const TopoDS_Shape& shape,
                 const std::function<Origin(const TopoDS_Face&, std::size_t)>& origin,
                 const std::function<Tag(const TopoDS_Edge&, std::size_t)>& edge_tag,
                 Progress& progress) {
  Body body;
  guarded(say("A shape of the B-rep kernel could not be read"), [&] {
    body = Reader(origin, edge_tag, progress).read(shape);
    refresh_gaps(body);
  });
  return body;
}

}  // namespace evenclay::kernel
