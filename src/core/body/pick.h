// What is picked on a shape by name: found again after the steps below have changed.
#pragma once

#include <optional>
#include <string_view>

#include "core/body/body.h"

namespace evenclay {

/// What can be picked on a shape.
enum class PickKind { Face, Edge, Corner };

/// A face, edge or corner: known by its tag, or, where that is 0 or gone, by where it was. Corners of bodies have no
/// tags of their own; those of subdivision forms are points with theirs.
struct Pick {
  PickKind kind = PickKind::Face;
  Tag tag = 0;
  Vec3 near;  ///< a place on it, mm
  bool operator==(const Pick&) const = default;
};

/// What a pick leads to.
struct Found {
  std::size_t index = 0;  ///< in body.faces or body.edges
  /// By its tag. Else it is a piece of what was picked or what lies nearest to it, which the designer
  /// should be told, unless the pick named none.
  bool by_tag = false;
  double u = 0.0, v = 0.0;  ///< of a face not found by its tag: the parameters nearest to the place
};

/// The face of a pick: that of its tag, else the nearest of the pieces that were split from it, else the
/// nearest of all. Nothing when the body has no faces. Throws Error when the pick is of another kind.
std::optional<Found> find_face(const Body& body, const Pick& pick);
/// The edge of a pick: that of its tag, else the nearest. Natural borders have no edges.
std::optional<Found> find_edge(const Body& body, const Pick& pick);

/// "face", "edge" or "corner", as in files and in text.
std::string_view name_of(PickKind kind);
PickKind pick_kind(std::string_view name);  ///< throws Error

}  // namespace evenclay
