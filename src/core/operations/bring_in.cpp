#include "core/operations/bring_in.h"

#include <fmt/format.h>

#include <array>

#include "core/base/error.h"
#include "core/exchange/step_file.h"

namespace evenclay {

void BringInOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<std::string_view, 2> endings{".step", ".stp"};
  v.file({"file", "File", "The STEP file; the project keeps its own copy."}, file, endings);
  v.count({"body", "Body", "Number of the body in the file; 0 takes all together."}, body,
          {0, 100000});
}

std::string BringInOperation::summary() const {
  if (file.empty()) return "no file yet";
  return body == 0 ? file.name : fmt::format("{}, body {}", file.name, body);
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

}  // namespace

Outcome BringInOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  if (file.empty()) throw Error("Bring in has no file yet. Choose a STEP file in its settings.");
  // Steps that take other bodies of the same file share one reading; tags are the file's own then.
  const auto read = [&] {
    return std::make_shared<const StepFile>(read_step(*file.bytes, 0, progress));
  };
  const std::shared_ptr<const StepFile> content =
      inputs.memo != nullptr ? inputs.memo->keep<StepFile>(file.bytes, read) : read();
  if (body > static_cast<int>(content->bodies.size()))
    throw Error(
        fmt::format("There is no body {}; {} holds {}.", body, file.name, content->bodies.size()));
  Body result;
  std::string note;
  if (body > 0) {
    result = content->bodies[static_cast<std::size_t>(body - 1)].body;
  } else {
    for (const StepBody& b : content->bodies) append(result, b.body);
    note = fmt::format("{} bodies.", content->bodies.size());
  }
  std::vector<std::string> notes;
  if (!note.empty()) notes.push_back(std::move(note));
  return {std::move(result), std::move(notes)};
}

Document with_brought_in(const Document& document, const FileAttachment& file, Progress& progress,
                         std::size_t most) {
  const StepFile content = read_step(*file.bytes, 0, progress);
  Document d = document;
  const bool together = content.bodies.size() > most;
  for (std::size_t k = 0; k < content.bodies.size(); ++k) {
    auto operation = std::make_shared<BringInOperation>();
    operation->file = file;
    operation->body = together ? 0 : static_cast<int>(k) + 1;
    const StepBody& b = content.bodies[k];
    const Added added = with_part(d, together ? file.name : b.name, operation);
    d = added.document;
    if (b.colour && !together) d = with_look(d, added.part, {.colour = *b.colour, .visible = true});
    if (together) break;
  }
  return d;
}

}  // namespace evenclay
