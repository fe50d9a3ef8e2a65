// The commands that make pictures and variants.
#include <fmt/format.h>

#include <fstream>
#include <iostream>
#include <iterator>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/display/studio.h"
#include "core/document/compare.h"
#include "core/document/evaluator.h"
#include "core/document/project_file.h"
#include "core/exchange/parts_out.h"
#include "core/operations/catalogue.h"
#include "core/operations/report.h"
#include "run/batch.h"
#include "run/commands.h"
#include "run/opened.h"

namespace evenclay {

namespace {

namespace fs = std::filesystem;

std::vector<PartId> wanted_parts(const Document& d, const std::vector<std::string>& names) {
  std::vector<PartId> ids;
  for (const std::string& name : names) ids.push_back(part_named(d, name).id);
  for (const Part& p : d.parts)
    if (names.empty() && is_visible(d, p)) ids.push_back(p.id);
  return ids;
}

// "1920x1080".
std::pair<int, int> size_of(const std::string& text) {
  int width = 0, height = 0;
  char times = 0, more = 0;
  std::istringstream in(text);
  if (!(in >> width >> times >> height) || times != 'x' || (in >> more))
    throw Error(fmt::format("'{}' is not a size in pixels, as in 1920x1080.", text));
  return {width, height};
}

SavedView view_of(const Document& d, const RunOptions& o) {
  SavedView view{.name = "", .target = {}, .yaw = -50.0, .pitch = 22.0, .height = 0.0};
  if (!o.view.empty()) {
    for (const SavedView& v : d.views)
      if (v.name == o.view) return v;
    std::string list;
    for (const SavedView& v : d.views) list += (list.empty() ? "" : ", ") + v.name;
    throw Error(fmt::format("There is no saved view '{}'. There are: {}.", o.view,
                            list.empty() ? "none" : list));
  }
  if (o.from.empty()) return view;
  char comma = 0, more = 0;
  std::istringstream in(o.from);
  if (!(in >> view.yaw >> comma >> view.pitch) || comma != ',' || (in >> more) ||
      std::abs(view.pitch) > 90.0)
    throw Error(
        fmt::format("'{}' is not a direction; write degrees about z and above the horizon, "
                    "as in --from=-50,22.",
                    o.from));
  return view;
}

void write_picture(const Document& d, const Evaluation& e, const std::vector<PartId>& ids,
                   const RunOptions& o, const fs::path& file) {
  std::vector<StudioPart> parts;
  for (const PartId id : ids) {
    const Part& part = *find_part(d, id);
    constexpr DisplayQuality kFine{1e-4, 2'000'000};
    const Shape& shape = *e.parts.at(id).shape;
    const auto mesh = std::make_shared<const DisplayMesh>(display_mesh(shape, kFine, *o.work));
    for (StudioPart& seen : studio_parts(part, shape, mesh)) parts.push_back(std::move(seen));
  }
  const auto [width, height] = size_of(o.size);
  const StudioPicture wish{width, height, view_of(d, o), o.transparent, o.rays};
  write_atomically(file, png_of(studio_picture(parts, wish, *o.work)));
}

void write_parts(const Document& d, const Evaluation& e, const std::vector<PartId>& ids,
                 const RunOptions& o, const fs::path& file) {
  std::vector<OutPart> parts;
  for (const PartId id : ids) {
    const Part& p = *find_part(d, id);
    parts.push_back(out_part(p, e.parts.at(id).shape));
  }
  for (const std::string& name : export_parts(parts, file.string(), {.chord = o.chord}, *o.work))
    std::cerr << fmt::format("{} was left out: it cannot be written in this format.\n", name);
}

// What each part comes to, as columns behind the numbers.
void measure(const Document& d, const Evaluation& e, const std::vector<PartId>& ids,
             std::map<std::string, std::string>& fields, Progress& progress) {
  for (const PartId id : ids) {
    const Part& part = *find_part(d, id);
    const PartResult& result = e.parts.at(id);
    const Report r = report(*result.shape, nullptr, {}, progress);
    const auto put = [&](const char* what, double value) {
      fields[part.name + " " + what] = fmt::format("{:.6g}", value);
    };
    put("area mm2", r.area);
    if (r.volume) put("volume mm3", *r.volume);
    if (r.least_radius && r.least_radius->radius < 1e6)
      put("least radius mm", r.least_radius->radius);
    if (r.box.empty()) continue;
    const Vec3 size = r.box.max - r.box.min;
    put("x mm", size.x);
    put("y mm", size.y);
    put("z mm", size.z);
  }
}

// Names of files hold what a file may be called anywhere.
std::string file_name(const std::string& text) {
  std::string name;
  for (const char c : text)
    name += std::string("/\\:*?\"<>|").find(c) == std::string::npos ? c : '-';
  return name.empty() || name == "." || name == ".." ? "variant" : name;
}

// What each row's files are called: by its column "name", else by its number. Throws FileError when two would write the same.
std::vector<std::string> variant_names(const Table& table) {
  const auto column = std::find(table.head.begin(), table.head.end(), "name") - table.head.begin();
  std::vector<std::string> names;
  std::map<std::string, std::size_t> row_of;
  for (std::size_t row = 0; row < table.rows.size(); ++row) {
    const auto c = static_cast<std::size_t>(column);
    names.push_back(c < table.head.size() ? table.rows[row][c] : fmt::format("{:03}", row + 1));
    const auto [first, fresh] = row_of.emplace(file_name(names.back()), row);
    if (!fresh)
      throw FileError(fmt::format(
          "Rows {} and {} of the table would both be called '{}'. Give each a name of its own.",
          first->second + 1, row + 1, first->first));
  }
  return names;
}

}  // namespace

int run_render(const RunOptions& o) {
  const Document d = opened(o);
  const ProgressPrinter printer(*o.work, o.progress);
  const std::vector<PartId> ids = wanted_parts(d, o.parts);
  const Evaluation e = Evaluator().evaluate(d, *o.work, ids);
  write_picture(d, e, ids, o, o.out);
  return complain(d, e) ? kStepFailed : 0;
}

namespace {

nlohmann::ordered_json lines_json(const std::vector<ChangeLine>& lines) {
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  for (const ChangeLine& l : lines) {
    nlohmann::ordered_json j{{"how", name_of(l.how)}, {"what", l.what}};
    if (!l.before.empty()) j["before"] = l.before;
    if (!l.after.empty()) j["after"] = l.after;
    list.push_back(std::move(j));
  }
  return list;
}

}  // namespace

int run_compare(const RunOptions& o) {
  const Document before = opened(o), after = open_project(o.table, make_operation);
  const ProgressPrinter printer(*o.work, o.progress);
  const Comparison c = compare(before, after);
  nlohmann::ordered_json j{{"same", c.same()}, {"numbers", lines_json(c.numbers)}};
  j["parts"] = nlohmann::ordered_json::array();
  Evaluator old_shapes, new_shapes;
  for (const PartChange& p : c.parts) {
    nlohmann::ordered_json part{{"name", p.name}, {"how", name_of(p.how)}};
    if (p.how == Difference::Changed) {
      part["changes"] = lines_json(p.lines);
      const ShapePtr was =
          old_shapes.evaluate(before, *o.work, {p.before}).parts.at(p.before).shape;
      const ShapePtr is = new_shapes.evaluate(after, *o.work, {p.after}).parts.at(p.after).shape;
      const Report r = report(*is, was.get(), {.area_and_volume = false}, *o.work);
      if (r.deviation)
        part["deviation"] = {{"max_mm", r.deviation->max}, {"mean_mm", r.deviation->mean}};
    }
    j["parts"].push_back(std::move(part));
  }
  std::cout << j.dump(2) << '\n';
  return 0;
}

int run_thumbnail(const RunOptions& o) {
  RunOptions small = o;
  small.size = fmt::format("{0}x{0}", o.edge);
  small.transparent = true;
  small.rays = 9;
  return run_render(small);
}

int run_batch(const RunOptions& o) {
  std::ifstream in(o.table, std::ios::binary);
  if (!in) throw FileError(fmt::format("{} cannot be read.", o.table));
  const Table table = read_table(std::string(std::istreambuf_iterator<char>(in), {}));
  const std::vector<std::string> names = variant_names(table);
  const Document start = opened(o);
  const ProgressPrinter printer(*o.work, o.progress);
  const fs::path folder(o.out);
  std::error_code trouble;
  fs::create_directories(folder, trouble);
  if (trouble) throw FileError(fmt::format("The folder {} cannot be made.", o.out));
  Evaluator evaluator;  // what does not change from row to row is computed once
  std::vector<std::map<std::string, std::string>> results;
  Table out{{"name"}, {}};
  for (const std::string& h : table.head)
    if (h != "name") out.head.push_back(h);
  bool failed = false;
  std::vector<std::string> measured;
  for (std::size_t row = 0; row < table.rows.size(); ++row) {
    std::map<std::string, std::string> fields;
    const std::string& name = names[row];
    Document d = start;
    for (std::size_t k = 0; k < table.head.size(); ++k) {
      const std::string& text = table.rows[row][k];
      fields[table.head[k]] = text;
      if (table.head[k] == "name") continue;
      if (table.head[k].find('/') != std::string::npos)
        d = with_setting(d, table.head[k] + "=" + text);
      else
        d = with_number_assignment(d, table.head[k] + "=" + text);
    }
    fields["name"] = name;
    const std::vector<PartId> ids = wanted_parts(d, o.parts);
    const Evaluation e = evaluator.evaluate(d, *o.work, ids);
    fields["failed"] = fmt::format("{}", fmt::join(failures(d, e), " "));
    failed = failed || !fields["failed"].empty();
    std::map<std::string, std::string> found;
    measure(d, e, ids, found, *o.work);
    for (const auto& [what, value] : found) {
      if (std::find(measured.begin(), measured.end(), what) == measured.end())
        measured.push_back(what);
      fields[what] = value;
    }
    for (const std::string& ending : o.endings) {
      const fs::path file = folder / (file_name(name) + "." + ending);
      if (ending == "png")
        write_picture(d, e, ids, o, file);
      else if (ending == "evenclay")
        save_project(d, file);
      else
        write_parts(d, e, ids, o, file);
    }
    results.push_back(std::move(fields));
    o.work->report(static_cast<double>(row + 1) / static_cast<double>(table.rows.size()));
  }
  out.head.insert(out.head.end(), measured.begin(), measured.end());
  out.head.emplace_back("failed");
  for (auto& fields : results) {
    std::vector<std::string> row;
    for (const std::string& h : out.head) row.push_back(fields[h]);
    out.rows.push_back(std::move(row));
  }
  write_atomically(folder / "measures.csv", write_table(out));
  return failed ? kStepFailed : 0;
}

}  // namespace evenclay
