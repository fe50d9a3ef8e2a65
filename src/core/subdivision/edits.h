// Edits of forms, each from form to form; tags survive for all that is not made anew.
#pragma once

#include <span>
#include <vector>

#include "core/subdivision/form.h"

namespace evenclay {

/// b is added to a, nothing joined.
void append(Form& a, const Form& b);

/// What an edit made.
struct Edited {
  Form form;
  std::vector<std::uint32_t> faces;  ///< the faces that the hand goes on with: places in form.faces
};

/// The faces (places in form.faces) are moved by `by`, a wall of quadrangles goes round each group that hangs together.
/// New points get tags of the step. Creases at the rim stay below, those between picked faces move along. Throws Error:
/// no face picked, a face that is not there.
Edited extruded(const Form& form, std::span<const std::uint32_t> faces, const Vec3& by, int step);

/// Without the faces, and without points that no face has any more. Throws Error when nothing would be left, or two
/// parts would touch in one point.
Form without_faces(const Form& form, std::span<const std::uint32_t> faces);

/// The loop of edges that an edge leads to across quadrangles (opposite edges of each), in order; closed when it comes
/// back. This is the ring that an inserted loop cuts.
struct EdgeRing {
  std::vector<FormEdge> edges;  ///< each from its left to its right point, as the ring is walked
  std::vector<std::uint32_t> faces;  ///< between edge k and edge k + 1 (and back to the first)
  bool closed = false;
};
EdgeRing ring_across(const Form& form, const FormTopology& topology, const FormEdge& edge);

/// The loop that an edge leads to straight on through points where four edges meet.
std::vector<FormEdge> loop_along(const FormTopology& topology, const FormEdge& edge);

/// A row of points put on each edge of the ring across `edge` at the share (0 … 1, exclusive) from its first point, and
/// the faces between cut there. `both_sides`: a second one at the same distance from the other ends. Creases of what is
/// cut stay on both halves. Throws Error: an edge that is not there, a share at an end, a ring that crosses itself.
Form with_loop(const Form& form, const FormEdge& edge, double share, bool both_sides, int step);

/// Throws Error when an edge is not there or the sharpness is out of range; 0 takes a crease away.
Form with_creases(const Form& form, std::span<const FormEdge> edges, double sharpness);

}  // namespace evenclay
