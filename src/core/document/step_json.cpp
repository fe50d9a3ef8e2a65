#include "core/document/step_json.h"

#include <fmt/format.h>

#include <cctype>
#include <charconv>
#include <cmath>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay::stored {

int whole(const Json& j, int least, int most) {
  const double x = j.get<double>();
  if (!(x >= least && x <= most) || x != std::floor(x))
    throw Error(say("{} stands where a whole number from {} to {} is needed.",
                    j.dump().substr(0, 40), least, most));
  return static_cast<int>(x);
}

Json picks_json(const std::vector<Pick>& picks) {
  Json list = Json::array();
  for (const Pick& p : picks)
    list.push_back(Json{{"kind", std::string(name_of(p.kind))},
                        {"tag", p.tag},
                        {"near", {p.near.x, p.near.y, p.near.z}}});
  return list;
}

std::vector<Pick> read_picks(const Json& j) {
  std::vector<Pick> picks;
  for (const Json& p : j) {
    const Json& near = p.at("near");
    picks.push_back(
        {pick_kind(p.at("kind").get<std::string>()),
         p.at("tag").get<std::uint64_t>(),
         {near.at(0).get<double>(), near.at(1).get<double>(), near.at(2).get<double>()}});
  }
  return picks;
}

namespace {

Json reference_json(const PartRef& v) {
  if (v.after == 0) return v.part;
  return Json{{"part", v.part}, {"after", v.after}};
}

PartRef read_reference(const Json& j) {
  if (j.is_object())
    return {whole(j.at("part"), 0, kGreatestId), whole(j.at("after"), 0, kGreatestId)};
  return whole(j, 0, kGreatestId);
}

class WriteParameters : public ParameterVisitor {
 public:
  Json json = Json::object();
  void number(const ParameterInfo& i, double& v, const NumberRange&) override { put(i) = v; }
  void count(const ParameterInfo& i, int& v, const CountRange&) override { put(i) = v; }
  void toggle(const ParameterInfo& i, bool& v) override { put(i) = v; }
  void choice(const ParameterInfo& i, int& v, std::span<const Choice> c) override {
    put(i) = std::string(c[static_cast<std::size_t>(v)].name);
  }
  void part(const ParameterInfo& i, PartRef& v) override { put(i) = reference_json(v); }
  void parts(const ParameterInfo& i, std::vector<PartRef>& v, const PartsRange&) override {
    Json& list = put(i) = Json::array();
    for (const PartRef& one : v) list.push_back(reference_json(one));
  }
  void picks(const ParameterInfo& i, std::vector<Pick>& v, const PickRange&) override {
    put(i) = picks_json(v);
  }
  void file(const ParameterInfo& i, FileAttachment& v, std::span<const std::string_view>) override {
    put(i) = v.empty() ? Json(nullptr) : Json{{"name", v.name}, {"stored", stored_name(v)}};
  }
  void data(const ParameterInfo& i, DataParameter& v) override {
    put(i) = Json::parse(v.to_json());
  }

 private:
  Json& put(const ParameterInfo& i) { return json[std::string(i.name)]; }
};

// Takes what it knows out of the object; what is left over is from a newer version.
class ReadParameters : public ParameterVisitor {
 public:
  ReadParameters(Json json, const StoredFiles* files) : left(std::move(json)), files_(files) {}
  Json left;

  void number(const ParameterInfo& i, double& v, const NumberRange& range) override {
    take(i, [&](const Json& j) {
      const double x = j.get<double>();
      check_range(i, x, range);
      v = x;
    });
  }
  void count(const ParameterInfo& i, int& v, const CountRange& range) override {
    take(i, [&](const Json& j) {
      const double x = j.get<double>();
      check_range(i, x, range);
      v = static_cast<int>(x);
    });
  }
  void toggle(const ParameterInfo& i, bool& v) override {
    take(i, [&](const Json& j) { v = j.get<bool>(); });
  }
  void choice(const ParameterInfo& i, int& v, std::span<const Choice> choices) override {
    take(i, [&](const Json& j) {
      const auto name = j.get<std::string>();
      for (std::size_t k = 0; k < choices.size(); ++k)
        if (choices[k].name == name) {
          v = static_cast<int>(k);
          return;
        }
      throw Error(say("{} cannot be '{}'.", i.label, name.substr(0, 40)));
    });
  }
  void part(const ParameterInfo& i, PartRef& v) override {
    take(i, [&](const Json& j) { v = read_reference(j); });
  }
  void parts(const ParameterInfo& i, std::vector<PartRef>& v, const PartsRange& range) override {
    take(i, [&](const Json& j) {
      std::vector<PartRef> read;
      if (!j.is_array() || j.size() > kMost)
        throw Error(say("{} is not written as it should be.", i.label));
      for (const Json& one : j) read.push_back(read_reference(one));
      check_range(i, read, range);
      v = std::move(read);
    });
  }
  void picks(const ParameterInfo& i, std::vector<Pick>& v, const PickRange& range) override {
    take(i, [&](const Json& j) {
      if (!j.is_array() || j.size() > kMost)
        throw Error(say("{} is not written as it should be.", i.label));
      std::vector<Pick> picks = read_picks(j);
      check_range(i, picks, range);
      v = std::move(picks);
    });
  }
  void file(const ParameterInfo& i, FileAttachment& v, std::span<const std::string_view>) override {
    take(i, [&](const Json& j) {
      if (j.is_null()) return;
      v.name = j.at("name").get<std::string>().substr(0, 200);
      if (files_) v.bytes = (*files_)(j.at("stored").get<std::string>());
    });
  }
  void data(const ParameterInfo& i, DataParameter& v) override {
    take(i, [&](const Json& j) { v.from_json(j.dump()); });
  }

 private:
  template <typename F>
  void take(const ParameterInfo& i, const F& f) {
    const auto it = left.find(std::string(i.name));
    if (it == left.end()) return;
    try {
      f(*it);
    } catch (const nlohmann::json::exception&) {
      throw Error(say("{} is not written as it should be.", i.label));
    }
    left.erase(it);
  }
  const StoredFiles* files_;
};

/// A step of a kind this version does not know: it keeps what it read.
class UnknownOperation : public OperationOf<UnknownOperation> {
 public:
  UnknownOperation(std::string kind, std::string parameters)
      : kind_(std::move(kind)), parameters_(std::move(parameters)) {}
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "unknown",
                                         .label = "Unknown step",
                                         .help = "A step made by a newer version of Even Clay.",
                                         .offered = false};
    return kInfo;
  }
  std::string_view kind() const override { return kind_; }
  std::string_view label() const override { return kind_; }
  bool is_source() const override { return true; }
  void describe(ParameterVisitor&) override {}
  std::string summary() const override { return "from a newer version"; }
  const std::string& parameters() const { return parameters_; }
  Outcome apply(const Shape&, const Inputs&, Progress&) const override {
    throw Error(
        say("This version of Even Clay does not know the step '{}'. It is kept as it is; open the "
            "project in the version it was made with to change it.",
            kind_));
  }

 private:
  std::string kind_, parameters_;
};

}  // namespace

Json parameters_of(const Operation& operation) {
  if (const auto* unknown = dynamic_cast<const UnknownOperation*>(&operation))
    return Json::parse(unknown->parameters());
  WriteParameters writer;
  operation.clone()->describe(writer);
  return writer.json;
}

void merge_extra(Json& into, const std::string& extra) {
  if (extra.empty()) return;
  const Json fields = Json::parse(extra);
  for (const auto& [key, value] : fields.items())
    if (!into.contains(key)) into[key] = value;
}

Json step_json(const Step& s) {
  Json j{{"id", s.id},
         {"name", s.name},
         {"kind", std::string(s.operation->kind())},
         {"enabled", s.enabled}};
  j["parameters"] = parameters_of(*s.operation);
  if (!s.formulas.empty()) j["formulas"] = s.formulas;
  if (!s.extra.empty()) {
    const Json extra = Json::parse(s.extra);
    if (extra.contains("parameters"))
      for (const auto& [key, value] : extra["parameters"].items())
        if (!j["parameters"].contains(key)) j["parameters"][key] = value;
    for (const auto& [key, value] : extra.items())
      if (!j.contains(key)) j[key] = value;
  }
  return j;
}

Step read_step(const Json& j, const OperationMaker& make, const StoredFiles* files) {
  Step s;
  s.id = whole(j.at("id"), 1, kGreatestId);
  s.name = j.at("name").get<std::string>();
  s.enabled = field(j, "enabled", true);
  const auto kind = j.at("kind").get<std::string>();
  const Json parameters = field(j, "parameters", Json::object());
  if (!parameters.is_object())
    throw Error(say("its parameters are not written as they should be."));
  s.formulas = field(j, "formulas", std::map<std::string, std::string>{});
  if (s.formulas.size() > kMost) throw Error(say("it has more formulas than can be used."));
  Json extra = j;
  for (const char* k : {"id", "name", "enabled", "kind", "parameters", "formulas"}) extra.erase(k);
  if (const auto operation = make(kind)) {
    ReadParameters reader(parameters, files);
    operation->describe(reader);
    if (!reader.left.empty()) extra["parameters"] = reader.left;
    s.operation = operation;
  } else {
    s.operation = std::make_shared<UnknownOperation>(kind, parameters.dump());
  }
  if (!extra.empty()) s.extra = extra.dump();
  return s;
}

}  // namespace evenclay::stored
