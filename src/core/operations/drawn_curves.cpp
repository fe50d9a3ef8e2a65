#include "core/operations/drawn_curves.h"

#include <fmt/format.h>

#include "core/base/say.h"
#include "core/source/curve_work.h"

namespace evenclay {

CurveThroughOperation::CurveThroughOperation() {
  points.places = {{-30, 0, 0}, {-12, 14, 0}, {12, -14, 0}, {30, 0, 0}};
}

void CurveThroughOperation::describe(ParameterVisitor& v) {
  v.data({"points", "Points", "Click in the view to add points; drag one to move it."}, points);
  v.toggle({"closed", "Closed", "The curve returns to its beginning without a seam."}, closed);
}

std::string CurveThroughOperation::summary() const {
  return fmt::format("{}{}", points.summary(), closed ? say(", closed") : std::string());
}

Outcome CurveThroughOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{curve_through(points.places, closed)}}, {}};
}

OperationPtr CurveThroughOperation::with_drawn_points(std::vector<Vec3> places) const {
  auto changed = std::make_shared<CurveThroughOperation>(*this);
  changed->points.places = std::move(places);
  return changed;
}

OperationPtr CurveThroughOperation::drawn_closed(Leg) const {
  auto changed = std::make_shared<CurveThroughOperation>(*this);
  changed->closed = true;
  return changed;
}

ProfileOperation::ProfileOperation() {
  places.places = {{{-30, 0, 0}, Leg::Line}, {{10, 0, 0}, Leg::Line}, {{30, 20, 0}, Leg::Arc}};
}

void ProfileOperation::describe(ParameterVisitor& v) {
  v.data({"places", "Places", "Click in the view to add places; drag one to move it."}, places);
  v.toggle({"closed", "Closed", "A last leg leads back to the beginning."}, closed);
}

std::string ProfileOperation::summary() const {
  return fmt::format("{}{}", places.summary(), closed ? say(", closed") : std::string());
}

Outcome ProfileOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{profile_curve(places.places, closed)}}, {}};
}

std::vector<Vec3> ProfileOperation::drawn_points() const {
  std::vector<Vec3> result;
  for (const ProfilePlace& p : places.places) result.push_back(p.place);
  return result;
}

OperationPtr ProfileOperation::with_drawn_points(std::vector<Vec3> moved) const {
  auto changed = std::make_shared<ProfileOperation>(*this);
  changed->places.places.resize(moved.size());
  for (std::size_t k = 0; k < moved.size(); ++k) changed->places.places[k].place = moved[k];
  return changed;
}

OperationPtr ProfileOperation::with_drawn_place(const Vec3& place, Leg leg, bool first) const {
  auto changed = std::make_shared<ProfileOperation>(*this);
  if (first) {
    changed->places.places.clear();
    changed->closed = false;
  }
  changed->places.places.push_back({place, changed->places.places.empty() ? Leg::Line : leg});
  return changed;
}

OperationPtr ProfileOperation::drawn_closed(Leg leg) const {
  auto changed = std::make_shared<ProfileOperation>(*this);
  changed->closed = true;
  changed->places.places.front().leg = leg;
  return changed;
}

}  // namespace evenclay
