#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRepGProp.hxx>
#include <BRepLib.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <GProp_GProps.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <Geom_BSplineCurve.hxx>
#include <ShapeBuild_ReShape.hxx>
#include <ShapeFix_Shape.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColStd_Array2OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <TColgp_Array1OfPnt2d.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/kernel/convert.h"
#include "core/kernel/guard.h"
#include "core/nurbs/clamped.h"

namespace evenclay::kernel {

namespace {

struct Knots {
  TColStd_Array1OfReal values;
  TColStd_Array1OfInteger counts;
};

Knots kernel_knots(const KnotVector& k) {
  std::vector<double> values;
  std::vector<int> counts;
  for (const double t : k.knots) {
    if (values.empty() || t > values.back()) {
      values.push_back(t);
      counts.push_back(0);
    }
    ++counts.back();
  }
  const int n = static_cast<int>(values.size());
  Knots result{TColStd_Array1OfReal(1, n), TColStd_Array1OfInteger(1, n)};
  for (int i = 0; i < n; ++i) {
    result.values.SetValue(i + 1, values[static_cast<std::size_t>(i)]);
    result.counts.SetValue(i + 1, counts[static_cast<std::size_t>(i)]);
  }
  return result;
}

Handle(Geom_BSplineCurve) kernel_curve(const Curve& original) {
  const Curve c =
      original.knots.periodic ? first_row(clamped(strip_of(original, {0, 0, 1}))) : original;
  TColgp_Array1OfPnt poles(1, c.point_count());
  TColStd_Array1OfReal weights(1, c.point_count());
  for (int i = 0; i < c.point_count(); ++i) {
    const Vec3& p = c.points[static_cast<std::size_t>(i)];
    poles.SetValue(i + 1, gp_Pnt(p.x, p.y, p.z));
    weights.SetValue(i + 1, c.weight(i));
  }
  const Knots k = kernel_knots(c.knots);
  return new Geom_BSplineCurve(poles, weights, k.values, k.counts, c.knots.degree);
}

Handle(Geom2d_BSplineCurve) kernel_uv(const Curve& c) {
  TColgp_Array1OfPnt2d poles(1, c.point_count());
  for (int i = 0; i < c.point_count(); ++i) {
    const Vec3& p = c.points[static_cast<std::size_t>(i)];
    poles.SetValue(i + 1, gp_Pnt2d(p.x, p.y));
  }
  const Knots k = kernel_knots(c.knots);
  return new Geom2d_BSplineCurve(poles, k.values, k.counts, c.knots.degree);
}

// Corners as kernel vertices, edges between them.
class Builder {
 public:
  explicit Builder(const Body& body) : body_(body), topology_(topology(body)) {}

  KernelBody build() {
    make_edges();
    for (const Face& face : body_.faces) result_.faces.push_back(make_face(face));
    result_.all = put_together();
    if (!BRepCheck_Analyzer(result_.all).IsValid()) heal();
    return std::move(result_);
  }

 private:
  // Where the kernel is stricter than our tolerances it mends the shape itself; faces and edges are
  // followed.
  void heal() {
    ShapeFix_Shape fix(result_.all);
    fix.Perform();
    const TopoDS_Shape healed = fix.Shape();
    if (!BRepCheck_Analyzer(healed).IsValid()) return;
    result_.all = healed;
    for (TopoDS_Face& face : result_.faces) {
      const TopoDS_Shape now = fix.Context()->Apply(face);
      if (!now.IsNull() && now.ShapeType() == TopAbs_FACE) face = TopoDS::Face(now);
    }
    for (TopoDS_Edge& edge : result_.edges) {
      if (edge.IsNull()) continue;
      const TopoDS_Shape now = fix.Context()->Apply(edge);
      if (!now.IsNull() && now.ShapeType() == TopAbs_EDGE) edge = TopoDS::Edge(now);
    }
  }

  void make_edges() {
    std::vector<TopoDS_Vertex> corners(topology_.corner_count);
    std::vector<bool> pole(body_.edges.size(), false);
    for (const std::uint32_t e : topology_.poles) pole[e] = true;
    result_.edges.resize(body_.edges.size());
    for (std::size_t e = 0; e < body_.edges.size(); ++e) {
      if (topology_.uses[e].empty()) continue;
      const Edge& edge = body_.edges[e];
      const double tolerance = std::max(edge.gap, 1e-7);
      TopoDS_Vertex ends[2];
      for (std::size_t k = 0; k < 2; ++k) {
        TopoDS_Vertex& v = corners[topology_.corners[e][k]];
        const Vec3& p = k == 0 ? edge.curve.points.front() : edge.curve.points.back();
        if (v.IsNull()) builder_.MakeVertex(v, gp_Pnt(p.x, p.y, p.z), tolerance);
        const gp_Pnt there = BRep_Tool::Pnt(v);
        const double off = there.Distance(gp_Pnt(p.x, p.y, p.z));
        builder_.UpdateVertex(v, std::max(BRep_Tool::Tolerance(v), std::max(off, tolerance)));
        ends[k] = v;
      }
      TopoDS_Edge made;
      if (pole[e]) {
        builder_.MakeEdge(made);
        builder_.Degenerated(made, Standard_True);
      } else {
        builder_.MakeEdge(made, kernel_curve(edge.curve), tolerance);
      }
      builder_.Add(made, ends[0].Oriented(TopAbs_FORWARD));
      builder_.Add(made, ends[1].Oriented(TopAbs_REVERSED));
      builder_.Range(made, edge.curve.knots.first(), edge.curve.knots.last());
      result_.edges[e] = made;
    }
  }

  TopoDS_Face make_face(const Face& face) {
    const Handle(Geom_BSplineSurface) surface = to_kernel(*face.surface);
    if (!face.trimmed()) {
      TopoDS_Face made = BRepBuilderAPI_MakeFace(surface, 1e-6).Face();
      if (face.flipped) made.Reverse();
      return made;
    }
    TopoDS_Face made;
    builder_.MakeFace(made, surface, 1e-7);
    const std::vector<bool> turned = loops_turned(face);
    for (std::size_t l = 0; l < face.loops.size(); ++l) {
      add_parameter_curves(face.loops[l], made);
      TopoDS_Wire wire;
      builder_.MakeWire(wire);
      for (const EdgeUse& use : face.loops[l]) {
        const bool forward = use.forward != turned[l];
        builder_.Add(wire,
                     result_.edges[use.edge].Oriented(forward ? TopAbs_FORWARD : TopAbs_REVERSED));
      }
      wire.Closed(Standard_True);
      builder_.Add(made, wire);
    }
    if (face.flipped) made.Reverse();
    return made;
  }

  // A seam has two parameter curves; the kernel wants that of the forward use first.
  void add_parameter_curves(const Loop& loop, const TopoDS_Face& face) {
    for (std::size_t k = 0; k < loop.size(); ++k) {
      const EdgeUse& use = loop[k];
      const double tolerance = std::max(body_.edges[use.edge].gap, 1e-7);
      const EdgeUse* other = nullptr;
      std::size_t place = 0;
      for (std::size_t m = 0; m < loop.size(); ++m)
        if (m != k && loop[m].edge == use.edge) {
          other = &loop[m];
          place = m;
        }
      if (other != nullptr && place < k) continue;  // done with the first one
      if (other == nullptr) {
        builder_.UpdateEdge(result_.edges[use.edge], kernel_uv(use.uv), face, tolerance);
        continue;
      }
      const EdgeUse& forward = use.forward ? use : *other;
      const EdgeUse& backward = use.forward ? *other : use;
      builder_.UpdateEdge(result_.edges[use.edge], kernel_uv(forward.uv), kernel_uv(backward.uv),
                          face, tolerance);
    }
  }

  TopoDS_Shape solid_of(const TopoDS_Shell& shell) const {
    TopoDS_Solid solid = BRepBuilderAPI_MakeSolid(shell).Solid();
    BRepLib::OrientClosedSolid(solid);
    return solid;
  }

  TopoDS_Shape put_together() {
    if (result_.faces.empty()) throw Error(say("The part has no faces."));
    result_.faces_of_all = result_.faces;
    // Natural borders that meet are joined by the kernel.
    const bool natural = std::any_of(body_.faces.begin(), body_.faces.end(),
                                     [](const Face& f) { return !f.trimmed(); });
    if (natural && body_.faces.size() > 1) return sewn();
    if (body_.faces.size() == 1 && !topology_.closed) return result_.faces.front();
    if (topology_.closed) return solids();
    TopoDS_Compound all;
    builder_.MakeCompound(all);
    TopoDS_Shape only;
    for (const auto& faces : topology_.shells) {
      only = faces.size() == 1 ? TopoDS_Shape(result_.faces[faces[0]]) : shell_of(faces);
      builder_.Add(all, only);
    }
    return topology_.shells.size() == 1 ? only : all;
  }

  TopoDS_Shape shell_of(const std::vector<std::uint32_t>& faces) {
    TopoDS_Shell shell;
    builder_.MakeShell(shell);
    for (const std::uint32_t f : faces) builder_.Add(shell, result_.faces[f]);
    if (topology_.closed) shell.Closed(Standard_True);
    return shell;
  }

  // A shell whose outside is inside is a hollow of the solid around it.
  TopoDS_Shape solids() {
    std::vector<TopoDS_Solid> outer;
    std::vector<TopoDS_Shell> hollows;
    for (const auto& faces : topology_.shells) {
      const TopoDS_Shell shell = TopoDS::Shell(shell_of(faces));
      GProp_GProps volume;
      if (topology_.shells.size() > 1) BRepGProp::VolumeProperties(shell, volume);
      if (volume.Mass() < 0.0)
        hollows.push_back(shell);
      else
        outer.push_back(TopoDS::Solid(solid_of(shell)));
    }
    for (const TopoDS_Shell& hollow : hollows) {
      const gp_Pnt place =
          BRep_Tool::Pnt(TopoDS::Vertex(TopExp_Explorer(hollow, TopAbs_VERTEX).Current()));
      bool inside = false;
      for (TopoDS_Solid& solid : outer) {
        inside = BRepClass3d_SolidClassifier(solid, place, 1e-7).State() == TopAbs_IN;
        if (inside) builder_.Add(solid, hollow);
        if (inside) break;
      }
      if (!inside) outer.push_back(TopoDS::Solid(solid_of(hollow)));
    }
    if (outer.size() == 1) return outer.front();
    TopoDS_Compound all;
    builder_.MakeCompound(all);
    for (const TopoDS_Solid& solid : outer) builder_.Add(all, solid);
    return all;
  }

  TopoDS_Shape sewn() {
    BRepBuilderAPI_Sewing sewing(1e-6);
    for (const TopoDS_Face& face : result_.faces) sewing.Add(face);
    sewing.Perform();
    const TopoDS_Shape shape = sewing.SewedShape();
    for (TopoDS_Face& face : result_.faces_of_all)
      if (sewing.IsModified(face)) face = TopoDS::Face(sewing.Modified(face));
    for (TopExp_Explorer e(shape, TopAbs_SHELL); e.More(); e.Next())
      if (BRep_Tool::IsClosed(e.Current()) && shape.ShapeType() == TopAbs_SHELL)
        return solid_of(TopoDS::Shell(e.Current()));
    return shape;
  }

  const Body& body_;
  Topology topology_;
  BRep_Builder builder_;
  KernelBody result_;
};

}  // namespace

Handle(Geom_BSplineSurface) to_kernel(const Surface& original) {
  const Surface s = clamped(original);
  const int nu = s.points.rows();
  const int nv = s.points.columns();
  TColgp_Array2OfPnt poles(1, nu, 1, nv);
  TColStd_Array2OfReal weights(1, nu, 1, nv);
  for (int i = 0; i < nu; ++i)
    for (int j = 0; j < nv; ++j) {
      const Vec3& p = s.points(i, j);
      poles.SetValue(i + 1, j + 1, gp_Pnt(p.x, p.y, p.z));
      weights.SetValue(i + 1, j + 1, s.weight(i, j));
    }
  const Knots u = kernel_knots(s.u);
  const Knots v = kernel_knots(s.v);
  return new Geom_BSplineSurface(poles, weights, u.values, v.values, u.counts, v.counts, s.u.degree,
                                 s.v.degree);
}

TopoDS_Edge to_kernel(const Curve& curve) {
  return BRepBuilderAPI_MakeEdge(kernel_curve(curve)).Edge();
}

KernelBody to_kernel(const Body& body) {
  KernelBody result;
  guarded(say("The part could not be given to the B-rep kernel"),
          [&] { result = Builder(body).build(); });
  return result;
}

}  // namespace evenclay::kernel
