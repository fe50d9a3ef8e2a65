// Colours and materials of single faces: which faces have them, and giving them.
#pragma once

#include <span>
#include <vector>

#include "core/body/body.h"
#include "core/document/document.h"

namespace evenclay {

/// For each face of the body the place in `looks` of the one it has; -1: the part's own. A look is found by the tag of its
/// pick, also of the face that a face says to be a piece of. Where the pick has none the face nearest to its place has the look;
/// where the tag is gone it does so within `near` mm alone. Of several looks the last holds.
std::vector<int> looks_of_faces(const Body& body, std::span<const FaceLook> looks,
                                double near = 1e-3);

/// Gives a face its look, in the place of what was given to the same pick. Throws Error when the part is not there, the pick is
/// no face, or a share of the material is not in 0..1.
Document with_face_look(const Document& document, PartId part, const FaceLook& look);

/// Takes every look away that leads to the face, so that it looks as the part does again.
Document without_face_look(const Document& document, PartId part, const Body& body,
                           std::size_t face);

}  // namespace evenclay
