// How a point moves with the planes around it.
#pragma once

#include "core/base/vec3.h"

namespace evenclay {

/// Planes through one point, each of which moves by 1 along its unit normal. The point's move keeps it in all of them as
/// well as one move can (least squares); where planes differ by less than some 10° from one, they count as smooth, and the
/// point moves along their mean normal.
class Mitre {
 public:
  void add(const Vec3& normal, double weight = 1.0);
  /// Not longer than 3: sharp corners would run far away. 0 when nothing was added or the normals cancel.
  Vec3 move() const;

 private:
  double xx_ = 0, xy_ = 0, xz_ = 0, yy_ = 0, yz_ = 0, zz_ = 0;
  Vec3 sum_;
};

}  // namespace evenclay
