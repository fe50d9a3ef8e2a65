// What is wrong or right with each part of a project, in one list.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/document/evaluator.h"

namespace evenclay {

enum class CheckLevel { Good, Caution, Bad };

/// One line of the list.
struct CheckLine {
  PartId part = 0;
  std::string part_name;
  std::string what;  ///< "Evenness"
  CheckLevel level = CheckLevel::Good;
  std::string says;        ///< with the number and its unit
  std::optional<Vec3> at;  ///< the place it is about
  double value = 0.0;      ///< the number in `says`; 0 where there is none
};

/// The lines of one part as it is at its end. Which there are depends on what it is made of: steps that fail; evenness,
/// least radius, symmetry that is kept; open edges, gaps, the worst joint that is nearly smooth; crossings of forms; open
/// and tangled edges, slivers of meshes; stretch of patterns; thickness, draft and undercuts where the project has a
/// limit for them; the deviation that is watched. Scans have one line, since nothing is asked of them.
/// `watched` is the shape the part is watched against; may be null. Thickness is measured inwards from the middles of
/// triangles within 0.03 % of the size to what lies opposite within 60°; draft on the same triangles: the
/// angle between a wall and the pull, whichever half of the mould it belongs to; undercut is what cannot leave along the
/// pull without meeting the part again. Throws Cancelled.
std::vector<CheckLine> checks_of(const Document& document, const Part& part,
                                 const PartResult& result, const Shape* watched,
                                 Progress& progress);

/// … of all visible parts, in the order of the list.
struct CheckList {
  std::vector<CheckLine> lines;
  std::size_t parts = 0;
};
CheckList all_checks(const Document& document, Evaluator& evaluator, Progress& progress);

std::string_view name_of(CheckLevel level);  ///< "good", "caution", "bad"

/// The list as JSON: limits, and for each part its lines.
std::string checks_json(const Document& document, const CheckList& list);

}  // namespace evenclay
