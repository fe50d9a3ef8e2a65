#include "core/operations/bring_in.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/face_looks.h"
#include "core/exchange/brought_file.h"
#include "core/operations/body_picks.h"

namespace evenclay {

void BringInOperation::describe(ParameterVisitor& v) {
  v.file(
      {"file", "File",
       "A STEP, IGES, OBJ, STL or PLY file or a list of points; the project keeps its own copy."},
      file, brought_endings());
  v.count({"body", "Body", "Number of the body in the file; 0 takes all together."}, body,
          {.min = 0, .max = 100000, .least_says = "all"});
  static constexpr std::array<Choice, 4> units{
      {{"mm", "Millimetres"}, {"cm", "Centimetres"}, {"m", "Metres"}, {"inch", "Inches"}}};
  visit_choice(
      v, {"unit", "Unit", "Of files that say none; others come in millimetres by themselves."},
      unit, units);
}

std::string BringInOperation::summary() const {
  if (file.empty()) return say("no file yet");
  return body == 0 ? file.name : say("{}, body {}", file.name, body);
}

namespace {

// Edges of several bodies behind each other.
void append(Body& all, const Body& more) {
  const auto offset = static_cast<std::uint32_t>(all.edges.size());
  all.edges.insert(all.edges.end(), more.edges.begin(), more.edges.end());
  for (Face face : more.faces) {
    for (Loop& loop : face.loops)
      for (EdgeUse& use : loop) use.edge += offset;
    all.faces.push_back(std::move(face));
  }
}

double millimetres(FileUnit unit) {
  static constexpr std::array<double, 4> kFactors{1.0, 10.0, 1000.0, 25.4};
  return kFactors[static_cast<std::size_t>(unit)];
}

}  // namespace

Outcome BringInOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  if (file.empty()) throw Error(say("Bring in has no file yet. Choose one in its settings."));
  // Steps that take other bodies of the same file share one reading; tags are the file's own then.
  const auto read = [&] {
    return std::make_shared<const BroughtFile>(read_file(file.name, *file.bytes, 0, progress));
  };
  const std::shared_ptr<const BroughtFile> content =
      inputs.memo != nullptr ? inputs.memo->keep<BroughtFile>(file.bytes, read, file.name) : read();
  if (body > static_cast<int>(content->parts.size()))
    throw Error(say("There is no body {}; {} holds {}.", body, file.name, content->parts.size()));
  std::vector<std::string> notes;
  if (!content->note.empty()) notes.push_back(content->note);
  const ShapePtr one = body > 0
                           ? content->parts[static_cast<std::size_t>(body - 1)].shape
                           : (content->parts.size() == 1 ? content->parts.front().shape : nullptr);
  if (one) {
    if (content->has_unit || unit == FileUnit::Millimetres) return {*one, std::move(notes)};
    Shape scaled = *one;
    if (auto* mesh = std::get_if<TriangleMesh>(&scaled))
      for (Vec3& p : mesh->points) p = p * millimetres(unit);
    if (auto* cloud = std::get_if<PointCloud>(&scaled))
      for (Vec3& p : cloud->points) p = p * millimetres(unit);
    return {std::move(scaled), std::move(notes)};
  }
  Body result;
  for (const BroughtPart& p : content->parts)
    if (const auto* b = std::get_if<Body>(p.shape.get())) append(result, *b);
  notes.push_back(say("{} bodies.", content->parts.size()));
  return {std::move(result), std::move(notes)};
}

namespace {

// Where all faces have one colour it is the part's.
Document with_brought_colours(const Document& document, PartId part, const Body& body,
                              const std::map<Tag, std::uint32_t>& colours) {
  if (colours.empty()) return document;
  Document d = document;
  Look look = find_part(d, part)->look;
  const std::uint32_t first = colours.begin()->second;
  if (colours.size() == body.faces.size() &&
      std::all_of(colours.begin(), colours.end(), [&](const auto& c) { return c.second == first; }))
    look.colour = first;
  d = with_look(d, part, look);
  for (std::size_t f = 0; f < body.faces.size(); ++f)
    if (const auto c = colours.find(body.faces[f].tag);
        c != colours.end() && c->second != look.colour)
      d = with_face_look(d, part, {pick_of_body_face(body, f), c->second, {}});
  return d;
}

}  // namespace

Document with_brought_in(const Document& document, const FileAttachment& file, Progress& progress,
                         std::size_t most) {
  const BroughtFile content = read_file(file.name, *file.bytes, 0, progress);
  Document d = document;
  const bool together = content.parts.size() > most;
  for (std::size_t k = 0; k < content.parts.size(); ++k) {
    auto operation = std::make_shared<BringInOperation>();
    operation->file = file;
    operation->body = together ? 0 : static_cast<int>(k) + 1;
    const BroughtPart& b = content.parts[k];
    const Added added = with_part(d, together ? file.name : b.name, operation);
    d = added.document;
    if (b.colour && !together) d = with_look(d, added.part, {.colour = *b.colour, .visible = true});
    if (together) break;
    if (const auto* body = std::get_if<Body>(b.shape.get()))
      d = with_brought_colours(d, added.part, *body, b.face_colours);
  }
  return d;
}

}  // namespace evenclay
