#include "core/operations/swept.h"

#include <fmt/format.h>

#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/knot_operations.h"
#include "core/operations/curves.h"
#include "core/source/curve_work.h"
#include "core/source/swept.h"

namespace evenclay {

namespace {

Vec3 axis_of(SweepDirection d) {
  if (d == SweepDirection::X) return {1, 0, 0};
  if (d == SweepDirection::Y) return {0, 1, 0};
  return {0, 0, 1};
}

// Straight lines from the curve to its offset at the far end; both ways the curve itself is in the middle.
Surface drafted(const Curve& c, const Vec3& way, bool both_ways, int rows, double degrees,
                double tolerance) {
  const Vec3 plane = across(c);
  const double along = std::abs(dot(way, plane));
  if (!c.knots.periodic || !(along > 1e-9))
    throw Error(
        say("Draft needs a closed flat curve that is moved out of its plane. Close it, or set the "
            "draft to 0."));
  const double in = -std::tan(degrees * 3.14159265358979323846 / 180.0) * along;
  const auto end = [&](double share) {
    Curve at = share == 0.0 ? c : offset_in_plane(c, plane, in * share, 0.1 * tolerance);
    for (Vec3& p : at.points) p = p + way * share;
    return at;
  };
  Surface s = both_ways ? ruled(end(-0.5), end(0.5)) : ruled(end(0.0), end(1.0));
  std::vector<double> more;
  for (int k = 1; k + 1 < rows; ++k) more.push_back(static_cast<double>(k) / (rows - 1));
  return more.empty() ? s : insert_knots(s, Direction::V, more);
}

}  // namespace

// About half as long as the curve is large, in round millimetres.
void ExtrudeOperation::suit(const Beginning& beginning) {
  if (!beginning.before) return;
  const double half = 0.5 * rough_box(*beginning.before).size();
  if (half > 0.0) length = std::max(1.0, std::round(half));
}

void ExtrudeOperation::describe(ParameterVisitor& v) {
  v.number({"length", "Length", "How far the curve is moved; below 0 the other way."}, length,
           {-100000.0, 100000.0, "mm", 1.0, 3});
  v.toggle({"both_ways", "Both ways", "Half to each side, exactly symmetric about the curve."},
           both_ways);
  static constexpr std::array<Choice, 4> directions{
      {{"across", "Across the curve"}, {"x", "Along x"}, {"y", "Along y"}, {"z", "Along z"}}};
  visit_choice(v, {"direction", "Direction", "Which way the curve is moved."}, direction,
               directions);
  v.count({"rows", "Points across", "Control points along the way."}, rows, {2, 200});
  v.number({"draft", "Draft", "Above 0 a closed flat curve narrows towards the far end."}, draft,
           {-80.0, 80.0, "°", 1.0, 2});
}

std::string ExtrudeOperation::summary() const {
  return fmt::format("{:g} mm{}", length, both_ways ? say(", both ways") : std::string());
}

Outcome ExtrudeOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  std::vector<Surface> made;
  for (const Curve& c : curves_of(before, info().label)) {
    const Vec3 d = direction == SweepDirection::AcrossCurve ? across(c) : axis_of(direction);
    const Vec3 way = d * length;
    if (draft != 0.0) {
      made.push_back(drafted(c, way, both_ways, rows, draft, inputs.tolerance));
      continue;
    }
    made.push_back(both_ways ? extrude(c, way * -0.5, way * 0.5, rows) : extrude(c, {}, way, rows));
  }
  return outcome_of(std::move(made), inputs.step);
}

void RevolveOperation::describe(ParameterVisitor& v) {
  v.number({"angle", "Angle", "360 closes the surface."}, angle, {0.01, 360.0, "°", 15.0, 2});
  static constexpr std::array<Choice, 3> axes{{{"x", "x"}, {"y", "y"}, {"z", "z"}}};
  int place = static_cast<int>(axis) - 1;
  v.choice({"axis", "Axis", "The direction of the axis."}, place, axes);
  axis = static_cast<SweepDirection>(place + 1);
  describe_place(v, centre, "Through", "centre");
}

std::string RevolveOperation::summary() const {
  static constexpr const char* names[] = {"", "x", "y", "z"};
  return say("{:g}° about {}", angle, names[static_cast<std::size_t>(axis)]);
}

Outcome RevolveOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  Frame f;
  f.origin = centre;
  f.z = axis_of(axis);
  f.x = std::abs(f.z.x) > 0.5 ? Vec3{0, 1, 0} : Vec3{1, 0, 0};
  f.y = cross(f.z, f.x);
  std::vector<Surface> made;
  for (const Curve& c : curves_of(before, info().label)) made.push_back(revolve(c, f, angle));
  return outcome_of(std::move(made), inputs.step);
}

void RuledOperation::suit(const Beginning& beginning) {
  other = other_curve(beginning);
}

void RuledOperation::describe(ParameterVisitor& v) {
  v.part({"other", "To the curve of", "The part whose curve the straight lines run to."}, other);
}

Outcome RuledOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  const std::vector<Curve>& first = curves_of(before, info().label);
  const auto found = inputs.parts.find(other);
  if (found == inputs.parts.end())
    throw Error(say("Choose the part with the other curve. If there is none yet, draw it first."));
  const auto* second = std::get_if<CurveSet>(&*found->second);
  if (second == nullptr || second->curves.size() != first.size())
    throw Error(
        say("The other part must have as many curves as this one. Choose a part that is a curve."));
  std::vector<Surface> made;
  for (std::size_t k = 0; k < first.size(); ++k) made.push_back(ruled(first[k], second->curves[k]));
  return outcome_of(std::move(made), inputs.step);
}

}  // namespace evenclay
