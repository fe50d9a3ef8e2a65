// Skins of flat faces with straight edges, carried on exactly.
#pragma once

#include <optional>

#include "core/body/body.h"

namespace evenclay {

/// The body with every face `mm` further out (below 0: in), its edges mitred: each corner goes where the planes of its
/// faces meet then, or, where those leave it free, as far along as they do. Faces get planes of their own, edges keep
/// names, domains and walks. Nothing where a face is bent, an edge is not straight, or the planes of a corner no longer
/// meet in one point. `body` must have all borders as edges (with_edges).
/// Throws Error when an edge would turn round, with the place and a distance that works.
std::optional<Body> flat_skin(const Body& body, double mm);

}  // namespace evenclay
