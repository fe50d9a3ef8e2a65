#include "core/exchange/step_file.h"

#include <fmt/format.h>

#include <unistd.h>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRep_Builder.hxx>
#include <IGESCAFControl_Reader.hxx>
#include <Interface_Static.hxx>
#include <Message_ProgressIndicator.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <TDF_Label.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_DataMapOfShapeInteger.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XCAFPrs_DocumentExplorer.hxx>
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <map>
#include <sstream>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/kernel/convert.h"
#include "core/kernel/guard.h"

namespace evenclay {

namespace {

// The kernel's progress as ours; the user's Cancel is its break. Ours is only read here, since an
// exception may not pass through the kernel.
class Indicator : public Message_ProgressIndicator {
 public:
  Indicator(Progress& progress, double share) : progress_(progress), share_(share) {}
  Standard_Boolean UserBreak() override { return progress_.cancelled(); }
  void Show(const Message_ProgressScope&, const Standard_Boolean) override {
    if (!progress_.cancelled()) progress_.report(share_ * GetPosition());
  }

 private:
  Progress& progress_;
  double share_;
};

constexpr double kReading = 0.6;  // share of the work until shapes are there

struct Item {
  std::string name;
  std::optional<std::uint32_t> colour;
  TopoDS_Shape shape;
  TopTools_DataMapOfShapeInteger
      faces;  ///< colours of single faces, where they lie without a place
};

std::string name_of(const TDF_Label& label) {
  Handle(TDataStd_Name) name;
  if (!label.FindAttribute(TDataStd_Name::GetID(), name)) return {};
  const TCollection_ExtendedString& wide = name->Get();
  std::string text(static_cast<std::size_t>(wide.LengthOfCString()) + 1, '\0');
  Standard_PCharacter at = text.data();
  wide.ToUTF8CString(at);
  text.resize(text.find('\0'));
  return text;
}

std::uint32_t colour_of(const Quantity_Color& c) {
  double r = 0.0, g = 0.0, b = 0.0;
  c.Values(r, g, b, Quantity_TOC_sRGB);
  const auto byte = [](double x) {
    return static_cast<std::uint32_t>(std::lround(std::clamp(x, 0.0, 1.0) * 255.0));
  };
  return byte(r) << 16U | byte(g) << 8U | byte(b);
}

// Solids one by one; what belongs to none is kept together.
void add_items(const std::string& name, const std::optional<std::uint32_t>& colour,
               const TopoDS_Shape& shape, const TopTools_DataMapOfShapeInteger& faces,
               std::vector<Item>& out) {
  const std::size_t before = out.size();
  for (TopExp_Explorer e(shape, TopAbs_SOLID); e.More(); e.Next())
    out.push_back({name, colour, e.Current(), faces});
  BRep_Builder builder;
  TopoDS_Compound rest;
  builder.MakeCompound(rest);
  bool any = false;
  for (TopExp_Explorer e(shape, TopAbs_FACE, TopAbs_SOLID); e.More(); e.Next()) {
    builder.Add(rest, e.Current());
    any = true;
  }
  if (any) out.push_back({name, colour, rest, faces});
  if (out.size() - before < 2) return;
  for (std::size_t k = before; k < out.size(); ++k)
    out[k].name = fmt::format("{} {}", name, k - before + 1);
}

TopoDS_Shape bare(const TopoDS_Shape& shape) {
  return shape.Located(TopLoc_Location());
}

// Colours of faces that are other than those of the shape they belong to.
TopTools_DataMapOfShapeInteger face_colours(const Handle(TDocStd_Document) & document,
                                            const TDF_Label& shape) {
  TopTools_DataMapOfShapeInteger found;
  const Handle(XCAFDoc_ColorTool) colours = XCAFDoc_DocumentTool::ColorTool(document->Main());
  TDF_LabelSequence parts;
  XCAFDoc_ShapeTool::GetSubShapes(shape, parts);
  for (const TDF_Label& part : parts) {
    Quantity_Color colour;
    if (!colours->GetColor(part, XCAFDoc_ColorSurf, colour) &&
        !colours->GetColor(part, XCAFDoc_ColorGen, colour))
      continue;
    for (TopExp_Explorer e(XCAFDoc_ShapeTool::GetShape(part), TopAbs_FACE); e.More(); e.Next())
      found.Bind(bare(e.Current()), static_cast<int>(colour_of(colour)));
  }
  return found;
}

std::vector<Item> items_of(const Handle(TDocStd_Document) & document) {
  std::vector<Item> items;
  for (XCAFPrs_DocumentExplorer e(document, XCAFPrs_DocumentExplorerFlags_OnlyLeafNodes); e.More();
       e.Next()) {
    const XCAFPrs_DocumentNode& node = e.Current();
    const TopoDS_Shape shape = XCAFDoc_ShapeTool::GetShape(node.RefLabel).Located(node.Location);
    if (shape.IsNull()) continue;
    std::string name = name_of(node.Label);
    if (name.empty()) name = name_of(node.RefLabel);
    if (name.empty()) name = "Part";
    std::optional<std::uint32_t> colour;
    if (node.Style.IsSetColorSurf()) colour = colour_of(node.Style.GetColorSurf());
    add_items(name, colour, shape, face_colours(document, node.RefLabel), items);
  }
  return items;
}

// Places in an assembly become part of the geometry; so do those of the faces' colours.
TopoDS_Shape placed(const Item& item, TopTools_DataMapOfShapeInteger& faces) {
  const TopLoc_Location location = item.shape.Location();
  faces = item.faces;
  if (location.IsIdentity()) return item.shape;
  BRepBuilderAPI_Transform moved(bare(item.shape), location.Transformation(), Standard_True);
  faces.Clear();
  for (TopExp_Explorer e(bare(item.shape), TopAbs_FACE); e.More(); e.Next())
    if (const int* colour = item.faces.Seek(bare(e.Current())))
      faces.Bind(bare(moved.ModifiedShape(e.Current())), *colour);
  return moved.Shape();
}

StepFile bodies_of(const std::vector<Item>& items, int step, Progress& progress) {
  StepFile file;
  std::uint64_t face_number = 0, edge_number = 0;
  for (std::size_t k = 0; k < items.size(); ++k) {
    const double start =
        kReading + (1.0 - kReading) * static_cast<double>(k) / static_cast<double>(items.size());
    progress.report(start);
    TopTools_DataMapOfShapeInteger colours, kept;
    const TopoDS_Shape at = placed(items[k], colours);
    const TopoDS_Shape splines =
        kernel::as_splines(at, [&](const TopoDS_Face& old, const TopoDS_Face& now) {
          if (const int* colour = colours.Seek(bare(old))) kept.Bind(bare(now), *colour);
        });
    std::map<Tag, std::uint32_t> of_faces;
    progress.check();
    Progress inner;  // of one body; the file's share is reported here
    Body body = kernel::from_kernel(
        splines,
        [&](const TopoDS_Face& face, std::size_t) {
          progress.check();
          const Tag tag = make_tag(step, 1, face_number++);
          if (const int* colour = kept.Seek(bare(face)))
            of_faces[tag] = static_cast<std::uint32_t>(*colour);
          return kernel::Origin{nullptr, tag};
        },
        [&](const TopoDS_Edge&, std::size_t) { return make_tag(step, 2, edge_number++); }, inner);
    if (!body.faces.empty())
      file.bodies.push_back({items[k].name, items[k].colour, std::move(body), std::move(of_faces)});
  }
  return file;
}

}  // namespace

namespace {

// What a reader of the kernel has read, as bodies.
template <typename Reader>
StepFile transferred(Reader& reader, const char* kind, int step, Progress& progress) {
  progress.report(0.2);
  Handle(TDocStd_Document) document;
  XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document);
  const Handle(Indicator) indicator = new Indicator(progress, kReading);
  const bool done = reader.Transfer(document, Message_ProgressIndicator::Start(indicator));
  progress.check();
  if (!done) throw Error(say("The {} file holds nothing that can be brought in.", kind));
  const std::vector<Item> items = items_of(document);
  StepFile file = bodies_of(items, step, progress);
  document->Close();
  if (file.bodies.empty())
    throw Error(say("The {} file holds no surfaces. Wire frames and drawings are not read.", kind));
  return file;
}

// A file that is gone with this: the kernel reads IGES by name only.
class TemporaryFile {
 public:
  explicit TemporaryFile(const std::string& bytes)
      : path_(std::filesystem::temp_directory_path() /
              fmt::format("evenclay-{}-{}.igs", ::getpid(), static_cast<const void*>(this))) {
    std::ofstream out(path_, std::ios::binary);
    out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    if (!out)
      throw Error(
          say("There is no room for reading the file. Free some space in the temporary folder."));
  }
  ~TemporaryFile() {
    std::error_code ignored;
    std::filesystem::remove(path_, ignored);
  }
  TemporaryFile(const TemporaryFile&) = delete;
  TemporaryFile& operator=(const TemporaryFile&) = delete;
  std::string name() const { return path_.string(); }

 private:
  std::filesystem::path path_;
};

}  // namespace

StepFile read_iges(const std::string& bytes, int step, Progress& progress) {
  StepFile file;
  kernel::guarded(say("The IGES file could not be read"), [&] {
    // Column 73 of the first line names the start section (IGES 5.3, 2.2.4.1).
    if (bytes.size() < 80 || bytes[72] != 'S')
      throw Error(say(
          "The file is not an IGES file: its first line is no start section. Choose a file that "
          "ends "
          "in .iges or .igs."));
    const TemporaryFile copy(bytes);
    IGESCAFControl_Reader reader;
    Interface_Static::SetCVal("xstep.cascade.unit", "MM");
    reader.SetColorMode(Standard_True);
    reader.SetNameMode(Standard_True);
    reader.SetLayerMode(Standard_False);
    if (reader.ReadFile(copy.name().c_str()) != IFSelect_RetDone)
      throw Error(say(
          "The IGES file breaks off or is damaged. Ask for it again, or save it anew where it was "
          "made."));
    file = transferred(reader, "IGES", step, progress);
  });
  progress.report(1.0);
  return file;
}

StepFile read_step(const std::string& bytes, int step, Progress& progress) {
  StepFile file;
  kernel::guarded(say("The STEP file could not be read"), [&] {
    if (bytes.find("ISO-10303-21") == std::string::npos)
      throw Error(
          say("The file is not a STEP file: it does not begin as ISO 10303-21 asks. Choose a file "
              "that ends in .step or .stp."));
    STEPCAFControl_Reader reader;
    Interface_Static::SetCVal("xstep.cascade.unit", "MM");
    reader.SetColorMode(Standard_True);
    reader.SetNameMode(Standard_True);
    reader.SetLayerMode(Standard_False);
    std::istringstream in(bytes);
    if (reader.ChangeReader().ReadStream("file.step", in) != IFSelect_RetDone)
      throw Error(
          say("The STEP file breaks off or is damaged. Ask for it again, or save it anew where it "
              "was made."));
    file = transferred(reader, "STEP", step, progress);
  });
  progress.report(1.0);
  return file;
}

}  // namespace evenclay
