#include "core/document/compare.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/say.h"
#include "core/document/materials.h"
#include "core/document/project_json.h"
#include "core/document/watch_json.h"

namespace evenclay {

namespace {

using Json = nlohmann::ordered_json;

// Short values as they are, long ones by their size.
std::string words(const Json& value) {
  if (value.is_string()) return value.get<std::string>();
  const std::string text = value.dump();
  constexpr std::size_t kShort = 48;
  if (text.size() <= kShort) return text;
  return value.is_array() ? say("{} entries", value.size()) : say("{} characters", text.size());
}

// Fields of two objects that differ.
void fields(const Json& before, const Json& after, const std::string& prefix,
            std::vector<ChangeLine>& lines) {
  for (const auto& [key, value] : after.items()) {
    const auto was = before.find(key);
    if (was == before.end())
      lines.push_back({Difference::Added, prefix + key, "", words(value)});
    else if (*was != value)
      lines.push_back({Difference::Changed, prefix + key, words(*was), words(value)});
  }
  for (const auto& [key, value] : before.items())
    if (!after.contains(key))
      lines.push_back({Difference::Removed, prefix + key, words(value), ""});
}

Json of_step(const Step& s) {
  Json j = Json::parse(parameters_json(*s.operation));
  for (const auto& [parameter, formula] : s.formulas)
    if (j.contains(parameter))
      j[parameter] = fmt::format("= {} ({})", formula, j[parameter].dump());
  if (!s.enabled) j["switched off"] = true;
  return j;
}

// Takes out what changed only because a number did, by the same formula; says whether there was any.
bool without_followers(const Step& before, const Step& after, Json& then, Json& now) {
  bool any = false;
  for (const auto& [parameter, formula] : after.formulas) {
    const auto old = before.formulas.find(parameter);
    if (old == before.formulas.end() || old->second != formula) continue;
    any = any || then[parameter] != now[parameter];
    then.erase(parameter);
    now.erase(parameter);
  }
  return any;
}

// What is said of a part besides its steps.
Json of_part(const Document& d, const Part& p) {
  Json j{{"name", p.name},
         {"colour", colour_words(p.look.colour)},
         {"layer", p.layer},
         {"visible", p.look.visible}};
  for (const MaterialShare& s : kMaterialShares) j[std::string(s.label)] = p.material.*s.value;
  for (std::size_t k = 0; k < p.face_looks.size(); ++k) {
    const FaceLook& l = p.face_looks[k];
    const std::string face = say("colour of face {}", k + 1);
    j[face] = colour_words(l.colour);
    for (const MaterialShare& s : kMaterialShares)
      if (l.material.*s.value != Material{}.*s.value)
        j[fmt::format("{}, {}", face, s.label)] = l.material.*s.value;
  }
  if (const Part* other = find_part(d, p.watch.against.part)) j["watched against"] = other->name;
  return j;
}

const Step* step_in_part(const Part& part, StepId id) {
  const auto at =
      std::find_if(part.steps.begin(), part.steps.end(), [&](const Step& s) { return s.id == id; });
  return at == part.steps.end() ? nullptr : &*at;
}

void steps(const Part& before, const Part& after, std::vector<ChangeLine>& lines) {
  std::vector<StepId> was, is;  // those that are in both, in either order
  for (std::size_t k = 0; k < after.steps.size(); ++k) {
    const Step& s = after.steps[k];
    const std::string name = fmt::format("{} {}", k + 1, s.name);
    const Step* old = step_in_part(before, s.id);
    if (old == nullptr || old->operation->kind() != s.operation->kind()) {
      lines.push_back({Difference::Added, name, "", s.operation->summary()});
      continue;
    }
    is.push_back(s.id);
    if (old->name != s.name)
      lines.push_back({Difference::Changed, name + ".name", old->name, s.name});
    if (old->operation != s.operation || old->formulas != s.formulas || old->enabled != s.enabled) {
      Json then = of_step(*old), now = of_step(s);
      if (without_followers(*old, s, then, now))
        lines.push_back({Difference::Changed, say("{} follows its numbers", name), "", ""});
      fields(then, now, name + ".", lines);
    }
  }
  for (const Step& s : before.steps) {
    const Step* now = step_in_part(after, s.id);
    if (now == nullptr || now->operation->kind() != s.operation->kind())
      lines.push_back({Difference::Removed, s.name, s.operation->summary(), ""});
    else
      was.push_back(s.id);
  }
  if (was != is) lines.push_back({Difference::Changed, "order of steps", "", ""});
}

// The part of the older version that became this one.
const Part* older(const Document& before, const Part& now, const std::set<PartId>& taken) {
  const Part* same = find_part(before, now.id);
  if (same != nullptr && !taken.contains(same->id) &&
      same->steps.front().operation->kind() == now.steps.front().operation->kind())
    return same;
  same = find_part(before, std::string_view(now.name));
  return same != nullptr && !taken.contains(same->id) ? same : nullptr;
}

void numbers(const Document& before, const Document& after, std::vector<ChangeLine>& lines) {
  Json was = limits_json(before.limits), is = limits_json(after.limits);
  const auto add = [](const Document& d, Json& j) {
    for (const NamedNumber& n : d.numbers) j[n.name] = n.text;
    j["tolerance"] = d.settings.tolerance;
  };
  add(before, was);
  add(after, is);
  fields(was, is, "", lines);
}

}  // namespace

std::string_view name_of(Difference difference) {
  return difference == Difference::Added     ? "added"
         : difference == Difference::Removed ? "removed"
                                             : "changed";
}

Comparison compare(const Document& before, const Document& after) {
  Comparison c;
  numbers(before, after, c.numbers);
  std::set<PartId> taken;
  for (const Part& part : after.parts) {
    const Part* was = older(before, part, taken);
    if (was == nullptr) {
      c.parts.push_back({Difference::Added, 0, part.id, part.name, {}});
      continue;
    }
    taken.insert(was->id);
    PartChange change{Difference::Changed, was->id, part.id, part.name, {}};
    fields(of_part(before, *was), of_part(after, part), "", change.lines);
    steps(*was, part, change.lines);
    if (!change.lines.empty()) c.parts.push_back(std::move(change));
  }
  for (const Part& part : before.parts)
    if (!taken.contains(part.id))
      c.parts.push_back({Difference::Removed, part.id, 0, part.name, {}});
  return c;
}

}  // namespace evenclay
