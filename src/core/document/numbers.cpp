#include "core/document/numbers.h"

#include <fmt/format.h>
#include <muParser.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <functional>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

constexpr std::size_t kLongest = 500;
constexpr std::size_t kMostNumbers = 1000;

bool begins_name(char c) {
  return std::isalpha(static_cast<unsigned char>(c)) || c == '_';
}
bool in_name(char c) {
  return begins_name(c) || std::isdigit(static_cast<unsigned char>(c));
}

// Calls `take` with each name of a formula and where it stands; names of functions and units too.
void each_name(std::string_view text,
               const std::function<void(std::string_view, std::size_t)>& take) {
  for (std::size_t k = 0; k < text.size();) {
    if (std::isdigit(static_cast<unsigned char>(text[k])) || text[k] == '.') {
      // A number, with its power of ten: 2e3 is no name.
      while (k < text.size() &&
             (std::isdigit(static_cast<unsigned char>(text[k])) || text[k] == '.'))
        ++k;
      const bool power = k + 1 < text.size() && (text[k] == 'e' || text[k] == 'E') &&
                         (std::isdigit(static_cast<unsigned char>(text[k + 1])) ||
                          ((text[k + 1] == '-' || text[k + 1] == '+') && k + 2 < text.size() &&
                           std::isdigit(static_cast<unsigned char>(text[k + 2]))));
      if (power) k += 2;
      while (power && k < text.size() && std::isdigit(static_cast<unsigned char>(text[k]))) ++k;
      // A unit stands right behind its number.
      while (k < text.size() && in_name(text[k])) ++k;
    } else if (begins_name(text[k])) {
      const std::size_t begin = k;
      while (k < text.size() && in_name(text[k])) ++k;
      take(text.substr(begin, k - begin), begin);
    } else {
      ++k;
    }
  }
}

mu::value_type centimetres(mu::value_type v) {
  return 10.0 * v;
}
mu::value_type inches(mu::value_type v) {
  return 25.4 * v;
}
mu::value_type millimetres(mu::value_type v) {
  return v;
}

void prepare(mu::Parser& parser) {
  parser.DefineConst("pi", 3.14159265358979323846);
  parser.DefinePostfixOprt("mm", millimetres);
  parser.DefinePostfixOprt("cm", centimetres);
  parser.DefinePostfixOprt("in", inches);
}

// Names that a formula understands without them being named numbers.
bool known_already(std::string_view name) {
  static const mu::Parser plain = [] {
    mu::Parser p;
    prepare(p);
    return p;
  }();
  const std::string text(name);
  return plain.GetFunDef().contains(text) || plain.GetConst().contains(text) || text == "mm" ||
         text == "cm" || text == "in";
}

std::string shown(std::string_view text) {
  return std::string(text.substr(0, 60));
}

}  // namespace

bool is_plain_number(std::string_view text) {
  double value = 0.0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  return error == std::errc() && end == text.data() + text.size() && std::isfinite(value);
}

double formula_value(std::string_view text, const std::vector<NamedNumber>& numbers) {
  if (text.size() > kLongest)
    throw Error(
        say("A formula of {} characters is too long. Give a part of it a name.", text.size()));
  std::vector<const NamedNumber*> used;
  for (const std::string& name : names_in(text)) {
    const auto found = std::find_if(numbers.begin(), numbers.end(),
                                    [&](const NamedNumber& n) { return n.name == name; });
    if (found != numbers.end()) {
      used.push_back(&*found);
      continue;
    }
    std::string list;
    for (const NamedNumber& n : numbers) list += (list.empty() ? "" : ", ") + n.name;
    throw Error(say(
        "There is no number '{}'. {}", shown(name),
        list.empty() ? say("The project has no named numbers yet.") : say("There are: {}.", list)));
  }
  double value = 0.0;
  try {
    mu::Parser parser;
    prepare(parser);
    for (const NamedNumber* n : used) parser.DefineConst(n->name, n->value);
    parser.SetExpr(std::string(text));
    int results = 0;
    const mu::value_type* all = parser.Eval(results);
    if (results != 1)
      throw Error(
          say("'{}' holds {} values with commas between. Write one; a decimal point "
              "is a point.",
              shown(text), results));
    value = all[0];
  } catch (const mu::Parser::exception_type& e) {
    const int at = e.GetPos();
    throw Error(say("'{}' is not understood{}. Write a number or a formula such as 2 * width + 1.",
                    shown(text),
                    at > 0 && at < static_cast<int>(text.size())
                        ? say(" from '{}' on", shown(text.substr(static_cast<std::size_t>(at))))
                        : ""));
  }
  if (!std::isfinite(value))
    throw Error(
        say("'{}' comes to no number: something is divided by nothing, or grows "
            "beyond all bounds.",
            shown(text)));
  return value;
}

std::vector<std::string> names_in(std::string_view text) {
  std::vector<std::string> result;
  each_name(text, [&](std::string_view name, std::size_t) {
    if (!known_already(name) && std::find(result.begin(), result.end(), name) == result.end())
      result.emplace_back(name);
  });
  return result;
}

std::string renamed(std::string_view text, std::string_view from, std::string_view to) {
  std::string result;
  std::size_t done = 0;
  each_name(text, [&](std::string_view name, std::size_t at) {
    if (name != from) return;
    result += text.substr(done, at - done);
    result += to;
    done = at + name.size();
  });
  return result + std::string(text.substr(done));
}

std::vector<NamedNumber> resolved(std::vector<NamedNumber> numbers) {
  if (numbers.size() > kMostNumbers)
    throw Error(say("There are more named numbers than can be used."));
  std::map<std::string, NamedNumber*> by_name;
  for (NamedNumber& n : numbers) {
    if (n.name.empty() || !begins_name(n.name[0]) ||
        !std::all_of(n.name.begin(), n.name.end(), in_name) || n.name.size() > 60)
      throw Error(
          say("'{}' cannot be the name of a number. Use a letter, then letters, digits and "
              "underscores.",
              shown(n.name)));
    if (known_already(n.name))
      throw Error(
          say("'{}' means something in formulas already. Choose another name.", shown(n.name)));
    if (!by_name.emplace(n.name, &n).second)
      throw Error(say("Two numbers are named '{}'.", shown(n.name)));
  }
  std::vector<NamedNumber> done;
  std::vector<const NamedNumber*> open;  // the way to the one being worked out
  const std::function<void(NamedNumber&)> work_out = [&](NamedNumber& n) {
    if (std::any_of(done.begin(), done.end(),
                    [&](const NamedNumber& d) { return d.name == n.name; }))
      return;
    if (const auto at = std::find(open.begin(), open.end(), &n); at != open.end()) {
      std::string circle;
      for (auto k = at; k != open.end(); ++k) circle += (*k)->name + ", ";
      throw Error(say("The numbers go round in a circle: {}{}.", circle, n.name));
    }
    open.push_back(&n);
    for (const std::string& name : names_in(n.text))
      if (const auto other = by_name.find(name); other != by_name.end()) work_out(*other->second);
    open.pop_back();
    n.value = formula_value(n.text, done);
    done.push_back(n);
  };
  for (NamedNumber& n : numbers) work_out(n);
  return numbers;
}

}  // namespace evenclay
