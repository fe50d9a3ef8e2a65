#include <unistd.h>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRepLib.hxx>
#include <BRep_Builder.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <STEPControl_Writer.hxx>
#include <ShapeFix_Shape.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColStd_Array2OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Edge.hxx>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <mutex>
#include <sstream>

#include "core/base/error.h"
#include "core/exchange/export.h"
#include "core/nurbs/clamped.h"

namespace evenclay {

namespace {

struct KernelKnots {
  TColStd_Array1OfReal values;
  TColStd_Array1OfInteger counts;
};

KernelKnots kernel_knots(const KnotVector& k) {
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
  KernelKnots result{TColStd_Array1OfReal(1, n), TColStd_Array1OfInteger(1, n)};
  for (int i = 0; i < n; ++i) {
    result.values.SetValue(i + 1, values[static_cast<std::size_t>(i)]);
    result.counts.SetValue(i + 1, counts[static_cast<std::size_t>(i)]);
  }
  return result;
}

Handle(Geom_BSplineSurface) kernel_surface(const Surface& original) {
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
  const KernelKnots u = kernel_knots(s.u);
  const KernelKnots v = kernel_knots(s.v);
  return new Geom_BSplineSurface(poles, weights, u.values, v.values, u.counts, v.counts, s.u.degree,
                                 s.v.degree);
}

TopoDS_Shape solid_where_closed(const SurfaceSet& set) {
  BRepBuilderAPI_Sewing sewing(1e-6);
  for (const Surface& s : set.surfaces)
    sewing.Add(BRepBuilderAPI_MakeFace(kernel_surface(s), 1e-6).Face());
  sewing.Perform();
  TopoDS_Shape sewn = sewing.SewedShape();
  if (set.surfaces.size() != 1 || !is_closed(set.surfaces.front(), 1e-9)) return sewn;
  for (TopExp_Explorer e(sewn, TopAbs_SHELL); e.More(); e.Next()) {
    BRepBuilderAPI_MakeSolid solid(TopoDS::Shell(e.Current()));
    if (!solid.IsDone()) continue;
    TopoDS_Solid result = solid.Solid();
    BRepLib::OrientClosedSolid(result);
    return result;
  }
  // A single closed face comes back as a face: give it a shell of its own.
  BRep_Builder builder;
  TopoDS_Shell shell;
  builder.MakeShell(shell);
  for (TopExp_Explorer e(sewn, TopAbs_FACE); e.More(); e.Next()) builder.Add(shell, e.Current());
  shell.Closed(true);
  TopoDS_Solid result = BRepBuilderAPI_MakeSolid(shell).Solid();
  BRepLib::OrientClosedSolid(result);
  return result;
}

// The kernel writes to a named file only.
std::string written_by_kernel(STEPControl_Writer& writer) {
  std::string name = (std::filesystem::temp_directory_path() / "evenclay-XXXXXX").string();
  const int fd = mkstemp(name.data());
  if (fd < 0) throw FileError("There is no room for a temporary file to write STEP.");
  ::close(fd);
  const bool written = writer.Write(name.c_str()) == IFSelect_RetDone;
  std::ifstream in(name, std::ios::binary);
  std::stringstream text;
  text << in.rdbuf();
  std::filesystem::remove(name);
  if (!written || text.str().empty()) throw Error("The B-rep kernel could not write STEP.");
  return text.str();
}

}  // namespace

namespace {

TopoDS_Shape edges_of(const CurveSet& set) {
  BRep_Builder builder;
  TopoDS_Compound all;
  builder.MakeCompound(all);
  for (const Curve& original : set.curves) {
    const Curve c = first_row(clamped(strip_of(original, {0, 0, 1})));
    TColgp_Array1OfPnt poles(1, c.point_count());
    TColStd_Array1OfReal weights(1, c.point_count());
    for (int i = 0; i < c.point_count(); ++i) {
      const Vec3& p = c.points[static_cast<std::size_t>(i)];
      poles.SetValue(i + 1, gp_Pnt(p.x, p.y, p.z));
      weights.SetValue(i + 1, c.weight(i));
    }
    const KernelKnots k = kernel_knots(c.knots);
    const Handle(Geom_BSplineCurve) curve =
        new Geom_BSplineCurve(poles, weights, k.values, k.counts, c.knots.degree);
    builder.Add(all, BRepBuilderAPI_MakeEdge(curve).Edge());
  }
  return all;
}

std::string step_text(const std::function<TopoDS_Shape()>& make, const std::string& name) {
  static std::mutex kernel;  // the kernel's exchange settings are global to the process
  const std::scoped_lock lock(kernel);
  // The kernel would print its statistics to standard output, where the runner's JSON goes.
  Message::DefaultMessenger()->ChangePrinters().Clear();
  try {
    STEPControl_Writer writer;
    Interface_Static::SetCVal("write.step.unit", "MM");
    Interface_Static::SetCVal("write.step.schema", "AP214IS");
    Interface_Static::SetCVal("write.step.product.name", name.c_str());
    writer.Transfer(make(), STEPControl_AsIs);
    return written_by_kernel(writer);
  } catch (const Standard_Failure& failure) {
    throw Error(std::string("The B-rep kernel could not write the part: ") +
                failure.GetMessageString());
  }
}

}  // namespace

std::string to_step(const SurfaceSet& set, const std::string& name) {
  return step_text([&] { return solid_where_closed(set); }, name);
}

std::string to_step(const CurveSet& set, const std::string& name) {
  return step_text([&] { return edges_of(set); }, name);
}

}  // namespace evenclay
