// On which side of a splitter a place lies, and the bands along which it cuts. Only for cut/.
#pragma once

#include <TopoDS_Shape.hxx>
#include <memory>

#include "core/body/projector.h"
#include "core/cut/split.h"

namespace evenclay {

/// The strip between the two cuts, as signed distances: from -second to first; both 0 without a gap.
struct Strip {
  double first = 0.0, second = 0.0;
  bool empty() const { return first + second <= 0.0; }
};

class SplitSides {
 public:
  virtual ~SplitSides() = default;
  /// Signed distance of a place, mm; positive on the first side.
  virtual double side(const Vec3& place) const = 0;
  /// Kernel faces that cut the body where side() is `offset`. Throws Error.
  virtual TopoDS_Shape band(double offset) const = 0;
};

/// `splitter` and `body` must outlive the result. Throws Error as split() does.
std::unique_ptr<SplitSides> sides_of(const Splitter& splitter, const Body& body);

}  // namespace evenclay
