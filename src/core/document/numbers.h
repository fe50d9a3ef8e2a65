// Named numbers of a document, and the formulas over them that parameters may hold.
#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace evenclay {

/// A number of the project under a name: plain ("12.5"), or a formula over other named numbers
/// ("2 * lift + 1"). `value` is what the text comes to.
struct NamedNumber {
  std::string name;  ///< a letter, then letters, digits and underscores
  std::string text;
  double value = 0.0;
  /// Ends of its slider; none while least is not below most.
  double least = 0.0, most = 0.0;
  bool operator==(const NamedNumber&) const = default;
};

/// What a formula comes to: + − * / ^, brackets, the usual functions (sqrt, sin … of radians, min, max,
/// abs, rint), pi, the named numbers, and lengths with a unit behind them (2in, 3cm, 4mm), which become
/// millimetres. Read by muParser. Throws Error with the place that is not understood, the name that is
/// not there, or what is no finite number.
double formula_value(std::string_view text, const std::vector<NamedNumber>& numbers);

/// True when the text is a number by itself, which needs no formula.
bool is_plain_number(std::string_view text);

/// The names of named numbers that a formula uses.
std::vector<std::string> names_in(std::string_view text);

/// The formula with one name in the place of another.
std::string renamed(std::string_view text, std::string_view from, std::string_view to);

/// The numbers with all values worked out, whatever order they stand in. Throws Error when a name is
/// not one, is used twice or means something already, and when numbers go round in a circle, which is
/// named.
std::vector<NamedNumber> resolved(std::vector<NamedNumber> numbers);

}  // namespace evenclay
