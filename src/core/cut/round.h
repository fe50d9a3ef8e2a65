// Edges of bodies rounded and chamfered.
#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"

namespace evenclay {

enum class EdgeCut {
  Round,   ///< by the radius
  Chamfer  ///< flat, by the distance from the edge on both faces
};

struct EdgeCutOptions {
  EdgeCut kind = EdgeCut::Round;
  double size = 1.0;      ///< mm, > 0: at the beginning of the edges
  double size_end = 1.0;  ///< of Round: at their ends; the same for an even one
  int step = 0;
};

/// The edges with these numbers (of with_edges) cut; edges that go on smoothly are taken along by the kernel. Faces beside keep
/// names and surfaces, new faces are named after their edge. The result is sound and as closed as before.
/// Throws Error: no edge, an open edge or a smooth joint (which has nothing to round), a size beyond what works there,
/// naming the edge's place and the greatest size that was found to work. Throws Cancelled.
Body with_cut_edges(const Body& body, const std::vector<std::size_t>& edges,
                    const EdgeCutOptions& options, Progress& progress);

/// Greatest angle (degrees) between the outsides of the two faces of a joined edge; 0 for other edges.
double edge_angle(const Body& body, std::size_t edge);

/// The edges that go on from this one smoothly (within 5°, both joined or both open), itself first in the chain's
/// order; `t` is the body's topology.
struct Topology;
std::vector<std::size_t> smooth_chain(const Body& body, const Topology& t, std::size_t edge);

}  // namespace evenclay
