// Joining faces whose open borders lie on each other.
#pragma once

#include "core/body/body.h"

namespace evenclay {

/// +1 when two curves meet all along within `tolerance` (mm) in the same sense, −1 in the opposite one, 0 when they
/// do not. Places at equal shares of both domains are compared.
int sense_of_meeting(const Curve& a, const Curve& b, double tolerance);

/// The natural borders of whole faces become edges, and open edges that lie on each other (sense_of_meeting) become
/// one, which keeps the name of the first. Gaps are measured again.
struct JoinedBody {
  Body body;
  std::size_t open = 0;  ///< edges with length that only one face uses
  double gap = 0.0;      ///< the greatest of all edges, mm
};
JoinedBody joined(const Body& body, double tolerance);

}  // namespace evenclay
