#include "core/operations/rows.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/operations/common.h"

namespace evenclay {

namespace {

using Json = nlohmann::ordered_json;

void check_place(const Vec3& p) {
  if (!is_finite(p) || length(p) > 1e6)
    throw Error(say("A point of the curve is not a place within a kilometre."));
}

void check_count(std::size_t count) {
  if (count > PlacesData::kMost)
    throw Error(say("The curve has {} points; at most {} can be used.", count, PlacesData::kMost));
}

Vec3 one_place(std::string_view text) {
  const std::vector<double> x = numbers_in(text);
  if (x.size() != 3) throw Error(say("'{}' is not a place; write x,y,z.", text));
  return {x[0], x[1], x[2]};
}

Vec3 read_place(const Json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>()};
}

// "[i]" as a place in a list of `count`, or behind its last.
std::size_t place_in(std::string_view address, std::size_t count) {
  if (address.size() < 3 || address.front() != '[' || address.back() != ']')
    throw Error(say("A point of the curve is addressed as points[i]."));
  const std::vector<double> at = numbers_in(address.substr(1, address.size() - 2));
  if (at.size() != 1 || !(at[0] >= 0.0) || at[0] != std::floor(at[0]) ||
      at[0] > static_cast<double>(count))
    throw Error(say("points{} is not there; the curve has points[0] to points[{}].", address,
                    static_cast<long>(count) - 1));
  return static_cast<std::size_t>(at[0]);
}

// Calls `take` with each word between blanks.
template <typename F>
void for_each_word(std::string_view text, const F& take) {
  while (!text.empty()) {
    const auto end = std::min(text.find(' '), text.size());
    if (end > 0) take(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
  }
}

}  // namespace

std::string PlacesData::to_json() const {
  Json j = Json::array();
  for (const Vec3& p : places) j.push_back({p.x, p.y, p.z});
  return j.dump();
}

void PlacesData::from_json(const std::string& text) {
  try {
    std::vector<Vec3> read;
    for (const auto& j : Json::parse(text)) {
      if (j.size() != 3) throw Error(say("A point of the curve is not written as it should be."));
      read.push_back(read_place(j));
      check_place(read.back());
    }
    check_count(read.size());
    places = std::move(read);
  } catch (const nlohmann::json::exception&) {
    throw Error(say("The points of the curve are not written as they should be."));
  }
}

void PlacesData::set(std::string_view address, std::string_view text) {
  std::vector<Vec3> changed = places;
  if (address.empty()) {
    changed.clear();
    for_each_word(text, [&](std::string_view word) { changed.push_back(one_place(word)); });
  } else {
    const std::size_t place = place_in(address, changed.size());
    if (place == changed.size()) changed.emplace_back();
    changed[place] = one_place(text);
  }
  check_count(changed.size());
  for (const Vec3& p : changed) check_place(p);
  places = std::move(changed);
}

std::string PlacesData::summary() const {
  return say("{} points", places.size());
}

namespace {

constexpr std::array<std::string_view, 3> kLegs{"line", "arc", "curve"};

Leg leg_of(std::string_view name) {
  for (std::size_t k = 0; k < kLegs.size(); ++k)
    if (kLegs[k] == name) return static_cast<Leg>(k);
  throw Error(say("A leg is a line, an arc or a curve, not '{}'.", name.substr(0, 40)));
}

ProfilePlace one_leg(std::string_view text) {
  const auto colon = text.find(':');
  ProfilePlace p{one_place(text.substr(0, colon)), Leg::Line};
  if (colon != std::string_view::npos) p.leg = leg_of(text.substr(colon + 1));
  return p;
}

}  // namespace

std::string_view name_of(Leg leg) {
  return kLegs[static_cast<std::size_t>(leg)];
}

std::string ProfileData::to_json() const {
  Json j = Json::array();
  for (const ProfilePlace& p : places)
    j.push_back({p.place.x, p.place.y, p.place.z, std::string(name_of(p.leg))});
  return j.dump();
}

void ProfileData::from_json(const std::string& text) {
  try {
    std::vector<ProfilePlace> read;
    for (const auto& j : Json::parse(text)) {
      if (j.size() != 4) throw Error(say("A place of the profile is not written as it should be."));
      read.push_back({read_place(j), leg_of(j.at(3).get<std::string>())});
      check_place(read.back().place);
    }
    check_count(read.size());
    places = std::move(read);
  } catch (const nlohmann::json::exception&) {
    throw Error(say("The places of the profile are not written as they should be."));
  }
}

void ProfileData::set(std::string_view address, std::string_view text) {
  std::vector<ProfilePlace> changed = places;
  if (address.empty()) {
    changed.clear();
    for_each_word(text, [&](std::string_view word) { changed.push_back(one_leg(word)); });
  } else {
    const std::size_t place = place_in(address, changed.size());
    if (place == changed.size()) changed.emplace_back();
    const Leg leg = changed[place].leg;
    changed[place] = one_leg(text);
    if (text.find(':') == std::string_view::npos) changed[place].leg = leg;
  }
  check_count(changed.size());
  for (const ProfilePlace& p : changed) check_place(p.place);
  places = std::move(changed);
}

std::string ProfileData::summary() const {
  std::array<int, 3> counts{};
  for (std::size_t k = 1; k < places.size(); ++k) ++counts[static_cast<std::size_t>(places[k].leg)];
  std::string text = say("{} places", places.size());
  for (std::size_t k = 0; k < counts.size(); ++k)
    if (counts[k] > 0) text += ", " + counted(static_cast<std::size_t>(counts[k]), kLegs[k]);
  return text;
}

std::string NumbersData::to_json() const {
  return Json(values).dump();
}

void NumbersData::from_json(const std::string& text) {
  try {
    const auto read = Json::parse(text).get<std::vector<double>>();
    check_count(read.size());
    for (const double x : read)
      if (!(std::abs(x) <= reach)) throw Error(say("A number of the list is out of reach."));
    values = read;
  } catch (const nlohmann::json::exception&) {
    throw Error(say("The list of numbers is not written as it should be."));
  }
}

void NumbersData::set(std::string_view address, std::string_view text) {
  std::vector<double> changed = values;
  if (address.empty()) {
    changed.clear();
    if (text.find_first_not_of(' ') != std::string_view::npos) changed = numbers_in(text);
  } else {
    const std::size_t place = place_in(address, changed.size());
    const std::vector<double> x = numbers_in(text);
    if (x.size() != 1) throw Error(say("'{}' is not a number.", text));
    changed.resize(std::max(changed.size(), place + 1), 0.0);
    changed[place] = x[0];
  }
  check_count(changed.size());
  for (const double x : changed)
    if (!(std::abs(x) <= reach)) throw Error(say("{} is out of reach; use at most {}.", x, reach));
  values = std::move(changed);
}

std::string NumbersData::summary() const {
  std::string text;
  for (const double x : values) text += fmt::format("{}{:g}", text.empty() ? "" : ", ", x);
  return text;
}

}  // namespace evenclay
