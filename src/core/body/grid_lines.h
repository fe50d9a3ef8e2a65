// Where the lines of a face's grid lie, so that its cells are as wide as the bend allows.
#pragma once

#include <cstddef>
#include <vector>

#include "core/nurbs/knot_vector.h"

namespace evenclay {

/// The pieces between knots that a direction is made of; `creased` says of each end whether the surface may have a crease
/// there, as it may at both ends of all.
struct Strips {
  std::vector<double> at;
  std::vector<char> creased;
};
/// Between low and high; for closed directions one turn on as well.
Strips strips_of(const KnotVector& knots, double low, double high);

/// Lines across a direction. A cell may reach over several strips, as wide as the narrowest of them allows.
class LinePlacer {
 public:
  /// `most`: the widest cell that each strip allows, above 0, may be infinite. `strips` must outlive it.
  LinePlacer(const Strips& strips, std::vector<double> most);

  /// Ends of cells from `from` to `to`, without `from`, at most 4096: as few as can be, and of like shares of what their
  /// strips allow where that holds. There must be no crease between.
  std::vector<double> between(double from, double to) const;
  std::size_t count(double from, double to) const;

 private:
  std::size_t strip_at(double x) const;
  std::vector<double> reached(double from, double to) const;
  std::vector<double> evened(double from, double to, std::size_t n) const;
  bool keeps(double from, const std::vector<double>& ends) const;

  const Strips& strips_;
  std::vector<double> most_;
};

}  // namespace evenclay
