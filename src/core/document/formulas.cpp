// Formulas of parameters: kept beside the operation, whose values follow the named numbers.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/document.h"

namespace evenclay {

namespace {

// The values of all number and count parameters.
class CollectNumbers : public PartialVisitor {
 public:
  std::map<std::string, double, std::less<>> values;
  void number(const ParameterInfo& info, double& value, const NumberRange&) override {
    values.emplace(info.name, value);
  }
  void count(const ParameterInfo& info, int& value, const CountRange&) override {
    values.emplace(info.name, value);
  }
};

auto numbers_of(const Operation& operation) {
  CollectNumbers collect;
  operation.clone()->describe(collect);
  return collect.values;
}

// All formulas worked out again; operations whose values stay are left as they are, so that nothing
// is computed anew for them.
void follow(Document& d) {
  for (Part& part : d.parts)
    for (Step& step : part.steps) {
      if (step.formulas.empty()) continue;
      auto values = numbers_of(*step.operation);
      for (const auto& [name, text] : step.formulas) {
        const auto now = values.find(name);
        if (now == values.end()) continue;  // a parameter of a newer version
        try {
          const double value = formula_value(text, d.numbers);
          if (value != now->second)
            step.operation = with_parameter(*step.operation, name, fmt::format("{}", value));
        } catch (const Error& e) {
          throw Error(fmt::format("{} / {}: {}", part.name, step.name, e.what()));
        }
      }
    }
}

// Where a number is used, in words; empty when nowhere.
std::string use_of(const Document& d, std::string_view name) {
  const auto uses = [&](std::string_view text) {
    const std::vector<std::string> names = names_in(text);
    return std::find(names.begin(), names.end(), name) != names.end();
  };
  for (const NamedNumber& n : d.numbers)
    if (uses(n.text)) return say("the number {}", n.name);
  for (const Part& part : d.parts)
    for (const Step& step : part.steps)
      for (const auto& [parameter, text] : step.formulas)
        if (uses(text)) return fmt::format("{} / {}, {}", part.name, step.name, parameter);
  return {};
}

NamedNumber& number_in(Document& d, std::string_view name) {
  for (NamedNumber& n : d.numbers)
    if (n.name == name) return n;
  throw Error(say("There is no number '{}'.", name.substr(0, 60)));
}

}  // namespace

Document with_operation(const Document& document, StepId id, OperationPtr operation) {
  Document d = document;
  Step& step = step_in(d, id);
  if (!step.formulas.empty()) {
    const auto before = numbers_of(*step.operation);
    const auto now = numbers_of(*operation);
    std::erase_if(step.formulas, [&](const auto& f) {
      const auto a = before.find(f.first);
      const auto b = now.find(f.first);
      return a != before.end() && (b == now.end() || a->second != b->second);
    });
  }
  step.operation = std::move(operation);
  return d;
}

Document with_step_parameter(const Document& document, StepId id, std::string_view parameter,
                             std::string_view text) {
  Document d = document;
  Step& step = step_in(d, id);
  const std::string name(parameter);
  const bool numeric = numbers_of(*step.operation).contains(parameter);
  if (!numeric || is_plain_number(text)) {
    OperationPtr changed = with_parameter(*step.operation, parameter, text);
    step.formulas.erase(name);
    return with_operation(d, id, std::move(changed));
  }
  const double value = formula_value(text, d.numbers);
  step.operation = with_parameter(*step.operation, parameter, fmt::format("{}", value));
  // A length such as 2in is a number once and for all; only what follows others is kept.
  if (names_in(text).empty())
    step.formulas.erase(name);
  else
    step.formulas[name] = text;
  return d;
}

Document with_number(const Document& document, std::string_view name, std::string_view text) {
  Document d = document;
  const auto same = std::find_if(d.numbers.begin(), d.numbers.end(),
                                 [&](const NamedNumber& n) { return n.name == name; });
  if (same != d.numbers.end())
    same->text = text;
  else
    d.numbers.push_back({std::string(name), std::string(text), 0.0});
  d.numbers = resolved(std::move(d.numbers));
  follow(d);
  return d;
}

Document with_number_range(const Document& document, std::string_view name, double least,
                           double most) {
  if (!(least < most) || !std::isfinite(most - least))
    throw Error(say("The slider of '{}' needs a least value below its greatest.", name));
  Document d = document;
  NamedNumber& n = number_in(d, name);
  n.least = least;
  n.most = most;
  return d;
}

Document with_number_assignment(const Document& document, std::string_view assignment) {
  const auto equals = assignment.find('=');
  if (equals == std::string_view::npos || equals == 0 || equals + 1 == assignment.size())
    throw Error(say("'{}' is not of the form name=value.", assignment));
  return with_number(document, assignment.substr(0, equals), assignment.substr(equals + 1));
}

Document without_number(const Document& document, std::string_view name) {
  Document d = document;
  (void)number_in(d, name);
  std::erase_if(d.numbers, [&](const NamedNumber& n) { return n.name == name; });
  if (const std::string use = use_of(d, name); !use.empty())
    throw Error(say("The number '{}' is used by {}. Change that first.", name, use));
  return d;
}

Document with_number_name(const Document& document, std::string_view from, std::string_view to) {
  Document d = document;
  number_in(d, from).name = to;
  for (NamedNumber& n : d.numbers) n.text = renamed(n.text, from, to);
  for (Part& part : d.parts)
    for (Step& step : part.steps)
      for (auto& [parameter, text] : step.formulas) text = renamed(text, from, to);
  d.numbers = resolved(std::move(d.numbers));
  return d;
}

}  // namespace evenclay
