#include "core/operations/frozen.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/shape_bytes.h"

namespace evenclay {

namespace {

constexpr std::array<std::string_view, 1> kEndings{".shape"};

FileAttachment attachment_of(const Part& part, const Shape& shape) {
  return {part.name + ".shape", std::make_shared<const std::string>(shape_bytes(shape))};
}

std::size_t place_of(const Part& part, StepId step) {
  const auto at = std::find_if(part.steps.begin(), part.steps.end(),
                               [&](const Step& s) { return s.id == step; });
  return static_cast<std::size_t>(at - part.steps.begin());
}

}  // namespace

void FrozenOperation::describe(ParameterVisitor& v) {
  v.file({"shape", "Shape", "The shape that was kept; the project carries it along."}, shape,
         kEndings);
}

std::string FrozenOperation::summary() const {
  if (shape.empty()) return say("no shape");
  const double kilobytes = static_cast<double>(shape.bytes->size()) / 1000.0;
  return kilobytes < 1000.0 ? fmt::format("{:.0f} kB", std::max(1.0, kilobytes))
                            : fmt::format("{:.1f} MB", kilobytes / 1000.0);
}

Outcome FrozenOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  if (shape.empty())
    throw Error(say("Frozen has no shape. Remove it; the steps beneath make it again."));
  const auto read = [&] { return std::make_shared<const Shape>(shape_from_bytes(*shape.bytes)); };
  return {inputs.memo != nullptr ? *inputs.memo->keep<Shape>(shape.bytes, read) : *read()};
}

bool is_frozen(const Step& step) {
  return dynamic_cast<const FrozenOperation*>(step.operation.get()) != nullptr;
}

bool is_only_step(const Document& document, StepId step) {
  const Part* part = part_of_step(document, step);
  return part != nullptr && part->steps.size() == 1;
}

Added with_frozen(const Document& document, StepId after, const StepResult& result) {
  const Part* part = part_of_step(document, after);
  if (part == nullptr) throw Error(say("The build step is no longer there."));
  const std::size_t place = place_of(*part, after);
  if (is_frozen(part->steps[place]))
    throw Error(say("{} is frozen there already. Choose a later step.", part->name));
  if (result.failed)
    throw Error(say(
        "'{}' cannot be computed, so its shape cannot be kept. Mend it or switch it off first. {}",
        part->steps[place].name, result.message));
  if (!result.shape || is_empty(*result.shape))
    throw Error(
        say("{} has no shape after '{}' that could be kept.", part->name, part->steps[place].name));
  auto operation = std::make_shared<FrozenOperation>();
  operation->shape = attachment_of(*part, *result.shape);
  return with_step(document, part->id, operation, after);
}

Document with_frozen_words(const Document& d, std::string_view words, Evaluator& evaluator,
                           Progress& progress) {
  const PartRef ref = named_reference(d, words);
  const Part& part = *find_part(d, ref.part);
  const PartResult r = evaluator.evaluate_until(d, ref.part, ref.after, progress);
  return with_frozen(d, ref.after == 0 ? part.steps.back().id : ref.after, r.steps.back()).document;
}

Document lean(const Document& document, const Evaluation& evaluation) {
  Document d = document;
  d.parts.clear();
  d.numbers.clear();
  for (const Part& part : document.parts) {
    const auto found = evaluation.parts.find(part.id);
    if (found == evaluation.parts.end() || is_empty(*found->second.shape)) continue;
    if (found->second.failed)
      throw Error(
          say("{} has a step that cannot be computed. Mend it or switch it off, then save "
              "the lean file.",
              part.name));
    Part kept = part;
    auto operation = std::make_shared<FrozenOperation>();
    operation->shape = attachment_of(part, *found->second.shape);
    kept.steps = {{part.steps.back().id, std::string(operation->label()), true, operation, {}}};
    kept.watch.against.after = 0;
    d.parts.push_back(std::move(kept));
  }
  if (d.parts.empty()) throw Error(say("No part has a shape, so there is nothing to save."));
  for (Part& part : d.parts)
    if (find_part(d, part.watch.against.part) == nullptr || part.watch.against.part == part.id)
      part.watch = {};
  return d;
}

}  // namespace evenclay
