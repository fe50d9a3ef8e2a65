#include "core/body/smooth_joint.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace evenclay {

bool is_smooth_joint(const Body& body, const std::vector<UsePlace>& uses) {
  if (uses.size() != 2) return false;
  constexpr double kSeen = 0.5;  // degrees
  for (const double share : {0.1, 0.3, 0.5, 0.7, 0.9}) {
    Vec3 n[2];
    for (std::size_t k = 0; k < 2; ++k) {
      const Face& face = body.faces[uses[k].face];
      const Curve& uv = face.loops[uses[k].loop][uses[k].place].uv;
      const Vec3 at = evaluate(uv, uv.knots.first() + share * uv.knots.length());
      n[k] = normal(*face.surface, at.x, at.y) * (face.flipped ? -1.0 : 1.0);
    }
    const double between =
        std::atan2(length(cross(n[0], n[1])), dot(n[0], n[1])) * 180.0 / std::numbers::pi;
    if (between > kSeen) return false;
  }
  return true;
}

bool is_seam(const std::vector<UsePlace>& uses) {
  return uses.size() > 1 && std::all_of(uses.begin(), uses.end(), [&](const UsePlace& u) {
           return u.face == uses.front().face && u.loop == uses.front().loop;
         });
}

}  // namespace evenclay
