// What the edits of forms share.
#pragma once

#include <span>

#include "core/subdivision/form.h"

namespace evenclay {

/// Throws Error when no face is named, or one that is not there.
void check_picked(const Form& form, std::span<const std::uint32_t> faces);

/// The edge between two points. Throws Error when there is none.
const FormTopology::Edge& edge_at(const FormTopology& topology, const FormEdge& edge);

/// The face on the other side; −1 at a border.
std::int32_t other_face(const FormTopology::Edge& edge, std::int32_t face);

/// A border edge from its first to its second point as its one face walks it.
FormEdge as_walked(const Form& form, const FormTopology::Edge& border);

/// Without points that no face uses, and without creases that lie on no edge.
Form compacted(Form form);

/// The points of a closed border in the sense in which its faces walk it, from the given edge on. Throws Error when the
/// edge is no border.
std::vector<std::uint32_t> border_from(const Form& form, const FormTopology& topology,
                                       const FormEdge& edge);

/// Where all points of a face are on average, and its unit normal (M. Newell's sum; z where it has no area).
Vec3 middle_of(const Form& form, std::uint32_t face);
Vec3 normal_of(const Form& form, std::uint32_t face);

/// A name for what step `step` makes beside the edge between two points.
Tag beside_edge(const Form& form, std::uint32_t a, std::uint32_t b, int step,
                std::uint64_t ordinal);

}  // namespace evenclay
