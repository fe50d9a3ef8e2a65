// Where guides lie and what was done to them, as files and fields have it (guide_curves.h).
#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/operations/guide_curves.h"

namespace evenclay {

namespace {

using Json = nlohmann::ordered_json;

constexpr std::size_t kMostPlaces = 40;

Json json_of(const std::vector<GuidePlace>& places) {
  Json j = Json::array();
  for (const GuidePlace& p : places) {
    if (p.through)
      j.push_back({p.through->u, p.through->v});
    else
      j.push_back(p.across);
  }
  return j;
}

double share(double x) {
  if (!(x >= 0.0 && x <= 1.0))
    throw Error(say("{:g} % is not on the face; use 0 to 100.", 100.0 * x));
  return x;
}

std::vector<GuidePlace> places_in(const Json& j) {
  std::vector<GuidePlace> places;
  for (const Json& p : j)
    places.push_back(p.is_array() ? GuidePlace{0.5, Parameter{share(p.at(0).get<double>()),
                                                              share(p.at(1).get<double>())}}
                                  : GuidePlace{share(p.get<double>()), {}});
  if (places.size() > kMostPlaces) throw Error(say("There are at most 40 guide curves on a face."));
  return places;
}

}  // namespace

std::string GuidePlacesData::to_json() const {
  return json_of(places).dump();
}

void GuidePlacesData::from_json(const std::string& text) {
  try {
    places = places_in(Json::parse(text));
  } catch (const nlohmann::json::exception&) {
    throw Error(say("The places of the guide curves are not written as they should be."));
  }
}

void GuidePlacesData::set(std::string_view address, std::string_view text) {
  if (!address.empty())
    throw Error(say("Give all places of the guide curves at once, such as 25, 50, 75."));
  std::vector<GuidePlace> read;
  std::string part;
  const auto take = [&] {
    if (part.find_first_not_of(' ') == std::string::npos) return;
    const std::size_t colon = part.find(':');
    if (colon == std::string::npos) {
      for (const double x : numbers_in(part)) read.push_back({share(x / 100.0), {}});
    } else {
      const std::vector<double> u = numbers_in(part.substr(0, colon));
      const std::vector<double> v = numbers_in(part.substr(colon + 1));
      if (u.size() != 1 || v.size() != 1)
        throw Error(say("'{}' is not a place; write it as 40:25.", part));
      read.push_back({0.5, Parameter{share(u[0] / 100.0), share(v[0] / 100.0)}});
    }
    part.clear();
  };
  for (const char c : text) {
    if (c == ',')
      take();
    else
      part += c;
  }
  take();
  if (read.size() > kMostPlaces) throw Error(say("There are at most 40 guide curves on a face."));
  places = std::move(read);
}

std::string GuidePlacesData::summary() const {
  std::string text;
  for (const GuidePlace& p : places) {
    if (!text.empty()) text += ", ";
    text += p.through ? fmt::format("{:.6g}:{:.6g}", 100.0 * p.through->u, 100.0 * p.through->v)
                      : fmt::format("{:.6g}", 100.0 * p.across);
  }
  return text;
}

std::string GuidesData::to_json() const {
  return fmt::format(
      R"({{"angle":{},"places":{},"both_sides":{},"points":{},"through":{},"nets":{}}})",
      layout.angle, json_of(layout.places).dump(), layout.both_sides, points, through,
      ShapingData::to_json());
}

void GuidesData::from_json(const std::string& text) {
  try {
    const Json j = Json::parse(text);
    GuideLayout read{j.at("angle").get<double>(), places_in(j.at("places")),
                     j.at("both_sides").get<bool>()};
    const int count = j.at("points").get<int>();
    if (!std::isfinite(read.angle) || count < 0 || count > 60)
      throw Error(say("The guides are not written as they should be."));
    const bool runs_through = j.at("through").get<bool>();
    ShapingData::from_json(j.at("nets").dump());
    layout = std::move(read);
    points = count;
    through = runs_through;
  } catch (const nlohmann::json::exception&) {
    throw Error(say("The guides are not written as they should be."));
  }
}

}  // namespace evenclay
