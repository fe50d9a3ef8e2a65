#include "core/operations/curve_steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/check/curve_measures.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/knot_operations.h"
#include "core/operations/common.h"
#include "core/source/compatible.h"

namespace evenclay {

namespace {

Surface strip(const Curve& c) {
  return strip_of(c, {0, 0, 1.0 + size(c)});
}

void describe_on(ParameterVisitor& v, OnCurve& on) {
  v.count({"curve", "Curve", "Number of the curve in the part."}, on.number, {1, 10000});
  v.number({"at", "Place", "Share of the way along the curve's parameters, 0 to 1."}, on.share,
           {0.0, 1.0, "", 0.05, 4});
}

std::size_t place_of(const std::vector<Curve>& curves, int number) {
  if (number > static_cast<int>(curves.size()))
    throw Error(say("There is no curve {}; the part has {}.", number, curves.size()));
  return static_cast<std::size_t>(number - 1);
}

double parameter_at(const Curve& c, double share) {
  return c.knots.first() + share * c.knots.length();
}

template <typename F>
Outcome each_curve(const Shape& before, std::string_view label, const F& change) {
  CurveSet result;
  for (const Curve& c : curves_of(before, label)) result.curves.push_back(change(c));
  return {std::move(result), {}};
}

std::string points_words(const Curve& before, const Curve& after) {
  return say("{} control points became {}.", before.point_count(), after.point_count());
}

}  // namespace

void CurveDegreeOperation::suit(const Beginning& b) {
  if (const auto* set = b.before ? std::get_if<CurveSet>(b.before.get()) : nullptr;
      set != nullptr && !set->curves.empty())
    degree = set->curves.front().knots.degree;
}

void CurveDegreeOperation::describe(ParameterVisitor& v) {
  v.count({"degree", "Degree", "Higher is smoother; 1 gives a polyline."}, degree, {1, 11});
}

std::string CurveDegreeOperation::summary() const {
  return say("degree {}", degree);
}

Outcome CurveDegreeOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  return each_curve(before, label(), [&](const Curve& c) {
    if (degree >= c.knots.degree) return raised(c, degree);
    const auto spans = static_cast<int>(breakpoints(c.knots).size()) - 1;
    const int points = c.knots.periodic ? std::max(spans, degree + 1) : spans + degree;
    return rebuild(c, {.points = points, .degree = degree, .even = false}, progress);
  });
}

void LightenCurveOperation::describe(ParameterVisitor& v) {
  v.number({"tolerance", "Tolerance", "The curve stays within this distance of the one before."},
           tolerance, {0.0001, 100.0, "mm", 0.01, 4});
  v.count({"degree", "Degree", "Of the lighter curve."}, degree, {1, 11});
}

std::string LightenCurveOperation::summary() const {
  return say("within {:g} mm, degree {}", tolerance, degree);
}

Outcome LightenCurveOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  CurveSet result;
  std::vector<std::string> notes;
  for (const Curve& c : curves_of(before, label())) {
    const int least = degree + 1;
    const int most = std::max(least, c.point_count() * 2 + 16);
    std::optional<Curve> light;
    for (int points = least; points <= std::min(most, 500) && !light; ++points) {
      progress.check();
      Curve tried = rebuild(c, {.points = points, .degree = degree, .even = false}, progress);
      if (deviation(c, tried, progress).max <= tolerance) light = std::move(tried);
    }
    if (!light)
      throw Error(
          say("The tolerance of {:g} mm cannot be met with {} points of degree {}. Allow "
              "more, or split the "
              "curve at its corners first.",
              tolerance, std::min(most, 500), degree));
    notes.push_back(points_words(c, *light));
    result.curves.push_back(std::move(*light));
  }
  return {std::move(result), std::move(notes)};
}

void InsertPointOperation::describe(ParameterVisitor& v) {
  v.toggle({"halfway", "Half-way everywhere", "A point more in the middle of every span."},
           halfway);
  describe_on(v, on);
}

std::string InsertPointOperation::summary() const {
  return halfway ? std::string("half-way everywhere") : say("at {:.3g}", on.share);
}

Outcome InsertPointOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  CurveSet result{curves_of(before, label())};
  Curve& c = result.curves[place_of(result.curves, on.number)];
  const Curve old = c;
  if (halfway)
    c = first_row(insert_halfway(strip(c), Direction::U));
  else if (!c.knots.periodic && (on.share <= 0.0 || on.share >= 1.0))
    throw Error(say("A point is inserted between the ends of the curve. Pick a place further in."));
  else
    c = with_knots(c, std::array{parameter_at(c, on.share)});
  std::string note = points_words(old, c);
  return {std::move(result), {std::move(note)}};
}

void RemovePointOperation::describe(ParameterVisitor& v) {
  describe_on(v, on);
}

std::string RemovePointOperation::summary() const {
  return say("near {:.3g}", on.share);
}

Outcome RemovePointOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  CurveSet result{curves_of(before, label())};
  Curve& c = result.curves[place_of(result.curves, on.number)];
  const Curve old = c;
  if (breakpoints(c.knots).size() <= 2)
    throw Error(
        say("The curve has the fewest points its degree allows. Set a lower degree first."));
  c = first_row(remove_knot(strip(c), Direction::U, parameter_at(c, on.share)));
  std::string note = points_words(old, c);
  return {std::move(result), {std::move(note)}};
}

void ExtendCurveOperation::describe(ParameterVisitor& v) {
  v.number({"begin", "At the beginning", "Below 0 the curve becomes shorter."}, begin,
           {-100000.0, 100000.0, "mm", 1.0, 3});
  v.number({"end", "At the end", "Below 0 the curve becomes shorter."}, end,
           {-100000.0, 100000.0, "mm", 1.0, 3});
  v.toggle({"straight", "Straight on", "By a line instead of the carried-on curve."}, straight);
}

std::string ExtendCurveOperation::summary() const {
  return say("{:g} and {:g} mm", begin, end);
}

Outcome ExtendCurveOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  return each_curve(before, label(), [&](const Curve& c) {
    return extended(extended(c, CurveEnd::Begin, begin, straight), CurveEnd::End, end, straight);
  });
}

void SplitCurveOperation::describe(ParameterVisitor& v) {
  v.count({"pieces", "Pieces", "2: at the place below; more: equal shares of the parameters."},
          pieces, {2, 200});
  describe_on(v, on);
  v.count({"keep", "Keep piece", "Number of the piece that stays; 0 keeps all."}, keep,
          {.min = 0, .max = 10000, .least_says = "all"});
}

std::string SplitCurveOperation::summary() const {
  return pieces == 2 ? say("at {:.3g}", on.share) : say("{} pieces", pieces);
}

Outcome SplitCurveOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  const std::vector<Curve>& all = curves_of(before, label());
  const std::size_t which = place_of(all, on.number);
  const Curve& c = all[which];
  std::vector<double> places;
  if (pieces == 2) {
    places.push_back(parameter_at(c, on.share));
    if (c.knots.periodic) places.push_back(c.knots.first() + 1e-8 * c.knots.length());
  } else {
    for (int k = c.knots.periodic ? 0 : 1; k < pieces; ++k)
      places.push_back(parameter_at(c, std::max(1e-8, static_cast<double>(k) / pieces)));
  }
  const std::vector<Curve> made = split(c, places);
  if (made.size() < 2)
    throw Error(say("A curve is split between its ends. Pick a place further in."));
  if (keep > static_cast<int>(made.size()))
    throw Error(say("There is no piece {}; there are {}.", keep, made.size()));
  CurveSet result;
  for (std::size_t k = 0; k < all.size(); ++k) {
    if (k != which)
      result.curves.push_back(all[k]);
    else if (keep > 0)
      result.curves.push_back(made[static_cast<std::size_t>(keep - 1)]);
    else
      result.curves.insert(result.curves.end(), made.begin(), made.end());
  }
  return {std::move(result), {say("There are {} pieces now.", made.size())}};
}

void JoinCurvesOperation::suit(const Beginning& b) {
  for (const PartRef& p : picked_curves(b))
    if (p.part != b.chosen) others.push_back(p);
}

void JoinCurvesOperation::describe(ParameterVisitor& v) {
  v.parts({"others", "With", "Parts whose curves are joined to this part's."}, others,
          {100, kCurves});
  v.number({"gap", "Greatest gap", "Ends farther apart than this are not joined."}, gap,
           {0.0, 1000.0, "mm", 0.01, 4});
}

std::string JoinCurvesOperation::summary() const {
  return say("gaps up to {:g} mm", gap);
}

Outcome JoinCurvesOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  std::vector<Curve> all = curves_of(before, label());
  if (!others.empty())
    for (Curve& c : gathered_curves(inputs, others, "curves to join")) all.push_back(std::move(c));
  JoinedCurves made = joined(all, gap);
  std::vector<std::string> notes{say("{} curves became {}; the greatest gap closed is {:.4g} mm.",
                                     all.size(), made.curves.size(), made.worst_gap)};
  if (made.corners > 0)
    notes.push_back(say("{} of {} joints are corners.", made.corners, made.joints));
  if (made.left_gap > 0.0)
    notes.push_back(say("The next gap is {:.4g} mm; it was left open.", made.left_gap));
  return {CurveSet{std::move(made.curves)}, std::move(notes)};
}

void CurveDirectionOperation::suit(const Beginning& b) {
  if (const auto* set = b.before ? std::get_if<CurveSet>(b.before.get()) : nullptr;
      set != nullptr && !set->curves.empty() && set->curves.front().knots.periodic)
    what = What::Open;
}

void CurveDirectionOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 4> kinds{
      {{"close", "Close"}, {"open", "Open"}, {"reverse", "Reverse"}, {"start", "Begin elsewhere"}}};
  visit_choice(v, {"what", "What", "What happens to the curves."}, what, kinds);
  if (what == What::Open || what == What::Start)
    v.number({"at", "At", "Share of the way along the curve's parameters, 0 to 1."}, share,
             {0.0, 1.0, "", 0.05, 4});
}

std::string CurveDirectionOperation::summary() const {
  static constexpr std::array<const char*, 4> words{"closed", "opened", "reversed",
                                                    "begun elsewhere"};
  return words[static_cast<std::size_t>(what)];
}

Outcome CurveDirectionOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  return each_curve(before, label(), [&](const Curve& c) {
    switch (what) {
      case What::Close:
        return closed_curve(c, inputs.tolerance);
      case What::Open:
        return opened(c, parameter_at(c, share));
      case What::Reverse:
        return reversed(c);
      case What::Start:
        break;
    }
    if (!c.knots.periodic)
      throw Error(say("Only a closed curve can begin elsewhere. Close it first, or split it."));
    return with_start(c, parameter_at(c, share));
  });
}

void OffsetCurveOperation::describe(ParameterVisitor& v) {
  v.number({"distance", "Distance", "To the outside of a closed curve; below 0 to the inside."},
           distance, {-10000.0, 10000.0, "mm", 0.5, 3});
}

std::string OffsetCurveOperation::summary() const {
  return fmt::format("{:g} mm", distance);
}

Outcome OffsetCurveOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  return each_curve(before, label(), [&](const Curve& c) {
    return offset_in_plane(c, across(c), distance, inputs.tolerance);
  });
}

void ProjectCurveOperation::suit(const Beginning& b) {
  for (const PartId p : b.picked)
    if (p != b.chosen && is_body(b, p)) {
      onto = p;
      return;
    }
  for (const auto& [part, shape] : b.parts)
    if (part != b.chosen && shape && std::holds_alternative<Body>(*shape)) {
      onto = part;
      return;
    }
}

void ProjectCurveOperation::describe(ParameterVisitor& v) {
  v.part({"onto", "Onto", "The part whose skin the curves are laid on."}, onto);
  static constexpr std::array<Choice, 4> ways{
      {{"x", "Along x"}, {"y", "Along y"}, {"z", "Along z"}, {"closest", "To the closest places"}}};
  v.choice({"direction", "Way", "How the curves are carried there."}, direction, ways);
}

std::string ProjectCurveOperation::summary() const {
  static constexpr std::array<const char*, 4> words{"along x", "along y", "along z", "closest"};
  return words[static_cast<std::size_t>(direction)];
}

Outcome ProjectCurveOperation::apply(const Shape& before, const Inputs& inputs,
                                     Progress& progress) const {
  const std::vector<Curve>& all = curves_of(before, label());
  if (onto.empty())
    throw Error(say("No part to project onto is chosen yet. Choose one in the settings."));
  const Body& body = faces_of(*inputs.parts.at(onto), label());
  static constexpr std::array<Vec3, 3> axes{Vec3{1, 0, 0}, Vec3{0, 1, 0}, Vec3{0, 0, 1}};
  const bool closest = direction == 3;
  CurveSet result;
  for (const Curve& c : all)
    for (Curve& made : projected(c, body, closest ? ProjectionWay::Closest : ProjectionWay::Along,
                                 closest ? Vec3{} : axes[static_cast<std::size_t>(direction)],
                                 0.1 * inputs.tolerance, progress))
      result.curves.push_back(std::move(made));
  return {std::move(result), {}};
}

namespace {

template <typename Operation>
OperationPtr placed_on_curve(const Operation& operation, int number, double share) {
  auto changed = std::make_shared<Operation>(operation);
  changed->on = {number, share};
  return changed;
}

}  // namespace

OperationPtr InsertPointOperation::with_place(const Pick&, int number, double u, double) const {
  return placed_on_curve(*this, number, u);
}

OperationPtr RemovePointOperation::with_place(const Pick&, int number, double u, double) const {
  return placed_on_curve(*this, number, u);
}

OperationPtr SplitCurveOperation::with_place(const Pick&, int number, double u, double) const {
  return placed_on_curve(*this, number, u);
}

}  // namespace evenclay
