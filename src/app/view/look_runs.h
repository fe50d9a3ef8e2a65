// Which triangles of drawn parts look otherwise, worked out when part or picks change and not for each picture: a face that is
// known by a place alone has to be searched for.
#pragma once

#include <map>

#include "core/display/look_ranges.h"

namespace evenclay {

class LookRuns {
 public:
  /// Of a drawn part that has looks of faces, with a mesh and a shape; valid until the next call.
  const std::vector<LookRange>& of(const Part& part, const DisplayPart& drawn);

 private:
  struct Kept {
    std::weak_ptr<const DisplayMesh> mesh;
    std::vector<Pick> picks;
    std::vector<LookRange> ranges;
  };
  std::map<PartId, Kept> kept_;
};

}  // namespace evenclay
