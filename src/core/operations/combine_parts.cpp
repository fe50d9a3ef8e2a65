#include "core/operations/combine_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/topology.h"
#include "core/cut/raise.h"
#include "core/operations/common.h"
#include "core/operations/curves.h"
#include "core/operations/offers.h"

namespace evenclay {

namespace {

constexpr OperationInfo kUnite{
    .kind = "unite",
    .label = "Unite",
    .help = "What lies in this part or in the others becomes one solid.",
    .stage = Stage::CutAndJoin,
    .group = "Solids",
    .icon = "squares-unite",
    .takes = kBody,
    .hint = "Choose the other parts in the settings, or click them; Enter keeps."};
constexpr OperationInfo kSubtract{
    .kind = "subtract",
    .label = "Subtract",
    .help = "What lies in the others is taken out of this part.",
    .stage = Stage::CutAndJoin,
    .group = "Solids",
    .icon = "squares-subtract",
    .takes = kBody,
    .hint = "Choose the other parts in the settings, or click them; Enter keeps."};
constexpr OperationInfo kIntersect{
    .kind = "intersect",
    .label = "Intersect",
    .help = "Only what lies in this part and in all the others stays.",
    .stage = Stage::CutAndJoin,
    .group = "Solids",
    .icon = "squares-intersect",
    .takes = kBody,
    .hint = "Choose the other parts in the settings, or click them; Enter keeps."};

Vec3 turned_about(const Vec3& v, const Vec3& axis, double degrees) {
  const double a = degrees * std::numbers::pi / 180.0;
  return v * std::cos(a) + cross(axis, v) * std::sin(a) +
         axis * (dot(axis, v) * (1.0 - std::cos(a)));
}

void describe_faces(ParameterVisitor& v, std::vector<Pick>& faces, std::string_view help) {
  v.picks({"faces", "Faces", help}, faces, kBodyFaces);
}

std::string counted_faces(std::size_t n) {
  return counted(static_cast<std::size_t>(n), "face");
}

}  // namespace

template <Combine How>
const OperationInfo& CombineOperation<How>::info() const {
  return How == Combine::Unite ? kUnite : How == Combine::Subtract ? kSubtract : kIntersect;
}

template <Combine How>
std::string CombineOperation<How>::summary() const {
  return counted(others.size(), "part");
}

template <Combine How>
Outcome CombineOperation<How>::apply(const Shape& before, const Inputs& inputs,
                                     Progress& progress) const {
  const Body& body = faces_of(before, this->label());
  Combined made = combined(body, other_bodies(inputs, others, this->label()), How, inputs.tolerance,
                           inputs.step, progress);
  std::vector<std::string> notes;
  if (made.shells > 1)
    notes.push_back(say("The result is {} pieces that do not touch.", made.shells));
  if (made.within > 0.0)
    notes.push_back(
        say("Faces only touch or lie on each other; places within {:g} mm were taken as one.",
            made.within));
  return {std::move(made.body), std::move(notes)};
}

template class CombineOperation<Combine::Unite>;
template class CombineOperation<Combine::Subtract>;
template class CombineOperation<Combine::Intersect>;

void SplitOperation::suit(const Beginning& b) {
  part = other_curve(b);
  for (const PartRef& other : other_picked_bodies(b)) part = other;
  if (part.empty()) by = SplitBy::Plane;
  if (b.view) carried.view = *b.view;
}

void SplitOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 2> kinds{{{"part", "A curve or part"}, {"plane", "A plane"}}};
  visit_choice(v, {"by", "Split by", "What the part is split with."}, by, kinds);
  if (by == SplitBy::Part) {
    v.part({"part", "Curve or part", "Its curves or faces split; open curves go on straight."},
           part);
    v.toggle({"along_normals", "Along normals",
              "Curves are laid on the nearest skin and carried along its normals."},
             along_normals);
    if (!along_normals) {
      carried.describe(v);
      static constexpr std::array<Choice, 3> reaches{{{"both", "Both ways, through all"},
                                                      {"forwards", "Forwards only"},
                                                      {"backwards", "Backwards only"}}};
      visit_choice(v, {"reach", "Reach", "How far the curve goes from where it lies."}, reach,
                   reaches);
    }
  } else {
    static constexpr std::array<Choice, 3> axes{{{"x", "x"}, {"y", "y"}, {"z", "z"}}};
    v.choice({"normal", "Plane across", "The axis that the plane stands across."}, normal, axes);
    v.number({"at", "At", "Where the plane meets that axis."}, at, {-1e6, 1e6, "mm", 1.0, 3});
    v.number({"tilt_a", "Tilt", "About the next axis."}, tilt_a, {-89.0, 89.0, "°", 1.0, 2});
    v.number({"tilt_b", "Second tilt", "About the axis after it."}, tilt_b,
             {-89.0, 89.0, "°", 1.0, 2});
  }
  static constexpr std::array<Choice, 3> sides{
      {{"all", "All pieces"}, {"first", "The first side"}, {"second", "The second side"}}};
  visit_choice(v,
               {"keep", "Keep",
                "First: outside of closed curves and parts, left of open curves, ahead of planes."},
               keep, sides);
  v.number({"gap", "Gap", "Width of a strip that is taken out along the split; 0: none."}, gap,
           {.min = 0.0, .max = 1000.0, .unit = "mm", .step = 0.1, .least_says = "none"});
  if (gap > 0.0) {
    static constexpr std::array<Choice, 3> where{{{"centred", "On both sides"},
                                                  {"first", "On the first side"},
                                                  {"second", "On the second side"}}};
    visit_choice(v, {"gap_side", "Gap lies", "Which side gives the strip."}, gap_side, where);
  }
}

std::string SplitOperation::summary() const {
  return gap > 0.0 ? say("gap {:g} mm", gap) : (keep == SplitKeep::All ? "all pieces" : "one side");
}

Splitter SplitOperation::splitter(const Inputs& inputs) const {
  Splitter s;
  if (by == SplitBy::Plane) {
    Frame f;
    Vec3 z, a, b;
    z[static_cast<std::size_t>(normal)] = 1.0;
    a[static_cast<std::size_t>((normal + 1) % 3)] = 1.0;
    b[static_cast<std::size_t>((normal + 2) % 3)] = 1.0;
    f.origin = z * at;
    for (Vec3* axis : {&z, &a, &b})
      *axis = turned_about(
          *axis, {normal == 2 ? 1.0 : 0.0, normal == 0 ? 1.0 : 0.0, normal == 1 ? 1.0 : 0.0},
          tilt_a);
    const Vec3 second = b;
    for (Vec3* axis : {&z, &a}) *axis = turned_about(*axis, second, tilt_b);
    f.z = z;
    f.x = a;
    f.y = cross(z, a);
    s.plane = f;
    return s;
  }
  if (part.empty())
    throw Error(say(
        "Split has nothing that splits yet. Choose a part with a curve or faces in its settings, "
        "or a plane."));
  const Shape& shape = *inputs.parts.at(part);
  if (const auto* set = std::get_if<CurveSet>(&shape); set != nullptr && !set->curves.empty()) {
    s.curves = set->curves;
    s.along_normals = along_normals;
    s.reach = reach;
    s.direction = carried.along(set->curves.front());
    return s;
  }
  s.bodies.push_back(faces_of(shape, "Split"));
  return s;
}

Outcome SplitOperation::apply(const Shape& before, const Inputs& inputs, Progress& progress) const {
  const Body& body = faces_of(before, label());
  Splitter cutter = splitter(inputs);
  cutter.offset = offset_within(inputs.tolerance, progress);
  const Split made = split(body, cutter, {keep, gap, gap_side, inputs.step}, progress);
  std::string note = say_of(static_cast<std::size_t>(made.pieces), "{} piece stays",
                            "{} pieces stay", made.pieces);
  if (made.taken > 0) note += say(", {} taken away", made.taken);
  if (made.widest > 0.0 && made.widest - made.narrowest < 0.005)
    note += say("; on the skin the gap is {:.2f} mm wide", made.widest);
  else if (made.widest > 0.0)
    note += say("; on the skin the gap is {:.2f} to {:.2f} mm wide", made.narrowest, made.widest);
  return {made.body, {note + "."}};
}

void RemoveFacesOperation::describe(ParameterVisitor& v) {
  describe_faces(v, faces, "The faces that go, clicked in the view.");
}

std::string RemoveFacesOperation::summary() const {
  return counted_faces(faces.size());
}

Outcome RemoveFacesOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  const Body& body = faces_of(before, label());
  std::vector<std::string> notes;
  const std::vector<std::size_t> picked = faces_picked(body, faces, notes);
  if (picked.size() >= body.faces.size())
    throw Error(say("All faces are picked; nothing would be left. Pick fewer."));
  return {without_faces(body, picked), std::move(notes)};
}

const OperationInfo& FacesAsPartOperation::info() const {
  static constexpr OperationInfo kInfo{
      .kind = "faces_as_part",
      .label = "Faces as a part",
      .help = "Picked faces or pieces of a part as a part of their own.",
      .stage = Stage::CutAndJoin,
      .group = "Cut",
      .icon = "copy-plus",
      .takes = kBody,
      .hint = "Click the faces of the part; Enter keeps.",
      .new_part = true,
      .part_name = "Piece"};
  return kInfo;
}

void FacesAsPartOperation::suit(const Beginning& b) {
  part = b.chosen;
}

void FacesAsPartOperation::describe(ParameterVisitor& v) {
  v.part({"part", "Of", "The part whose faces are taken."}, part);
  describe_faces(v, faces, "The faces that are taken, clicked in the view.");
}

std::string FacesAsPartOperation::summary() const {
  return counted_faces(faces.size());
}

Outcome FacesAsPartOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  if (part.empty()) throw Error(say("No part is chosen. Choose the part whose faces are taken."));
  const Body& body = faces_of(*inputs.parts.at(part), label());
  std::vector<std::string> notes;
  const std::vector<std::size_t> picked = faces_picked(body, faces, notes);
  std::vector<std::size_t> others;
  for (std::size_t f = 0; f < body.faces.size(); ++f)
    if (std::find(picked.begin(), picked.end(), f) == picked.end()) others.push_back(f);
  return {without_faces(body, others), std::move(notes)};
}

void OffsetFacesOperation::describe(ParameterVisitor& v) {
  describe_faces(v, faces, "The faces that move, clicked in the view.");
  v.number({"distance", "Distance", "Along their outside; below 0 inward."}, distance,
           {-1000.0, 1000.0, "mm", 0.1, 3});
}

std::string OffsetFacesOperation::summary() const {
  return fmt::format("{:g} mm", distance);
}

Outcome OffsetFacesOperation::apply(const Shape& before, const Inputs& inputs,
                                    Progress& progress) const {
  const Body& body = faces_of(before, label());
  std::vector<std::string> notes;
  const std::vector<std::size_t> picked = faces_picked(body, faces, notes);
  return {raised(body, picked, distance, offset_within(inputs.tolerance, progress),
                 inputs.tolerance, inputs.step, progress),
          std::move(notes)};
}

}  // namespace evenclay
