#include "run/commands.h"

#include <fmt/format.h>

#include <atomic>
#include <chrono>
#include <iostream>
#include <nlohmann/json.hpp>
#include <sstream>
#include <thread>

#include "core/demo/skerry.h"
#include "core/display/check_report.h"
#include "core/document/evaluator.h"
#include "core/document/materials.h"
#include "core/document/project_file.h"
#include "core/exchange/export.h"
#include "core/exchange/parts_out.h"
#include "core/operations/catalogue.h"
#include "core/operations/frozen.h"
#include "core/operations/point_script.h"
#include "core/operations/report.h"
#include "core/operations/watching.h"
#include "run/opened.h"

namespace evenclay {

namespace {

using Json = nlohmann::ordered_json;

// "Part/kind": a step of that kind with default parameters at the end of the part; a source begins a
// new part of that name.
Document with_addition(const Document& d, const std::string& text) {
  const auto slash = text.rfind('/');
  if (slash == std::string::npos)
    throw Error(fmt::format("'{}' does not say where to add what. Write Part/kind.", text));
  const std::shared_ptr<Operation> operation = make_operation(text.substr(slash + 1));
  if (operation && operation->is_source())
    return with_part(d, text.substr(0, slash), operation).document;
  const Part* part = find_part(d, std::string_view(text).substr(0, slash));
  if (part == nullptr)
    throw Error(fmt::format("There is no part '{}' to add a step to.", text.substr(0, slash)));
  if (!operation) {
    std::string list;
    for (const OperationPtr& known : catalogue())
      list += fmt::format("{}{}", list.empty() ? "" : ", ", known->kind());
    throw Error(fmt::format("'{}' is not a step that can be added. There are: {}.",
                            text.substr(slash + 1), list));
  }
  return with_step(d, part->id, operation).document;
}

// "Part: edit; edit": the words of point_script.h.
Document with_shaping_words(const Document& d, const std::string& text, Progress& progress) {
  const auto colon = text.find(':');
  const Part* part =
      colon == std::string::npos ? nullptr : find_part(d, std::string_view(text).substr(0, colon));
  if (part == nullptr)
    throw Error(
        fmt::format("'{}' does not begin with a part and a colon, as in Shell: pick all", text));
  std::vector<std::string> edits;
  std::stringstream rest(text.substr(colon + 1));
  for (std::string line; std::getline(rest, line, ';');)
    if (const auto begin = line.find_first_not_of(' '); begin != std::string::npos)
      edits.push_back(line.substr(begin));
  return with_point_edits(d, part->id, edits, progress);
}

Document changed(Document d, const RunOptions& o) {
  for (const std::string& a : o.additions) d = with_addition(d, a);
  for (const std::string& s : o.numbers) d = with_number_assignment(d, s);
  for (const std::string& s : o.settings) d = with_setting(d, s);
  for (const std::string& s : o.watches) d = with_watch_words(d, s);
  for (const std::string& s : o.limits) d = with_limit_words(d, s);
  for (const std::string& s : o.materials) d = with_material_words(d, s);
  for (const std::string& s : o.shapings) d = with_shaping_words(d, s, *o.work);
  return d;
}

}  // namespace

ProgressPrinter::ProgressPrinter(const Progress& progress, bool wanted) {
  if (!wanted) return;
  thread_ = std::jthread([&progress](const std::stop_token& stop) {
    int last = -1;
    while (!stop.stop_requested()) {
      const int percent = static_cast<int>(progress.share() * 100.0);
      if (percent != last) std::cerr << fmt::format("{} %\n", percent);
      last = percent;
      std::this_thread::sleep_for(std::chrono::milliseconds(100));
    }
    std::cerr << "100 %\n";
  });
}

Document opened(const RunOptions& o) {
  return changed(open_project(o.project, make_operation), o);
}

const Part& part_named(const Document& d, const std::string& name) {
  if (const Part* p = find_part(d, name)) return *p;
  std::string list;
  for (const Part& p : d.parts) list += fmt::format("{}{}", list.empty() ? "" : ", ", p.name);
  throw Error(fmt::format("There is no part '{}'. There are: {}.", name, list));
}

std::vector<std::string> failures(const Document& d, const Evaluation& e) {
  std::vector<std::string> all;
  for (const Part& part : d.parts) {
    const auto found = e.parts.find(part.id);
    if (found == e.parts.end()) continue;
    for (std::size_t k = 0; k < part.steps.size(); ++k)
      if (const StepResult& r = found->second.steps[k]; r.failed)
        all.push_back(fmt::format("{} / {}: {}", part.name, part.steps[k].name, r.message));
  }
  return all;
}

bool complain(const Document& d, const Evaluation& e) {
  const std::vector<std::string> all = failures(d, e);
  for (const std::string& sentence : all) std::cerr << sentence << '\n';
  return !all.empty();
}

namespace {

class DescribeParameters : public ParameterVisitor {
 public:
  Json list = Json::array();
  void number(const ParameterInfo& i, double& v, const NumberRange& r) override {
    Json j = entry(i, "number");
    j["unit"] = r.unit;
    j["range"] = {r.min, r.max};
    finish(j, v, i);
  }
  void count(const ParameterInfo& i, int& v, const CountRange& r) override {
    Json j = entry(i, "count");
    j["unit"] = "";
    j["range"] = {r.min, r.max};
    finish(j, v, i);
  }
  void toggle(const ParameterInfo& i, bool& v) override { finish(entry(i, "toggle"), v, i); }
  void choice(const ParameterInfo& i, int& v, std::span<const Choice> choices) override {
    Json j = entry(i, "choice");
    j["range"] = Json::array();
    for (const Choice& c : choices) j["range"].push_back(c.name);
    finish(j, std::string(choices[static_cast<std::size_t>(v)].name), i);
  }
  void part(const ParameterInfo& i, PartRef&) override { finish(entry(i, "part"), nullptr, i); }
  void parts(const ParameterInfo& i, std::vector<PartRef>&, const PartsRange& r) override {
    Json j = entry(i, "parts");
    j["most"] = r.most;
    finish(j, Json::array(), i);
  }
  void picks(const ParameterInfo& i, std::vector<Pick>&, const PickRange& r) override {
    Json j = entry(i, "picks");
    j["range"] = Json::array();
    for (const PickKind kind : r.kinds) j["range"].push_back(name_of(kind));
    j["most"] = r.most;
    finish(j, Json::array(), i);
  }
  void file(const ParameterInfo& i, FileAttachment&,
            std::span<const std::string_view> endings) override {
    Json j = entry(i, "file");
    j["range"] = Json::array();
    for (const std::string_view e : endings) j["range"].push_back(e);
    finish(j, nullptr, i);
  }
  void data(const ParameterInfo& i, DataParameter& v) override {
    finish(entry(i, "data"), Json::parse(v.to_json()), i);
  }

 private:
  static Json entry(const ParameterInfo& i, const char* type) {
    return Json{{"name", i.name}, {"label", i.label}, {"type", type}};
  }
  void finish(Json j, const Json& value, const ParameterInfo& i) {
    j["default"] = value;
    j["help"] = i.help;
    list.push_back(std::move(j));
  }
};

}  // namespace

int run_demo(const RunOptions& o) {
  save_project(changed(make_demo(), o), o.out);
  return 0;
}

int run_save(const RunOptions& o) {
  Document d = opened(o);
  const ProgressPrinter printer(*o.work, o.progress && o.lean);
  Evaluator evaluator;
  for (const std::string& words : o.frozen) d = with_frozen_words(d, words, evaluator, *o.work);
  if (o.lean) d = lean(d, evaluator.evaluate(d, *o.work));
  save_project(d, o.out);
  return 0;
}

int run_operations() {
  Json all = Json::array();
  for (const OperationPtr& operation : catalogue()) {
    DescribeParameters describe;
    operation->clone()->describe(describe);
    all.push_back(Json{{"kind", operation->kind()},
                       {"label", operation->label()},
                       {"help", operation->help()},
                       {"source", operation->is_source()},
                       {"parameters", std::move(describe.list)}});
  }
  std::cout << all.dump(2) << '\n';
  return 0;
}

int run_info(const RunOptions& o) {
  const Document d = opened(o);
  Progress& progress = *o.work;
  const ProgressPrinter printer(progress, o.progress);
  const Evaluation e = Evaluator().evaluate(d, progress);
  Json parts = Json::array();
  for (const Part& part : d.parts) {
    Json steps = Json::array();
    const PartResult& result = e.parts.at(part.id);
    for (std::size_t k = 0; k < part.steps.size(); ++k) {
      const Step& s = part.steps[k];
      Json step{{"name", s.name},
                {"kind", s.operation->kind()},
                {"enabled", s.enabled},
                {"summary", s.operation->summary()},
                {"parameters", Json::parse(parameters_json(*s.operation))},
                {"folded", result.steps[k].skipped},
                {"failed", result.steps[k].failed},
                {"message", result.steps[k].message},
                {"notes", result.steps[k].notes}};
      if (!s.formulas.empty()) step["formulas"] = s.formulas;
      if (const auto& kept = result.steps[k].kept)
        step["kept"] = Json{{"max_mm", kept->max},
                            {"mean_mm", kept->mean},
                            {"at", {kept->at.x, kept->at.y, kept->at.z}}};
      steps.push_back(std::move(step));
    }
    Json entry{{"name", part.name}, {"visible", is_visible(d, part)}, {"steps", steps}};
    if (!part.layer.empty()) entry["layer"] = part.layer;
    if (is_locked(d, part)) entry["locked"] = true;
    for (const NamedPoints& s : part.selections)
      entry["selections"][s.name] = s.points.size() + s.picks.size();
    parts.push_back(std::move(entry));
  }
  Json numbers = Json::array();
  for (const NamedNumber& n : d.numbers)
    numbers.push_back(Json{{"name", n.name}, {"text", n.text}, {"value", n.value}});
  std::cout << Json{{"tolerance_mm", d.settings.tolerance}, {"numbers", numbers}, {"parts", parts}}
                   .dump(2)
            << '\n';
  return complain(d, e) ? kStepFailed : 0;
}

int run_export(const RunOptions& o) {
  const Document d = opened(o);
  std::vector<const Part*> wanted;
  for (const std::string& name : o.parts) wanted.push_back(&part_named(d, name));
  for (const Part& p : d.parts)
    if (o.parts.empty() && is_visible(d, p)) wanted.push_back(&p);
  std::vector<PartId> ids;
  for (const Part* p : wanted) ids.push_back(p->id);
  Progress& progress = *o.work;
  const ProgressPrinter printer(progress, o.progress);
  const Evaluation e = Evaluator().evaluate(d, progress, ids);
  const bool failed = complain(d, e);
  std::vector<OutPart> parts;
  for (const Part* p : wanted) parts.push_back(out_part(*p, e.parts.at(p->id).shape));
  OutOptions options{.chord = o.chord, .angle = o.angle, .text = o.text, .views = o.views};
  for (const auto& [name, unit] :
       {std::pair{"cm", OutUnit::Centimetres}, {"m", OutUnit::Metres}, {"inch", OutUnit::Inches}})
    if (o.unit == name) options.unit = unit;
  if (o.estimate) {
    const OutEstimate size = estimate(parts, o.out, options, progress);
    std::cout << Json{{"triangles", size.triangles}, {"bytes", size.bytes}}.dump(2) << '\n';
    return 0;
  }
  for (const std::string& name : export_parts(parts, o.out, options, progress))
    std::cerr << fmt::format("{} was left out: it cannot be written in this format.\n", name);
  return failed ? kStepFailed : 0;
}

int run_measure(const RunOptions& o) {
  const Document d = opened(o);
  const Part& part = part_named(d, o.part);
  std::vector<PartId> wanted{part.id};
  const Part* against = o.against.empty() ? nullptr : &part_named(d, o.against);
  if (against != nullptr) wanted.push_back(against->id);
  Progress& progress = *o.work;
  const ProgressPrinter printer(progress, o.progress);
  const Evaluation e = Evaluator().evaluate(d, progress, wanted);
  const bool failed = complain(d, e);
  const ShapePtr other = against != nullptr ? e.parts.at(against->id).shape : nullptr;
  // The planes of the last Shaped points step, whose symmetry the designer asked for.
  ReportOptions options;
  for (const Step& s : part.steps)
    if (s.enabled && symmetry_of(*s.operation) != SymmetryPlane::None)
      options.symmetry = symmetry_of(*s.operation);
  Report r = report(*e.parts.at(part.id).shape, other.get(), options, progress);
  Evaluator evaluator;
  if (const ShapePtr watching = watched_shape(d, part, evaluator, progress)) {
    auto w = std::make_shared<WatchReport>(
        watched(*e.parts.at(part.id).shape, *watching, part.watch.band, progress));
    w->name = find_part(d, part.watch.against.part)->name;
    r.watched = std::move(w);
  }
  std::cout << to_json(r) << '\n';
  return failed ? kStepFailed : 0;
}

int run_check(const RunOptions& o) {
  const Document d = opened(o);
  Progress& progress = *o.work;
  const ProgressPrinter printer(progress, o.progress);
  Evaluator evaluator;
  const CheckList list = all_checks(d, evaluator, progress);
  if (o.out.empty()) {
    std::cout << checks_json(d, list) << '\n';
    return 0;
  }
  const std::filesystem::path file(o.out);
  if (file.extension() == ".html") {
    const std::string title = "Checks of " + std::filesystem::path(o.project).stem().string();
    write_atomically(file, checks_html(d, list, title, evaluator, progress));
  } else if (file.extension() == ".json") {
    write_atomically(file, checks_json(d, list) + "\n");
  } else {
    throw FileError("A report of the checks ends in .html or .json.");
  }
  return 0;
}

}  // namespace evenclay
