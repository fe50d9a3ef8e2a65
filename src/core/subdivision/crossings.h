// Where the smooth skin of a form runs through itself.
#pragma once

#include <array>

#include "core/base/progress.h"
#include "core/subdivision/form.h"

namespace evenclay {

/// Two faces (or one with itself) that cross, and where: pieces of the line along which they do, its length in mm, and a
/// place on it.
struct Crossing {
  Tag face_a = 0, face_b = 0;
  std::vector<std::array<Vec3, 2>> pieces;
  double length = 0.0;
  Vec3 at;
};

/// All crossings of the limit, the longest first. Searched on its triangles, as many as `most_triangles` allows, by a tree
/// of boxes; triangles that share a corner are neighbours and do not count. Pairs of triangles are told by the sides on
/// which corners lie (T. Möller, A fast triangle-triangle intersection test, 1997). Throws Error, Cancelled.
std::vector<Crossing> crossings(const Form& form, std::size_t most_triangles, Progress& progress);

/// The form with the points of crossing faces drawn towards the means of their neighbours, by `share` (0 … 1) of the way
/// and at most `passes` times, until nothing crosses. Points of borders and creases stay.
Form crossings_pulled_in(const Form& form, double share, int passes, Progress& progress);

}  // namespace evenclay
