#include "core/document/take_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

// The wanted parts and all that they read, in the order of the project.
std::vector<const Part*> with_read(const Document& d, const std::vector<PartId>& wanted) {
  std::set<PartId> taken;
  std::vector<PartId> open = wanted;
  while (!open.empty()) {
    const PartId id = open.back();
    open.pop_back();
    if (!taken.insert(id).second) continue;
    const Part* part = find_part(d, id);
    if (part == nullptr) {
      if (std::find(wanted.begin(), wanted.end(), id) != wanted.end())
        throw Error(say("A part to bring in is not in that project."));
      continue;  // the step that reads it says so itself
    }
    for (const Step& s : part->steps)
      for (const PartRef& ref : s.operation->inputs()) open.push_back(ref.part);
  }
  std::vector<const Part*> result;
  for (const Part& p : d.parts)
    if (taken.contains(p.id)) result.push_back(&p);
  return result;
}

// Numbers that the formulas of parts and of other numbers use.
std::set<std::string> used_numbers(const Document& d, const std::vector<const Part*>& parts) {
  std::set<std::string> used;
  std::vector<std::string> open;
  for (const Part* p : parts)
    for (const Step& s : p->steps)
      for (const auto& [parameter, text] : s.formulas)
        for (const std::string& name : names_in(text)) open.push_back(name);
  while (!open.empty()) {
    const std::string name = open.back();
    open.pop_back();
    for (const NamedNumber& n : d.numbers)
      if (n.name == name && used.insert(name).second)
        for (const std::string& more : names_in(n.text)) open.push_back(more);
  }
  return used;
}

const NamedNumber* number_named(const Document& d, const std::string& name) {
  for (const NamedNumber& n : d.numbers)
    if (n.name == name) return &n;
  return nullptr;
}

// The other project with names of numbers that mean something else here changed.
Document without_clashes(const Document& here, Document other, const std::set<std::string>& used) {
  for (const std::string& name : used) {
    const NamedNumber* mine = number_named(here, name);
    const NamedNumber* theirs = number_named(other, name);
    if (mine == nullptr || theirs == nullptr || mine->text == theirs->text) continue;
    int k = 2;
    std::string fresh = name + "_2";
    while (number_named(here, fresh) != nullptr || number_named(other, fresh) != nullptr)
      fresh = fmt::format("{}_{}", name, ++k);
    other = with_number_name(other, name, fresh);
  }
  return other;
}

class Renumber : public PartialVisitor {
 public:
  Renumber(const std::map<int, int>& parts, const std::map<int, int>& steps)
      : parts_(parts), steps_(steps) {}
  void part(const ParameterInfo&, PartRef& value) override { change(value); }
  void parts(const ParameterInfo&, std::vector<PartRef>& value, const PartsRange&) override {
    for (PartRef& one : value) change(one);
  }

 private:
  void change(PartRef& ref) const {
    if (ref.empty()) return;
    const auto part = parts_.find(ref.part);
    const auto step = steps_.find(ref.after);
    ref = {part == parts_.end() ? 0 : part->second, step == steps_.end() ? 0 : step->second};
  }
  const std::map<int, int>& parts_;
  const std::map<int, int>& steps_;
};

std::string free_name(const Document& d, const std::string& name) {
  if (find_part(d, std::string_view(name)) == nullptr) return name;
  for (int k = 2;; ++k)
    if (std::string tried = fmt::format("{} {}", name, k);
        find_part(d, std::string_view(tried)) == nullptr)
      return tried;
}

}  // namespace

Added with_parts_of(const Document& document, const Document& given,
                    const std::vector<PartId>& wanted) {
  if (wanted.empty()) throw Error(say("No part is chosen. Tick the parts to bring in."));
  const std::set<std::string> used = used_numbers(given, with_read(given, wanted));
  const Document other = without_clashes(document, given, used);
  const std::vector<const Part*> taken = with_read(other, wanted);
  Document d = document;
  for (const NamedNumber& n : other.numbers)
    if (used_numbers(other, taken).contains(n.name) && number_named(d, n.name) == nullptr)
      d.numbers.push_back(n);
  std::map<int, int> parts;
  std::map<int, int> steps;
  for (const Part* p : taken) {
    parts[p->id] = ++d.last_id;
    for (const Step& s : p->steps) steps[s.id] = ++d.last_id;
  }
  Added added;
  for (const Part* p : taken) {
    Part copy = *p;
    copy.id = parts.at(p->id);
    copy.name = free_name(d, p->name);
    const bool asked = std::find(wanted.begin(), wanted.end(), p->id) != wanted.end();
    copy.look.visible = asked;
    for (Step& s : copy.steps) {
      s.id = steps.at(s.id);
      const std::shared_ptr<Operation> operation = s.operation->clone();
      Renumber renumber(parts, steps);
      operation->describe(renumber);
      s.operation = operation;
    }
    if (const Layer* layer = find_layer(other, p->layer);
        layer != nullptr && find_layer(d, p->layer) == nullptr)
      d.layers.push_back({layer->name, true, false});
    if (asked && added.part == 0) {
      added.part = copy.id;
      added.step = copy.steps.back().id;
    }
    d.parts.push_back(std::move(copy));
  }
  added.document = std::move(d);
  return added;
}

}  // namespace evenclay
