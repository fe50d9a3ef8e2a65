// What steps on bodies have in common: what is picked on them, and how curves are carried through them.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/cut/thicken.h"
#include "core/document/operation.h"

namespace evenclay {

inline constexpr int kMostBodyPicks = 5000;
inline const PickRange kBodyFaces{{PickKind::Face}, kMostBodyPicks};
inline const PickRange kBodyEdges{{PickKind::Edge}, kMostBodyPicks};

/// The body with all borders as edges, which is what edges are picked on.
Body edged(const Body& body);

/// Numbers of the picked faces or edges (of the edged body), each once. What is gone leads to the nearest, and one
/// sentence about that is added to the notes. Throws Error with what to pick when nothing is.
std::vector<std::size_t> faces_picked(const Body& body, const std::vector<Pick>& picks,
                                      std::vector<std::string>& notes);
std::vector<std::size_t> edges_picked(const Body& edged, const std::vector<Pick>& picks,
                                      std::vector<std::string>& notes);

/// A face or edge as a pick, by name and a place on it.
Pick pick_of_body_face(const Body& body, std::size_t face);
Pick pick_of_body_edge(const Body& body, std::size_t edge);

/// The bodies of the parts of a list. Throws Error naming the operation when the list is empty or a part is no body.
std::vector<Body> other_bodies(const Inputs& inputs, const std::vector<PartRef>& parts,
                               std::string_view operation_label);
/// The picked parts that are bodies, without the chosen one.
std::vector<PartRef> other_picked_bodies(const Beginning& beginning);

/// Offsets for cut/: within half the tolerance.
OffsetSurface offset_within(double tolerance, Progress& progress);
/// Borders carried on for cut/, as Extend does it.
GrowSurface grow_within(double tolerance, Progress& progress);

/// Along what a curve is carried through a part.
enum class Carry { AcrossCurve, X, Y, Z, View };
struct Carried {
  Carry way = Carry::AcrossCurve;
  Vec3 view{0, 1, 0};  ///< of View
  void describe(ParameterVisitor& visitor);
  Vec3 along(const Curve& curve) const;
};

}  // namespace evenclay
