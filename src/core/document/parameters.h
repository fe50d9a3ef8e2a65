// One description of an operation's parameters serves the project file, the settings panel, the
// headless runner and the documentation: each is a visitor.
#pragma once

#include <compare>
#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/body/pick.h"

namespace evenclay {

/// Numbers parts and steps in one document; 0 names none. Never used again after removal.
using PartId = int;
using StepId = int;

/// Another part, as it is at its end or after one of its steps.
struct PartRef {
  PartId part = 0;   ///< 0: none
  StepId after = 0;  ///< 0: at its end

  PartRef() = default;
  PartRef(PartId p, StepId s = 0) : part(p), after(s) {}  // NOLINT: a part is read at its end
  bool empty() const { return part == 0; }
  auto operator<=>(const PartRef&) const = default;
};

/// The bytes of a file that the project carries along, under the name it had. Shared, never changed.
struct FileAttachment {
  std::string name;
  std::shared_ptr<const std::string> bytes;
  bool empty() const { return bytes == nullptr; }
};

struct ParameterInfo {
  std::string_view name;   ///< in files and --set: lower case, underscores
  std::string_view label;  ///< on screen: sentence case
  std::string_view help;   ///< one sentence
};

struct NumberRange {
  double min, max;
  std::string_view unit;  ///< "mm", "°", "" …
  double step = 1.0;      ///< of the arrows beside the field
  int decimals = 3;       ///< shown in the field; files keep all
  std::string_view least_says =
      {};  ///< shown for the least value where that means something else: "all"
};

struct CountRange {
  int min, max;
  bool slider = false;               ///< drawn with a slider where it is set
  std::string_view least_says = {};  ///< as in NumberRange
};

struct Choice {
  std::string_view name;   ///< in files
  std::string_view label;  ///< on screen
};

/// How many parts a list of them may name, and of what they are made (kinds as in operation.h).
struct PartsRange {
  int most = 200;
  unsigned kinds = 0;  ///< 0: any
};

struct PickRange {
  std::vector<PickKind> kinds;  ///< what may be picked
  int most = 1;
};

/// Throws Error when there are too many, one of the wrong kind, or a place that is no number.
void check_range(const ParameterInfo&, const std::vector<Pick>& picks, const PickRange&);
/// Throws Error when there are too many, one is empty or one occurs twice.
void check_range(const ParameterInfo&, const std::vector<PartRef>& parts, const PartsRange&);

/// A parameter too rich for a field, such as the moves of control points. It is kept in files as
/// JSON text; single values in it may have addresses ("point[4,2]").
class DataParameter {
 public:
  virtual ~DataParameter() = default;
  virtual std::string to_json() const = 0;
  /// Throws Error when the text does not hold what is needed.
  virtual void from_json(const std::string& text) = 0;
  /// Sets one addressed value, such as address "[4,2]", text "0,0,3". Throws Error.
  virtual void set(std::string_view address, std::string_view text) = 0;
  /// One line for panels and `info`: what the data holds.
  virtual std::string summary() const = 0;
  /// The whole as text that set("", text) takes, when it is short enough to be typed in a field; nothing
  /// where the hand or another tool is the way to change it.
  virtual std::optional<std::string> typed() const { return std::nullopt; }
};

/// Called with each parameter in the order in which it is shown and written. A visitor may read
/// or change the value; it keeps it inside the range or throws Error.
class ParameterVisitor {
 public:
  virtual ~ParameterVisitor() = default;
  /// What follows belongs under a heading of its own, which panels may fold; without meaning elsewhere.
  virtual void group(std::string_view title) { (void)title; }
  virtual void number(const ParameterInfo&, double& value, const NumberRange&) = 0;
  virtual void count(const ParameterInfo&, int& value, const CountRange&) = 0;
  virtual void toggle(const ParameterInfo&, bool& value) = 0;
  /// value is the place in `choices`.
  virtual void choice(const ParameterInfo&, int& value, std::span<const Choice> choices) = 0;
  /// Another part this operation reads; empty while none is chosen.
  virtual void part(const ParameterInfo&, PartRef& value) = 0;
  /// Other parts in an order, each once.
  virtual void parts(const ParameterInfo&, std::vector<PartRef>& value, const PartsRange&) = 0;
  /// Faces, edges or corners of the shape before.
  virtual void picks(const ParameterInfo&, std::vector<Pick>& value, const PickRange&) = 0;
  /// A file's bytes; `endings` are those that fit, such as ".step".
  virtual void file(const ParameterInfo&, FileAttachment& value,
                    std::span<const std::string_view> endings) = 0;
  virtual void data(const ParameterInfo&, DataParameter& value) = 0;
};

/// For visitors that look at some kinds of parameters only.
class PartialVisitor : public ParameterVisitor {
 public:
  void number(const ParameterInfo&, double&, const NumberRange&) override {}
  void count(const ParameterInfo&, int&, const CountRange&) override {}
  void toggle(const ParameterInfo&, bool&) override {}
  void choice(const ParameterInfo&, int&, std::span<const Choice>) override {}
  void part(const ParameterInfo&, PartRef&) override {}
  void parts(const ParameterInfo&, std::vector<PartRef>&, const PartsRange&) override {}
  void picks(const ParameterInfo&, std::vector<Pick>&, const PickRange&) override {}
  void file(const ParameterInfo&, FileAttachment&, std::span<const std::string_view>) override {}
  void data(const ParameterInfo&, DataParameter&) override {}
};

/// Throws Error with the label, the value and the range when it is not inside.
void check_range(const ParameterInfo&, double value, const NumberRange&);
void check_range(const ParameterInfo&, double value, const CountRange&);

/// Reads a file of at most 1 GiB. Throws FileError.
FileAttachment read_attachment(const std::string& path);

/// An enumeration's visit: E's values are the places of the choices.
template <typename E>
void visit_choice(ParameterVisitor& visitor, const ParameterInfo& info, E& value,
                  std::span<const Choice> choices) {
  int place = static_cast<int>(value);
  visitor.choice(info, place, choices);
  value = static_cast<E>(place);
}

}  // namespace evenclay
