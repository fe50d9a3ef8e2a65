// What steps on subdivision forms have in common: the form, and what is picked on it.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/document/operation.h"
#include "core/subdivision/form.h"

namespace evenclay {

/// Throws Error with a sentence naming the operation when the shape is something else.
const Form& form_of(const Shape& shape, std::string_view operation_label);

/// Picks of one kind led back to the form: by tag, else, where a pick has none, what lies nearest (the middle of a face
/// or edge, a point). Those whose names are gone are left out, and one sentence about them is added to the notes. Each
/// is named once. Throws Error with what to pick when nothing is left.
std::vector<std::uint32_t> picked_faces(const Form& form, const std::vector<Pick>& picks,
                                        std::vector<std::string>& notes);
std::vector<FormEdge> picked_edges(const Form& form, const std::vector<Pick>& picks,
                                   std::vector<std::string>& notes);
std::vector<std::uint32_t> picked_points(const Form& form, const std::vector<Pick>& picks,
                                         std::vector<std::string>& notes);

/// A face, edge or point as a pick.
Pick pick_of_face(const Form& form, std::uint32_t face);
Pick pick_of_edge(const Form& form, const FormEdge& edge);
Pick pick_of_point(const Form& form, std::uint32_t point);

/// Those of one kind.
std::vector<Pick> picks_of(const std::vector<Pick>& all, PickKind kind);

/// The operation working on these picks instead, in whichever of its parameters take their kind; null when none does.
OperationPtr with_picks(const Operation& operation, const std::vector<Pick>& picks);
/// What it works on now, of all its parameters that take picks.
std::vector<Pick> picks_in(const Operation& operation);

/// The parameters "faces", "edges" and "points" of steps that work on what is picked of a form.
void describe_faces(ParameterVisitor& v, std::vector<Pick>& faces);
void describe_edges(ParameterVisitor& v, std::vector<Pick>& edges);
void describe_points(ParameterVisitor& v, std::vector<Pick>& points);

/// The form with its links worked out, as what a step makes.
Outcome outcome_of(Form form, std::vector<std::string> notes);

}  // namespace evenclay
