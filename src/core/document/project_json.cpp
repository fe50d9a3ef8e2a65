#include "core/document/project_json.h"

#include <fmt/format.h>

#include <cctype>
#include <charconv>
#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/materials.h"
#include "core/document/step_json.h"
#include "core/document/watch_json.h"

namespace evenclay {

namespace {

using namespace stored;

constexpr int kVersion = 1;

NamedPoints read_selection(const Json& j) {
  NamedPoints s;
  s.name = j.at("name").get<std::string>();
  for (const Json& p : j.at("points")) {
    if (!p.is_array() || p.empty() || p.size() > 4)
      throw Error(say("a named selection is not written as it should be."));
    std::array<int, 4> at{};
    for (std::size_t k = 0; k < p.size(); ++k) at[k] = whole(p[k], 0, 1'000'000);
    s.points.push_back(at);
  }
  if (j.contains("picks")) s.picks = read_picks(j.at("picks"));
  return s;
}

// Net, i, j and k; the last ones are left out where they are 0.
Json selection_json(const NamedPoints& s) {
  Json points = Json::array();
  for (const std::array<int, 4>& at : s.points) {
    Json p = Json::array({at[0], at[1]});
    if (at[2] != 0 || at[3] != 0) p.push_back(at[2]);
    if (at[3] != 0) p.push_back(at[3]);
    points.push_back(std::move(p));
  }
  Json result{{"name", s.name}, {"points", std::move(points)}};
  if (!s.picks.empty()) result["picks"] = picks_json(s.picks);
  return result;
}

NamedNumber read_number(const Json& j) {
  NamedNumber n{j.at("name").get<std::string>(), j.at("text").get<std::string>()};
  n.least = field(j, "least", 0.0);
  n.most = field(j, "most", 0.0);
  return n;
}

Json number_json(const NamedNumber& n) {
  Json j{{"name", n.name}, {"text", n.text}};
  if (n.least < n.most) {
    j["least"] = n.least;
    j["most"] = n.most;
  }
  return j;
}

Layer read_layer(const Json& j) {
  return {j.at("name").get<std::string>(), field(j, "visible", true), field(j, "locked", false)};
}

Json layer_json(const Layer& l) {
  return Json{{"name", l.name}, {"visible", l.visible}, {"locked", l.locked}};
}

SavedView read_view(const Json& j) {
  SavedView v;
  v.name = j.at("name").get<std::string>();
  const Json& at = j.at("target");
  v.target = {at.at(0).get<double>(), at.at(1).get<double>(), at.at(2).get<double>()};
  v.yaw = j.at("yaw").get<double>();
  v.pitch = j.at("pitch").get<double>();
  v.height = j.at("height_mm").get<double>();
  v.perspective = field(j, "perspective", true);
  return v;
}

Json view_json(const SavedView& v) {
  return Json{{"name", v.name},        {"target", {v.target.x, v.target.y, v.target.z}},
              {"yaw", v.yaw},          {"pitch", v.pitch},
              {"height_mm", v.height}, {"perspective", v.perspective}};
}

// Layers and saved views of the document, checked as if made by hand.
void read_layers_and_views(const Json& j, Document& d) {
  const Json layers = field(j, "layers", Json::array());
  const Json views = field(j, "views", Json::array());
  if (layers.size() > kMost || views.size() > kMost)
    throw Error(say("The project has more layers or views than can be used."));
  for (const Json& l : layers) d = with_layer(d, read_layer(l));
  for (const Json& v : views) d = with_view(d, read_view(v));
  for (const Part& p : d.parts)
    if (!p.layer.empty() && find_layer(d, p.layer) == nullptr) d.layers.push_back({p.layer});
}

Material read_material(const Json& j) {
  Material m;
  for (const MaterialShare& s : kMaterialShares) {
    m.*s.value = field(j, s.name.data(), m.*s.value);
    if (!(m.*s.value >= 0.0 && m.*s.value <= 1.0))
      throw Error(say("The {} of its material does not lie between 0 and 1.", s.name));
  }
  return m;
}

Json material_json(const Material& m) {
  Json j;
  for (const MaterialShare& s : kMaterialShares) j[std::string(s.name)] = m.*s.value;
  return j;
}

Json face_look_json(const FaceLook& l) {
  Json j = picks_json({l.pick}).front();
  j.erase("kind");
  j["colour"] = colour_words(l.colour);
  if (l.material != Material{}) j["material"] = material_json(l.material);
  return j;
}

std::vector<FaceLook> read_face_looks(const Json& list) {
  if (list.size() > kMost) throw Error(say("it has more faces with colours than can be used."));
  std::vector<FaceLook> looks;
  for (Json j : list) {
    j["kind"] = std::string(name_of(PickKind::Face));
    FaceLook l{read_picks(Json::array({j})).front(),
               colour_of(field<std::string>(j, "colour", "#C9A48C")),
               {}};
    if (j.contains("material")) l.material = read_material(j["material"]);
    looks.push_back(l);
  }
  return looks;
}

Part read_part(const Json& j, const OperationMaker& make, const StoredFiles* files) {
  Part p;
  p.id = whole(j.at("id"), 1, kGreatestId);
  p.name = j.at("name").get<std::string>();
  p.look.colour = colour_of(field<std::string>(j, "colour", "#C9A48C"));
  p.look.visible = field(j, "visible", true);
  const Json& steps = j.at("steps");
  if (steps.size() > kMost) throw Error(say("it has more build steps than can be used."));
  for (const Json& s : steps) {
    try {
      p.steps.push_back(read_step(s, make, files));
    } catch (const Error& e) {
      throw Error(say("step {}: {}", p.steps.size() + 1, e.what()));
    }
  }
  if (p.steps.empty()) throw Error(say("it has no build steps."));
  const Json selections = field(j, "selections", Json::array());
  if (selections.size() > kMost) throw Error(say("it has more named selections than can be used."));
  for (const Json& s : selections) p.selections.push_back(read_selection(s));
  p.layer = field<std::string>(j, "layer", "");
  p.locked = field(j, "locked", false);
  if (j.contains("watch")) p.watch = read_watch(j["watch"]);
  if (j.contains("material")) p.material = read_material(j["material"]);
  p.face_looks = read_face_looks(field(j, "faces", Json::array()));
  p.extra = left_over(j, {"id", "name", "colour", "visible", "steps", "selections", "layer",
                          "locked", "watch", "material", "faces"});
  return p;
}

void check_numbers(Document& d) {
  std::set<int> seen;
  for (const Part& p : d.parts) {
    bool fresh = p.id > 0 && seen.insert(p.id).second;
    for (const Step& s : p.steps) fresh = fresh && s.id > 0 && seen.insert(s.id).second;
    if (!fresh)
      throw Error(
          say("The numbers of the part '{}' or its steps are used twice.", p.name.substr(0, 60)));
  }
  if (!seen.empty()) d.last_id = std::max(d.last_id, *seen.rbegin());
}

Json parse_bounded(const std::string& text) {
  const auto bound = [](int depth, Json::parse_event_t, Json&) {
    if (depth > kDeepest)
      throw FileError(
          say("The project is nested deeper than any Even Clay project. It is not read."));
    return true;
  };
  try {
    return Json::parse(text, bound);
  } catch (const nlohmann::json::exception&) {
    throw FileError(say(
        "The file is not a complete Even Clay project: its text breaks off or is damaged. Open a "
        "saved or recovery copy instead."));
  }
}

}  // namespace

std::string parameters_json(const Operation& operation) {
  return parameters_of(operation).dump();
}

std::string to_project_json(const Document& d) {
  Json j{{"format", "evenclay project"}, {"version", kVersion}, {"last_id", d.last_id}};
  j["settings"] = Json{{"tolerance_mm", d.settings.tolerance}};
  if (Json limits = limits_json(d.limits); !limits.empty()) j["check_limits"] = std::move(limits);
  for (const NamedNumber& n : d.numbers) j["numbers"].push_back(number_json(n));
  Json parts = Json::array();
  for (const Part& p : d.parts) {
    Json part{{"id", p.id},
              {"name", p.name},
              {"colour", colour_words(p.look.colour)},
              {"visible", p.look.visible}};
    Json steps = Json::array();
    for (const Step& s : p.steps) steps.push_back(step_json(s));
    part["steps"] = std::move(steps);
    for (const NamedPoints& s : p.selections) part["selections"].push_back(selection_json(s));
    if (!p.layer.empty()) part["layer"] = p.layer;
    if (p.locked) part["locked"] = true;
    if (!p.watch.against.empty()) part["watch"] = watch_json(p.watch);
    if (p.material != Material{}) part["material"] = material_json(p.material);
    for (const FaceLook& l : p.face_looks) part["faces"].push_back(face_look_json(l));
    merge_extra(part, p.extra);
    parts.push_back(std::move(part));
  }
  j["parts"] = std::move(parts);
  for (const Layer& l : d.layers) j["layers"].push_back(layer_json(l));
  for (const SavedView& v : d.views) j["views"].push_back(view_json(v));
  merge_extra(j, d.extra);
  return j.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

std::string stored_name(const FileAttachment& file) {
  std::uint64_t hash = 0xCBF29CE484222325ULL;  // FNV-1a, 64 bits
  for (const char c : *file.bytes) hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001B3ULL;
  std::string name;
  for (const char c : file.name)
    name += std::isalnum(static_cast<unsigned char>(c)) || c == '.' || c == '-' ? c : '_';
  return fmt::format("files/{:016x}-{}", hash, name.substr(0, 80));
}

std::map<std::string, FileAttachment> attachments(const Document& d) {
  class Collect : public PartialVisitor {
   public:
    std::map<std::string, FileAttachment> found;
    void file(const ParameterInfo&, FileAttachment& v, std::span<const std::string_view>) override {
      if (!v.empty()) found.emplace(stored_name(v), v);
    }
  } collect;
  for (const Part& p : d.parts)
    for (const Step& s : p.steps) s.operation->clone()->describe(collect);
  return collect.found;
}

Document from_project_json(const std::string& text, const OperationMaker& make,
                           const StoredFiles* files) {
  const Json j = parse_bounded(text);
  try {
    if (!j.is_object() || field<std::string>(j, "format", "") != "evenclay project")
      throw FileError(say("The file is not an Even Clay project."));
    const int version = whole(j.at("version"), 1, kGreatestId);
    if (version > kVersion)
      throw FileError(say(
          "The project was saved by a newer version of Even Clay (format {}, this version reads "
          "{}). Open it there.",
          version, kVersion));
    Document d;
    if (j.contains("last_id") && j["last_id"].is_number()) {
      const double last = j["last_id"].get<double>();
      if (last > 0 && last <= kGreatestId) d.last_id = static_cast<int>(last);
    }
    d.settings.tolerance = field(field(j, "settings", Json::object()), "tolerance_mm", 0.01);
    if (!(d.settings.tolerance >= 1e-6 && d.settings.tolerance <= 10.0))
      throw Error(say("The project's tolerance is {} mm; it lies between 0.000001 and 10.",
                      d.settings.tolerance));
    if (j.contains("check_limits")) d.limits = read_limits(j["check_limits"]);
    for (const Json& n : field(j, "numbers", Json::array())) d.numbers.push_back(read_number(n));
    d.numbers = resolved(std::move(d.numbers));
    const Json& parts = j.at("parts");
    if (parts.size() > kMost) throw Error(say("The project has more parts than can be used."));
    for (const Json& p : parts) {
      try {
        d.parts.push_back(read_part(p, make, files));
      } catch (const Error& e) {
        throw Error(say("Part {}, {}", d.parts.size() + 1, e.what()));
      }
    }
    check_numbers(d);
    for (Part& p : d.parts)
      if ((p.watch.against.part == p.id && p.watch.against.after == 0) ||
          find_part(d, p.watch.against.part) == nullptr)
        p.watch.against = {};
    read_layers_and_views(j, d);
    d.extra = left_over(j, {"format", "version", "last_id", "settings", "check_limits", "numbers",
                            "parts", "layers", "views"});
    return d;
  } catch (const FileError&) {
    throw;
  } catch (const Error& e) {
    throw FileError(say("The project cannot be opened. {}", e.what()));
  } catch (const nlohmann::json::exception&) {
    throw FileError(
        say("The project cannot be opened: a field is missing or not written as it should be."));
  }
}

}  // namespace evenclay
