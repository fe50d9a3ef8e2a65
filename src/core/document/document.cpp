#include "core/document/document.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/materials.h"

namespace evenclay {

namespace {

Part& part_in(Document& d, PartId id) {
  for (Part& p : d.parts)
    if (p.id == id) return p;
  throw Error(say("The part is no longer there."));
}

std::string unique_name(const Document& d, std::string_view wanted, PartId but) {
  const auto taken = [&](const std::string& name) {
    return std::any_of(d.parts.begin(), d.parts.end(),
                       [&](const Part& p) { return p.id != but && p.name == name; });
  };
  std::string name(wanted);
  for (int k = 2; taken(name); ++k) name = fmt::format("{} {}", wanted, k);
  return name;
}

}  // namespace

Step& step_in(Document& d, StepId id) {
  for (Part& p : d.parts)
    for (Step& s : p.steps)
      if (s.id == id) return s;
  throw Error(say("The build step is no longer there."));
}

const Part* find_part(const Document& d, PartId id) {
  const auto it = std::find_if(d.parts.begin(), d.parts.end(), [&](auto& p) { return p.id == id; });
  return it == d.parts.end() ? nullptr : &*it;
}

const Part* find_part(const Document& d, std::string_view name) {
  const auto it =
      std::find_if(d.parts.begin(), d.parts.end(), [&](auto& p) { return p.name == name; });
  return it == d.parts.end() ? nullptr : &*it;
}

const Part* part_of_step(const Document& d, StepId id) {
  for (const Part& p : d.parts)
    for (const Step& s : p.steps)
      if (s.id == id) return &p;
  return nullptr;
}

const Step* find_step(const Document& d, StepId id) {
  for (const Part& p : d.parts)
    for (const Step& s : p.steps)
      if (s.id == id) return &s;
  return nullptr;
}

Added with_part(const Document& document, std::string_view name, OperationPtr source) {
  Added added{document, document.last_id + 1, document.last_id + 2};
  Document& d = added.document;
  d.last_id += 2;
  Part part;
  part.id = added.part;
  part.name = unique_name(d, name, 0);
  part.steps.push_back({added.step, std::string(source->label()), true, source, {}});
  d.parts.push_back(std::move(part));
  return added;
}

Added with_step(const Document& document, PartId part, OperationPtr operation, StepId after) {
  Added added{document, part, document.last_id + 1};
  Document& d = added.document;
  ++d.last_id;
  std::vector<Step>& steps = part_in(d, part).steps;
  auto place = steps.end();
  if (after != 0) {
    place = std::find_if(steps.begin(), steps.end(), [&](auto& s) { return s.id == after; });
    if (place == steps.end()) throw Error(say("The build step is no longer there."));
    ++place;
  }
  steps.insert(place, {added.step, std::string(operation->label()), true, operation, {}});
  return added;
}

Document with_step_enabled(const Document& document, StepId step, bool enabled) {
  Document d = document;
  step_in(d, step).enabled = enabled;
  return d;
}

Document with_step_name(const Document& document, StepId step, std::string_view name) {
  if (name.empty()) throw Error(say("A build step needs a name."));
  Document d = document;
  step_in(d, step).name = name;
  return d;
}

Document without_step(const Document& document, StepId step) {
  const Part* part = part_of_step(document, step);
  if (part == nullptr) throw Error(say("The build step is no longer there."));
  if (part->steps.front().id == step)
    throw Error(
        say("'{}' is the source of {}; without it the part has no shape. Remove the part instead.",
            part->steps.front().name, part->name));
  Document d = document;
  std::erase_if(part_in(d, part->id).steps, [&](const Step& s) { return s.id == step; });
  return d;
}

Document without_part(const Document& document, PartId part) {
  Document d = document;
  (void)part_in(d, part);
  std::erase_if(d.parts, [&](const Part& p) { return p.id == part; });
  for (Part& p : d.parts)
    if (p.watch.against.part == part) p.watch.against = {};
  return d;
}

Document with_watch(const Document& document, PartId part, const Watch& watch) {
  if (!watch.against.empty() && watch.against.part == part && watch.against.after == 0)
    throw Error(
        say("A part cannot be watched against itself. Choose another one, or one of its steps."));
  if (!(watch.band > 0.0) || !std::isfinite(watch.band))
    throw Error(say("The band of a deviation must be above 0 mm."));
  if (!watch.against.empty() && find_part(document, watch.against.part) == nullptr)
    throw Error(say("The part to watch against is not there any more."));
  Document d = document;
  part_in(d, part).watch = watch;
  return d;
}

Document with_limits(const Document& document, const CheckLimits& limits) {
  for (const auto& [value, name] : {std::pair{limits.gap, "gap"},
                                    {limits.radius, "least radius"},
                                    {limits.thickness, "thickness"},
                                    {limits.draft, "draft angle"},
                                    {limits.stretch, "stretch"},
                                    {limits.evenness, "evenness"},
                                    {limits.symmetry, "symmetry"},
                                    {limits.sliver, "sliver"}})
    if (!(value >= 0.0) || !std::isfinite(value))
      throw Error(say("The limit of the {} must be 0 or more.", name));
  if (!(length(limits.pull) > 1e-9) || !is_finite(limits.pull))
    throw Error(say("The pull has no direction. Give it one."));
  Document d = document;
  d.limits = limits;
  d.limits.pull = normalized(limits.pull);
  return d;
}

Document with_part_name(const Document& document, PartId part, std::string_view name) {
  if (name.empty()) throw Error(say("A part needs a name."));
  if (name.find('/') != std::string_view::npos)
    throw Error(
        say("A part's name cannot hold '/', which separates parts from steps in addresses."));
  Document d = document;
  part_in(d, part).name = unique_name(d, name, part);
  return d;
}

Document with_selection(const Document& document, PartId part, NamedPoints points) {
  if (points.name.empty()) throw Error(say("A selection needs a name. Type one."));
  if (points.points.empty() && points.picks.empty())
    throw Error(say("There are no picked points to keep. Pick some first."));
  Document d = document;
  auto& kept = part_in(d, part).selections;
  const auto same = std::find_if(kept.begin(), kept.end(),
                                 [&](const NamedPoints& s) { return s.name == points.name; });
  if (same != kept.end())
    *same = std::move(points);
  else
    kept.push_back(std::move(points));
  return d;
}

Document without_selection(const Document& document, PartId part, std::string_view name) {
  Document d = document;
  auto& kept = part_in(d, part).selections;
  if (std::erase_if(kept, [&](const NamedPoints& s) { return s.name == name; }) == 0)
    throw Error(say("The part has no selection '{}'.", name));
  return d;
}

Document with_look(const Document& document, PartId part, const Look& look) {
  Document d = document;
  part_in(d, part).look = look;
  return d;
}

Document with_material(const Document& document, PartId part, const Material& m) {
  for (const MaterialShare& s : kMaterialShares)
    if (!(m.*s.value >= 0.0 && m.*s.value <= 1.0))
      throw Error(say("The {} of a material lies between 0 and 1.", s.label));
  Document d = document;
  part_in(d, part).material = m;
  return d;
}

namespace {

// Turns a part's name into its number where the parameter reads a part.
class FindPartParameter : public PartialVisitor {
 public:
  explicit FindPartParameter(std::string_view name) : name_(name) {}
  bool is_part = false;
  void part(const ParameterInfo& info, PartRef&) override { is_part |= info.name == name_; }
  bool is_list = false;
  void parts(const ParameterInfo& info, std::vector<PartRef>&, const PartsRange&) override {
    is_list |= info.name == name_;
  }

 private:
  std::string_view name_;
};

std::string names_of_parts(const Document& d) {
  std::string list;
  for (const Part& p : d.parts) list += fmt::format("{}{}", list.empty() ? "" : ", ", p.name);
  return list.empty() ? "none" : list;
}

const Step& step_named(const Part& part, std::string_view name) {
  std::size_t place = 0;
  const auto [end, error] = std::from_chars(name.data(), name.data() + name.size(), place);
  if (error == std::errc() && end == name.data() + name.size() && place >= 1 &&
      place <= part.steps.size())
    return part.steps[place - 1];
  const auto it = std::find_if(part.steps.rbegin(), part.steps.rend(),
                               [&](const Step& s) { return s.name == name; });
  if (it != part.steps.rend()) return *it;
  std::string list;
  for (const Step& s : part.steps) list += fmt::format("{}{}", list.empty() ? "" : ", ", s.name);
  throw Error(say("{} has no build step '{}'. It has: {}.", part.name, name, list));
}

std::string text_of(const PartRef& ref) {
  return ref.after == 0 ? std::to_string(ref.part) : fmt::format("{}:{}", ref.part, ref.after);
}

// "Left; Right/Arc": the same for a list.
std::string part_references(const Document& d, std::string_view text) {
  std::string list;
  while (!text.empty()) {
    const auto end = std::min(text.find(';'), text.size());
    std::string_view one = text.substr(0, end);
    text.remove_prefix(std::min(end + 1, text.size()));
    while (!one.empty() && one.front() == ' ') one.remove_prefix(1);
    while (!one.empty() && one.back() == ' ') one.remove_suffix(1);
    if (one.empty()) continue;
    list += (list.empty() ? "" : "; ") + text_of(named_reference(d, one));
  }
  return list;
}

}  // namespace

PartRef named_reference(const Document& d, std::string_view text) {
  if (const Part* named = find_part(d, text)) return named->id;
  const auto slash = text.rfind('/');
  const Part* named =
      slash == std::string_view::npos ? nullptr : find_part(d, text.substr(0, slash));
  if (named == nullptr)
    throw Error(say("There is no part '{}'. There are: {}.", text, names_of_parts(d)));
  return {named->id, step_named(*named, text.substr(slash + 1)).id};
}

Document with_setting(const Document& d, std::string_view text) {
  const auto slash = text.find('/');
  const auto equals = text.find('=', slash == std::string_view::npos ? 0 : slash);
  const auto dot = text.substr(0, equals).rfind('.');
  if (slash == std::string_view::npos || equals == std::string_view::npos ||
      dot == std::string_view::npos || dot < slash)
    throw Error(say("'{}' is not of the form Part/Step.parameter=value.", text));
  const std::string_view part_name = text.substr(0, slash);
  const std::string_view step_name = text.substr(slash + 1, dot - slash - 1);
  const std::string_view parameter = text.substr(dot + 1, equals - dot - 1);
  std::string value(text.substr(equals + 1));
  const Part* part = find_part(d, part_name);
  if (part == nullptr)
    throw Error(say("There is no part '{}'. There are: {}.", part_name, names_of_parts(d)));
  const Step& step = step_named(*part, step_name);
  if (parameter == "enabled") {
    if (value != "true" && value != "false")
      throw Error(say("enabled is true or false, not '{}'.", value));
    return with_step_enabled(d, step.id, value == "true");
  }
  FindPartParameter finder(parameter);
  step.operation->clone()->describe(finder);
  if (finder.is_part) value = text_of(named_reference(d, value));
  if (finder.is_list) value = part_references(d, value);
  return with_step_parameter(d, step.id, parameter, value);
}

}  // namespace evenclay
