// The model as a value: parts, each a list of build steps. Undo keeps older values; a background
// thread may hold one without locks.
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <vector>

#include "core/document/operation.h"

namespace evenclay {

struct Settings {
  double tolerance = 0.01;  ///< mm; passed to the algorithms, never a constant in them
};

struct Look {
  std::uint32_t colour = 0xC9A48C;  ///< 0xRRGGBB
  bool visible = true;
};

/// `extra` in these structs is the text of a JSON object with fields from a newer version; they
/// are written back unchanged.
struct Step {
  StepId id = 0;
  std::string name;
  bool enabled = true;
  OperationPtr operation;
  std::string extra;
};

/// Control points kept under a name; each as net, i, j and k.
struct NamedPoints {
  std::string name;
  std::vector<std::array<int, 4>> points;
  bool operator==(const NamedPoints&) const = default;
};

struct Part {
  PartId id = 0;
  std::string name;
  Look look;
  std::vector<Step> steps;  ///< the first is a source
  std::string extra;
  std::vector<NamedPoints> selections = {};
};

struct Document {
  Settings settings;
  std::vector<Part> parts;
  int last_id = 0;  ///< greatest number given to a part or step so far
  std::string extra;
};

// Finding. The pointers point into `document` and live as long as it does.
const Part* find_part(const Document& document, PartId id);
const Part* find_part(const Document& document, std::string_view name);
const Step* find_step(const Document& document, StepId id);
const Part* part_of_step(const Document& document, StepId id);

// Changing: all return a new document; they throw Error when the part or step is not there.
struct Added {
  Document document;
  PartId part = 0;
  StepId step = 0;
};
/// A new part with one source step; the name is made unique by a number behind it.
Added with_part(const Document& document, std::string_view name, OperationPtr source);
/// A new step at the end of a part, or behind step `after` when that is not 0.
Added with_step(const Document& document, PartId part, OperationPtr operation, StepId after = 0);
Document with_operation(const Document& document, StepId step, OperationPtr operation);
Document with_step_enabled(const Document& document, StepId step, bool enabled);
Document with_step_name(const Document& document, StepId step, std::string_view name);
Document without_step(const Document& document, StepId step);  ///< not the source of a part
Document without_part(const Document& document, PartId part);
Document with_part_name(const Document& document, PartId part, std::string_view name);
/// Keeps points under a name, in the place of those that had it.
Document with_selection(const Document& document, PartId part, NamedPoints points);
Document without_selection(const Document& document, PartId part, std::string_view name);
Document with_look(const Document& document, PartId part, const Look& look);

/// Applies "Part/Step.parameter=value" or "Part/Step.enabled=false" as given to --set. Step is a
/// step's name or its place counted from 1; of equal names the last counts; part parameters take a
/// part's name. Throws Error with what is there when something is not found.
Document with_setting(const Document& document, std::string_view assignment);

}  // namespace evenclay
