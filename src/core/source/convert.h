// Faces of any kind as whole surfaces with a control grid.
#pragma once

#include "core/base/progress.h"
#include "core/body/body.h"

namespace evenclay {

/// What became of a face.
enum class Conversion {
  Unchanged,    ///< it was a whole surface without weights already
  Unweighted,   ///< a whole surface whose weights were given up
  FourBorders,  ///< its four edges are the borders of the new surface
  TrimsLost     ///< the part of its surface that its loops reach to; the loops are gone
};

struct Converted {
  Surface surface;
  Conversion how = Conversion::Unchanged;
};

/// A surface of points_u × points_v, degree 3 × 3, without weights, in place of the face. A face with one loop of four edges
/// becomes a surface between them: places of the Coons patch (border_surface.h) brought onto the face, fitted by least squares. Of
/// another trimmed face the rectangle of parameters around its loops is taken. Counts 4..200. Throws Cancelled.
Converted converted(const Face& face, const Body& body, int points_u, int points_v,
                    Progress& progress);

}  // namespace evenclay
