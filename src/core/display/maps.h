// Colours of a drawn mesh: bends, draft, thickness, deviation from what is watched; and scans as they are drawn.
#pragma once

#include "core/display/display.h"
#include "core/operations/watching.h"

namespace evenclay {

/// The deviation at each vertex of a mesh: the mean of what was measured within three spacings, nearer places counting more; kNoValue
/// where nothing was measured. `reach` is the greatest size. Throws Cancelled.
std::shared_ptr<const DisplayValues> watch_values(const DisplayMesh& mesh,
                                                  const WatchPlaces& places, Progress& progress);

/// Where a plane meets a scan: lines through the triangles of a mesh; of points those nearer to the plane than their spacing, as
/// short strokes along it.
DisplayLines scan_section(const Shape& scan, const SectionWish& wish);

/// Points as small triangles that face along their normals, at most so many, chosen evenly over the list.
void add_points(const PointCloud& cloud, std::size_t most, DisplayMesh& out);

}  // namespace evenclay
