#include "core/operations/form_whole.h"

#include <algorithm>
#include <array>
#include <map>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/union_find.h"
#include "core/body/topology.h"
#include "core/operations/form_picks.h"
#include "core/subdivision/convert.h"
#include "core/subdivision/crossings.h"
#include "core/subdivision/edit_parts.h"
#include "core/subdivision/edits.h"
#include "core/subdivision/joining.h"
#include "core/subdivision/refine.h"
#include "core/subdivision/reshape.h"

namespace evenclay {

void ThickenFormOperation::describe(ParameterVisitor& v) {
  v.number({"thickness", "Thickness", "Distance between both skins."}, thickness,
           {0.001, 10000.0, "mm", 0.5, 3});
  v.toggle({"inward", "Inward", "The second skin lies inside; off puts it outside."}, inward);
  v.number({"crease", "Crease of the rims", "0 smooth, 10 sharp."}, crease,
           {0.0, kSharp, "", 1.0, 2});
}

std::string ThickenFormOperation::summary() const {
  return inward ? say("{:g} mm inward", thickness) : say("{:g} mm outward", thickness);
}

Outcome ThickenFormOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  return outcome_of(
      thickened(form_of(before, label()), inward ? thickness : -thickness, crease, in.step), {});
}

void MirrorFormOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 3> planes{{{"xy", "x–y, top and bottom"},
                                                 {"xz", "x–z, front and back"},
                                                 {"yz", "y–z, left and right"}}};
  visit_choice(v, {"plane", "Plane", "The world plane the mirror is parallel to."}, plane, planes);
  v.number({"place", "Place", "Where the mirror stands along its normal."}, place,
           {-100000.0, 100000.0, "mm", 1.0, 3});
  v.toggle({"join", "Join", "Border points that lie on the mirror become one; off keeps it open."},
           join);
  if (join)
    v.number({"near", "Joined within", "How far from the mirror border points are put onto it."},
             near, {0.0, 1000.0, "mm", 0.01, 4});
}

std::string MirrorFormOperation::summary() const {
  static constexpr const char* names[] = {"x–y", "x–z", "y–z"};
  return say("in {}{}", names[static_cast<std::size_t>(plane)], join ? ", joined" : "");
}

Outcome MirrorFormOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  static constexpr Vec3 normals[] = {{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
  const Vec3 n = normals[static_cast<std::size_t>(plane)];
  const Form& form = form_of(before, label());
  Form made = mirrored_form(form, n * place, n, near, join, in.step);
  std::vector<std::string> notes;
  const std::size_t joined = 2 * form.points.size() - made.points.size();
  if (join)
    notes.push_back(joined > 0
                        ? say("{} joined on the mirror.", counted(joined, "point"))
                        : say("No border point lies on the mirror; both halves stay apart."));
  return outcome_of(std::move(made), std::move(notes));
}

void FormToSurfacesOperation::describe(ParameterVisitor& v) {
  v.number(
      {"within", "Within", "Greatest distance from the smooth form; 0 is the project's tolerance."},
      within,
      {.min = 0.0,
       .max = 10.0,
       .unit = "mm",
       .step = 0.01,
       .decimals = 4,
       .least_says = "the project's"});
}

std::string FormToSurfacesOperation::summary() const {
  return say("joined body");
}

Outcome FormToSurfacesOperation::apply(const Shape& before, const Inputs& in,
                                       Progress& progress) const {
  ConvertedForm made =
      converted(form_of(before, label()), within > 0.0 ? within : in.tolerance, in.step, progress);
  std::vector<std::string> notes;
  notes.push_back(say("{} exact and {} at special points, {}.", counted(made.exact, "surface"),
                      made.fitted, bounds_volume(made.body, 1e-3) ? "a closed body" : "open"));
  if (made.fitted > 0)
    notes.push_back(say("Within {:.2g} mm of the smooth form; joints bend by {:.2g}° at most.",
                        made.deviation, made.angle));
  const auto crossed = crossings(form_of(before, label()), 60'000, progress);
  if (!crossed.empty())
    notes.push_back(
        say("The form runs through itself in {}, the longest near {:.1f}, {:.1f}, {:.1f}; "
            "so does the body. Mend it below "
            "(Check, Next crossing).",
            counted(crossed.size(), "place"), crossed.front().at.x, crossed.front().at.y,
            crossed.front().at.z));
  if (made.angle > 0.1)
    notes.push_back(
        say("The worst joint lies near {:.1f}, {:.1f}, {:.1f}. Fewer faces around one "
            "point there make it smoother.",
            made.angle_at.x, made.angle_at.y, made.angle_at.z));
  return {std::move(made.body), std::move(notes)};
}

void PullInCrossingsOperation::describe(ParameterVisitor& v) {
  v.number({"share", "Share", "Of the way to the mean of the neighbours, each time."}, share,
           {0.05, 1.0, "", 0.05, 2});
  v.count({"passes", "Times", "How often at most."}, passes, {1, 200});
}

std::string PullInCrossingsOperation::summary() const {
  return say("at most {} times", passes);
}

Outcome PullInCrossingsOperation::apply(const Shape& before, const Inputs&,
                                        Progress& progress) const {
  constexpr std::size_t kTriangles = 60'000;
  const Form& form = form_of(before, label());
  const std::size_t were = crossings(form, kTriangles, progress).size();
  Form made = crossings_pulled_in(form, share, passes, progress);
  const std::size_t left = crossings(made, kTriangles, progress).size();
  std::string said = were == 0 ? say("Nothing crosses; the form stays as it is.")
                     : left == 0
                         ? say("{} gone.", counted(were, "crossing"))
                         : say("{} of {} left. Move the faces apart by hand there, or melt a loop.",
                               left, counted(were, "crossing"));
  return outcome_of(std::move(made), {std::move(said)});
}

// The other form that was picked, or the only other one there is.
void TakeInFormOperation::suit(const Beginning& b) {
  const auto is_other_form = [&](PartId id) {
    const auto found = b.parts.find(id);
    return id != b.chosen && found != b.parts.end() && found->second &&
           std::holds_alternative<Form>(*found->second);
  };
  std::vector<PartId> forms;
  for (const PartId id : b.picked)
    if (is_other_form(id)) forms.push_back(id);
  if (forms.empty())
    for (const auto& [id, shape] : b.parts)
      if (is_other_form(id)) forms.push_back(id);
  if (forms.size() == 1) part = forms.front();
}

void TakeInFormOperation::describe(ParameterVisitor& v) {
  v.part({"part", "Form", "The other form; it stays a part of its own and is followed."}, part);
}

std::string TakeInFormOperation::summary() const {
  return say("another form");
}

Outcome TakeInFormOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  Form form = form_of(before, label());
  const auto found = in.parts.find(part);
  if (found == in.parts.end()) throw Error(say("Choose the form that is to be taken in."));
  const auto* other = std::get_if<Form>(found->second.get());
  if (other == nullptr)
    throw Error(say("The part to be taken in is no subdivision form. Choose a form."));
  Form named = unlinked(*other);  // with names of its own: both may come from one part
  for (Tag& tag : named.point_tags) tag = make_tag(in.step, tag, 1);
  for (FormFace& f : named.faces) f.tag = make_tag(in.step, f.tag, 1);
  append(form, named);
  return outcome_of(std::move(form), {});
}

}  // namespace evenclay
