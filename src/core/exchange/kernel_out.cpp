// STEP with names, colours and layers, and IGES, by the B-rep kernel (parts_out.h).
#include <unistd.h>
#include <BRep_Builder.hxx>
#include <IGESControl_Controller.hxx>
#include <IGESControl_Writer.hxx>
#include <Interface_Static.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Controller.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <TCollection_ExtendedString.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopoDS_Compound.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_LayerTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <sstream>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/face_looks.h"
#include "core/exchange/parts_out.h"
#include "core/kernel/convert.h"
#include "core/kernel/guard.h"

namespace evenclay {

namespace {

// `faces` gets the faces of a body, in their order.
TopoDS_Shape shape_of(const OutPart& part, std::vector<TopoDS_Face>* faces = nullptr) {
  if (const auto* body = std::get_if<Body>(part.shape.get())) {
    kernel::KernelBody made = kernel::to_kernel(*body);
    if (faces != nullptr) *faces = std::move(made.faces_of_all);
    return made.all;
  }
  BRep_Builder builder;
  TopoDS_Compound all;
  builder.MakeCompound(all);
  for (const Curve& curve : std::get<CurveSet>(*part.shape).curves)
    builder.Add(all, kernel::to_kernel(curve));
  return all;
}

// The kernel writes to a named file only, and says nothing when the disk is full: `end` is what a whole file has near its end.
std::string through_file(const std::function<bool(const char*)>& write, std::string_view end) {
  std::string name = (std::filesystem::temp_directory_path() / "evenclay-XXXXXX").string();
  const int fd = mkstemp(name.data());
  if (fd < 0) throw FileError(say("There is no room for a temporary file."));
  ::close(fd);
  const bool written = write(name.c_str());
  std::ifstream in(name, std::ios::binary);
  std::stringstream text;
  text << in.rdbuf();
  std::filesystem::remove(name);
  std::string bytes = text.str();
  constexpr std::size_t kTail = 400;
  const std::size_t tail = bytes.size() > kTail ? bytes.size() - kTail : 0;
  if (!written || bytes.find(end, tail) == std::string::npos)
    throw FileError(say(
        "The file could not be written whole. Make room for temporary files on the disk and try "
        "again."));
  return bytes;
}

TCollection_ExtendedString words(const std::string& text) {
  return {text.c_str(), Standard_True};  // UTF-8
}

Quantity_Color kernel_colour(std::uint32_t colour) {
  const auto share = [&](int shift) {
    return static_cast<double>((colour >> shift) & 0xFFU) / 255.0;
  };
  return {share(16), share(8), share(0), Quantity_TOC_sRGB};
}

void add_to(const Handle(TDocStd_Document) & document, const OutPart& part) {
  const Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
  const Handle(XCAFDoc_ColorTool) colours = XCAFDoc_DocumentTool::ColorTool(document->Main());
  std::vector<TopoDS_Face> faces;
  const TDF_Label label = shapes->AddShape(shape_of(part, &faces), Standard_False);
  TDataStd_Name::Set(label, words(part.name));
  colours->SetColor(label, kernel_colour(part.colour), XCAFDoc_ColorGen);
  if (!part.face_looks.empty() && !faces.empty()) {
    const std::vector<int> looks = looks_of_faces(std::get<Body>(*part.shape), part.face_looks);
    for (std::size_t f = 0; f < faces.size(); ++f) {
      if (looks[f] < 0) continue;
      const TDF_Label face = shapes->AddSubShape(label, faces[f]);
      if (face.IsNull()) continue;  // the kernel has lost it
      const auto& look = part.face_looks[static_cast<std::size_t>(looks[f])];
      colours->SetColor(face, kernel_colour(look.colour), XCAFDoc_ColorSurf);
    }
  }
  if (!part.layer.empty())
    XCAFDoc_DocumentTool::LayerTool(document->Main())->SetLayer(label, words(part.layer));
}

}  // namespace

std::string to_step_parts(std::span<const OutPart> parts) {
  std::string text;
  kernel::guarded(say("The parts could not be written as STEP"), [&] {
    Handle(TDocStd_Document) document;
    XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document);
    for (const OutPart& p : parts) add_to(document, p);
    // Read when the writer is made.
    STEPCAFControl_Controller::Init();
    Interface_Static::SetCVal("write.step.unit", "MM");
    Interface_Static::SetCVal("write.step.schema", "AP242DIS");
    STEPCAFControl_Writer writer;
    writer.SetColorMode(Standard_True);
    writer.SetNameMode(Standard_True);
    writer.SetLayerMode(Standard_True);
    const bool moved = writer.Transfer(document, STEPControl_AsIs);
    if (moved)
      text = through_file([&](const char* name) { return writer.Write(name) == IFSelect_RetDone; },
                          "END-ISO-10303-21");
    XCAFApp_Application::GetApplication()->Close(document);
    if (!moved) throw Error(say("The B-rep kernel could not bring the parts into STEP."));
  });
  return text;
}

std::string to_iges_parts(std::span<const OutPart> parts) {
  std::string text;
  kernel::guarded(say("The parts could not be written as IGES"), [&] {
    IGESControl_Controller::Init();
    IGESControl_Writer writer("MM", 1);  // solids as B-rep entities
    for (const OutPart& p : parts)
      if (!writer.AddShape(shape_of(p)))
        throw Error(say("The B-rep kernel could not bring a part into IGES."));
    writer.ComputeModel();
    text = through_file([&](const char* name) { return writer.Write(name) == Standard_True; },
                        "T0000001");
  });
  return text;
}

}  // namespace evenclay
