#include "core/operations/tile_mesh.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/body_mesh.h"
#include "core/mesh/tessellate.h"
#include "core/subdivision/refine.h"

namespace evenclay {

TriangleMesh tile_mesh(const Shape& shape, int divisions, Progress& progress) {
  if (const auto* mesh = std::get_if<TriangleMesh>(&shape)) return *mesh;
  if (const auto* form = std::get_if<Form>(&shape))
    return limit_within(*form, size(*form) / (4.0 * divisions * divisions), 200'000, progress);
  const auto* body = std::get_if<Body>(&shape);
  if (body == nullptr)
    throw Error(say(
        "The tile must be made of surfaces, a form or a mesh. Choose another part as the tile."));
  TriangleMesh result;
  if (is_trimmed(*body)) {
    const double chord = size(*body) / (4.0 * divisions * divisions);
    return welded(tessellate(*body, {.chord = chord, .widest = size(*body) / divisions}, progress));
  }
  for (const Surface& s : surfaces_of(*body)) {
    const auto parts = [&](const KnotVector& k) {
      const int spans = static_cast<int>(breakpoints(k).size()) - 1;
      return std::max(1, (divisions + spans - 1) / spans);
    };
    append(result, tessellate(s, {.per_span_u = parts(s.u), .per_span_v = parts(s.v)}, progress));
  }
  return result;
}

}  // namespace evenclay
