#include "core/operations/control_curve.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/operations/common.h"

namespace evenclay {

std::string PlacesData::to_json() const {
  nlohmann::ordered_json j = nlohmann::ordered_json::array();
  for (const Vec3& p : places) j.push_back({p.x, p.y, p.z});
  return j.dump();
}

namespace {

void check_places(const std::vector<Vec3>& places) {
  if (places.size() > ControlCurveOperation::kMostPlaces)
    throw Error(fmt::format("The curve has {} points; at most {} can be used.", places.size(),
                            ControlCurveOperation::kMostPlaces));
  for (const Vec3& p : places)
    if (!is_finite(p) || length(p) > 1e6)
      throw Error("A point of the curve is not a place within a kilometre.");
}

Vec3 one_place(std::string_view text) {
  const std::vector<double> x = numbers_in(text);
  if (x.size() != 3) throw Error(fmt::format("'{}' is not a place; write x,y,z.", text));
  return {x[0], x[1], x[2]};
}

}  // namespace

void PlacesData::from_json(const std::string& text) {
  try {
    std::vector<Vec3> read;
    for (const auto& j : nlohmann::json::parse(text)) {
      if (j.size() != 3) throw Error("A point of the curve is not written as it should be.");
      read.push_back({j[0].get<double>(), j[1].get<double>(), j[2].get<double>()});
    }
    check_places(read);
    places = std::move(read);
  } catch (const nlohmann::json::exception&) {
    throw Error("The points of the curve are not written as they should be.");
  }
}

void PlacesData::set(std::string_view address, std::string_view text) {
  std::vector<Vec3> changed = places;
  if (address.empty()) {
    changed.clear();
    while (!text.empty()) {
      const auto end = std::min(text.find(' '), text.size());
      if (end > 0) changed.push_back(one_place(text.substr(0, end)));
      text.remove_prefix(std::min(end + 1, text.size()));
    }
  } else {
    if (address.size() < 3 || address.front() != '[' || address.back() != ']')
      throw Error("A point of the curve is addressed as points[i].");
    const std::vector<double> at = numbers_in(address.substr(1, address.size() - 2));
    if (at.size() != 1 || !(at[0] >= 0.0) || at[0] != std::floor(at[0]) ||
        at[0] > static_cast<double>(changed.size()))
      throw Error(fmt::format("points{} is not there; the curve has points[0] to points[{}].",
                              address, changed.size() - 1));
    const auto place = static_cast<std::size_t>(at[0]);
    if (place == changed.size()) changed.emplace_back();
    changed[place] = one_place(text);
  }
  check_places(changed);
  places = std::move(changed);
}

std::string PlacesData::summary() const {
  return fmt::format("{} points", places.size());
}

ControlCurveOperation::ControlCurveOperation() {
  points.places = {{-30, 0, 0}, {-15, 20, 0}, {0, 0, 0}, {15, -20, 0}, {30, 0, 0}};
}

void ControlCurveOperation::describe(ParameterVisitor& v) {
  v.data(
      {"points", "Points",
       "Click in the view to place the curve's points in the work plane; Backspace takes the last "
       "one back."},
      points);
  v.count({"degree", "Degree", "Higher is smoother; 1 gives a polyline."}, degree, {1, 11});
  v.toggle({"closed", "Closed", "The curve returns to its beginning without a seam."}, closed);
}

std::string ControlCurveOperation::summary() const {
  return fmt::format("{}, degree {}{}", points.summary(), degree, closed ? ", closed" : "");
}

Outcome ControlCurveOperation::apply(const Shape&, const Inputs&, Progress&) const {
  Outcome outcome;
  const int count = static_cast<int>(points.places.size());
  if (count < 2) throw Error("A curve needs at least two points. Click in the view to place them.");
  const int possible = std::min(degree, count - 1);
  if (possible < degree)
    outcome.notes.push_back(fmt::format("With {} points the degree is {}; degree {} needs {}.",
                                        count, possible, degree, degree + 1));
  outcome.shape = CurveSet{{make_curve(points.places, possible, closed && count > 2)}};
  return outcome;
}

OperationPtr ControlCurveOperation::with_drawn_points(std::vector<Vec3> places) const {
  auto changed = std::make_shared<ControlCurveOperation>(*this);
  changed->points.places = std::move(places);
  return changed;
}

}  // namespace evenclay
