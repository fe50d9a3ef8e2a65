// Edits of forms that put faces between what is there. Tags survive for all that is not made anew; `step` names what is.
// All throw Error with a sentence when the outcome would be no form.
#pragma once

#include <span>

#include "core/subdivision/form.h"

namespace evenclay {

/// Pairs of places that were matched, when asked for.
using Marks = std::vector<std::array<Vec3, 2>>;

struct BridgeOptions {
  int twist = 0;        ///< the second border is turned on by so many points
  int segments = 1;     ///< rows of faces between, 1 … 50
  double crease = 0.0;  ///< of both rims, 0 … kSharp
};
/// Which points of two closed borders a bridge joins, in its order, so that they can be shown beforehand: matched so
/// that the sum of distances is least, then turned. Throws Error: edges that are no borders, one border twice, unequal
/// counts (stitch those).
std::vector<std::pair<std::uint32_t, std::uint32_t>> bridge_pairs(const Form& form,
                                                                  const FormEdge& border_a,
                                                                  const FormEdge& border_b,
                                                                  int twist);
/// Two closed borders become one piece: rows of quadrangles between them. Throws Error as bridge_pairs, or segments out
/// of range.
Form bridged(const Form& form, const FormEdge& border_a, const FormEdge& border_b,
             const BridgeOptions& options, int step, Marks* marks = nullptr);

/// Two groups of faces, each in one piece and without holes, are taken out, and their rims bridged. Throws Error too
/// when a group is in two pieces or leaves more than one rim.
Form bridged_faces(const Form& form, std::span<const std::uint32_t> faces,
                   const BridgeOptions& options, int step, Marks* marks = nullptr);

/// Two border chains, closed or open, of any counts are closed by one strip of faces: each edge of the chain with fewer
/// meets a run of the other's, split where lengths answer each other, so that no triangle is made where the counts do.
/// Open chains are those of the edges given. Throws Error: one open and one closed, edges that are no border or no
/// chain, a chain twice.
Form stitched(const Form& form, std::span<const FormEdge> edges, int step);

/// The hole whose border has that edge is closed by one face.
Form filled(const Form& form, const FormEdge& border, int step);

/// One more face between points in the order given; it is turned so that it fits its neighbours. Throws Error when an
/// edge would have three faces.
Form with_face(const Form& form, std::span<const std::uint32_t> points, int step);

/// Border edges are pulled out by a vector: each gets a quadrangle, neighbours joined.
Form pulled_out(const Form& form, std::span<const FormEdge> edges, const Vec3& by, int step);

/// An open form gets an inner side `thickness` mm along its normals (negative: outside), and walls along its borders;
/// a closed one an inner skin turned over, which makes a hollow. Normals are those that keep the distance to all faces
/// around as well as one vector can. Rims are creased by `crease`.
Form thickened(const Form& form, double thickness, double crease, int step);

/// The form with its mirror image in the plane through `origin` across `normal`. Border points within `near` mm of the
/// plane are put onto it and joined when `weld`. Throws Error when welding would leave an edge with more than two faces.
Form mirrored_form(const Form& form, const Vec3& origin, const Vec3& normal, double near, bool weld,
                   int step);

}  // namespace evenclay
