#include "core/operations/grid_line.h"

#include <fmt/format.h>

#include <array>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/knot_operations.h"
#include "core/operations/common.h"

namespace evenclay {

namespace {

double at_share(const KnotVector& k, double share) {
  return k.first() + share * k.length();
}

Surface with_line(const Surface& s, Direction d, double share) {
  const std::array<double, 1> place{at_share(knots_of(s, d), share)};
  const KnotVector& k = knots_of(s, d);
  if (!k.periodic && (place[0] <= k.first() || place[0] >= k.last()))
    throw Error(
        say("A grid line goes inside the surface, not on its edge. Pick a place further in."));
  return insert_knots(s, d, place);
}

}  // namespace

void AddGridLineOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 6> kinds{{{"u", "One at u"},
                                                {"v", "One at v"},
                                                {"both", "One at u and one at v"},
                                                {"halfway_u", "Halfway between all, of u"},
                                                {"halfway_v", "Halfway between all, of v"},
                                                {"halfway_both", "Halfway between all"}}};
  visit_choice(v, {"lines", "Lines", "Which grid lines are added."}, lines, kinds);
  describe_face_place(v, on);
}

std::string AddGridLineOperation::summary() const {
  switch (lines) {
    case NewLines::AcrossU:
      return say("at u {:.3g}", on.u);
    case NewLines::AcrossV:
      return say("at v {:.3g}", on.v);
    case NewLines::Both:
      return say("at u {:.3g}, v {:.3g}", on.u, on.v);
    default:
      return say("halfway between all");
  }
}

Outcome AddGridLineOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  const Body& body = faces_of(before, label());
  const FacePlace at = located(body, on);
  Surface s = *body.faces[at.face].surface;
  const int old_u = s.points.rows();
  const int old_v = s.points.columns();
  if (lines == NewLines::AcrossU || lines == NewLines::Both) s = with_line(s, Direction::U, at.u);
  if (lines == NewLines::AcrossV || lines == NewLines::Both) s = with_line(s, Direction::V, at.v);
  if (lines == NewLines::HalfwayV || lines == NewLines::HalfwayBoth)
    s = insert_halfway(s, Direction::V);
  if (lines == NewLines::HalfwayU || lines == NewLines::HalfwayBoth)
    s = insert_halfway(s, Direction::U);
  std::string note = say("{} × {} control points became {} × {}.", old_u, old_v, s.points.rows(),
                         s.points.columns());
  return {with_surface(body, at.face, std::move(s)), notes_of(at, std::move(note))};
}

void RemoveGridLineOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 2> kinds{
      {{"u", "The nearest at u"}, {"v", "The nearest at v"}}};
  visit_choice(v, {"line", "Line", "Which grid line is taken away."}, line, kinds);
  describe_face_place(v, on);
}

std::string RemoveGridLineOperation::summary() const {
  return line == OldLine::OfU ? say("near u {:.3g}", on.u) : say("near v {:.3g}", on.v);
}

Outcome RemoveGridLineOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  const Body& body = faces_of(before, label());
  const FacePlace at = located(body, on);
  Surface s = *body.faces[at.face].surface;
  const bool u = line == OldLine::OfU;
  s = remove_knot(s, u ? Direction::U : Direction::V, at_share(u ? s.u : s.v, u ? at.u : at.v));
  std::string note = say("{} × {} control points remain.", s.points.rows(), s.points.columns());
  return {with_surface(body, at.face, std::move(s)), notes_of(at, std::move(note))};
}

OperationPtr AddGridLineOperation::with_place(const Pick& face, int number, double u,
                                              double v) const {
  return placed(*this, face, number, u, v);
}

OperationPtr RemoveGridLineOperation::with_place(const Pick& face, int number, double u,
                                                 double v) const {
  return placed(*this, face, number, u, v);
}

}  // namespace evenclay
