// A form's limit as a body of bicubic surfaces.
#pragma once

#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/subdivision/form.h"

namespace evenclay {

struct ConvertedForm {
  Body body;              ///< joined; closed where the form is
  std::size_t exact = 0;  ///< surfaces that are the limit itself: whole rectangles of regular faces
  std::size_t fitted = 0;  ///< surfaces at special points, one a face
  double deviation =
      0.0;  ///< mm, greatest distance of the fitted ones from the limit at the same place, sampled
  double angle =
      0.0;  ///< degrees, greatest between the normals at a smooth joint, sampled; corners of sharp
            ///< edges, where the limit has no tangent plane, are left out
  Vec3 deviation_at, angle_at;
};

/// Regular faces become as few and as large surfaces as greedy rectangles give, exact to rounding. At a special point
/// (another count of faces than four, or one that a crease makes special) each face around becomes one surface, which
/// interpolates the limit on knots that grow closer towards the point, along radii that the limit shrinks evenly there
/// (the power of its subdominant eigenvalue; M. Halstead, M. Kass, T. DeRose 1993). Those of one point are made finer until they lie
/// within `tolerance` mm and meet within 0.1°, three times at most. Sharp creases become common edges; partial ones are subdivided away first.
/// Throws Error for an empty form, beyond 20 000 faces once subdivided, Cancelled.
ConvertedForm converted(const Form& form, double tolerance, int step, Progress& progress);

}  // namespace evenclay
