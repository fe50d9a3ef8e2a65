// What the operations on curves need alike.
#pragma once

#include <string_view>
#include <vector>

#include "core/document/operation.h"
#include "core/source/border_surface.h"

namespace evenclay {

/// The curves of a shape; throws Error naming the operation when it has none.
const std::vector<Curve>& curves_of(const Shape& shape, std::string_view operation_label);

/// The curves of all parts of a list, one after the other. Throws Error when the list is empty or a part has
/// none; `what` says what they are for ("sections").
std::vector<Curve> gathered_curves(const Inputs& inputs, const std::vector<PartRef>& parts,
                                   std::string_view what);
/// The one curve of a part. Throws Error when none is chosen or it has more than one; `what`: "rail".
Curve single_curve(const Inputs& inputs, const PartRef& part, std::string_view what);
/// The bodies of the parts of a list that are bodies.
std::vector<const Body*> gathered_bodies(const Inputs& inputs, const std::vector<PartRef>& parts);

/// The picked parts that are curves or not computed yet, the chosen one first; and the first other curve there is when
/// fewer are picked than the `least` that are needed, if that is more than one.
std::vector<PartRef> picked_curves(const Beginning& beginning, std::size_t least = 1);
/// The first part of curves besides the chosen one; empty when there is none.
PartRef other_curve(const Beginning& beginning);
/// Whether the part is known to be made of curves, or of faces.
bool is_curve(const Beginning& beginning, PartId part);
bool is_body(const Beginning& beginning, PartId part);

/// The normal of the plane the curve lies in, as it goes round (Newell's sum over places); of a straight curve some
/// direction across it.
Vec3 across(const Curve& curve);

/// The surfaces as faces that look away from their own middles.
Body outward(std::vector<Surface> surfaces, int step);

/// The same as what a step has made, with a note where one of them folds back on itself.
Outcome outcome_of(std::vector<Surface> surfaces, int step, std::vector<std::string> notes = {});

/// Where bodies lead on at a border, for surfaces that shall go on from them: at places within `tolerance` of one
/// of their faces. The bodies must outlive it. Empty when there are none.
Onward onward_from(const std::vector<const Body*>& bodies, double tolerance);

}  // namespace evenclay
