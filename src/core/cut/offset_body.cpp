#include "core/cut/offset_body.h"

#include <map>

namespace evenclay {

Body offset_body(const Body& body, double mm, const OffsetSurface& offset, Progress& progress) {
  if (mm == 0.0) return body;
  std::map<std::pair<const Surface*, bool>, Surface> done;  // pieces of one surface share it
  std::vector<Surface> made;
  for (const Face& f : body.faces) {
    progress.check();
    const auto key = std::make_pair(f.surface.get(), f.flipped);
    auto at = done.find(key);
    if (at == done.end()) at = done.emplace(key, offset(*f.surface, f.flipped ? -mm : mm)).first;
    made.push_back(at->second);
  }
  return with_surfaces(body, std::move(made), NewParameters::Scaled);
}

}  // namespace evenclay
