// Shaping points by words: what the hand does in the window, for the runner and for recipes.
#pragma once

#include <span>
#include <string>

#include "core/document/document.h"

namespace evenclay {

/// The document after edits of a part's control points, each a line of words. They land in the
/// Shaped points step at the end of the part; one is added when the last step is another. Throws Error
/// with the line and what it could be, Cancelled.
///
///   pick all | none | invert | grow | shrink | ring | partners | checker
///   pick [4,2] [5,2] …        the addresses of the window's point numbers
///   pick row u [4,2]          also v and w
///   pick every 2 [start 1]
///   pick box x 0 30 z -40 -30 coordinates between two numbers, any of x, y, z
///   pick named NAME
///   name NAME                 keeps what is picked
///   symmetry off | yz | xz | xy | yz_xz | xz_xy | yz_xy | all
///   hold u_begin tangent      u_end, v_begin, v_end; free, position, tangent, curvature, change,
///                             free_tangent
///   falloff ALONG ACROSS [SHAPE [SHAPE]] [strength 1.5]    points; rigid, ramp, scoop, dome, bell
///   move x | y | z | off_skin | net_u | net_v MM
///   move by DX DY DZ          also: move on_skin DX DY DZ
///   scale FX [FY FZ]          about picked (or part, last, symmetry, or at X Y Z)
///   turn DEGREES x | y | z    about as for scale
///   set x | y | z MM
///   level mean | xy Z | xz Y | yz X | points [..] [..] [..]
///   straighten [view DX DY DZ]         the picked rows between their ends, or as seen along view
///   smooth [0.5]              share of the way
///   relax
///   weight W
///   pull [SURFACE] U V by DX DY DZ     shares of the domain; the skin itself goes exactly there,
///                             with the falloff counted from the nearest point
///   symmetric [yz | xz | …]   the side of the point picked last decides; without planes those of
///                             the symmetry, else xz
///   back                      the picked points go back to where the grid below has them
Document with_point_edits(const Document& document, PartId part, std::span<const std::string> edits,
                          Progress& progress);

}  // namespace evenclay
