#include "core/document/watch_json.h"

#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

using Json = nlohmann::ordered_json;

struct Field {
  const char* name;
  double CheckLimits::*value;
};
constexpr std::array<Field, 8> kFields{{{"gap_mm", &CheckLimits::gap},
                                        {"radius_mm", &CheckLimits::radius},
                                        {"thickness_mm", &CheckLimits::thickness},
                                        {"draft_degrees", &CheckLimits::draft},
                                        {"stretch_percent", &CheckLimits::stretch},
                                        {"evenness_percent", &CheckLimits::evenness},
                                        {"symmetry_mm", &CheckLimits::symmetry},
                                        {"sliver", &CheckLimits::sliver}}};

}  // namespace

Json watch_json(const Watch& w) {
  Json j{{"against", w.against.part}};
  if (w.against.after != 0) j["after"] = w.against.after;
  j["band_mm"] = w.band;
  return j;
}

Watch read_watch(const Json& j) {
  Watch w;
  w.against = {j.at("against").get<int>(), j.value("after", 0)};
  w.band = j.value("band_mm", w.band);
  if (!(w.band > 0.0) || !std::isfinite(w.band))
    throw Error(say("the band of its deviation must be above 0 mm."));
  return w;
}

Json limits_json(const CheckLimits& limits) {
  const CheckLimits usual;
  Json j = Json::object();
  for (const Field& f : kFields)
    if (limits.*f.value != usual.*f.value) j[f.name] = limits.*f.value;
  if (!(limits.pull == usual.pull)) j["pull"] = Json{limits.pull.x, limits.pull.y, limits.pull.z};
  return j;
}

CheckLimits read_limits(const Json& j) {
  CheckLimits limits;
  for (const Field& f : kFields) limits.*f.value = j.value(f.name, limits.*f.value);
  if (j.contains("pull"))
    limits.pull = {j["pull"].at(0).get<double>(), j["pull"].at(1).get<double>(),
                   j["pull"].at(2).get<double>()};
  return with_limits(Document{}, limits).limits;
}

}  // namespace evenclay
