// Trimmed faces that may be joined, as a plain value.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "core/nurbs/curve.h"
#include "core/nurbs/surface.h"

namespace evenclay {

/// Lasting name of a face or edge, made from (step, origin, ordinal); 0 names nothing. What an
/// operation did not make anew keeps its tag, so that picks and shapings find it again.
using Tag = std::uint64_t;

/// The tag of the `ordinal`-th thing that step `step` made out of `origin` (0: out of nothing). The
/// same three always give the same tag, others practically never do (64 bits, mixed).
Tag make_tag(int step, Tag origin, std::uint64_t ordinal);

/// A border that faces lie against. An edge without length (a pole) has a curve whose points are all
/// one. `gap` is the greatest distance (mm) between the curve and the parameter curves of its faces,
/// as measured when it was made.
struct Edge {
  Tag tag = 0;
  Curve curve;
  double gap = 0.0;
};

/// An edge in a loop: walked along its curve or against it. `uv` is the edge in the face's
/// parameters (x = u, y = v, z = 0); it has the domain of edge.curve, and uv(t) lies on curve(t).
struct EdgeUse {
  std::uint32_t edge = 0;
  bool forward = true;
  Curve uv;
};
using Loop = std::vector<EdgeUse>;

/// A piece of a surface. Without loops it is the whole surface with its natural border. With loops
/// it is what lies inside an odd number of them; each is closed in the parameter plane, so that on
/// closed surfaces a seam is an edge that the loop uses twice, and a pole an edge without length.
/// Loops do not cross. `flipped`: outside is against du × dv.
struct Face {
  Tag tag = 0;
  /// The face this one was split from, when it still has that one's parameters; else 0.
  Tag piece_of = 0;
  std::shared_ptr<const Surface> surface;
  std::vector<Loop> loops;
  bool flipped = false;

  bool trimmed() const { return !loops.empty(); }
};

/// Faces in the order of their numbers, and the edges that their loops name. Faces are joined along
/// an edge that both use. Cheap to copy: surfaces are shared.
struct Body {
  std::vector<Face> faces;
  std::vector<Edge> edges;
};

/// Whole surfaces as faces, tagged as the first things that `step` made.
Body body_of(std::vector<Surface> surfaces, int step = 0);

/// Throws Error when a face has no surface, a loop names an edge that is not there or does not close
/// in the parameter plane, or a curve's domain is not that of its edge.
void check(const Body& body);

/// True when any face has loops.
bool is_trimmed(const Body& body);

/// Diagonal of the box of all control points; makes tolerances relative.
double size(const Body& body);

/// The surfaces of all faces, copied, in the order of the faces.
std::vector<Surface> surfaces_of(const Body& body);

/// The place in `body.faces` of the face with this tag; -1 when there is none.
int face_with_tag(const Body& body, Tag tag);

/// How the parameters of the new surfaces relate to those of the old ones.
enum class NewParameters {
  Scaled,   ///< the share of the domain stays: a place keeps its share of the way along u and v
  Searched  ///< they may run differently: edges are found on the new surface by closest points
};

/// The body with other surfaces under the same faces, one for each. Loops follow: their parameter
/// curves are scaled or searched, edge curves laid on the new surfaces (where two faces meet, half-way
/// between them) and the gaps measured. Throws Error when the number of surfaces is not that of the
/// faces.
Body with_surfaces(const Body& body, std::vector<Surface> surfaces, NewParameters parameters);

/// An affine map of the parameter plane: u' = a u + b v + e, v' = c u + d v + f. Loops of a face are
/// mapped by it when its surface's directions are exchanged, turned round or renumbered.
struct ParameterMap {
  double a = 1.0, b = 0.0, c = 0.0, d = 1.0, e = 0.0, f = 0.0;
};
void map_parameters(Face& face, const ParameterMap& map);
/// The map that keeps the share of the way along both directions.
ParameterMap scaled_map(const Surface& from, const Surface& to);

/// Lays the curves of all edges of the given faces on their surfaces again and measures the gaps; all
/// edges when `faces` is empty. Edges of faces that did not change stay to the bit.
void refresh_edges(Body& body, const std::vector<std::size_t>& faces = {});

/// Measures the gap of every edge again; the curves stay.
void refresh_gaps(Body& body);

}  // namespace evenclay
