// What differs between two versions of a project.
#pragma once

#include <string>
#include <vector>

#include "core/document/document.h"

namespace evenclay {

enum class Difference { Added, Removed, Changed };
std::string_view name_of(Difference difference);  ///< "added", "removed", "changed"

/// One sentence's worth: what it is about, and how it was and is; empty where there is nothing to say.
struct ChangeLine {
  Difference how = Difference::Changed;
  std::string what;  ///< "radius", "2 Rebuild.points_u", "order of steps"
  std::string before, after;
  bool operator==(const ChangeLine&) const = default;
};

struct PartChange {
  Difference how = Difference::Changed;
  PartId before = 0, after = 0;   ///< numbers in the two versions; 0 where the part is not there
  std::string name;               ///< as it is called now, or was
  std::vector<ChangeLine> lines;  ///< of a part in both
  bool operator==(const PartChange&) const = default;
};

struct Comparison {
  std::vector<ChangeLine> numbers;  ///< named numbers, settings, limits
  std::vector<PartChange> parts;    ///< in the order of the newer version, then what is gone
  bool same() const { return numbers.empty() && parts.empty(); }
  bool operator==(const Comparison&) const = default;
};

/// Parts are matched by their number and source, else by their name; steps by their number. Numbers of steps in words are
/// places in the newer list.
Comparison compare(const Document& before, const Document& after);

}  // namespace evenclay
