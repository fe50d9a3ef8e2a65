// A mesh as surfaces with control grids.
#pragma once

#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/mesh/triangle_mesh.h"

namespace evenclay {

struct MeshConvertPlan {
  int points_u = 8, points_v = 8;  ///< of each surface, degree 3 × 3; 4..200
  double sharp = 0.52;             ///< radians: a sharper edge parts two surfaces
  double smoothing = 0.5;          ///< as in ScanFitPlan
  int step = 0;                    ///< names the faces
};

struct MeshConverted {
  Body body;                 ///< one face a region, not joined
  std::size_t trimmed = 0;   ///< faces cut to the border of their region; others are whole surfaces
  std::size_t left_out = 0;  ///< regions too narrow for a surface
  double max = 0.0, mean = 0.0;  ///< mm, of the mesh off the surfaces
};

/// One surface for each region (mesh_regions.h; turned by at most 60° from its mean) by least squares through even samples of
/// its triangles (fit_scan.h), lying along the least rectangle around the region. Where the region is not all of that
/// rectangle, the face is cut to its border, and points beyond stay where a smooth fit has them. Throws Error when nothing of the mesh can be taken or there are more than 500
/// regions; Cancelled.
MeshConverted converted(const TriangleMesh& mesh, const MeshConvertPlan& plan, Progress& progress);

}  // namespace evenclay
