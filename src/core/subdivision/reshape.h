// Edits of forms that change how they are divided. Tags survive for all that is not made anew; `step` names what is. All
// throw Error with a sentence when the outcome would be no form.
#pragma once

#include <span>

#include "core/subdivision/form.h"

namespace evenclay {

/// The picked faces alone are divided in four (a polygon in as many as it has sides), in their planes; their neighbours
/// get points on their edges. Throws Error beyond a million faces.
Form subdivided_faces(const Form& form, std::span<const std::uint32_t> faces, int step);

/// Each picked edge becomes a strip of `segments` (1 … 20) faces, `width` mm wide on both sides as measured along the
/// edges it is moved on (at most 45 % of the shortest of them); where three or more meet, a face is made. More
/// segments round the strip. Throws Error: border edges, a width that is not positive.
Form bevelled(const Form& form, std::span<const FormEdge> edges, double width, int segments,
              int step);

/// Without the edges: the faces beside each become one. Points that are left between two edges go as well. Throws
/// Error: border edges, or faces that would meet themselves.
Form melted_edges(const Form& form, std::span<const FormEdge> edges, int step);

/// Without the points: all faces around each become one. Throws Error for points of a border with more than two edges
/// there, and as melted_edges.
Form melted_points(const Form& form, std::span<const std::uint32_t> points, int step);

/// The points of the edges move along the edges beside them, by a share −0.95 … 0.95 of those on the left (positive) or
/// right of the loop. Edges are those of one or several loops. Throws Error: share 0, or a point without such an edge.
Form slid(const Form& form, std::span<const FormEdge> edges, double share);

}  // namespace evenclay
