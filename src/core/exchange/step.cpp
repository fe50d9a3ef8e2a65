#include <unistd.h>
#include <BRep_Builder.hxx>
#include <Interface_Static.hxx>
#include <STEPControl_Writer.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Edge.hxx>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <sstream>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/exchange/export.h"
#include "core/kernel/convert.h"
#include "core/kernel/guard.h"

namespace evenclay {

namespace {

// The kernel writes to a named file only.
std::string written_by_kernel(STEPControl_Writer& writer) {
  std::string name = (std::filesystem::temp_directory_path() / "evenclay-XXXXXX").string();
  const int fd = mkstemp(name.data());
  if (fd < 0) throw FileError(say("There is no room for a temporary file to write STEP."));
  ::close(fd);
  const bool written = writer.Write(name.c_str()) == IFSelect_RetDone;
  std::ifstream in(name, std::ios::binary);
  std::stringstream text;
  text << in.rdbuf();
  std::filesystem::remove(name);
  if (!written || text.str().empty()) throw Error(say("The B-rep kernel could not write STEP."));
  return text.str();
}

TopoDS_Shape edges_of(const CurveSet& set) {
  BRep_Builder builder;
  TopoDS_Compound all;
  builder.MakeCompound(all);
  for (const Curve& curve : set.curves) builder.Add(all, kernel::to_kernel(curve));
  return all;
}

std::string step_text(const std::function<TopoDS_Shape()>& make, const std::string& name) {
  std::string text;
  kernel::guarded(say("The part could not be written as STEP"), [&] {
    STEPControl_Writer writer;
    Interface_Static::SetCVal("write.step.unit", "MM");
    Interface_Static::SetCVal("write.step.schema", "AP214IS");
    Interface_Static::SetCVal("write.step.product.name", name.c_str());
    if (writer.Transfer(make(), STEPControl_AsIs) != IFSelect_RetDone)
      throw Error(say("The B-rep kernel could not bring the part into STEP."));
    text = written_by_kernel(writer);
  });
  return text;
}

}  // namespace

std::string to_step(const Body& body, const std::string& name) {
  return step_text([&] { return kernel::to_kernel(body).all; }, name);
}

std::string to_step(const CurveSet& set, const std::string& name) {
  return step_text([&] { return edges_of(set); }, name);
}

}  // namespace evenclay
