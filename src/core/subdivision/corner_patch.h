// The limit of a face with one corner where it is no B-spline.
#pragma once

#include <memory>
#include <vector>

#include "core/subdivision/patches.h"

namespace evenclay {

/// The faces around one special point, subdivided on as deep as places ask for. Each level is half as large around the
/// point; what lies beside it is a B-spline there.
class AroundPoint {
 public:
  /// The form's faces are quadrangles, creases sharp, and no face near the point has another special corner.
  AroundPoint(const Form& form, std::uint32_t point);

  /// Of a face at the point: the limit at (u, v), 0 … 1 along the edges that leave the point, counter-clockwise. The
  /// derivatives are those with respect to u and v; at (0, 0), where they may not be, they are 0.
  PatchPlace at(Tag face, double u, double v);

 private:
  struct Level {
    Form form;
    std::unique_ptr<Walker> walker;
    std::uint32_t point = 0;
  };
  void refine();
  std::vector<std::unique_ptr<Level>> levels_;
  Tag point_ = 0;
  Vec3 limit_;
};

}  // namespace evenclay
